package calendar

import (
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

const (
	// ChanceDays is how near the end of its window a last chance is reported.
	ChanceDays quantity.Day = 14
	// chanceShut is how long the window must stay shut afterwards for it to be the last chance.
	chanceShut quantity.Day = 28
)

// LastChance returns the last day on which a rate may be applied before its window closes, if that
// is within ChanceDays from a day on; 0 if the window stays open, or is shut already. Working days
// are ignored.
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

// follows are the rules by which an item keeps its distance from other work; being moved by these
// is not a missed window.
var follows = map[Why]bool{StepOrder: true, PlanOrder: true, TooSoon: true, NearNitrogen: true, NearLime: true}

// Missed reports whether an item missed its window: its planned day is past, and its next day is
// further off than ChanceDays.
func (p *Placed) Missed(due, today quantity.Day) bool {
	return due < today && p.Day > today+ChanceDays && !p.Shortfall && !p.Retest && !follows[p.Why]
}
