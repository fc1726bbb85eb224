package bed

import (
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/soil"
)

// potassium judges the potassium on the day, as the record carries it forward; where that does not say, as the forecast does from
// what the record holds.
func (s *Judgement) potassium(r *Record) soil.PotassiumNow {
	var c soil.KCarried
	switch {
	case s.Reading.Potassium == nil:
	case r.Carried != nil:
		c = *r.Carried
	default:
		k := forecast.PotassiumModelOf(s.Ground, r.Readings(), r.History, r.Grown, r.Date, r.Date)
		k.Leached = 0 // on so little, nothing is given for what the years may have washed out
		c = k.Carry(r.Date)
	}
	return soil.JudgePotassium(s.Ground, s.Reading, c, r.Date)
}
