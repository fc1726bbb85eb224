package soil

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// Warm10 is a soil temperature at 10 cm that was measured on a day.
type Warm10 struct {
	Day  quantity.Day
	Soil quantity.Temperature
}

// What is assumed where nobody measured.
const (
	// measuredGap is how many days apart two measured ones may lie for those between to
	// be taken along a straight line.
	measuredGap quantity.Day = 10
	// fades is how many days it takes what was above or below the usual to shrink to a
	// third, e to the minus one: soil at 10 cm keeps a spell of weather for a week or two.
	fades = 10.0
	// faded is where nothing is left of it.
	faded quantity.Day = 60
)

// With is the climate with what was measured: the days measured as they were, those between
// two that lie near each other along a line, those after the last back to the usual as a spell of
// weather wears off. Only the past is measured, so that windows of days far ahead stay the usual ones.
func (c Climate) With(measured []Warm10) Climate {
	c.Measured, c.off = nil, nil
	if len(measured) == 0 {
		return c
	}
	c.Measured = slices.Clone(measured)
	slices.SortFunc(c.Measured, func(a, b Warm10) int { return int(a.Day - b.Day) })
	first, last := c.Measured[0].Day, c.Measured[len(c.Measured)-1].Day
	o := &offsets{from: first, off: make([]quantity.Temperature, last-first+faded)}
	for i, x := range c.Measured {
		own := x.Soil - c.usual(x.Day)
		until, next := x.Day+faded, Warm10{}
		if i+1 < len(c.Measured) {
			next = c.Measured[i+1] // what follows is gone over by it
		}
		for d := x.Day; d < until; d++ {
			off := own * quantity.Temperature(math.Exp(-float64(d-x.Day)/fades))
			if next.Day != 0 && next.Day-x.Day <= measuredGap {
				share := quantity.Temperature(float64(d-x.Day) / float64(next.Day-x.Day))
				off = own + (next.Soil-c.usual(next.Day)-own)*share
			}
			o.off[d-first] = off
		}
	}
	c.off = o
	return c
}

// offsets are how far days lie above or below the usual, from a day on.
type offsets struct {
	from quantity.Day
	off  []quantity.Temperature
}

func (o *offsets) at(d quantity.Day) quantity.Temperature {
	if i := int(d - o.from); i >= 0 && i < len(o.off) {
		return o.off[i]
	}
	return 0
}

// MeasuredOn is what was measured on a day; ok is false where nobody did.
func (c *Climate) MeasuredOn(d quantity.Day) (t quantity.Temperature, ok bool) {
	i, ok := slices.BinarySearchFunc(c.Measured, d, func(x Warm10, d quantity.Day) int { return int(x.Day - d) })
	if !ok {
		return 0, false
	}
	return c.Measured[i].Soil, true
}
