package soil

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// Warm10 is a soil temperature at 10 cm measured on a day.
type Warm10 struct {
	Day  quantity.Day
	Soil quantity.Temperature
}

// How days without a measurement are estimated.
const (
	// measuredGap is the largest gap in days between two measurements that is interpolated.
	measuredGap quantity.Day = 10
	// fades is the time in days in which a deviation from the usual decays to 1/e: soil at 10 cm
	// keeps a spell of weather for a week or two.
	fades = 10.0
	// faded is the day count after which the deviation is dropped.
	faded quantity.Day = 60
)

// With returns the climate with measured temperatures: measured days exactly, short gaps
// interpolated, and after the last one a deviation that decays to the usual. Only the past is
// measured, so windows far ahead stay at the usual temperatures.
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
			next = c.Measured[i+1] // the next measurement replaces it
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

// offsets are deviations from the usual temperature, from a day on.
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

// MeasuredOn returns the temperature measured on a day; ok is false without a measurement.
func (c *Climate) MeasuredOn(d quantity.Day) (t quantity.Temperature, ok bool) {
	i, ok := slices.BinarySearchFunc(c.Measured, d, func(x Warm10, d quantity.Day) int { return int(x.Day - d) })
	if !ok {
		return 0, false
	}
	return c.Measured[i].Soil, true
}
