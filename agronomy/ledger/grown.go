package ledger

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
)

// Grown is a crop that stood on the bed between two days; a zero end is now.
type Grown struct {
	Crop     crop.Crop
	From, To quantity.Day
}

// seasonDays is the assumed growing time of a standing crop.
const seasonDays quantity.Day = 180

// Until returns the day up to which the crop removes potassium, as recorded on one day and computed
// up to another. Perennials continue; another crop does in its growing time, or until it was
// cleared, and each year again where it stands for more than one. That a standing crop is to be
// cleared changes nothing before it is.
func (g *Grown) Until(until, recorded quantity.Day) quantity.Day {
	to := g.From + seasonDays
	switch {
	case g.Crop.Is(crop.Perennial) && g.To != 0:
		return g.To
	case g.Crop.Is(crop.Perennial):
		return max(recorded, to, until)
	}
	off := g.To != 0 && (g.To <= recorded || g.From > recorded)
	end := recorded
	if off {
		end = g.To
		to = min(to, end)
	}
	if end > g.From+YearDays {
		return end
	}
	return to
}

// Carried returns the K₂O removed by the crop between two days, in proportion to its days, as
// recorded on a third. Perennials remove the same every year.
func (g *Grown) Carried(after, until, recorded quantity.Day) quantity.Rate {
	to := g.Until(until, recorded)
	span := min(max(to-g.From, 1), YearDays)
	days := min(to, until) - max(g.From, after)
	return g.Crop.Removal * quantity.Rate(max(days, 0)) / quantity.Rate(span)
}
