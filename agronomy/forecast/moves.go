package forecast

import (
	"math"
	"slices"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Move is the change of a bed's pH by one cause: a kind of material, or a pull.
type Move struct {
	// Kind is the applied material; "" for a pull, named by ID.
	Kind material.Kind
	ID   string
	// CaCO3 is its amount, g/m², PH the change that it makes here.
	CaCO3, PH float64
}

// PullElse is the learned drift beyond the named pulls.
const PullElse = "else"

// slightMove is the least change reported, pH.
const slightMove = 0.005

// Moves returns what changed a bed's pH in a period, applications first, using the learned
// strengths and buffering.
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

// moves returns the change of pH per g CaCO₃/m² at the bed's level, using the learned buffering.
func (b *Model) moves(l *Learned) float64 {
	at := quantity.PH(l.Level.Median)
	up, down := b.Curve.Settle(at, slopeStep), b.Curve.Settle(at, -slopeStep)
	return float64(up-down) / (2 * slopeStep) / l.Buffering.Median
}

// Yearly returns a bed's yearly drift, pH.
func Yearly(b *Model, l *Learned) float64 { return l.Drift.Median * b.moves(l) }

// Leaves returns the first month from a day on whose median is outside a range after having been
// inside; false if there is none.
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

// On interpolates a forecast linearly between months, and extends its ends.
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
