package dose

import (
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// potashSince is the K₂O that was put on after a day, each batch as rich as it
// was.
func potashSince(history []calendar.Put, day quantity.Day) (sum quantity.Rate) {
	for i := range history {
		if p := &history[i]; p.Date > day {
			sum += p.K2O()
		}
	}
	return sum
}

// seasonDays is how long a crop that still stands is taken to grow.
const seasonDays quantity.Day = 180

// carriedSince is the K₂O that crops on record carried off after a day, each by
// its share of days.
func carriedSince(grown []Grown, day, today quantity.Day) (sum quantity.Rate) {
	for _, g := range grown {
		to := g.To
		if to == 0 {
			to = max(today, g.From+seasonDays)
		}
		// A crop of several years carries off as much in each.
		span := min(max(to-g.From, 1), yearDays)
		if days := min(to, today) - max(g.From, day); days > 0 {
			sum += g.Crop.Removal * quantity.Rate(days) / quantity.Rate(span)
		}
	}
	return sum
}

// PotassiumOn reckons a bed's potassium on a day from the reading that tells of
// it, what was put on and what crops carried off since: the one place where it is
// judged.
func PotassiumOn(g soil.Ground, r soil.Reading, history []calendar.Put, grown []Grown, today quantity.Day) soil.PotassiumNow {
	since := r.KDate()
	return soil.CarryPotassium(g, r, soil.KMoved{Given: potashSince(history, since), Carried: carriedSince(grown, since, today)}, today)
}

// answerPotassium tells how the bed stands in potassium and, where it is short,
// what would bring it to 30 ppm over critical.
func (s *sum) answerPotassium(a *Answer) {
	k := &a.Potassium
	k.PotassiumNow = s.k
	wants := s.k.Wants(s.r.Ground)
	if wants <= 0 {
		return
	}
	given := potashSince(s.r.History, s.r.Date-yearDays)
	most := max(0, 2*s.crop.Removal-given)
	k.Need = min(wants, most)
	k.Working = s.kWorking(wants, most, given, k.Need)
	if k.Need < nothing {
		return
	}
	// What the answer on pH was reckoned with is put aside, and found again.
	want, facts := s.want, s.facts
	s.forK, s.wantK, s.want = true, k.Need, 0
	s.facts.ForPotassium = true
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

// feed plans what a list has that brings potassium: ash where ash is allowed, the
// others where it does not serve whole.
func (s *sum) feed(k *Potassium, list []material.Batch) {
	for _, i := range inOrder(list) {
		b := &list[i]
		if s.worth(b).K2O <= 0 || !s.hasCurve && b.MovesPH() {
			continue // it feeds none, or no school has said what it would do to pH
		}
		s.facts.Raising = b.Raises()
		p, against := s.weigh(i, b, s.wantK)
		if against != nil {
			k.Refused = append(k.Refused, Refusal{i, b.Kind, against})
			continue
		}
		k.Options = append(k.Options, s.assemble([]part{p}))
	}
	s.rank(k.Options)
}

func (s *sum) kWorking(wants, most, given, need quantity.Rate) []working.Step {
	g := &s.r.Ground
	steps := s.kNow(nil)
	steps = append(steps, working.Step{ID: "potassium-need", Source: "potassium", Result: working.Num("need", working.Rate, wants),
		From: working.Values{working.Num("now", working.PPM, *s.k.Now), working.Num("critical", working.PPM, s.k.Scale.Critical),
			working.Num("to", working.PPM, s.k.Scale.Critical+soil.AboveCritical), working.Num("soil", working.SoilMass, g.SoilMass()),
			working.Num("held", working.Ratio, soil.Held(*g))}})
	if need < wants {
		steps = append(steps, working.Step{ID: "potassium-most", Source: "potassium", Result: working.Num("need", working.Rate, need),
			From: working.Values{working.Num("removal", working.Rate, s.crop.Removal), working.Num("given", working.Rate, given), working.Num("most", working.Rate, most)}})
	}
	return steps
}

// kNow shows how the potassium was carried forward.
func (s *sum) kNow(steps []working.Step) []working.Step {
	k := &s.k
	if k.Now == nil || k.Moved == (soil.KMoved{}) {
		return steps
	}
	return append(steps, working.Step{ID: "potassium-now", Source: "potassium", Result: working.Num("now", working.PPM, *k.Now),
		From: working.Values{working.Num("read", working.PPM, *k.Read), working.On("date", k.Date), working.Num("given", working.Rate, k.Moved.Given),
			working.Num("carried", working.Rate, k.Moved.Carried), working.Num("soil", working.SoilMass, s.r.Ground.SoilMass()), working.Num("held", working.Ratio, soil.Held(s.r.Ground))}})
}

// fizzDusting tells whether two jars carry a light dusting: they say sour, no
// figure speaks, and the gardener chose that school.
func (s *sum) fizzDusting() bool {
	r, weak := s.r.Reading.Fizz.Judge()
	return s.r.Reading.Method == soil.Fizz && s.r.Schools.Fizz == FizzDusting && r == soil.Acid && !weak && !s.facts.Conflict
}

// dust offers a light dusting of ash, once in a year, and nothing else: no amount
// can rest on jars, so no need and no pH is told.
func (s *sum) dust(a *Answer) {
	s.facts.Dusting, s.facts.Raising = true, true
	s.r.Schools.Ash = material.Dusting
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
		p, against := s.weigh(i, b, quantity.Rate(float64(material.DustingCap)*w.Strength))
		if against != nil {
			a.Refused = append(a.Refused, Refusal{i, b.Kind, against})
			continue
		}
		o := s.assemble([]part{p})
		o.Unmet, o.Limit = 0, ""
		a.Options = append(a.Options, o)
	}
	s.rank(a.Options)
	if a.Direction = Raise; len(a.Options) == 0 || s.crop.Is(crop.AcidLover) {
		a.Direction = Refused
	}
	a.Stand = crop.Act
	a.Potassium.PotassiumNow = s.k
}
