package svg

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
)

// Warmth is a year of soil temperature: the usual as a line, measurements as dots, and the warm
// range.
type Warmth struct {
	W, H           Px
	Left           Px // left edge of the plot; labels are left of it
	Usual, Reckons Path
	Dots           []Spot
	Warm           Px
	WarmText       Text
	TicksX, TicksY []Tick
	Says           string
}

// Spot is a dot.
type Spot struct{ X, Y, R Px }

// WarmthOf draws the days between two ends.
func WarmthOf(c soil.Climate, from, to quantity.Day, w float64) Warmth {
	const h, top, foot, left = 220, 16, 26, 56
	low, high := c.Normal[0], c.Normal[0]
	for _, t := range c.Normal {
		low, high = min(low, t), max(high, t)
	}
	for _, x := range c.Measured {
		if x.Day >= from && x.Day <= to {
			low, high = min(low, x.Soil), max(high, x.Soil)
		}
	}
	low, high = min(low, 0)-2, max(high, soil.WarmSoil)+2
	sx := scale{float64(from), float64(to), left, w - 8}
	y := func(t quantity.Temperature) Px { return Px(top + (h-top-foot)*float64((high-t)/(high-low))) }
	d := Warmth{W: Px(w), H: h, Left: left, Warm: y(soil.WarmSoil)}
	d.WarmText = Text{Px(w - 8), d.Warm - 5, "warm from " + text.Temperature(soil.WarmSoil)}
	for day := from; day <= to; day += 3 {
		d.Usual = d.Usual.to(sx.at(float64(day)), y(c.Usual(day)))
		d.Reckons = d.Reckons.to(sx.at(float64(day)), y(c.At(day)))
	}
	for _, x := range c.Measured {
		if x.Day >= from && x.Day <= to {
			d.Dots = append(d.Dots, Spot{sx.at(float64(x.Day)), y(x.Soil), 3})
		}
	}
	for m := from.AddMonths(1) - quantity.Day(from.DayOfMonth()-1); m <= to; m = m.AddMonths(2) {
		d.TicksX = append(d.TicksX, Tick{At: sx.at(float64(m)), Label: m.Time().Format("Jan")})
	}
	for t := quantity.Temperature(0); t < high; t += 5 {
		d.TicksY = append(d.TicksY, Tick{At: y(t), Label: text.Temperature(t)})
	}
	d.Says = "The soil’s temperature from " + text.DayYear(from) + " to " + text.DayYear(to) + ": the usual, and " +
		text.Count(len(d.Dots), "day", "days") + " measured"
	return d
}
