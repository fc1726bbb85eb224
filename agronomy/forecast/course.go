package forecast

import (
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Pool is something put on, or to be put on: what it is worth in all, g CaCO₃/m²
// (below 0 for acid), and how fast it acts.
type Pool struct {
	Date   quantity.Day
	CaCO3  quantity.Rate
	Reacts material.Reaction
}

// Course is a bed on its way from a reading: the one function behind what a
// retest should read, the chart and the garden on another day. It knows no drift
// and no doubt yet.
type Course struct {
	Warmth soil.Warmth
	Dug    bool
	Curve  soil.Curve
	// From is what the bed was read as on Day.
	From quantity.PH
	Day  quantity.Day
	// FreeLime is the acid that it takes before pH can move.
	FreeLime quantity.Rate
	Pools    []Pool
}

// Stand is where a course has come to.
type Stand struct {
	PH quantity.PH
	// Reacted is what has acted since the reading, signed; Put all that was put
	// on by the day and had not acted at the reading.
	Reacted, Put quantity.Rate
}

// Share is how much of what was put on has acted, 0 to 1; 1 where nothing was.
func (s Stand) Share() float64 {
	if s.Put == 0 {
		return 1
	}
	return float64(s.Reacted / s.Put)
}

// On is the course on a day; before the reading it is the reading.
func (c *Course) On(day quantity.Day) Stand {
	var s Stand
	for i := range c.Pools {
		p := &c.Pools[i]
		if p.Date > day || day <= c.Day {
			continue
		}
		// What had acted by the reading is in it already.
		left := Unreacted(p.Reacts, c.Warmth, c.Dug, p.Date, c.Day)
		s.Put += p.CaCO3 * quantity.Rate(left)
		s.Reacted += p.CaCO3 * quantity.Rate(left-Unreacted(p.Reacts, c.Warmth, c.Dug, p.Date, day))
	}
	s.PH = c.Settle(s.Reacted)
	return s
}

// Settle is the pH that an amount brings the bed to once it has all acted. Acid
// spends free lime first.
func (c *Course) Settle(caco3 quantity.Rate) quantity.PH {
	if caco3 < 0 {
		caco3 = min(0, caco3+c.FreeLime)
	}
	return c.Curve.Settle(c.From, caco3)
}
