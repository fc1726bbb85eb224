package dosejson

import (
	"cmp"
	"errors"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/agronomy/working"
)

// Answer is a dose as JSON. Amounts are rounded here: rates and ppm to a tenth, totals to the gram,
// pH to a hundredth.
type Answer struct {
	Direction string `json:"direction"`
	// Stands is the trigger's verdict, PH the pH that it is based on; Target is the pH to reach.
	Stands    string    `json:"stands"`
	PH        float64   `json:"judged_ph"`
	Target    float64   `json:"target_ph"`
	Need      Need      `json:"need"`
	Potassium Potassium `json:"potassium"`
	// Magnesium is absent when none is wanted.
	Magnesium *Magnesium `json:"magnesium,omitempty"`
	Options   []Option   `json:"options"`
	Refused   []Refusal  `json:"refused"`
	Guards    []Guard    `json:"guards"`
}

// Magnesium is the answer on low magnesium when no lime is wanted.
type Magnesium struct {
	Need    float64       `json:"need_mg_g_m2"`
	Working []Step        `json:"working"`
	Options []MagnesiumOf `json:"options"`
}

// MagnesiumOf is one sulfate of magnesium; first_g_m2 is applied before another test.
type MagnesiumOf struct {
	Kind  string  `json:"kind"`
	GM2   float64 `json:"g_m2"`
	Total float64 `json:"total_g"`
	First float64 `json:"first_g_m2"`
}

// Potassium is the answer on potassium, beside the one on pH.
type Potassium struct {
	State    string    `json:"state"`
	Now      *float64  `json:"k_ppm_now,omitempty"`
	Critical float64   `json:"critical_ppm"`
	Need     float64   `json:"need_k2o_g_m2"`
	Working  []Step    `json:"working"`
	Options  []Option  `json:"options"`
	Refused  []Refusal `json:"refused"`
}

// Rest is the part of an option that waits for its retest; it has no day.
type Rest struct {
	Material string  `json:"material"`
	GM2      float64 `json:"g_m2"`
	Total    float64 `json:"total_g"`
}

// AtRetest is the expected reading of a retest, and the share reacted by then.
type AtRetest struct {
	Spread
	Reacted float64 `json:"reacted_pct"`
}

// Need is pure CaCO₃ equivalent, negative when lowering; low and high are its 1/6 and 5/6
// quantiles.
type Need struct {
	CaCO3   float64 `json:"caco3_g_m2"`
	Low     float64 `json:"low"`
	High    float64 `json:"high"`
	Working []Step  `json:"working"`
}

// Step is one line of a working.
type Step struct {
	ID     string  `json:"id"`
	Label  string  `json:"label"`
	Value  float64 `json:"value"`
	Unit   string  `json:"unit"`
	How    string  `json:"how"`
	Source string  `json:"source"`
}

// Part is one material of an option.
type Part struct {
	Kind  string  `json:"kind"`
	GM2   float64 `json:"g_m2"`
	Total float64 `json:"total_g"`
	// Measure is the amount in scoops, handfuls or litres, "" when there is none.
	Measure string `json:"measure,omitempty"`
}

// Application is one application.
type Application struct {
	N           int     `json:"n"`
	Date        string  `json:"date"`
	Material    string  `json:"material"`
	GM2         float64 `json:"g_m2"`
	PHAfter     float64 `json:"ph_after"`
	TopAfter    float64 `json:"top_5cm_ph_after,omitempty"`
	RetestFirst bool    `json:"retest_first,omitempty"`
}

// Spread is a pH's median with the 5th and 95th percentile.
type Spread struct {
	Median float64 `json:"median"`
	P05    float64 `json:"p05"`
	P95    float64 `json:"p95"`
}

// Range is the 90 % interval of a pH.
type Range struct {
	P05 float64 `json:"p05"`
	P95 float64 `json:"p95"`
}

// Option is one way to meet the need.
type Option struct {
	Materials    []Part        `json:"materials"`
	CaCO3        float64       `json:"caco3_g_m2"`
	Shortfall    float64       `json:"unmet_caco3_g_m2"`
	Limit        string        `json:"limit,omitempty"`
	K2O          float64       `json:"k2o_g_m2"`
	Calcium      float64       `json:"ca_g_m2"`
	Magnesium    float64       `json:"mg_g_m2"`
	Nitrogen     float64       `json:"n_g_m2,omitempty"`
	KAfter       *float64      `json:"k_ppm_after,omitempty"`
	Cost         *float64      `json:"cost,omitempty"`
	Acts         float64       `json:"acts_weeks"`
	Applications []Application `json:"goes"`
	Retest       string        `json:"retest"`
	SowFrom      string        `json:"sow_from,omitempty"`
	PH           Spread        `json:"ph"`
	AtRetest     AtRetest      `json:"ph_at_retest"`
	// ShortfallK2O is the shortfall K₂O of an answer on potassium; Over the probability of ending 0.2 past
	// the range before a test.
	ShortfallK2O float64 `json:"unmet_k2o_g_m2,omitempty"`
	Over         float64 `json:"past_band_pct"`
	// Spread is the 90 % interval of the final pH by the joint distribution of level and buffering;
	// absent under other methods.
	Spread *Range `json:"spread,omitempty"`
	// Rest is absent if nothing waits.
	Rest    []Rest  `json:"rest,omitempty"`
	Guards  []Guard `json:"guards"`
	Working []Step  `json:"working"`
}

// Refusal is a material that must not be used, or has no effect.
type Refusal struct {
	Kind   string  `json:"kind"`
	Guards []Guard `json:"guards"`
}

