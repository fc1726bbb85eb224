package dose

import (
	"math"
	"sort"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// nothing is the smallest need worth acting on, g CaCO₃/m².
const nothing quantity.Rate = 0.05

// tenths is the smallest amount that is worth putting on, g/m².
const tenth quantity.Rate = 0.1

// z95 is the normal deviate that 5 % lie above.
const z95 = 1.6449

// For works a request. Errors are *InputError and name the field.
func For(r Request) (Answer, error) {
	if err := r.check(); err != nil {
		return Answer{}, err
	}
	s := newSum(&r)
	s.facts.SinceAsh, s.facts.SinceLime = since(r)
	a := Answer{PH: s.ph, SD: s.sd, Crop: s.crop, Target: s.target, Potassium: s.scale}
	if t, _ := soil.FindMethod(r.Reading.Method); t.Dose == soil.Never {
		a.Direction, a.Guards = Refused, guard.Check(guard.OfRequest, &s.facts)
		return a, nil
	}
	buffer, err := soil.Buffer(r.Schools.Buffering, r.Ground)
	if err != nil {
		if m, ok := err.(*soil.MissingError); ok {
			return Answer{}, &InputError{m.Field, m.Why}
		}
		return Answer{}, err
	}
	s.buffer = buffer
	s.need(&a)
	a.Guards = guard.Check(guard.OfRequest, &s.facts)
	if a.Direction == Leave {
		return a, nil
	}
	s.options(&a)
	if len(a.Options) == 0 {
		a.Direction = Refused
	}
	return a, nil
}

// sum is a request being worked.
type sum struct {
	r      *Request
	ph     quantity.PH
	sd     float64
	crop   crop.Crop
	target quantity.PH
	scale  soil.PotassiumScale
	buffer soil.Buffering
	curve  soil.Curve
	// onWay is the CaCO₃ that earlier goes have yet to bring.
	onWay  quantity.Rate
	want   quantity.Rate
	season calendar.Season
	facts  guard.Facts
}

func newSum(r *Request) *sum {
	s := &sum{r: r, ph: r.Reading.Water(), sd: r.Reading.SD(), crop: crop.Unnamed}
	if r.Crop != nil {
		s.crop = *r.Crop
	}
	s.target = s.crop.Aim
	if r.Ground.Texture.ID == soil.Muck && !s.crop.Is(crop.AcidLover) {
		s.target = crop.MuckAim
	}
	if r.Target != nil {
		s.target = *r.Target
	}
	s.scale = soil.PotassiumBands(r.Ground)
	perennial := r.Ground.Use == soil.UseLawn || r.Ground.Use == soil.UseTree || s.crop.Is(crop.Perennial)
	short := s.scale.Judge(r.Reading.Potassium) == soil.Short
	s.season = calendar.Season{
		Climate: r.Climate, Sowing: r.Sowing, Cleared: r.Cleared, SowingGap: s.crop.SowingGap(),
		Perennial: perennial, Dug: r.Ground.Worked == soil.Dug, History: r.History,
		// Something dug in wants clear ground, so only ash left on top can be a
		// side dressing.
		SideDress: r.Ground.Worked != soil.Dug && s.ph < 6.5 && (short || s.crop.Is(crop.AshWelcome)),
	}
	s.facts = guard.Facts{
		Date: r.Date, Ground: r.Ground, Reading: r.Reading, PH: s.ph, Crop: s.crop, Target: s.target,
		TargetTyped: r.Target != nil, Potassium: s.scale, AshSchool: r.Schools.Ash,
	}
	return s
}

// since counts the days from the last ash and the last lime before the
// reading; -1 when there was none.
func since(r Request) (ash, lime quantity.Day) {
	ash, lime = -1, -1
	for _, p := range r.History {
		if p.Date > r.Reading.Date {
			continue
		}
		at := &lime
		switch {
		case p.Material.Family == material.Ash:
			at = &ash
		case !p.Material.Raises():
			continue
		}
		if gap := r.Reading.Date - p.Date; *at < 0 || gap < *at {
			*at = gap
		}
	}
	return ash, lime
}

// need finds the amount and the direction.
func (s *sum) need(a *Answer) {
	r := s.r
	muck := r.Ground.Texture.ID == soil.Muck && !s.crop.Is(crop.AcidLover)
	s.facts.Acts = r.Schools.Act.Acts(s.crop.Band, s.target, s.ph, muck)
	s.curve = s.buffer.Curve(s.ph, s.target)
	gross := s.curve.Need(s.ph, s.target)
	a.Need.Working = s.needSteps()
	s.credit(a)
	net := gross - s.onWay
	// What is on its way may meet the need, never turn it round.
	if gross > 0 && net < 0 || gross < 0 && net > 0 {
		net = 0
	}
	if net < 0 {
		lime := s.freeLimeAcid()
		if lime > 0 {
			net -= lime
			a.Need.Working = append(a.Need.Working, working.Step{
				ID: "free-lime", Result: working.Num("need", working.Rate, net), Source: "free-lime",
				From: working.Values{
					working.Num("share", working.Percent, r.Ground.FreeLime.Share()),
					working.Num("soil", working.SoilMass, r.Ground.SoilMass()),
					working.Num("acid", working.Rate, lime),
				},
			})
		}
	}
	// A typed target overrides the act school.
	if r.Target == nil && !s.facts.Acts || math.Abs(float64(net)) < float64(nothing) {
		a.Direction = Leave
		if r.Target != nil || s.facts.Acts {
			return
		}
		a.Need.Working = append(a.Need.Working, working.Step{
			ID: "left-alone", Source: "act-schools", Result: working.Num("need", working.Rate, 0.0),
			From: working.Values{
				working.ID("school", r.Schools.Act), working.Num("ph", working.PH, s.ph),
				working.Num("low", working.PH, s.crop.Band.Low), working.Num("high", working.PH, s.crop.Band.High),
			},
		})
		return
	}
	s.want = net
	a.Direction = Raise
	if net < 0 {
		a.Direction = Lower
	}
	s.facts.Raising, s.facts.Lowering = net > 0, net < 0
	spread := quantity.Rate(s.buffer.RelativeSD) * net
	a.Need.CaCO3, a.Need.Low, a.Need.High = net, net-spread, net+spread
}

// needSteps shows how the curve gives the gross need.
func (s *sum) needSteps() []working.Step {
	g := s.r.Ground
	var steps []working.Step
	if s.r.Reading.Basis != soil.Water {
		steps = append(steps, working.Step{ID: "basis", Source: "trust", Result: working.Num("ph", working.PH, s.ph),
			From: working.Values{working.Num("read", working.PH, s.r.Reading.PH), working.ID("basis", s.r.Reading.Basis)}})
	}
	from, to := s.ph, s.target
	need := s.curve.Need(from, to)
	ends := working.Values{
		working.Num("from", working.PH, from), working.Num("to", working.PH, to),
		working.ID("texture", g.Texture.ID), working.ID("table", g.Table), working.Num("depth", working.Depth, g.Depth),
	}
	deep := float64(g.Depth / quantity.SevenInches)
	lowerTop := to < from && from > 6.5
	if s.buffer.School == soil.ByOrganicMatter && !lowerTop {
		return append(steps, working.Step{ID: "organic-matter", Source: "aitken-1990",
			Result: working.Num("per", working.PerSoil, s.buffer.PerSoil),
			From: working.Values{
				working.Num("om", working.Percent, *g.OrganicMatter), working.Num("clay", working.Percent, g.Clays())}},
			working.Step{ID: "organic-matter-need", Source: "aitken-1990", Result: working.Num("need", working.Rate, need),
				From: append(ends, working.Num("per", working.PerSoil, s.buffer.PerSoil),
					working.Num("soil", working.SoilMass, g.SoilMass()), working.Num("density", working.Rate, g.Texture.BulkDensity))})
	}
	id, source := "texture-table", "soil-survey"
	if lowerTop {
		id, source = "sulfur-table", "sulfur-table"
	}
	at7 := float64(need) / deep
	step := working.Step{ID: id, Source: source, Result: working.Num("need", working.Rate, at7), From: ends}
	for _, p := range s.curve.Pieces(from, to) {
		if p.To-p.From < 1e-9 {
			continue
		}
		step.From = append(step.From,
			working.Num("share", working.PH, p.To-p.From),
			working.Num("tons", working.ShortTons, p.Slope/deep/float64(quantity.ShortTonPerAcre)))
	}
	return append(steps, step, working.Step{ID: "depth", Source: source, Result: working.Num("need", working.Rate, need),
		From: working.Values{working.Num("at7", working.Rate, at7), working.Num("depth", working.Depth, g.Depth),
			working.Num("table_depth", working.Depth, quantity.SevenInches)}})
}

// credit reckons what earlier goes have yet to bring.
func (s *sum) credit(a *Answer) {
	r := s.r
	for _, p := range r.History {
		w := material.Batch{Material: p.Material, Condition: material.Dry}.Worth()
		if w.Strength == 0 || p.Rate == 0 {
			continue
		}
		left := 1.0
		if p.Date <= r.Reading.Date {
			left = forecast.Unreacted(p.Material.Reacts, &r.Climate, r.Ground.Worked == soil.Dug, p.Date, r.Reading.Date)
		}
		got := quantity.Rate(float64(p.Rate) * w.Strength * left)
		if math.Abs(float64(got)) < 0.5 {
			continue
		}
		s.onWay += got
		a.Need.Working = append(a.Need.Working, working.Step{ID: "on-its-way", Source: "on-its-way",
			Result: working.Num("credit", working.Rate, -got),
			From: working.Values{working.On("date", p.Date), working.ID("kind", p.Material.Kind),
				working.Num("rate", working.Rate, p.Rate), working.Num("strength", working.Percent, 100*w.Strength),
				working.Num("left", working.Percent, 100*left)}})
	}
}

// freeLimeAcid is the acid that known free lime takes before pH can move. From
// 7.5 up the printed sulfur table counts ordinary free lime itself.
func (s *sum) freeLimeAcid() quantity.Rate {
	if s.ph >= 7.5 {
		return 0
	}
	return quantity.Rate(float64(s.r.Ground.FreeLime.Share()) * 10 * s.r.Ground.SoilMass())
}

// usual is what is offered when no material is named.
func usual(raise bool) []material.Batch {
	kinds := []material.Kind{material.CalciticLime, material.DolomiticLime, material.HardwoodAsh}
	if !raise {
		kinds = []material.Kind{material.SulfurPowder}
	}
	out := make([]material.Batch, 0, len(kinds))
	for _, k := range kinds {
		m, _ := material.Find(k)
		out = append(out, material.Batch{Material: m, Condition: material.Dry, Source: material.Clean})
	}
	return out
}

func (s *sum) options(a *Answer) {
	list := s.r.Materials
	if len(list) == 0 {
		list = usual(s.want > 0)
	}
	for i, b := range list {
		f := s.facts
		f.Material, f.Worth = b, b.Worth()
		if found := guard.Check(guard.OfMaterial, &f); guard.Refuses(found) {
			a.Refused = append(a.Refused, Refusal{i, b.Kind, found})
			continue
		}
		o, against := s.single(i, b, f)
		if against != nil {
			a.Refused = append(a.Refused, Refusal{i, b.Kind, []guard.Finding{*against}})
			continue
		}
		a.Options = append(a.Options, o)
	}
	sort.SliceStable(a.Options, func(i, j int) bool { return better(a.Options[i], a.Options[j]) })
}

// better ranks: meets the need, fewest cautions, acts soonest.
func better(x, y Option) bool {
	mx, my := x.Limit == "", y.Limit == ""
	if mx != my {
		return mx
	}
	_, cx := guard.Worst(x.Guards)
	_, cy := guard.Worst(y.Guards)
	if cx != cy {
		return cx < cy
	}
	return x.Retest < y.Retest
}
