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

// Carried is the K₂O that the crop carries off after a day and up to another, by its share of days, as it stands
// in the record of a third. What stands for years goes on, and carries off as much in each.
func (g *Grown) Carried(after, until, recorded quantity.Day) quantity.Rate {
	to := g.To
	if to == 0 {
		to = max(recorded, g.From+seasonDays)
		if g.Crop.Is(crop.Perennial) {
			to = max(to, until)
		}
	}
	span := min(max(to-g.From, 1), YearDays)
	days := min(to, until) - max(g.From, after)
	return g.Crop.Removal * quantity.Rate(max(days, 0)) / quantity.Rate(span)
}
