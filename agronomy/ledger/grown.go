package ledger

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
)

// Grown is a crop that stood on the bed from a day to another; no end is until now.
type Grown struct {
	Crop     crop.Crop
	From, To quantity.Day
}

// seasonDays is how long a crop that still stands is taken to grow.
const seasonDays quantity.Day = 180

// Until is the day up to which the crop carries off, as it stands in the record of one day and as it is computed up to
// another: what stands for years goes on.
func (g *Grown) Until(until, recorded quantity.Day) quantity.Day {
	if g.To != 0 {
		return g.To
	}
	to := max(recorded, g.From+seasonDays)
	if g.Crop.Is(crop.Perennial) {
		to = max(to, until)
	}
	return to
}

// Carried is the K₂O that the crop carries off after a day and up to another, by its share of days, as it stands
// in the record of a third. What stands for years carries off as much in each.
func (g *Grown) Carried(after, until, recorded quantity.Day) quantity.Rate {
	to := g.Until(until, recorded)
	span := min(max(to-g.From, 1), YearDays)
	days := min(to, until) - max(g.From, after)
	return g.Crop.Removal * quantity.Rate(max(days, 0)) / quantity.Rate(span)
}
