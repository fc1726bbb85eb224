package bed

import (
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/soil"
)

// potassium judges the potassium on the day from the carried figure, or, without one, from a
// forecast over the record.
func (s *Judgement) potassium(r *Record) soil.PotassiumNow {
	var c soil.KCarried
	switch {
	case s.Reading.Potassium == nil:
	case r.Carried != nil:
		c = *r.Carried
	default:
		k := forecast.PotassiumModelOf(s.Ground, r.Readings(), r.History, r.Grown, r.Date, r.Date)
		k.Leached = 0 // with this little history, losses by leaching are not credited
		c = k.Carry(r.Date)
	}
	return soil.JudgePotassium(s.Ground, s.Reading, c, r.Date)
}
