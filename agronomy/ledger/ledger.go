// Package ledger holds the applications of a bed, each with the strength that its batch was
// taken for on the day, and sums what they brought.
package ledger

import (
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// YearDays is any 365 days: caps and sums of a year follow it.
const YearDays quantity.Day = 365

// Application is something put on a bed, or about to be.
type Application struct {
	Date     quantity.Day
	Material material.Material
	Rate     quantity.Rate
	// Planned is set when it was planned from the reading that is at hand, so
	// that the reading is none the staler for it.
	Planned bool
	// Measured, Potash and Condition are the batch's own; nil or "": its kind's
	// usual.
	Measured, Potash *quantity.Percent
	Condition        material.Condition
	// Fineness is that of its stone, as a batch has it; nil: all of the finest.
	Fineness *[4]quantity.Percent
}

// Batch is what was applied, as strong as it was.
func (a *Application) Batch() material.Batch {
	return material.Batch{Material: a.Material, Measured: a.Measured, Potash: a.Potash, Condition: a.Condition, Source: material.Clean,
		Fineness: a.Fineness}
}

// K2O is the potash that it brought.
func (a *Application) K2O() quantity.Rate {
	b := a.Batch()
	return quantity.Rate(float64(a.Rate) * b.Worth().K2O)
}

// MovesPH reports whether it moves pH at all: the one place where that is judged of
// what was applied.
func (a *Application) MovesPH() bool { return a.Rate > 0 && a.Material.MovesPH() }

// Brought is what applications bring, g/m². CaCO3 is below 0 for acid.
type Brought struct {
	CaCO3, K2O, P2O5, N, Calcium, Magnesium quantity.Rate
}

// Add adds what another brings.
func (b *Brought) Add(x Brought) {
	b.CaCO3 += x.CaCO3
	b.K2O += x.K2O
	b.P2O5 += x.P2O5
	b.N += x.N
	b.Calcium += x.Calcium
	b.Magnesium += x.Magnesium
}

// Drift is the lime that it comes to over the years, too slow for a rate; below 0 for acid.
func (a *Application) Drift() quantity.Rate {
	return quantity.Rate(float64(a.Rate) * a.Material.Drift / 100)
}

// Brought is what it brought, its lime as if all had acted.
func (a *Application) Brought() Brought {
	b := a.Batch()
	w, m := b.Worth(), &a.Material
	by := func(share float64) quantity.Rate { return quantity.Rate(float64(a.Rate) * share) }
	return Brought{CaCO3: by(w.EffectiveCCE) + a.Drift(), K2O: by(w.K2O), P2O5: m.P2O5.Of(a.Rate), N: m.N.Of(a.Rate),
		Calcium: m.Calcium.Of(a.Rate), Magnesium: m.Magnesium.Of(a.Rate)}
}

// gramsPerLitre is what a litre of water weighs, and how many milligrams there are in a gram.
const gramsPerLitre = 1000

// WaterLime is what water brings as lime, g CaCO₃/m², of its rate, g/m², and its alkalinity,
// mg/L CaCO₃.
func WaterLime(rate quantity.Rate, alkalinity float64) quantity.Rate {
	return quantity.Rate(float64(rate) / gramsPerLitre * alkalinity / gramsPerLitre)
}

// Ledger is what was applied to a bed, in any order.
type Ledger []Application

// Brought is what was applied after a day and up to another, all of it.
func (l Ledger) Brought(after, until quantity.Day) (sum Brought) {
	for i := range l {
		if a := &l[i]; a.Date > after && a.Date <= until {
			sum.Add(a.Brought())
		}
	}
	return sum
}

// K2OAfter is the potash that was applied after a day.
func (l Ledger) K2OAfter(day quantity.Day) (sum quantity.Rate) {
	for i := range l {
		if a := &l[i]; a.Date > day {
			sum += a.K2O()
		}
	}
	return sum
}

// InYear is what was applied of a family in the 365 days that end on a day.
func (l Ledger) InYear(f material.Family, day quantity.Day) (sum quantity.Rate) {
	for i := range l {
		if a := &l[i]; a.Material.Family == f && a.Date <= day && a.Date > day-YearDays {
			sum += a.Rate
		}
	}
	return sum
}

// CountedInYear is what was applied in the 365 days that end on a day of all that caps of a family count, in grams of what they are for.
func (l Ledger) CountedInYear(caps *material.Caps, f material.Family, day quantity.Day) (sum quantity.Rate) {
	for i := range l {
		if a := &l[i]; a.Date <= day && a.Date > day-YearDays {
			sum += a.Rate * quantity.Rate(caps.Counts(f, &a.Material))
		}
	}
	return sum
}

// Movers are the days on which something that moves pH went on.
func (l Ledger) Movers() (days []quantity.Day) {
	for i := range l {
		if a := &l[i]; a.MovesPH() {
			days = append(days, a.Date)
		}
	}
	return days
}

// LastMover is the last that moves pH, up to a day; nil when there is none.
func (l Ledger) LastMover(day quantity.Day) (last *Application) {
	for i := range l {
		if a := &l[i]; a.Date <= day && a.MovesPH() && (last == nil || a.Date >= last.Date) {
			last = a
		}
	}
	return last
}

// Since counts the days to a day from the last ash and the last other thing that
// raises pH before it; -1 where there was none.
func (l Ledger) Since(day quantity.Day) (ash, lime quantity.Day) {
	ash, lime = -1, -1
	for i := range l {
		a := &l[i]
		if a.Date > day || a.Date == day && a.Planned { // what a reading led to went on after it
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

// UsedAfter reports whether something that moves pH went on after a day and was not
// planned from the reading of that day.
func (l Ledger) UsedAfter(day quantity.Day) bool {
	for i := range l {
		if a := &l[i]; a.Date > day && !a.Planned && a.MovesPH() {
			return true
		}
	}
	return false
}

// Within reports whether something that is so went on less than n days from a day.
func (l Ledger) Within(day, n quantity.Day, is func(*material.Material) bool) bool {
	for i := range l {
		a := &l[i]
		if gap := max(day-a.Date, a.Date-day); gap < n && is(&a.Material) {
			return true
		}
	}
	return false
}

// Nearest is the day nearest to another on which something of a family went on; no
// day when there is none.
func (l Ledger) Nearest(f material.Family, day quantity.Day) (best quantity.Day) {
	gap := func(d quantity.Day) quantity.Day { return max(d-day, day-d) }
	for i := range l {
		if a := &l[i]; a.Material.Family == f && (best == 0 || gap(a.Date) < gap(best)) {
			best = a.Date
		}
	}
	return best
}

// AshYears sums the ash of the last five years with what is about to go on, and
// reports whether three years running, the coming one among them, had much.
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
