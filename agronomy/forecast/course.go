package forecast

import (
	"math"

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

// Course is a bed on its way from a day: the middle line of its forecast, which has the doubt beside it. It is the one
// function behind what a retest should read, the chart of a dose and the garden on another day.
type Course struct {
	Warmth soil.Warmth
	Dug    bool
	// DugUntil is the day before which what was applied was dug in on ground that is dug no more; no day: Dug tells of all.
	DugUntil quantity.Day
	Curve    soil.Curve
	// From is what the bed was read as on Day.
	From quantity.PH
	Day  quantity.Day
	// FreeLime is the acid that it takes before pH can move.
	FreeLime quantity.Rate
	Pools    []Pool
	// Drift is what moves it from year to year, g CaCO₃/m²; Pulls is set where free lime pulls it to its own set point.
	Drift float64
	Pulls bool
}

// dugOn reports whether what was applied on a day was dug in.
func (c *Course) dugOn(day quantity.Day) bool { return c.Dug || day < c.DugUntil }

// Stand is where a course has come to.
type Stand struct {
	PH quantity.PH
	// Reacted is what has acted since the reading, signed; Put all that was put
	// on by the day and had not acted at the reading.
	Reacted, Put quantity.Rate
}

// Share returns how much of what was applied has acted, 0 to 1; 1 where nothing was.
func (s Stand) Share() float64 {
	if s.Put == 0 {
		return 1
	}
	return float64(s.Reacted / s.Put)
}

// On returns the course on a day; before the reading it is the reading.
func (c *Course) On(day quantity.Day) Stand {
	var s Stand
	for i := range c.Pools {
		p := &c.Pools[i]
		if p.Date > day || day <= c.Day {
			continue
		}
		// What had acted by the reading is in it already.
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

// drifted returns where it stands on a day, with what moved it by itself.
func (c *Course) drifted(reacted quantity.Rate, day quantity.Day) quantity.PH {
	months := float64(day-c.Day) / monthDays
	if c.Pulls {
		keep := math.Exp(-months / calcareousMonths)
		at := c.Curve.Settle(c.From, reacted)
		return at + quantity.PH(1-keep)*(calcareousPH-at)
	}
	return c.Settle(reacted + quantity.Rate(c.Drift*months/yearMonths))
}

// Settle returns the pH that an amount brings the bed to once it has all acted. Acid spends free
// lime first.
func (c *Course) Settle(caco3 quantity.Rate) quantity.PH {
	if caco3 < 0 {
		caco3 = min(0, caco3+c.FreeLime)
	}
	return c.Curve.Settle(c.From, caco3)
}

// spentAmount is what is left of an application that has acted, g CaCO₃/m².
const spentAmount = 0.05

// CourseOf returns the middle line of a bed's forecast from its last reading on: from where all its
// readings say that it stood, as stubborn as it has shown itself, each batch as strong as it
// proved, drifting as it was learned to.
func CourseOf(b *Model, l *Learned) Course {
	c := Course{Warmth: b.Warmth, Dug: b.Dug, DugUntil: b.DugUntil, Curve: b.Curve.Scaled(l.Stubborn.Median),
		From: quantity.PH(l.Level.Median),
		Day:  l.Level.Date, Drift: l.Drift.Median, Pulls: b.Pulls}
	free := b.FreeLime
	for i := range b.Additions {
		g := &b.Additions[i]
		dug := b.dugOn(g.Date)
		if left := Unreacted(g.Reacts, b.Warmth, dug, g.Date, c.Day); math.Abs(g.CaCO3)*left >= spentAmount { // else it has acted
			c.Pools = append(c.Pools, Pool{Date: g.Date, CaCO3: quantity.Rate(g.CaCO3 * l.Stronger(g.Batch)), Reacts: g.Reacts})
		}
		if start := b.Readings[0].Date; g.CaCO3 < 0 && g.Date < c.Day { // what acid has spent of it is gone
			free += g.CaCO3 * (Unreacted(g.Reacts, b.Warmth, dug, g.Date, start) - Unreacted(g.Reacts, b.Warmth, dug, g.Date, c.Day))
		}
	}
	c.FreeLime = quantity.Rate(max(0, free))
	return c
}