// Guard is a rule that holds.
type Guard struct {
	ID    string `json:"id"`
	Level string `json:"level"`
	Says  string `json:"says"`
	Lifts string `json:"lifts,omitempty"`
	// Test is the day of the test that it waits for.
	Test string `json:"test,omitempty"`
}

func r1[T ~float64](x T) float64 { return quantity.Round(float64(x), 1) }
func r2[T ~float64](x T) float64 { return quantity.Round(float64(x), 2) }

// FromAnswer converts a dose.Answer.
func FromAnswer(a dose.Answer) Answer {
	w := writer{a}
	out := Answer{Direction: string(a.Direction), Stands: string(a.Stand), PH: r2(a.PH), Target: r2(a.Target),
		Options: w.options(a.Options), Refused: refusals(a.Refused), Guards: guards(a.Guards),
		Need: Need{r1(a.Need.CaCO3), r1(a.Need.Low), r1(a.Need.High), steps(a.Need.Working)}}
	k := a.Potassium
	out.Potassium = Potassium{State: string(a.K.State), Critical: r1(a.K.Scale.Critical), Need: r1(k.Need), Working: steps(k.Working),
		Options: w.options(k.Options), Refused: refusals(k.Refused)}
	if a.K.Now != nil {
		now := r1(*a.K.Now)
		out.Potassium.Now = &now
	}
	if m := a.Magnesium; len(m.Ways) > 0 {
		out.Magnesium = &Magnesium{Need: r1(m.Need), Working: steps(m.Working)}
		for _, x := range m.Ways {
			out.Magnesium.Options = append(out.Magnesium.Options, MagnesiumOf{string(x.Kind), r1(x.Rate), r1(x.Total), r1(x.First)})
		}
	}
	return out
}

func refusals(rs []dose.Refusal) []Refusal {
	out := make([]Refusal, len(rs))
	for i, r := range rs {
		out[i] = Refusal{string(r.Kind), guards(r.Guards)}
	}
	return out
}

// writer converts the options of an answer.
type writer struct{ a dose.Answer }

func (x *writer) options(os []dose.Option) []Option {
	out := make([]Option, len(os))
	for i := range os {
		out[i] = x.option(&os[i])
	}
	return out
}

func (x *writer) option(o *dose.Option) Option {
	w := Option{CaCO3: r1(o.CaCO3), Shortfall: r1(o.Shortfall), ShortfallK2O: r1(o.ShortfallK2O), Limit: o.Limit, K2O: r1(o.K2O),
		Retest: o.Retest.String(), SowFrom: o.SowFrom.String(),
		PH: spread(o.PH), AtRetest: AtRetest{spread(o.AtRetest),
			r1(100 * o.Reacted)}, Over: r1(100 * o.Over), Applications: applications(o.Applications), Guards: guards(o.Guards),
		Working: steps(x.a.Working(o))}
	for _, p := range o.Parts {
		if p.Rest > 0 {
			w.Rest = append(w.Rest, Rest{string(p.Kind), r1(p.Rest), quantity.Round(float64(p.RestTotal), 0)})
		}
		if p.Rate == 0 {
			continue
		}
		w.Materials = append(w.Materials, Part{string(p.Kind), r1(p.Rate), quantity.Round(float64(p.Total), 0),
			text.Measure(p.Kind, p.Total, nil)})
	}
	w.Calcium, w.Magnesium, w.Nitrogen, w.Acts = r1(o.Calcium), r1(o.Magnesium), r1(o.N), r1(o.Acts)
	if o.Cost != nil {
		c := r2(*o.Cost)
		w.Cost = &c
	}
	if x.a.Buffering.Method == soil.ByLearned {
		w.Spread = &Range{w.PH.P05, w.PH.P95}
	}
	if o.KAfter != nil {
		k := r1(*o.KAfter)
		w.KAfter = &k
	}
	return w
}

func applications(gs []dose.Application) []Application {
	out := make([]Application, len(gs))
	for i, g := range gs {
		out[i] = Application{g.N, g.Date.String(), string(g.Kind), r1(g.Rate), r2(g.PHAfter), r2(g.TopAfter), g.RetestFirst}
	}
	return out
}

func spread(s dose.Spread) Spread { return Spread{r2(s.Median), r2(s.P05), r2(s.P95)} }

func guards(fs []guard.Finding) []Guard {
	out := make([]Guard, len(fs))
	for i, g := range text.Guards(fs) {
		out[i] = Guard{ID: g.ID, Level: string(g.Level), Says: g.Says, Lifts: g.Lifts}
		if test := cmp.Or(fs[i].With.Day("test"), fs[i].With.Day("retest")); test != 0 {
			out[i].Test = test.String()
		}
	}
	return out
}

func steps(ss []working.Step) []Step {
	out := make([]Step, len(ss))
	for i, s := range ss {
		l := text.Step(s)
		out[i] = Step{s.ID, l.Label, quantity.Round(s.Result.N, 4), string(s.Result.Unit), l.How, l.Source}
	}
	return out
}

// AnswerTo computes one request given as JSON. Errors are *dose.InputError.
func AnswerTo(request []byte) (Answer, error) {
	r, err := Decode(request)
	if err != nil {
		return Answer{}, err
	}
	q, err := r.Dose()
	if err != nil {
		return Answer{}, err
	}
	a, err := dose.For(q)
	if err != nil {
		return Answer{}, err
	}
	return FromAnswer(a), nil
}

// Fault converts an error to the contract's form.
func Fault(err error) Error {
	var in *dose.InputError
	if errors.As(err, &in) {
		return Error{in.Field, in.Why}
	}
	return Error{"request", err.Error()}
}
