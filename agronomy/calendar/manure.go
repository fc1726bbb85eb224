package calendar

import (
	"slices"
	"time"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Distances of manure, in days: ManureGap keeps fresh from a planting, RottedGap rotted and compost; pickedFor is how long what stands
// for years is picked from the first of its month on.
const (
	ManureGap quantity.Day = 60
	RottedGap quantity.Day = 14
	pickedFor quantity.Day = 60
)

// Bears is a month, of the place's own half, in which what stands on a bed for years is picked.
type Bears struct {
	Month time.Month
	Clear bool
}

// BearsOf is the month in which a crop bears; ok is false where there is none. south is set in the southern half, six months later.
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

// What is put on washes out of ground that cools down for the winter: manure from manureFrom down, on sands potash and compost from
// sandFrom, until the soil is above springAbove again. °C (field guide, section 6).
const (
	manureFrom  quantity.Temperature = 10
	sandFrom    quantity.Temperature = 15
	springAbove quantity.Temperature = 8
)

// washes reports whether what is applied then washes out over the winter that is coming or there: by the usual year, in whose falling half
// ground under from is on its way into it.
func (s *Conditions) washes(d quantity.Day, from quantity.Temperature) bool {
	t := s.Weather.Usual(d)
	if t <= springAbove {
		return true
	}
	const ahead = 10
	return t < from && s.Weather.Usual(d+ahead) < t
}

// harvested reports whether a harvest is too near for fresh manure: of what is sown or planted, or of what bears each year.
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

// ManureBefore is how long before a crop's start the last of a material goes on: its rest, and of fresh manure the distance of the
// first harvest.
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
