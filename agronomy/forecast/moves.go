package forecast

import (
	"math"
	"slices"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Move is what one thing made of a bed's pH in a time: a kind of material, or a pull.
type Move struct {
	// Kind is that of what was applied; "" for a pull, that ID names.
	Kind material.Kind
	ID   string
	// CaCO3 is what it came to, g/m², PH what that is here.
	CaCO3, PH float64
}

// PullElse is what the bed's own tests say that it drifts by besides what is named.
const PullElse = "else"

// slightMove is the least move that is reported, pH.
const slightMove = 0.005

// Moves returns what moved a bed in a time, what was applied first, by what was learned of it: as
// strong as it proved, and moving the bed by as much as it is stubborn.
func Moves(b *Model, pulls []Pull, l *Learned, from, to quantity.Day) (out []Move) {
	years := float64(to-from) / monthDays / yearMonths
	add := func(m Move) {
		if m.PH = m.CaCO3 * b.moves(l); math.Abs(m.PH) >= slightMove {
			out = append(out, m)
		}
	}
	var kinds []material.Kind
	by := map[material.Kind]float64{}
	for i := range b.Additions {
		g := &b.Additions[i]
		if g.Date >= to {
			continue
		}
		acted := Unreacted(g.Reacts, b.Warmth, b.dugOn(g.Date), g.Date, from) - Unreacted(g.Reacts, b.Warmth, b.dugOn(g.Date), g.Date, to)
		if !slices.Contains(kinds, g.Kind) {
			kinds = append(kinds, g.Kind)
		}
		by[g.Kind] += g.CaCO3 * acted * l.Stronger(g.Batch)
	}
	for _, k := range kinds {
		add(Move{Kind: k, CaCO3: by[k]})
	}
	rest := l.Drift.Median * years
	for _, p := range pulls {
		add(Move{ID: p.ID, CaCO3: p.Rate * years})
		rest -= p.Rate * years
	}
	add(Move{ID: PullElse, CaCO3: rest})
	return out
}

// moves returns how much pH a gram of lime a square metre moves a bed where it stands, by what was
// learned of it.
func (b *Model) moves(l *Learned) float64 {
	at := quantity.PH(l.Level.Median)
	up, down := b.Curve.Settle(at, slopeStep), b.Curve.Settle(at, -slopeStep)
	return float64(up-down) / (2 * slopeStep) / l.Stubborn.Median
}

// Yearly returns how much a bed moves by itself in a year, pH.
func Yearly(b *Model, l *Learned) float64 { return l.Drift.Median * b.moves(l) }

// Leaves returns the first month from a day on whose median lies out of a band, where it lies in it
// before; false where it stays, or never comes into it.
func Leaves(ph []Spread, from quantity.Day, low, high quantity.PH) (day quantity.Day, ok bool) {
	within := false
	for _, p := range ph {
		if p.Date < from {
			continue
		}
		in := quantity.PH(p.Median) >= low && quantity.PH(p.Median) <= high
		if !in && within {
			return p.Date, true
		}
		within = within || in
	}
	return 0, false
}

// On returns a forecast on a day: straight between two months. The ends hold.
func On(ph []Spread, day quantity.Day) Spread {
	i := slices.IndexFunc(ph, func(p Spread) bool { return p.Date >= day })
	switch {
	case len(ph) == 0:
		return Spread{Date: day}
	case i < 0:
		return ph[len(ph)-1]
	case i == 0 || ph[i].Date == day:
		return ph[i]
	}
	a, b := &ph[i-1], &ph[i]
	share := float64(day-a.Date) / float64(b.Date-a.Date)
	at := func(x, y float64) float64 { return x + share*(y-x) }
	return Spread{day, at(a.P05, b.P05), at(a.P25, b.P25), at(a.Median, b.Median), at(a.P75, b.P75), at(a.P95, b.P95)}
}
