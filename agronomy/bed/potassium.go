package bed

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Grown is a crop that stood on the bed from a day to another; no end is until
// now.
type Grown struct {
	Crop     crop.Crop
	From, To quantity.Day
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
		span := min(max(to-g.From, 1), ledger.YearDays)
		if days := min(to, today) - max(g.From, day); days > 0 {
			sum += g.Crop.Removal * quantity.Rate(days) / quantity.Rate(span)
		}
	}
	return sum
}

// potassium reckons the potassium on the day from the reading that tells of it,
// what was put on and what crops carried off since: the one place where it is
// judged.
func (s *State) potassium(r *Record) soil.PotassiumNow {
	var moved soil.KMoved
	if s.Reading.Potassium != nil {
		since := s.Reading.KDate()
		moved = soil.KMoved{Given: r.History.K2OAfter(since), Carried: carriedSince(r.Grown, since, r.Date)}
	}
	return soil.CarryPotassium(s.Ground, s.Reading, moved, r.Date)
}
