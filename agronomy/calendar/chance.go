package calendar

import (
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

const (
	// ChanceDays is how near the end of its window a last chance is reported.
	ChanceDays quantity.Day = 14
	// chanceShut is how long no day serves after it for it to be the last.
	chanceShut quantity.Day = 28
)

// LastChance is the last day on which a rate of a family may be applied before its window closes, where that is within a fortnight from a
// day on; no day where its window stays open, or is shut already. The gardener's own days do not bind it.
func (s *Conditions) LastChance(f material.Family, rate quantity.Rate, caps material.Caps, from quantity.Day) (last quantity.Day) {
	for d := from; d <= from+ChanceDays; d++ {
		if s.Rules(f, rate, caps, d) == Free {
			last = d
		}
	}
	if last == 0 {
		return 0
	}
	for d := last + 1; d <= last+chanceShut; d++ {
		if s.Rules(f, rate, caps, d) == Free {
			return 0
		}
	}
	return last
}

// follows are the rules by which an item keeps its distance from other work: what they move missed no window.
var follows = map[Why]bool{StepOrder: true, PlanOrder: true, TooSoon: true, NearNitrogen: true, NearLime: true}

// Missed reports whether an item missed its window by a day: the day that it was planned for has gone by, and it stands further off than
// a last chance is reported.
func (p *Placed) Missed(due, today quantity.Day) bool {
	return due < today && p.Day > today+ChanceDays && !p.Unmet && !p.Retest && !follows[p.Why]
}
