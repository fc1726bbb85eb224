package mix

import (
	"errors"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/web/form"
	dosepage "zephyrfield/internal/web/pages/dose"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// mixPart is one material of a mix: its form fields and family.
type mixPart struct {
	Which, Amount, Label string
	Families             []material.Family
}

// MixParts are ash and lime, and sulfur where pH is to be lowered.
var MixParts = []mixPart{
	{"ash_of", "ash_on", "Ash", []material.Family{material.Ash}},
	{"lime_of", "lime_on", "Lime", []material.Family{material.Lime}},
	{"acid_of", "acid_on", "Sulfur", []material.Family{material.Sulfur, material.Iron, material.Aluminium}},
}

// holds reports whether a material belongs to this part.
func (p *mixPart) holds(f material.Family) bool { return slices.Contains(p.Families, f) }

type mixView struct {
	view.Page
	ID       int64
	Bed      string
	Form     form.Form
	Slides   []slideView
	DoseHref string
	// Settles and After are the final pH and potassium; Rule and K draw them.
	Settles, After string
	Rule           *svg.Rule
	K              *svg.KRule
	Applications   []dosepage.ApplicationView
	Cautions       []text.Guarded
	Notes          []text.Guarded
	Against        []dosepage.RefusedView
	Cost           string
	OK             bool
	Ask            string
}

// Carried returns the dose's fields that are passed on.
func (mixView) Carried() []string { return dosepage.DoseCarried }

// slideView is one material with its slider.
type slideView struct {
	mixPart
	// Pick selects the batch.
	Pick           view.Field
	Value          string
	Most, MostSays string
	Rate           string
	Fault          string
}

// taken reads the chosen amounts; faults are in the form.
func taken(f form.Form, u text.Units) (out []dosing.Taken) {
	for _, p := range MixParts {
		x, ok := f.Number(p.Amount)
		if ok && x < 0 {
			f.Faults[p.Amount] = "an amount of 0 or more is needed"
		}
		if ok && x > 0 {
			out = append(out, dosing.Taken{Key: f.Value(p.Which), Total: quantity.Mass(x * u.Weights().Size)})
		}
	}
	return out
}

// Mix shows the effect of chosen amounts of ash and lime.
func (s *Handler) Mix(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	return s.showMix(c, http.StatusOK, id, form.Asked(c))
}

func (s *Handler) showMix(c *gin.Context, status int, id int64, f form.Form) error {
	u := s.Units(c)
	ch := dosepage.Choice(f, u)
	ch.Today = s.Clock.Today()
	m, err := s.App(c).Dosing.Mix(c.Request.Context(), id, ch, taken(f, u), s.Clock.Today())
	if errors.Is(err, dosing.ErrNoReading) {
		c.Redirect(http.StatusSeeOther, site.DoseHref(id))
		return nil
	}
	if err != nil {
		return err
	}
	if startMix(m, f) {
		if m, err = s.App(c).Dosing.Mix(c.Request.Context(), id, ch, taken(f, u), s.Clock.Today()); err != nil {
			return err
		}
	}
	f.Sentences()
	v := mixView{ID: id, Bed: m.Dose.Record.Bed.Name, Form: f, OK: m.OK, DoseHref: site.DoseHref(id) + "?" + dosepage.Query(f)}
	v.slides(m, u)
	v.answer(m, s.Clock.Today())
	v.Page = s.Page(c, m.Garden, "Dose", mixTitle(m))
	if len(f.Faults) > 0 {
		status = http.StatusUnprocessableEntity
	}
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "mix", v)
	return nil
}

// PutMix plans the shown mix.
func (s *Handler) PutMix(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	u := s.Units(c)
	ch, parts := dosepage.Choice(f, u), taken(f, u)
	if len(f.Faults) > 0 {
		return s.showMix(c, http.StatusUnprocessableEntity, id, f)
	}
	r, err := s.App(c).Dosing.PlanMix(c.Request.Context(), s.Actor(c), id, ch, parts, present.EncodePlan)
	if f.Add(err) {
		return s.showMix(c, http.StatusUnprocessableEntity, id, f)
	}
	return s.Finish(c, site.BedHref(id), r, err)
}

// mixTitle returns the amounts in words.
func mixTitle(m dosing.Mixed) string {
	if !m.OK {
		if len(m.Against) > 0 {
			return "That mix is not allowed on " + m.Dose.Record.Bed.Name + " as it is"
		}
		if m.Answer.Direction == dose.Lower {
			return "Sulfur by hand for " + m.Dose.Record.Bed.Name
		}
		return "Mix ash and lime for " + m.Dose.Record.Bed.Name
	}
	u, says := m.Garden.Units(), []string{}
	for i, p := range m.Option.Parts {
		says = append(says, present.Brief(p.Total, present.StockMeasure(&m.Dose, p.Batch), u)+" of "+present.PartName(&m.Dose, i, m.Option))
	}
	return text.List(says) + " on " + m.Dose.Record.Bed.Name
}

