package calendar

import (
	"slices"
	"time"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Intervals in days: ManureGap from fresh manure to a planting, RottedGap from rotted manure and
// compost; pickedFor is the length of a perennial crop's harvest from the first of its month.
const (
	ManureGap quantity.Day = 60
	RottedGap quantity.Day = 14
	pickedFor quantity.Day = 60
)

// Bears is a harvest month of a perennial crop, in the place's own hemisphere.
type Bears struct {
	Month time.Month
	Clear bool
}

// BearsOf returns the month in which a crop bears; ok is false without one. south shifts it by six
// months.
func BearsOf(c crop.Crop, south bool) (b Bears, ok bool) {
	h, eaten := c.Harvest()
	if !eaten || h.Month == 0 {
		return b, false
	}
	b = Bears{h.Month, h.Clear}
	if south {
		b.Month = (b.Month+5)%12 + 1
	}
	return b, true
}

// Nutrients leach from ground that cools down for the winter: from manure at manureFrom and below,
// on sands from potash and compost at sandFrom and below, until the soil is above springAbove
// again. °C (guide, section 6).
const (
	manureFrom  quantity.Temperature = 10
	sandFrom    quantity.Temperature = 15
	springAbove quantity.Temperature = 8
)

// washes reports whether an application leaches over the coming or current winter, by the usual
// year: soil under `from` in its falling half is on its way into winter.
func (s *Conditions) washes(d quantity.Day, from quantity.Temperature) bool {
	t := s.Weather.Usual(d)
	if t <= springAbove {
		return true
	}
	const ahead = 10
	return t < from && s.Weather.Usual(d+ahead) < t
}

// harvested reports whether a harvest is too near for fresh manure.
func (s *Conditions) harvested(d quantity.Day) bool {
	gap := func(hangs bool) quantity.Day { return crop.Harvest{Clear: hangs}.Gap() }
	if s.near(d, func(x Start) bool { return x.Cut > 0 && d > x.Day+x.Cut-gap(x.Clear) && d <= x.Day+x.Cut }) {
		return true
	}
	return slices.ContainsFunc(s.Bears, func(b Bears) bool {
		for _, year := range []int{d.Year(), d.Year() + 1} {
			if first := quantity.Date(year, b.Month, 1); d > first-gap(b.Clear) && d <= first+pickedFor {
				return true
			}
		}
		return false
	})
}

// ManureBefore returns the least number of days between a material and a crop's start: its rest,
// and for fresh manure the interval to the first harvest.
func ManureBefore(m *material.Material, c crop.Crop) quantity.Day {
	switch m.Family {
	case material.FreshManure:
		if h, ok := c.Harvest(); ok && h.After > 0 {
			return max(ManureGap, h.Gap()-h.After)
		}
		return ManureGap
	case material.RottedManure, material.Organic:
		return RottedGap
	}
	return 0
}
