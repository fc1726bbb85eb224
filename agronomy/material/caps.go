package material

import (
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Caps limit how much of a family may be applied to a bed.
type Caps struct {
	// Once is the most in one application, Year the most in any 365 days.
	Once, Year quantity.Rate
	// Weeks is the least interval between applications.
	Weeks int
	// Nitrogen is g of nitrogen per g of material, set for manures: their caps are in nitrogen, and
	// all manures share the yearly cap and the interval. 0: the caps are in weight and apply to the
	// family.
	Nitrogen float64
}

// Counts returns how many grams a gram of another material counts for against the caps of family f,
// 0 when it does not.
func (c Caps) Counts(f Family, other *Material) float64 {
	switch {
	case c.Nitrogen > 0 && other.Manure():
		return float64(other.N) / 100 / c.Nitrogen
	case c.Nitrogen == 0 && other.Family == f:
		return 1
	}
	return 0
}

// Offered reports whether any rate is allowed.
func (c Caps) Offered() bool { return c.Once > 0 }

type capRow struct {
	family              Family
	dug, surface        quantity.Rate
	year, yearSurface   quantity.Rate
	lawnOnce, lawnYear  quantity.Rate
	weeks, surfaceWeeks int
	clayYear            quantity.Rate
	// sandDug and sandSurface replace dug and surface on sands; 0: no difference.
	sandDug, sandSurface quantity.Rate
}

// capTable holds the caps in g/m². A family without a row is not dosed.
var capTable = []capRow{
	{family: Lime, dug: 500, surface: 250, year: 1000, yearSurface: 500, lawnOnce: 250, lawnYear: 500, weeks: 12, surfaceWeeks: 26},
	{family: HydratedLime, dug: 150, year: 150, weeks: 26, surfaceWeeks: 26},
	{family: Ash, dug: 250, surface: 125, year: 500, yearSurface: 500, lawnOnce: 50, lawnYear: 100, weeks: 8, surfaceWeeks: 12},
	{family: Aluminium, dug: 250, surface: 120, year: 500, yearSurface: 500, weeks: 8, surfaceWeeks: 8},
	{family: Iron, dug: 200, surface: 100, year: 400, yearSurface: 400, lawnOnce: 20, lawnYear: 60, weeks: 8, surfaceWeeks: 8},
	{family: Ammonium, dug: 25, surface: 25, year: 75, yearSurface: 75, lawnOnce: 25, lawnYear: 75, weeks: 6, surfaceWeeks: 6},
	{family: UreaFeed, dug: 10, surface: 10, year: 30, yearSurface: 30, lawnOnce: 10, lawnYear: 30, weeks: 6, surfaceWeeks: 6},
	{family: Potash, dug: 30, surface: 30, year: 60, yearSurface: 60, lawnOnce: 30, lawnYear: 60, weeks: 8, surfaceWeeks: 8},
	{family: Sulfur, dug: 100, surface: 50, year: 150, yearSurface: 75, lawnOnce: 25, lawnYear: 50, weeks: 12, surfaceWeeks: 26,
		clayYear: 200, sandDug: 50, sandSurface: 25},
	{family: Organic, dug: 5000, surface: 5000, year: 10000, yearSurface: 10000, lawnOnce: 1000, lawnYear: 1000, weeks: 12,
		surfaceWeeks: 12},
	// The caps of manure are in nitrogen: what soil holds over a year.
	{family: RottedManure, dug: ManureNitrogen, surface: ManureNitrogen, year: ManureNitrogen, yearSurface: ManureNitrogen, weeks: 12,
		surfaceWeeks: 12},
	{family: FreshManure, dug: ManureNitrogen, surface: ManureNitrogen, year: ManureNitrogen, yearSurface: ManureNitrogen, weeks: 12,
		surfaceWeeks: 12},
}

// ManureNitrogen is the most nitrogen from manure in one application and in any 365 days.
const ManureNitrogen quantity.Rate = 17

// CapsOn returns the caps of a material on a ground; ok is false for a material that is not dosed.
func (m Material) CapsOn(g soil.Ground) (c Caps, ok bool) {
	c, ok = CapsFor(m.Family, g)
	if !ok || !m.Manure() {
		return c, ok
	}
	c.Nitrogen = float64(m.N) / 100
	if c.Nitrogen <= 0 {
		return Caps{}, false
	}
	c.Once, c.Year = c.Once/quantity.Rate(c.Nitrogen), c.Year/quantity.Rate(c.Nitrogen)
	return c, true
}

// CapsFor returns the caps of a family on a ground, for manures in nitrogen; ok is false for a
// family that is not dosed.
func CapsFor(f Family, g soil.Ground) (c Caps, ok bool) {
	for _, r := range capTable {
		if r.family != f {
			continue
		}
		if sand := g.Texture.ID == soil.Sand || g.Texture.ID == soil.LoamySand; sand && r.sandDug > 0 {
			r.dug, r.surface = r.sandDug, r.sandSurface
		}
		switch {
		case g.Use == soil.UseLawn:
			return Caps{Once: r.lawnOnce, Year: r.lawnYear, Weeks: r.surfaceWeeks}, true
		case g.Worked != soil.Dug:
			return Caps{Once: r.surface, Year: r.yearSurface, Weeks: r.surfaceWeeks}, true
		case r.clayYear > 0 && g.Texture.ID == soil.Clay:
			return Caps{Once: r.dug, Year: r.clayYear, Weeks: r.weeks}, true
		default:
			return Caps{Once: r.dug, Year: r.year, Weeks: r.weeks}, true
		}
	}
	return Caps{}, false
}

// Dosed reports whether rates are computed for a family.
func Dosed(f Family) bool {
	for _, r := range capTable {
		if r.family == f {
			return true
		}
	}
	return false
}

// Yearly ash above AshCommonAdvice is well over common advice, which runs from AdviceFrom to
// AdviceTo.
const (
	AshCommonAdvice quantity.Rate = 250
	AdviceFrom      quantity.Rate = 50
	AdviceTo        quantity.Rate = 120
)

// MostRemovals limits potash in a year to this multiple of what the crop removes.
const MostRemovals = 2

// AshTop is the pH at and above which no ash is applied.
const AshTop quantity.PH = 6.5

// The most gypsum applied for calcium, at one time and in a year.
const (
	GypsumOnce quantity.Rate = 100
	GypsumYear quantity.Rate = 200
)

// AcidLoverLimeYear is the most lime per year under an acid-loving crop.
const AcidLoverLimeYear quantity.Rate = 100

// byDose are the families whose amount is computed from a reading, so only a dose plans them.
var byDose = []Family{Lime, HydratedLime, Ash, Sulfur, Aluminium, Iron}

// ByDoseOnly reports whether only a dose plans a family; the others can also be planned as feeds.
func ByDoseOnly(f Family) bool { return slices.Contains(byDose, f) }
