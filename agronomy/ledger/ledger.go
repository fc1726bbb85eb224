// Package ledger holds a bed's applications, each with its batch's strength on the day, and sums
// what they brought.
package ledger

import (
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// YearDays is the length of the running year that caps and sums use.
const YearDays quantity.Day = 365

// Application is a past or imminent application.
type Application struct {
	Date     quantity.Day
	Material material.Material
	Rate     quantity.Rate
	// Planned is set when it was planned from the current reading, which it therefore does not make
	// stale.
	Planned bool
	// Measured, Potash and Condition are the batch's own; nil or "": the kind's typical.
	Measured, Potash *quantity.Percent
	Condition        material.Condition
	// Fineness is that of its stone; nil: all in the finest class.
	Fineness *[4]quantity.Percent
}

// Batch returns the batch at its strength on the day.
func (a *Application) Batch() material.Batch {
	return material.Batch{Material: a.Material, Measured: a.Measured, Potash: a.Potash, Condition: a.Condition, Source: material.Clean,
		Fineness: a.Fineness}
}

// K2O returns the potash that it brought.
func (a *Application) K2O() quantity.Rate {
	b := a.Batch()
	return quantity.Rate(float64(a.Rate) * b.Worth().K2O)
}

// MovesPH reports whether the application moves pH. Nothing else decides this.
func (a *Application) MovesPH() bool { return a.Rate > 0 && a.Material.MovesPH() }

// Brought is what applications supply, g/m². CaCO3 is negative for acid.
type Brought struct {
	CaCO3, K2O, P2O5, N, Calcium, Magnesium quantity.Rate
}

// Add adds another sum.
func (b *Brought) Add(x Brought) {
	b.CaCO3 += x.CaCO3
	b.K2O += x.K2O
	b.P2O5 += x.P2O5
	b.N += x.N
	b.Calcium += x.Calcium
	b.Magnesium += x.Magnesium
}

// Drift returns its lime value over the years, too slow to dose with; negative for acid.
func (a *Application) Drift() quantity.Rate {
	return quantity.Rate(float64(a.Rate) * a.Material.Drift / 100)
}

// Brought returns what it supplies, its lime as if fully reacted.
func (a *Application) Brought() Brought {
	b := a.Batch()
	w, m := b.Worth(), &a.Material
	by := func(share float64) quantity.Rate { return quantity.Rate(float64(a.Rate) * share) }
	return Brought{CaCO3: by(w.EffectiveCCE) + a.Drift(), K2O: by(w.K2O), P2O5: m.P2O5.Of(a.Rate), N: m.N.Of(a.Rate),
		Calcium: m.Calcium.Of(a.Rate), Magnesium: m.Magnesium.Of(a.Rate)}
}

// gramsPerLitre is the mass of a litre of water, and the milligrams in a gram.
const gramsPerLitre = 1000

// WaterLime returns the lime supplied by water, g CaCO₃/m², from its rate, g/m², and alkalinity,
// mg/L CaCO₃.
func WaterLime(rate quantity.Rate, alkalinity float64) quantity.Rate {
	return quantity.Rate(float64(rate) / gramsPerLitre * alkalinity / gramsPerLitre)
}

// Ledger is a bed's applications, in any order.
type Ledger []Application

// Brought returns the sum of the applications after a day and up to another.
func (l Ledger) Brought(after, until quantity.Day) (sum Brought) {
	for i := range l {
		if a := &l[i]; a.Date > after && a.Date <= until {
			sum.Add(a.Brought())
		}
	}
	return sum
}

// K2OAfter returns the K₂O applied after a day.
func (l Ledger) K2OAfter(day quantity.Day) (sum quantity.Rate) {
	for i := range l {
		if a := &l[i]; a.Date > day {
			sum += a.K2O()
		}
	}
	return sum
}

// InYear returns what was applied of a family in the 365 days that end on a day.
func (l Ledger) InYear(f material.Family, day quantity.Day) (sum quantity.Rate) {
	for i := range l {
		if a := &l[i]; a.Material.Family == f && a.Date <= day && a.Date > day-YearDays {
			sum += a.Rate
		}
	}
	return sum
}

// CountedInYear returns what was applied in the 365 days ending on a day and counts for a family's
// caps, in their unit.
func (l Ledger) CountedInYear(caps *material.Caps, f material.Family, day quantity.Day) (sum quantity.Rate) {
	for i := range l {
		if a := &l[i]; a.Date <= day && a.Date > day-YearDays {
			sum += a.Rate * quantity.Rate(caps.Counts(f, &a.Material))
		}
	}
	return sum
}

// Movers returns the days of applications that move pH.
func (l Ledger) Movers() (days []quantity.Day) {
	for i := range l {
		if a := &l[i]; a.MovesPH() {
			days = append(days, a.Date)
		}
	}
	return days
}

// LastMover returns the last application that moves pH up to a day, or nil.
func (l Ledger) LastMover(day quantity.Day) (last *Application) {
	for i := range l {
		if a := &l[i]; a.Date <= day && a.MovesPH() && (last == nil || a.Date >= last.Date) {
			last = a
		}
	}
	return last
}

// Since returns the days from the last ash and the last other liming material before a day; -1 for
// none.
func (l Ledger) Since(day quantity.Day) (ash, lime quantity.Day) {
	ash, lime = -1, -1
	for i := range l {
		a := &l[i]
		if a.Date > day || a.Date == day && a.Planned { // applications planned from a reading of that day came after it
			continue
		}
		at := &lime
		switch {
		case a.Material.Family == material.Ash:
			at = &ash
		case !a.Material.Raises():
			continue
		}
		if gap := day - a.Date; *at < 0 || gap < *at {
			*at = gap
		}
	}
	return ash, lime
}

// UsedAfter reports whether something that moves pH was applied after a day and not planned from
// that day's reading.
func (l Ledger) UsedAfter(day quantity.Day) bool {
	for i := range l {
		if a := &l[i]; a.Date > day && !a.Planned && a.MovesPH() {
			return true
		}
	}
	return false
}

// Within reports whether an application that satisfies a condition lies less than n days from a
// day.
func (l Ledger) Within(day, n quantity.Day, is func(*material.Material) bool) bool {
	for i := range l {
		a := &l[i]
		if gap := max(day-a.Date, a.Date-day); gap < n && is(&a.Material) {
			return true
		}
	}
	return false
}

// Nearest returns the day of a family's application nearest to a day; 0 for none.
func (l Ledger) Nearest(f material.Family, day quantity.Day) (best quantity.Day) {
	gap := func(d quantity.Day) quantity.Day { return max(d-day, day-d) }
	for i := range l {
		if a := &l[i]; a.Material.Family == f && (best == 0 || gap(a.Date) < gap(best)) {
			best = a.Date
		}
	}
	return best
}

// AshYears sums the ash of the last five years and the imminent amount, and reports whether three
// consecutive years, including the coming one, had much.
func (l Ledger) AshYears(own quantity.Rate, today quantity.Day) (all quantity.Rate, running bool) {
	years := [material.MuchAshYears]quantity.Rate{own}
	all = own
	for i := range l {
		a := &l[i]
		if a.Material.Family != material.Ash {
			continue
		}
		ago := today - a.Date
		if ago < material.MuchAshSpan {
			all += a.Rate
		}
		if y := int(ago / YearDays); y < len(years) {
			years[y] += a.Rate
		}
	}
	running = true
	for _, y := range years {
		running = running && y > material.MuchAshYear
	}
	return all, running
}
