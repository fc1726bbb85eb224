package calendar_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Fresh manure wants 60 days before a planting, rotted 14; a day nearer is too near.
// Rotted manure gives off no ammonia worth keeping from lime.
func TestManureIntervalToPlanting(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	planting := quantity.Date(2027, 7, 20)
	s := calendar.Conditions{Weather: &climate, Starts: []calendar.Start{{Day: planting, Planted: true}}, Cleared: quantity.Date(2026, 10, 1)}
	for family, gap := range map[material.Family]quantity.Day{material.FreshManure: 60, material.RottedManure: 14} {
		assert.Equal(t, calendar.Free, s.Blocked(family, planting-gap), family)
		assert.True(t, s.Blocked(family, planting-gap+1).Harms(), family)
		assert.True(t, s.Blocked(family, planting).Harms(), family)
		assert.Equal(t, calendar.Why(""), s.Blocked(material.RottedManure, planting+1))
	}
	for kind, gives := range map[material.Kind]bool{"manure": true, "rotted-manure": false, "poultry-manure": true} {
		m, ok := material.Find(kind)
		assert.True(t, ok)
		assert.Equal(t, gives, m.GivesAmmonia(), kind)
	}
}

// The ground must have warmed above 8 °C in spring and not yet cooled under 10 in autumn for manure; on sands potash and compost go
// by 15. Elsewhere they go on at any time, and where the soil stays warm manure does too.
func TestLeachableNutrientsWaitForSpring(t *testing.T) {
	for _, c := range []struct {
		climate, half string
		family        material.Family
		sandy         bool
		day           string
		washes        bool
	}{
		{"maritime", soil.North, material.RottedManure, false, "2026-10-29", false},
		{"maritime", soil.North, material.RottedManure, false, "2026-11-02", true},
		{"maritime", soil.North, material.FreshManure, false, "2027-01-15", true},
		{"maritime", soil.North, material.RottedManure, false, "2027-03-30", true},
		{"maritime", soil.North, material.RottedManure, false, "2027-04-02", false},
		{"maritime", soil.South, material.RottedManure, false, "2027-05-15", true},
		{"maritime", soil.South, material.RottedManure, false, "2027-10-15", false},
		{"maritime", soil.North, material.Potash, true, "2026-09-13", false},
		{"maritime", soil.North, material.Potash, true, "2026-09-17", true},
		{"maritime", soil.North, material.Organic, true, "2026-12-01", true},
		{"maritime", soil.North, material.Organic, false, "2026-12-01", false},
		{"maritime", soil.North, material.Organic, true, "2027-04-10", false},
		{"subtropical", soil.North, material.RottedManure, false, "2027-01-15", false},
	} {
		s := calendar.Conditions{Weather: climate(c.climate, c.half), Sandy: c.sandy, Cleared: at("2026-08-01")}
		got := s.Blocked(c.family, at(c.day))
		assert.Equal(t, c.washes, got == calendar.WinterWash, "%s %s %s on %s: %q", c.climate, c.half, c.family, c.day, got)
		if c.washes {
			assert.True(t, got.Harms())
		}
	}
}

// Fresh manure keeps 120 days from what touches the soil and 90 from what hangs clear: from a sowing by the days that the crop takes,
// from what stands for years by its month, in either half.
func TestFreshManureIntervalToHarvest(t *testing.T) {
	lettuce, _ := crop.Find("lettuce")
	corn, _ := crop.Find("sweet-corn")
	for _, c := range []struct {
		of  crop.Crop
		gap quantity.Day
	}{{lettuce, 120 - 45}, {corn, 60}} {
		sown := at("2027-07-20")
		s := calendar.Conditions{Weather: climate("maritime", soil.North), Starts: []calendar.Start{calendar.StartOf(c.of, sown, false)},
			Cleared: at("2026-10-01")}
		warm := s.Blocked(material.FreshManure, sown-c.gap) // the soil is warm in May, and nothing is known to grow
		assert.Equal(t, calendar.Free, warm, c.of.ID)
		assert.True(t, s.Blocked(material.FreshManure, sown-c.gap+1).Harms(), c.of.ID)
		assert.Equal(t, calendar.Free, s.Blocked(material.RottedManure, sown-c.gap+1), "rotted manure only keeps from the planting")
	}
	for id, m := range map[string][2]string{"asparagus": {"2026-12-02", "2027-05-31"}, "plum": {"2027-05-03", "2027-09-30"}} {
		c, _ := crop.Find(id)
		b, ok := calendar.BearsOf(c, false)
		assert.True(t, ok)
		s := calendar.Conditions{Weather: climate("subtropical", soil.North), Perennial: true, Bears: []calendar.Bears{b}}
		for day, kept := range map[quantity.Day]bool{at(m[0]): false, at(m[0]) + 1: true, at(m[1]): true, at(m[1]) + 1: false} {
			why := s.Blocked(material.FreshManure, day)
			assert.Equal(t, kept, why == calendar.ManureHarvest, "%s on %s: %q", id, day, why)
		}
		south, _ := calendar.BearsOf(c, true)
		assert.Equal(t, (int(b.Month)+5)%12+1, int(south.Month))
	}
	dahlia, _ := crop.Find("dahlia")
	_, ok := calendar.BearsOf(dahlia, false)
	assert.False(t, ok)
	assert.Zero(t, calendar.StartOf(dahlia, at("2027-05-01"), true).Cut)
}

// All manures share the nitrogen of a year and keep twelve weeks apart, whichever they are.
func TestManuresShareNitrogenCap(t *testing.T) {
	cattle, poultry, pellets := stuff(material.Manure), stuff("poultry-manure"), stuff("poultry-pellets")
	ground := soil.Ground{Worked: soil.Dug}
	caps, _ := cattle.CapsOn(ground)
	assert.InDelta(t, 3400, float64(caps.Once), 1e-9)
	fowl, _ := poultry.CapsOn(ground)
	assert.InDelta(t, 1133.3, float64(fowl.Once), 0.1)
	small, _ := pellets.CapsOn(ground)
	assert.InDelta(t, 425, float64(small.Year), 1e-9)
	day := at("2027-08-01")
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Cleared: at("2027-07-01"),
		History: ledger.Ledger{{Date: at("2027-04-10"), Material: poultry, Rate: 600}}} // 9 g of nitrogen
	left := quantity.Rate((17 - 9) / 0.005)
	assert.Equal(t, calendar.Free, s.Apart(cattle.Family, left, caps, day))
	assert.Equal(t, calendar.YearFull, s.Apart(cattle.Family, left+1, caps, day))
	assert.Equal(t, calendar.TooSoon, s.Apart(pellets.Family, 10, small, at("2027-04-10")+83))
	compost := stuff(material.Compost)
	c, _ := compost.CapsOn(ground)
	assert.Equal(t, material.Caps{Once: 5000, Year: 10000, Weeks: 12}, c)
	assert.Equal(t, calendar.Free, s.Apart(compost.Family, 5000, c, at("2027-04-11")), "compost is not counted with manure")
}
