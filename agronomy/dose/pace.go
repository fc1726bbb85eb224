package dose

import (
	"math"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// The careful pace (guide, section 6) applies the largest share of the need, in steps, that is
// unlikely to overshoot.
const (
	// PaceStep is the step of the share, per cent of the need.
	PaceStep  = 5
	paceLeast = 40 // per cent, applied with a caution even if it is likelier to overshoot
	paceHalf  = 50 // per cent, the most on a weak reading
	paceWhole = 100
)

// paced reports whether the rest of a material waits for a test: it moves pH and the pace is
// careful.
func (s *sum) paced(b *material.Batch) bool {
	return s.r.Methods.Pace != AllAtOnce && b.MovesPH() && s.hasCurve() && !s.whole
}

// topTestLimit is the id of the limit of one surface application before its test.
const topTestLimit = "top-test"

// topTest reports whether each further application waits for a test of the top layer.
func (s *sum) topTest(b *material.Batch) bool { return s.OnTop() && b.MovesPH() }

// caco3Of returns the CaCO₃ of an amount of a part's material, signed.
func (p *Part) caco3Of(rate quantity.Rate) quantity.Rate {
	return quantity.Rate(float64(rate) * p.Worth.EffectiveCCE)
}

// pace limits a part before a test, given the signed CaCO₃ wanted in all and the uncertainty of its
// strength. It refuses a part of which that much was applied since the reading: on one reading, no
// more than its first part is ever applied, however often a dose is asked for.
func (s *sum) pace(p *part, want quantity.Rate, strength float64) *guard.Finding {
	careful := s.paced(p.Of)
	if !careful && !p.Half || p.Worth.EffectiveCCE == 0 {
		return nil
	}
	gone, last := s.appliedSince(want)
	p.Share = paceHalf / float64(paceWhole)
	if careful {
		p.Share = s.share(want, gone, func(quantity.Rate) float64 { return strength })
	}
	first := quantity.Rate(p.Share)*(want+gone) - gone
	if s.leaves != nil {
		first = *s.leaves
	}
	first /= quantity.Rate(p.Worth.EffectiveCCE)
	least := max(tenth, material.Worthwhile(p.Of.Family))
	if last == nil {
		// Less than is worth applying moves pH by less than a test can tell.
		first = max(first, least)
	}
	p.First = max(0, first)
	if last == nil || p.First >= least {
		return nil
	}
	test := calendar.PaceTest(&last.Material, s.Season.Weather, last.Date)
	n := guard.FirstPartGone(last.Date, gone, test)
	if p.Half {
		n = guard.HalfGone(last.Date, gone, calendar.Retest(&last.Material, s.Season.Weather, last.Date, 0, calendar.Yearly))
	}
	return &n
}

// appliedSince returns the CaCO₃ applied since the reading in the direction of want, with the last
// application. Under the careful pace a reading taken too soon after an application does not count
// as a test of it; the application then counts from the reading before.
func (s *sum) appliedSince(want quantity.Rate) (appliedSince quantity.Rate, last *ledger.Application) {
	for i := range s.r.History {
		a := &s.r.History[i]
		from := s.Reading.Date
		if s.r.Methods.Pace != AllAtOnce && a.Date < from {
			from -= calendar.ActsBefore(a.Material.Family) - 1
		}
		if !a.MovesPH() || a.Date < from || a.Date > s.r.Date {
			continue
		}
		b := a.Batch()
		if got := quantity.Rate(float64(a.Rate) * b.WorthBeside(s.buffer.Stone).EffectiveCCE); got*want > 0 {
			if appliedSince += got; last == nil || a.Date >= last.Date {
				last = a
			}
		}
	}
	return appliedSince, last
}

// share returns the largest share of a need before a test that settles PastRange or more past the
// range with a probability of at most guard.CarefulOver; at most half on a weak reading, and never
// less than paceLeast. strength is the uncertainty of a first part's strength.
func (s *sum) share(want, applied quantity.Rate, strength func(first quantity.Rate) float64) float64 {
	most := paceWhole
	if s.weak() {
		most = paceHalf
	}
	for pct := most; pct > paceLeast; pct -= PaceStep {
		first := quantity.Rate(pct)/paceWhole*(want+applied) - applied
		if s.overshoots(first, strength(first)) <= guard.CarefulOver {
			return float64(pct) / paceWhole
		}
	}
	return float64(paceLeast) / paceWhole
}

// overshoots returns the probability that an amount, with what is already reacting, settles
// PastRange or more past the range.
func (s *sum) overshoots(caco3 quantity.Rate, strength float64) float64 {
	s.doubt.Strength = strength
	end := s.doubt.Of(s.onWay + caco3)
	return s.pastRange(&end, 0, caco3 < 0)
}

// now returns how much of a part is applied before a test: within its limits and its first part,
// and of a surface material only one application.
func (s *sum) now(p *part) quantity.Rate {
	if !s.paced(p.Of) {
		return p.Allowed
	}
	rate := p.Allowed
	if p.Share > 0 {
		rate = min(rate, p.First)
	}
	if s.topTest(p.Of) {
		rate = min(rate, p.OnceCap)
	}
	return rate
}

// leaveRest sets what of a part waits for the test.
func (s *sum) leaveRest(p *part) {
	if !s.paced(p.Of) {
		return
	}
	waits := p.Share > 0 && p.First < p.Allowed-tenth || s.topTest(p.Of) && p.OnceCap < p.Allowed-tenth
	if rest := p.Allowed - p.Rate; waits && rest >= tenth {
		p.Rest, p.RestTotal = rest, rest.Over(s.Ground.Area)
	}
}

// mixedFirst returns the CaCO₃ that may be applied before a test, of ash up to a limit and lime for
// the rest.
func (s *sum) mixedFirst(ash, lime *part) quantity.Rate {
	gone, _ := s.appliedSince(s.want)
	most := ash.caco3Of(ash.Allowed)
	share := s.share(s.want, gone, func(first quantity.Rate) float64 {
		if first == 0 {
			return 0
		}
		of := min(most, first)
		return math.Hypot(float64(of)*ash.Worth.LogSD, float64(first-of)*lime.Worth.LogSD) / math.Abs(float64(first))
	})
	return quantity.Rate(share)*(s.want+gone) - gone
}

// firstOf returns the part of a need that is applied before a test: all of it, or under the careful
// pace its first share.
func (s *sum) firstOf(need quantity.Rate, batches []material.Batch) quantity.Rate {
	if s.r.Methods.Pace == AllAtOnce || need == 0 {
		return need
	}
	strength := 0.0
	for i := range batches {
		if w := s.worth(&batches[i]); float64(need)*w.EffectiveCCE > 0 {
			strength = max(strength, w.LogSD)
		}
	}
	gone, last := s.appliedSince(need)
	first := quantity.Rate(s.share(need, gone, func(quantity.Rate) float64 { return strength }))*(need+gone) - gone
	if last != nil && float64(first)*float64(need) <= 0 {
		return 0
	}
	return first
}

// NearAim is the distance of a test from the aim within which a correction is finished.
const NearAim quantity.PH = 0.15

// finishes reports whether a need is the rest of a correction that has begun: it continues to the
// aim whatever the trigger says, until a test is near or past it. Its direction is that of the last
// application that moved pH; up if none is recorded.
func (s *sum) finishes(need quantity.Rate) bool {
	if !s.r.Begun || s.PH == 0 {
		return false
	}
	var last *ledger.Application
	for i := range s.r.History {
		if a := &s.r.History[i]; a.MovesPH() && a.Date <= s.r.Date && (last == nil || a.Date >= last.Date) {
			last = a
		}
	}
	if last != nil && last.Material.Lowers() {
		return need < 0 && s.PH > s.target+NearAim+edge
	}
	return need > 0 && s.PH < s.target-NearAim-edge
}

// edge keeps figures read to hundredths on their side of a bound.
const edge = 1e-9
