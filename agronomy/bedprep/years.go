package bedprep

import (
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
)

// Stand is a crop on a bed, from its sowing until it is cleared; 0 when the end is unknown.
type Stand struct {
	Crop     crop.Crop
	From, To quantity.Day
}

// Off returns the latest assumed day on which it is off the ground.
func (s *Stand) Off() quantity.Day {
	usual := s.From + calendar.SeasonDays
	// Potatoes are lifted by the autumn, whatever day the next crop cleared them for.
	if s.To != 0 && (s.To < usual || !s.Crop.Is(crop.Scab)) {
		return s.To
	}
	return usual
}

// HintID is the id of a hint on liming in a crop plan.
type HintID string

// Hints.
const (
	// LimeFirst: the next crop needs a higher pH, so lime goes on before it.
	LimeFirst HintID = "lime-first"
	// LimeTight: as LimeFirst, but potatoes before it leave lime no time to act.
	LimeTight HintID = "lime-tight"
	// SourYear: nothing that raises pH is applied, for potatoes.
	SourYear HintID = "sour-year"
)

// Hint is a hint for a coming crop; From and To are the days that it refers to.
type Hint struct {
	ID       HintID
	Crop     crop.Crop
	From, To quantity.Day
}

// Hints returns the hints for the coming crops: lime before those that are kept from clubroot, at
// the bed's current pH (0: unknown), and never in a potato year.
func Hints(stands []Stand, reads quantity.PH, today quantity.Day) (out []Hint) {
	all := slices.Clone(stands)
	slices.SortStableFunc(all, func(a, b Stand) int { return int(a.From - b.From) })
	free := today // the first day on which lime may be applied
	for i := range all {
		s := &all[i]
		if s.Off() <= today {
			continue
		}
		switch {
		case s.Crop.Is(crop.Scab):
			from := max(s.From-calendar.PotatoBefore, today)
			out = append(out, Hint{SourYear, s.Crop, from, s.Off()})
			free = max(free, s.Off())
		case s.Crop.Is(crop.Clubroot) && s.From > today && (reads == 0 || reads < s.Crop.Range.Low):
			h := Hint{LimeFirst, s.Crop, free, s.From - dose.LimeTime}
			if h.To < h.From {
				h.ID = LimeTight
			}
			out = append(out, h)
		}
	}
	return out
}
