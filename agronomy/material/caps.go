package material

import (
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Caps say how much of a family a bed may be given.
type Caps struct {
	// Go is the most at one time, Year the most in any 365 days.
	Go, Year quantity.Rate
	// Weeks keep goes apart.
	Weeks int
}

// Offered tells whether there is any rate at all.
func (c Caps) Offered() bool { return c.Go > 0 }

type capRow struct {
	family              Family
	dug, surface        quantity.Rate
	year, yearSurface   quantity.Rate
	lawnGo, lawnYear    quantity.Rate
	weeks, surfaceWeeks int
	clayYear            quantity.Rate
	// sandDug and sandSurface go before dug and surface on sands; 0: the same.
	sandDug, sandSurface quantity.Rate
}

// capTable holds the caps in g/m². A family that is not here is not dosed.
var capTable = []capRow{
	{family: Lime, dug: 500, surface: 250, year: 1000, yearSurface: 500, lawnGo: 250, lawnYear: 500, weeks: 12, surfaceWeeks: 26},
	{family: HydratedLime, dug: 150, year: 150, weeks: 26, surfaceWeeks: 26},
	{family: Ash, dug: 250, surface: 125, year: 500, yearSurface: 500, lawnGo: 50, lawnYear: 100, weeks: 8, surfaceWeeks: 12},
	{family: Aluminium, dug: 250, surface: 120, year: 500, yearSurface: 500, weeks: 8, surfaceWeeks: 8},
	{family: Iron, dug: 200, surface: 100, year: 400, yearSurface: 400, lawnGo: 20, lawnYear: 60, weeks: 8, surfaceWeeks: 8},
	{family: Ammonium, dug: 25, surface: 25, year: 75, yearSurface: 75, lawnGo: 25, lawnYear: 75, weeks: 6, surfaceWeeks: 6},
	{family: UreaFeed, dug: 10, surface: 10, year: 30, yearSurface: 30, lawnGo: 10, lawnYear: 30, weeks: 6, surfaceWeeks: 6},
	{family: Potash, dug: 30, surface: 30, year: 60, yearSurface: 60, lawnGo: 30, lawnYear: 60, weeks: 8, surfaceWeeks: 8},
	{family: Sulfur, dug: 100, surface: 50, year: 150, yearSurface: 75, lawnGo: 25, lawnYear: 50, weeks: 12, surfaceWeeks: 26,
		clayYear: 200, sandDug: 50, sandSurface: 25},
	// A centimetre of compost or manure in a year: more makes ground heavy.
	{family: Organic, dug: 5000, surface: 5000, year: 5000, yearSurface: 5000, lawnGo: 1000, lawnYear: 1000, weeks: 26, surfaceWeeks: 26},
	{family: RottedManure, dug: 5000, surface: 5000, year: 5000, yearSurface: 5000, weeks: 26, surfaceWeeks: 26},
	{family: FreshManure, dug: 5000, surface: 5000, year: 5000, yearSurface: 5000, weeks: 26, surfaceWeeks: 26},
}

// CapsFor gives the caps of a family on a ground; ok is false for a family
// that this version does not dose.
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
			return Caps{r.lawnGo, r.lawnYear, r.surfaceWeeks}, true
		case g.Worked != soil.Dug:
			return Caps{r.surface, r.yearSurface, r.surfaceWeeks}, true
		case r.clayYear > 0 && g.Texture.ID == soil.Clay:
			return Caps{r.dug, r.clayYear, r.weeks}, true
		default:
			return Caps{r.dug, r.year, r.weeks}, true
		}
	}
	return Caps{}, false
}

// Dosed tells whether this version gives rates for a family.
func Dosed(f Family) bool {
	for _, r := range capTable {
		if r.family == f {
			return true
		}
	}
	return false
}

// Ash above AshCommonAdvice in a year is well over common advice, which is from
// AdviceFrom to AdviceTo.
const (
	AshCommonAdvice quantity.Rate = 250
	AdviceFrom      quantity.Rate = 50
	AdviceTo        quantity.Rate = 120
)

// MostRemovals is how many times what a crop carries off a bed may be given of
// potash in a year.
const MostRemovals = 2

// AshTop is the pH from which up ground takes no ash.
const AshTop quantity.PH = 6.5

// AcidLoverLimeYear is the most lime that an acid lover gets in a year.
const AcidLoverLimeYear quantity.Rate = 100

// byDose are the families that a dose alone plans: how much of them a bed wants is reckoned from
// its reading.
var byDose = []Family{Lime, HydratedLime, Ash, Sulfur, Aluminium, Iron}

// ByDoseOnly tells whether a family is planned by a dose alone; the rest are feeds too.
func ByDoseOnly(f Family) bool { return slices.Contains(byDose, f) }
