package dose

import (
	"math"
	"slices"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// need computes the amount and the direction. The amount is set even when the bed is left alone.
func (s *sum) need(a *Answer) {
	r := s.r
	s.assumed(a)
	gross := s.atWork(a)
	lime := s.freeLime(a, gross)
	whole := gross
	if gross < 0 {
		whole -= lime
	}
	net := whole - s.onWay
	// What is already reacting may meet the need, never reverse it.
	if gross >= 0 && net < 0 || gross <= 0 && net > 0 {
		net = 0
	}
	_, sd := s.start()
	s.doubt = forecast.Doubt{Curve: s.course.Curve, From: s.course.From, SD: sd, Method: s.buffer.LogSD}
	if s.joint() && gross > 0 {
		s.doubt.Joint, s.doubt.Base = s.Ground.Learned.Joint, s.buffer.Beside.Raise
	}
	low, high := s.Ground.FreeLime.Range()
	s.doubt.LimeLow, s.doubt.LimeHigh = s.Ground.FreeLimeAcid(low), s.Ground.FreeLimeAcid(high)
	a.Need.CaCO3 = net
	a.Need.Low, a.Need.High = s.doubt.Need(s.target, whole, sixth, fifth)
	a.Need.Low, a.Need.High = a.Need.Low-s.onWay, a.Need.High-s.onWay
	if net < 0 {
		a.Need.Low, a.Need.High = a.Need.High, a.Need.Low
	}
	// A typed target overrides the trigger.
	if r.Target == nil && s.facts.Stand != crop.Act && !s.finishes(net) || math.Abs(float64(net)) < float64(nothing) {
		a.Direction = Leave
		s.leave(a, gross)
		return
	}
	s.want = net
	a.Direction = Raise
	if net < 0 {
		a.Direction = Lower
	}
	s.facts.Raising, s.facts.Lowering = net > 0, net < 0
}

// atWork returns what the bed would need without earlier applications, and the course with them.
func (s *sum) atWork(a *Answer) (gross quantity.Rate) {
	gross = s.gross(a)
	s.course.Warmth, s.course.Dug, s.course.From, s.course.Day = &s.r.Climate, s.Ground.Worked == soil.Dug, s.from(gross),
		s.Reading.Date
	s.course.DugUntil = s.Ground.DugUntil
	s.course.FreeLime = s.Ground.FreeLimeAcid(s.Ground.FreeLime.Share())
	s.course.Drift = s.r.drift(s.Reading)
	s.credit(a)
	return gross
}

// toTell is the least change of pH visible in tenths.
const toTell = 0.05

// leave sets the reason for leaving the bed alone: the method, or what is already reacting.
func (s *sum) leave(a *Answer, gross quantity.Rate) {
	at := working.Values{
		working.ID("school", s.r.Methods.Act), working.ID("stand", s.facts.Stand), working.Num("ph", working.PH, s.PH),
		working.Num("low", working.PH, s.Crop.Range.Low), working.Num("high", working.PH, s.Crop.Range.High), working.Num("sd",
			working.PH, s.SD),
	}
	// A waiting method is not the reason when what is already reacting does the work.
	settles := s.course.Settle(s.onWay)
	helped := s.facts.Stand != crop.InRange && float64(s.onWay*gross) > 0 && math.Abs(float64(settles-s.course.From)) >= toTell
	switch {
	case s.r.Target == nil && s.facts.Stand != crop.Act && !helped:
		a.Need.Working = append(a.Need.Working, working.Step{ID: "left-alone", Source: "act-schools",
			Result: working.Num("dose", working.Rate, 0.0), From: at})
	case math.Abs(float64(gross)) >= float64(nothing) && s.onWay != 0:
		a.Need.Working = append(a.Need.Working, working.Step{ID: "at-work", Source: "on-its-way",
			Result: working.Num("dose", working.Rate, 0.0),
			From: append(at, working.Num("on_way", working.Rate, s.onWay),
				working.Num("settles", working.PH, s.after(&Option{}, 0, 0)))})
	}
}

// assumed adds the step of values that were assumed.
func (s *sum) assumed(a *Answer) {
	from := s.r.Assumed
	if s.Ground.CEC == nil {
		from = append(slices.Clip(from), working.Num("cec", working.CEC, s.Ground.CationExchangeCapacity()))
	}
	if s.Ground.Clay == nil && s.r.Methods.Buffering == soil.ByOrganicMatter {
		from = append(slices.Clip(from), working.Num("clay", working.Percent, s.Ground.ClayContent()))
	}
	if len(from) > 0 {
		a.Need.Working = append(a.Need.Working, working.Step{ID: "assumed", Source: "defaults",
			Result: working.Int("assumed", working.Count, len(from)), From: from})
	}
}

// gross returns the need before credits with its working, from one pH or from the layers.
func (s *sum) gross(a *Answer) quantity.Rate {
	if s.Reading.Basis != soil.Water {
		row, _ := soil.FindBasis(s.Reading.Basis)
		a.Need.Working = append(a.Need.Working, working.Step{ID: "basis", Source: "trust",
			Result: working.Num("ph", working.PH, s.Reading.Water()),
			From: working.Values{working.Num("read", working.PH, s.Reading.PH), working.ID("basis", s.Reading.Basis),
				working.Num("shift", working.PH, row.Shift)}})
	}
	if s.Joined.N > 1 {
		a.Need.Working = append(a.Need.Working, working.Step{ID: "joined", Source: "trust",
			Result: working.Num("ph", working.PH, s.Reading.Water()),
			From: working.Values{working.Int("readings", working.Count, s.Joined.N), working.Num("sd", working.PH, s.SD),
				working.Int("left", working.Count, s.Joined.Left)}})
	}
	if s.lightened() {
		a.Need.Working = append(a.Need.Working, working.Step{ID: "density", Source: "density",
			Result: working.Num("soil", working.SoilMass, s.Ground.SoilMass()),
			From: working.Values{working.Num("density", working.None, float64(s.Ground.Density())),
				working.Num("depth", working.Depth, s.Ground.Depth),
				working.Num("stones", working.Percent, s.Ground.Stones), om(s.Ground)}})
	}
	if !s.Profile.Layered {
		from, sd := s.start()
		if from != s.PH {
			a.Need.Working = append(a.Need.Working, working.Step{ID: "level", Source: "learned", Result: working.Num("ph", working.PH, from),
				From: working.Values{working.Num("read", working.PH, s.PH), working.Num("level", working.PH, s.Ground.Learned.Level),
					working.Num("sd", working.PH, sd)}})
		}
		s.course.Curve = s.buffer.Curve(s.PH, s.target)
		a.Need.Working = append(a.Need.Working, s.buffer.Working(from, s.target)...)
		return s.jointNeed(a, from, s.course.Curve.Need(from, s.target))
	}
	return s.layered(a)
}

// joint reports whether the bed is dosed by the joint distribution of its level and buffering.
func (s *sum) joint() bool {
	l := s.Ground.Learned
	return s.buffer.Method == soil.ByLearned && l.Day == s.Reading.Date && len(l.Joint) > 0 && !s.Profile.Layered
}

// jointNeed returns the median of the need by the joint distribution and sets the curve
// accordingly.
func (s *sum) jointNeed(a *Answer, from quantity.PH, need quantity.Rate) quantity.Rate {
	if !s.joint() || need < leastCredit {
		return need
	}
	d := forecast.Doubt{Curve: s.course.Curve, From: from, SD: s.Ground.Learned.LevelSD, Joint: s.Ground.Learned.Joint,
		Base: s.buffer.Beside.Raise}
	whole := max(0, d.Median(s.target, need))
	s.course.Curve = s.course.Curve.Scaled(max(leastFactor, float64(whole/need)))
	s.buffer.Raise = s.course.Curve
	a.Need.Working = append(a.Need.Working, working.Step{ID: "joint", Source: "learned", Result: working.Num("need", working.Rate, whole),
		From: working.Values{working.Num("apart", working.Rate, need), working.Num("level", working.PH, from)}})
	return whole
}

// leastFactor keeps a curve rising where hardly anything is needed.
const leastFactor = 0.05

// start returns the pH that the dose starts from, with its standard deviation: the reading, or,
// under the learned method, the level on that day estimated from all readings. The verdict stays
// with the reading: the estimate never makes a bed that is too sour too sweet, it only leaves it at
// its target.
func (s *sum) start() (quantity.PH, float64) {
	l := s.Ground.Learned
	if s.buffer.Method != soil.ByLearned || l.Level == 0 || l.Day != s.Reading.Date || s.Profile.Layered {
		return s.PH, s.SD
	}
	if (l.Level < s.target) != (s.PH < s.target) {
		return s.target, l.LevelSD
	}
	return l.Level, l.LevelSD
}

func om(g soil.Ground) working.Value {
	if g.OrganicMatter == nil {
		return working.Num("om", working.Percent, 0.0)
	}
	return working.Num("om", working.Percent, *g.OrganicMatter)
}

// lightened reports whether the need follows the soil's mass and that differs from the table's.
func (s *sum) lightened() bool {
	g := &s.Ground
	return s.buffer.ByMass() && (g.Stones > 0 || g.Density() != g.Texture.BulkDensity)
}

// layered sums the needs of the layers. Digging mixes them, so dug ground gets the net sum; undug
// ground only what layers lack in the direction of the dose, without offsetting.
func (s *sum) layered(a *Answer) quantity.Rate {
	dug, down := s.Ground.Worked == soil.Dug, s.PH > s.target
	var sum quantity.Rate
	for _, l := range s.Profile.In {
		// Each layer has its own direction.
		curve := s.buffer.Curve(l.PH, s.target)
		need := curve.Need(l.PH, s.target) * quantity.Rate(l.Thick()/s.Ground.Depth)
		kept := need
		if !dug && need < 0 != down {
			kept = 0
		}
		sum += kept
		a.Need.Working = append(a.Need.Working, working.Step{ID: "layer", Source: "layers", Result: working.Num("need", working.Rate, kept),
			From: working.Values{working.Num("from", working.Depth, l.From), working.Num("until", working.Depth, l.To),
				working.Num("ph", working.PH, l.PH),
				working.Num("to", working.PH, s.target), working.Num("need", working.Rate, need)}})
	}
	s.course.Curve = s.buffer.Raise
	if sum < 0 {
		s.course.Curve = s.buffer.Lower
	}
	id := "layers-mixed"
	if !dug {
		id = "layers-lacking"
	}
	a.Need.Working = append(a.Need.Working, working.Step{ID: id, Source: "layers", Result: working.Num("need", working.Rate, sum),
		From: working.Values{working.Int("layers", working.Count, len(s.Profile.In)),
			working.Num("depth", working.Depth, s.Ground.Depth), working.Num("from", working.PH, s.from(sum))}})
	return sum
}

// from returns the pH of the whole depth: the reading, or the mix of its layers.
func (s *sum) from(gross quantity.Rate) quantity.PH {
	if !s.Profile.Layered {
		from, _ := s.start()
		return from
	}
	return s.course.Curve.Move(s.target, -gross)
}

// credit computes what earlier applications have yet to bring, each at its own strength.
func (s *sum) credit(a *Answer) {
	r := s.r
	for i := range r.History {
		p := &r.History[i]
		if !p.MovesPH() {
			continue
		}
		b := p.Batch()
		w := b.WorthBeside(s.buffer.Stone)
		pool := forecast.Pool{Date: p.Date, CaCO3: quantity.Rate(float64(p.Rate) * w.EffectiveCCE), Reacts: b.Speed()}
		s.course.Pools = append(s.course.Pools, pool)
		left := forecast.Unreacted(pool.Reacts, &r.Climate, s.Ground.DugOn(p.Date), p.Date, s.Reading.Date)
		got := pool.CaCO3 * quantity.Rate(left)
		if math.Abs(float64(got)) < leastCredit {
			continue
		}
		s.onWay += got
		a.Need.Working = append(a.Need.Working, working.Step{ID: "on-its-way", Source: "on-its-way",
			Result: working.Num("credit", working.Rate, -got),
			From: working.Values{working.On("date", p.Date), working.ID("kind", p.Material.Kind),
				working.Num("rate", working.Rate, p.Rate), working.Num("strength", working.Percent, 100*w.EffectiveCCE),
				working.Num("left", working.Percent, 100*left)}})
	}
}

// leastCredit is the least credit that counts, g CaCO₃/m².
const leastCredit = 0.5

// freeLime returns the acid that free lime consumes before pH can move.
func (s *sum) freeLime(a *Answer, gross quantity.Rate) quantity.Rate {
	g := &s.Ground
	if gross >= 0 || s.course.FreeLime <= 0 {
		return s.course.FreeLime
	}
	a.Need.Working = append(a.Need.Working, working.Step{
		ID: "free-lime", Result: working.Num("need", working.Rate, gross-s.course.FreeLime), Source: "free-lime",
		From: working.Values{
			working.Num("share", working.Percent, g.FreeLime.Share()), working.Num("per", working.None, float64(soil.FreeLimePerPercent)),
			working.Num("soil", working.SoilMass, g.SoilMass()), working.Num("acid", working.Rate, s.course.FreeLime),
		},
	})
	return s.course.FreeLime
}