// startMix fills an empty form: the best offered mix, else half of the best ash or lime. It reports
// whether it set an amount.
func startMix(m dosing.Mixed, f form.Form) bool {
	typed := false
	for _, p := range MixParts {
		typed = typed || f.Value(p.Amount) != "" || f.Value(p.Which) != ""
	}
	if typed {
		return false
	}
	kg, put := m.Garden.Units().Weights(), false
	for _, p := range MixParts {
		for i := range m.Answer.Options {
			o := &m.Answer.Options[i]
			if len(o.Parts) != 1 || !p.holds(o.Parts[0].Of.Family) {
				continue
			}
			f.Values[p.Which] = m.Key(*o)
			f.Values[p.Amount] = form.Figure(float64(o.Parts[0].Total)/2, kg, 1)
			put = true
			break
		}
	}
	return put
}

func (v *mixView) slides(m dosing.Mixed, u text.Units) {
	kg := u.Weights()
	for _, p := range MixParts {
		x := slideView{mixPart: p, Value: v.Form.Value(p.Amount), Fault: v.Form.Fault(p.Amount)}
		var options []view.Option
		for _, i := range m.Mixable(p.Families...) {
			key := m.MaterialKey(i)
			if v.Form.Value(p.Which) == "" {
				v.Form.Values[p.Which] = key
			}
			name := text.Capital(present.MaterialName(&m.Dose, i))
			if present.ShelfOf(&m.Dose, i) == nil {
				name += ", to buy"
			}
			options = append(options, view.Option{Value: key, Text: name})
			if v.Form.Is(p.Which, key) {
				most := m.MostOf(i)
				x.Most, x.MostSays = form.Figure(float64(most), kg, 1), "at most "+u.Amount(most, present.StockMeasure(&m.Dose, i))
			}
		}
		if len(options) == 0 {
			continue
		}
		x.Pick = v.Form.Resolve(form.Row{Name: p.Which, Options: options, Group: p.Amount})
		if x.Value == "" {
			x.Value = "0"
		}
		for n := range m.Option.Parts {
			if part := &m.Option.Parts[n]; p.holds(part.Of.Family) {
				x.Rate = u.Rate(part.Rate)
				if scoop := present.StockMeasure(&m.Dose, part.Batch); scoop != nil {
					x.Rate = present.Brief(part.Total, scoop, u) + ", " + x.Rate
				}
			}
		}
		v.Slides = append(v.Slides, x)
	}
}

// answer sets the effect of the mix, or what stands against it.
func (v *mixView) answer(m dosing.Mixed, today quantity.Day) {
	u := m.Garden.Units()
	for _, r := range m.Against {
		for i, g := range u.Guards(r.Guards) {
			if most := quantity.Rate(r.Guards[i].With.N("most")); most > 0 {
				g.Lifts = u.Amount(most.Over(m.Request.Ground.Area), present.StockMeasure(&m.Dose, r.Batch)) + " on this bed, or less."
			}
			v.Against = append(v.Against, dosepage.RefusedView{Name: text.Capital(present.MaterialName(&m.Dose, r.Batch)),
				Says: g.Says, WayOut: g.WayOut(), Stop: g.Level == guard.Stop})
		}
	}
	if !m.OK {
		return
	}
	o := &m.Option
	span := m.Dose.Record.State.Crop.Range
	v.Settles = "pH " + text.PH(m.Answer.PH) + " now, " + text.PH(o.PH.Median) + " once it has acted; usually from " +
		text.PH(o.PH.P05) + " to " + text.PH(o.PH.P95) + "."
	rule := svg.RuleOf(350, span, present.RangeName(m.Dose.Record.State), string(m.Dose.Record.State.Standing), m.Answer.PH, m.Answer.SD,
		o.PH.Median, v.Settles)
	v.Rule = &rule
	if k := m.Answer.K; k.Now != nil && o.KAfter != nil {
		v.After = "Potassium " + text.PPM(*k.Now) + " now, " + text.PPM(*o.KAfter) + " with it."
		rule := svg.KRuleOf(k.Scale, o.KAfter, v.After)
		v.K = &rule
	} else {
		v.After = "Potassium is not known; this brings " + text.PPM(soil.PotassiumRise(m.Request.Ground, o.K2O)) + "."
	}
	for _, g := range o.Applications {
		amount := u.Carried(g.Kind, g.Total, present.ScoopFor(&m.Dose, *o, g))
		v.Applications = append(v.Applications, dosepage.ApplicationView{When: text.NearDay(g.Date, today),
			Amount: amount.Big + " " + amount.Unit + " of " +
				present.PartName(&m.Dose, g.Part, *o), Rate: u.Rate(g.Rate), Then: "pH " + text.PH(g.PHAfter), Retest: g.RetestFirst})
	}
	v.Applications = append(v.Applications, dosepage.RetestLine(*o, today))
	if rest := present.RestAmount(&m.Dose, o); rest != "" {
		v.Applications = append(v.Applications, dosepage.ApplicationView{When: "Then", Amount: "the rest, about " + rest,
			Note: "no day before that test is read"})
	}
	v.Cautions, v.Notes = present.Cautions(u.Guards(o.Guards))
	if o.Cost != nil {
		v.Cost = "It costs " + present.Money(*o.Cost, m.Garden.Currency) + "."
	}
	if m.UnknownAsh(*o) {
		v.Ask = present.AskAsh(&m.Dose)
	}
}
