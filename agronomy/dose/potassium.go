package dose

import (
	"math"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// answerPotassium fills in the potassium status and, when short, what brings it to
// soil.AboveCritical over critical.
func (s *sum) answerPotassium(a *Answer) {
	if use := s.Ground.Use; use == soil.UsePot || use == soil.UseHeap {
		return // the figures are for soil in the ground
	}
	k := &a.Potassium
	wants := s.K.Wants(s.Ground)
	if wants <= 0 {
		return
	}
	given := s.r.History.K2OAfter(s.r.Date - ledger.YearDays)
	most := max(0, material.MostRemovals*s.Crop.Removal-given)
	k.Need = min(wants, most)
	k.Working = s.kWorking(wants, most, given, k.Need)
	if k.Need < nothing {
		return
	}
	// The state of the answer on pH is saved and restored.
	want, facts := s.want, s.facts
	s.forK, s.wantK, s.want = true, k.Need, 0
	s.facts.ForPotassium, s.facts.Lowering = true, false
	list := s.r.Materials
	if len(list) == 0 {
		list = usualPotassium
	}
	s.feed(k, list)
	if len(k.Options) == 0 && len(s.r.Materials) > 0 {
		named := len(list)
		rest := Potassium{}
		s.feed(&rest, usualPotassium[1:])
		for _, o := range rest.Options {
			for i := range o.Parts {
				o.Parts[i].Batch += named
			}
			k.Options = append(k.Options, o)
		}
	}
	s.forK, s.want, s.facts = false, want, facts
}

// feed plans the materials that bring potassium: ash where allowed, the others where ash does not
// suffice.
func (s *sum) feed(k *Potassium, list []material.Batch) {
	for _, i := range inOrder(list) {
		b := &list[i]
		if s.worth(b).K2O <= 0 || !s.hasCurve() && b.MovesPH() {
			continue // it brings none, or its effect on pH is unknown without a method
		}
		s.facts.Raising = b.Raises()
		p, against := s.weigh(i, b, s.wantK)
		if against != nil {
			k.Refused = append(k.Refused, Refusal{i, b.Kind, against})
			continue
		}
		k.Options = append(k.Options, s.assemble(p))
	}
	s.rank(k.Options)
}

func (s *sum) kWorking(wants, most, given, need quantity.Rate) []working.Step {
	g := &s.Ground
	steps := s.kNow(nil)
	steps = append(steps, working.Step{ID: "potassium-need", Source: "potassium", Result: working.Num("need", working.Rate, wants),
		From: working.Values{working.Num("now", working.PPM, *s.K.Now), working.Num("critical", working.PPM, s.K.Scale.Critical),
			working.Num("to", working.PPM, s.K.Scale.Critical+soil.AboveCritical), working.Num("soil", working.SoilMass, g.SoilMass()),
			working.Num("held", working.Ratio, soil.Held(*g))}})
	if need < wants {
		steps = append(steps, working.Step{ID: "potassium-most", Source: "potassium", Result: working.Num("need", working.Rate, need),
			From: working.Values{working.Num("removal", working.Rate, s.Crop.Removal), working.Num("given", working.Rate, given),
				working.Num("most", working.Rate, most)}})
	}
	return steps
}

// kNow adds the step that carries potassium forward.
func (s *sum) kNow(steps []working.Step) []working.Step {
	k := &s.K
	if k.Now == nil || math.Abs(float64(*k.Now-*k.Read)) < leastMoved {
		return steps
	}
	from := working.Values{working.Num("read", working.PPM, *k.Read), working.On("date", k.Date),
		working.Num("given", working.Rate, k.Moved.Given), working.Num("carried", working.Rate, k.Moved.Carried),
		working.Num("soil", working.SoilMass, s.Ground.SoilMass()), working.Num("held", working.Ratio, soil.Held(s.Ground)),
		working.Num("leached", working.PPM, k.Moved.Leached)}
	if math.Abs(float64(k.Weighed)) >= leastMoved {
		from = append(from, working.Num("weighed", working.PPM, k.Weighed))
	}
	return append(steps, working.Step{ID: "potassium-now", Source: "potassium", Result: working.Num("now", working.PPM, *k.Now),
		From: from})
}

// leastMoved is the least reported change of the figure, ppm.
const leastMoved = 0.5

// fizzDusting reports whether jars support a light dusting: they say sour, there is no figure, and
// the gardener chose that method.
func (s *sum) fizzDusting() bool {
	r, weak := s.Reading.Fizz.Judge()
	return s.Reading.Method == soil.Fizz && s.r.Methods.Fizz == FizzDusting && r == soil.Acid && !weak && !s.facts.Conflict
}

// dust offers a light dusting of ash once a year and nothing else: jars support no amount, so no
// need and no pH is reported.
func (s *sum) dust(a *Answer) {
	s.facts.Dusting, s.facts.Raising = true, true
	s.r.Methods.Ash = material.Dusting
	a.Guards = guard.Check(guard.OfRequest, &s.facts)
	list := s.r.Materials
	if len(list) == 0 {
		list = usualRaising
	}
	for _, i := range inOrder(list) {
		b := &list[i]
		if b.Family != material.Ash {
			a.Refused = append(a.Refused, Refusal{i, b.Kind, []guard.Finding{guard.FizzOnly()}})
			continue
		}
		w := s.worth(b)
		p, against := s.weigh(i, b, quantity.Rate(float64(material.DustingCap)*w.EffectiveCCE))
		if against != nil {
			a.Refused = append(a.Refused, Refusal{i, b.Kind, against})
			continue
		}
		o := s.assemble(p)
		o.Shortfall, o.Limit = 0, ""
		a.Options = append(a.Options, o)
	}
	a.First = s.rank(a.Options)
	if a.Direction = Raise; len(a.Options) == 0 || s.Crop.Is(crop.AcidLover) {
		a.Direction = Refused
	}
	a.Stand = crop.Act
}
