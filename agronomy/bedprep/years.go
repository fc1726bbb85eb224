package bedprep

import (
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
)

// Stand is a crop on a bed: from its sowing until it is cleared, no day where nobody said when.
type Stand struct {
	Crop     crop.Crop
	From, To quantity.Day
}

// Off is the day by which it is off the ground at the latest that is assumed.
func (s *Stand) Off() quantity.Day {
	usual := s.From + calendar.SeasonDays
	// Potatoes are lifted by the autumn, whatever day the next crop cleared them for.
	if s.To != 0 && (s.To < usual || !s.Crop.Is(crop.Scab)) {
		return s.To
	}
	return usual
}

// HintID is what a plan of crops asks of lime.
type HintID string

// Hints.
const (
	// LimeFirst: what comes wants it sweeter than the bed reads, so lime goes on before it.
	LimeFirst HintID = "lime-first"
	// LimeTight: the same, but potatoes before it leave no time to act.
	LimeTight HintID = "lime-tight"
	// SourYear: nothing that sweetens goes on, for potatoes.
	SourYear HintID = "sour-year"
)

// Hint is one of them, for a crop that comes; From and To are the days it speaks of.
type Hint struct {
	ID       HintID
	Crop     crop.Crop
	From, To quantity.Day
}

// Hints says what the crops that come to a bed ask of lime: before those that are to be kept
// from clubroot, as the bed reads now (0: not known), and never in the year of potatoes.
func Hints(stands []Stand, reads quantity.PH, today quantity.Day) (out []Hint) {
	all := slices.Clone(stands)
	slices.SortStableFunc(all, func(a, b Stand) int { return int(a.From - b.From) })
	free := today // from when on lime may be applied
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
		case s.Crop.Is(crop.Clubroot) && s.From > today && (reads == 0 || reads < s.Crop.Band.Low):
			h := Hint{LimeFirst, s.Crop, free, s.From - dose.LimeTime}
			if h.To < h.From {
				h.ID = LimeTight
			}
			out = append(out, h)
		}
	}
	return out
}
