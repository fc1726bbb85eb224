package dose

import (
	"math"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// The careful pace (field guide, section 6): shares of the need in steps, the largest that is unlikely to overshoot.
const (
	// PaceStep is the step of the share, per cent of the need.
	PaceStep  = 5
	paceLeast = 40 // per cent, put on even where it is likelier to overshoot, with a caution
	paceHalf  = 50 // the most on a weak reading
	paceWhole = 100
)

// paced reports whether a material waits for a test before the rest of it: it moves pH, and the pace is careful.
func (s *sum) paced(b *material.Batch) bool {
	return s.r.Methods.Pace != AllAtOnce && b.MovesPH() && s.hasCurve() && !s.whole
}

// topTestLimit is the id of what keeps a material that stays on top at one application before its test.
const topTestLimit = "top-test"

// topTest reports whether each further application of a material waits for a test of the top layer.
func (s *sum) topTest(b *material.Batch) bool { return s.OnTop() && b.MovesPH() }

// caco3Of is what an amount of a part's material comes to, signed.
func (p *Part) caco3Of(rate quantity.Rate) quantity.Rate {
	return quantity.Rate(float64(rate) * p.Worth.EffectiveCCE)
}

// pace sets the most of a part that may be applied before a test, of a signed amount of CaCO₃ that is wanted in all, with the
// uncertainty of its
// strength. It refuses a part of which that much went on since the reading: however often a dose is asked for on one reading, no
// more than its first part goes on before the next.
func (s *sum) pace(p *part, want quantity.Rate, strength float64) *guard.Finding {
	careful := s.paced(p.Of)
	if !careful && !p.Half || p.Worth.EffectiveCCE == 0 {
		return nil
	}
	gone, last := s.gone(want)
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
		// Less than is worth an application moves the bed by less than a test can tell.
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

// gone is what was applied since the reading that moves pH as a want does, in CaCO₃, with the last of it. By the careful pace a reading
// that came too soon after it is no test of it: it went on since the reading before.
func (s *sum) gone(want quantity.Rate) (gone quantity.Rate, last *ledger.Application) {
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
			if gone += got; last == nil || a.Date >= last.Date {
				last = a
			}
		}
	}
	return gone, last
}

// share is the largest share of a need that may be applied before a test: at most one chance in forty of settling 0.2 or more past the
// range, by all doubts; half at most on a weak reading, and never under the least. strength is the uncertainty of that of a first part.
func (s *sum) share(want, gone quantity.Rate, strength func(first quantity.Rate) float64) float64 {
	most := paceWhole
	if s.weak() {
		most = paceHalf
	}
	for pct := most; pct > paceLeast; pct -= PaceStep {
		first := quantity.Rate(pct)/paceWhole*(want+gone) - gone
		if s.overshoots(first, strength(first)) <= guard.CarefulOver {
			return float64(pct) / paceWhole
		}
	}
	return float64(paceLeast) / paceWhole
}

// overshoots is the chance that an amount, with what is at work already, settles 0.2 or more past the range.
func (s *sum) overshoots(caco3 quantity.Rate, strength float64) float64 {
	s.doubt.Strength = strength
	end := s.doubt.Of(s.onWay + caco3)
	return s.pastRange(&end, caco3 < 0)
}

// now is how much of a part goes on before a test: what its limits allow, no more than its first part, and where it stays on top,
// no more than one application.
func (s *sum) now(p *part) quantity.Rate {
	if !s.paced(p.Of) {
		return p.Allowed
	}
	rate := p.Allowed
	if p.Share > 0 {
		rate = min(rate, p.First)
	}
	if s.topTest(p.Of) {
		rate = min(rate, p.GoCap)
	}
	return rate
}

// leaveRest reports what of a part waits for the test after what is applied now.
func (s *sum) leaveRest(p *part) {
	if !s.paced(p.Of) {
		return
	}
	waits := p.Share > 0 && p.First < p.Allowed-tenth || s.topTest(p.Of) && p.GoCap < p.Allowed-tenth
	if rest := p.Allowed - p.Rate; waits && rest >= tenth {
		p.Rest, p.RestTotal = rest, rest.Over(s.Ground.Area)
	}
}

// mixedFirst is how much of the need may be applied before a test of ash to a most and lime for the rest, in CaCO₃.
func (s *sum) mixedFirst(ash, lime *part) quantity.Rate {
	gone, _ := s.gone(s.want)
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

// firstOf is what of a need goes on before a test: all of it, or by the careful pace its first part, whatever it is brought by.
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
	gone, last := s.gone(need)
	first := quantity.Rate(s.share(need, gone, func(quantity.Rate) float64 { return strength }))*(need+gone) - gone
	if last != nil && float64(first)*float64(need) <= 0 {
		return 0
	}
	return first
}

// NearAim is how near its aim a test must lie for a correction to be at its end.
const NearAim quantity.PH = 0.15

// finishes reports whether a need is the rest of a correction that has begun: it goes on to the aim, whatever the trigger says, until
// a test lies near it or past it. Which way it went is told by what moved pH last; what nobody told went up.
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

// edge keeps figures that are read to hundredths on their side of an edge.
const edge = 1e-9
