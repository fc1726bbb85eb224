package forecast

import (
	"math"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Pool is a past or planned application: its total effect, g CaCO₃/m² (negative for acid), and its
// speed.
type Pool struct {
	Date   quantity.Day
	CaCO3  quantity.Rate
	Reacts material.Reaction
}

// Course is the median path of a bed's forecast from a day on. The retest's expected reading, a
// dose's chart and the garden on another day all come from it.
type Course struct {
	Warmth soil.Warmth
	Dug    bool
	// DugUntil is the day before which applications were dug in, on ground that is no longer dug;
	// 0: Dug applies to all.
	DugUntil quantity.Day
	Curve    soil.Curve
	// From is the reading on Day.
	From quantity.PH
	Day  quantity.Day
	// FreeLime is the acid that free lime consumes before pH can move.
	FreeLime quantity.Rate
	Pools    []Pool
	// Drift is the yearly drift, g CaCO₃/m²; Pulls is set when free lime pulls the bed to its set
	// point.
	Drift float64
	Pulls bool
}

// dugOn reports whether an application of a day was dug in.
func (c *Course) dugOn(day quantity.Day) bool { return c.Dug || day < c.DugUntil }

// Stand is a course's position on a day.
type Stand struct {
	PH quantity.PH
	// Reacted is what has reacted since the reading, signed; Put is all that was applied by the day
	// and had not reacted at the reading.
	Reacted, Put quantity.Rate
}

// Share returns the reacted share, 0 to 1; 1 when nothing was applied.
func (s Stand) Share() float64 {
	if s.Put == 0 {
		return 1
	}
	return float64(s.Reacted / s.Put)
}

// On returns the position on a day; before the reading it is the reading.
func (c *Course) On(day quantity.Day) Stand {
	var s Stand
	for i := range c.Pools {
		p := &c.Pools[i]
		if p.Date > day || day <= c.Day {
			continue
		}
		// What had reacted by the reading is included in it.
		left := Unreacted(p.Reacts, c.Warmth, c.dugOn(p.Date), p.Date, c.Day)
		s.Put += p.CaCO3 * quantity.Rate(left)
		s.Reacted += p.CaCO3 * quantity.Rate(left-Unreacted(p.Reacts, c.Warmth, c.dugOn(p.Date), p.Date, day))
	}
	s.PH = c.Settle(s.Reacted)
	if day > c.Day {
		s.PH = c.drifted(s.Reacted, day)
	}
	return s
}

// drifted returns the position on a day with drift.
func (c *Course) drifted(reacted quantity.Rate, day quantity.Day) quantity.PH {
	months := float64(day-c.Day) / monthDays
	if c.Pulls {
		return c.pulled(reacted, months)
	}
	return c.Settle(reacted + quantity.Rate(c.Drift*months/yearMonths))
}

// About returns a distribution on a day, moved so that its median is the course's: all lines ahead
// are then one line.
func (c *Course) About(s Spread) Spread {
	off := float64(c.On(s.Date).PH) - s.Median
	return Spread{s.Date, s.P05 + off, s.P25 + off, s.Median + off, s.P75 + off, s.P95 + off}
}

// pulled returns the position of a bed that free lime pulls to its set point, after so many months:
// the pull undoes part of what drift has moved it since, as it does in the filter.
func (c *Course) pulled(reacted quantity.Rate, months float64) quantity.PH {
	keep, lasting := freeLimePull(months)
	at := c.Curve.Amount(c.From) + float64(c.left(reacted))
	hint := 1
	ph := c.Curve.PHAt(keep*at+(1-keep)*c.Curve.Amount(calcareousPH)+c.Drift*lasting/yearMonths, &hint)
	return max(soil.LeastPH, min(soil.MostPH, ph))
}

// left returns what remains of an amount once free lime has consumed acid.
func (c *Course) left(caco3 quantity.Rate) quantity.Rate {
	if caco3 < 0 {
		return min(0, caco3+c.FreeLime)
	}
	return caco3
}

// Settle returns the final pH after an amount. Acid consumes free lime first.
func (c *Course) Settle(caco3 quantity.Rate) quantity.PH {
	return c.Curve.Settle(c.From, c.left(caco3))
}

// Put returns all that had not reacted at the reading, signed, with what is to come.
func (c *Course) Put() (put quantity.Rate) {
	for i := range c.Pools {
		p := &c.Pools[i]
		put += p.CaCO3 * quantity.Rate(Unreacted(p.Reacts, c.Warmth, c.dugOn(p.Date), p.Date, c.Day))
	}
	return put
}

// End returns the pH once all of it has reacted, without drift.
func (c *Course) End() quantity.PH { return c.Settle(c.Put()) }

// spentAmount is the remainder below which an application counts as fully reacted, g CaCO₃/m².
const spentAmount = 0.05

// CourseOf returns the median path of a bed's forecast from its last reading on: from the level
// estimated by all readings, with the learned buffering, strengths and drift.
func CourseOf(b *Model, l *Learned) Course {
	c := Course{Warmth: b.Warmth, Dug: b.Dug, DugUntil: b.DugUntil, Curve: b.Curve.Scaled(l.Buffering.Median),
		From: quantity.PH(l.Level.Median),
		Day:  l.Level.Date, Drift: l.Drift.Median, Pulls: b.Pulls}
	free := b.FreeLime
	for i := range b.Additions {
		g := &b.Additions[i]
		dug := b.dugOn(g.Date)
		if left := Unreacted(g.Reacts, b.Warmth, dug, g.Date, c.Day); math.Abs(g.CaCO3)*left >= spentAmount { // otherwise it has reacted
			c.Pools = append(c.Pools, Pool{Date: g.Date, CaCO3: quantity.Rate(g.CaCO3 * l.Stronger(g.Batch)), Reacts: g.Reacts})
		}
		if start := b.Readings[0].Date; g.CaCO3 < 0 && g.Date < c.Day { // acid has consumed that part
			free += g.CaCO3 * (Unreacted(g.Reacts, b.Warmth, dug, g.Date, start) - Unreacted(g.Reacts, b.Warmth, dug, g.Date, c.Day))
		}
	}
	c.FreeLime = quantity.Rate(max(0, free))
	return c
}
