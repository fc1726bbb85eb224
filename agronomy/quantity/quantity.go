// Package quantity defines the physical quantities that the program computes with, each with its
// unit in its type, and calendar days without clock or time zone.
//
// Values are in SI or in the field's own small units: m, m², g, g/m², mg/kg, °C. Units for display
// are converted at the edge.
package quantity

import (
	"math"
)

// PH is a soil pH, on the water basis unless the holder says otherwise.
type PH float64

// Area is in square metres.
type Area float64

// Depth is in metres.
type Depth float64

// Mass is in grams.
type Mass float64

// Rate is in grams per square metre.
type Rate float64

// Concentration is in milligrams per kilogram of dry soil (ppm).
type Concentration float64

// Percent is a share of 100 by weight.
type Percent float64

// Density is in kilograms per cubic metre.
type Density float64

// Temperature is in degrees Celsius.
type Temperature float64

// CationExchangeCapacity is a cation exchange capacity in cmol of charge per kilogram.
type CationExchangeCapacity float64

// Factors for the units of printed tables.
const (
	ShortTonPerAcre   Rate = 224.17
	PoundPerAcre      Rate = 0.112085
	PoundPer1000SqFt  Rate = 4.8824
	PoundPer100SqFt   Rate = 48.824
	TonnePerHectare   Rate = 100
	SevenInches            = Depth(0.1778)
	SquareFoot        Area = 0.09290304
	OunceAvoirdupois  Mass = 28.349523125
	Pound             Mass = 453.59237
	Centimetre             = Depth(0.01)
	Inch                   = Depth(0.0254)
	Kilogram          Mass = 1000
	KilogramPerSquare Rate = 1000
)

// Over returns the mass of a rate spread over an area.
func (r Rate) Over(a Area) Mass { return Mass(float64(r) * float64(a)) }

// Per returns the rate of a mass spread over an area, 0 for an area of 0.
func (m Mass) Per(a Area) Rate {
	if a <= 0 {
		return 0
	}
	return Rate(float64(m) / float64(a))
}

// Of returns p per cent of a rate.
func (p Percent) Of(r Rate) Rate { return Rate(float64(p) / 100 * float64(r)) }

// SoilMass returns kilograms of dry soil under one square metre.
func SoilMass(d Density, depth Depth) float64 { return float64(d) * float64(depth) }

// Weighable rounds a mass to what a person can weigh: whole grams below 20 g,
// 5 g below 100 g, 10 g below 1 kg, 100 g above.
func (m Mass) Weighable() Mass {
	step := 100.0
	switch a := math.Abs(float64(m)); {
	case a < 20:
		step = 1
	case a < 100:
		step = 5
	case a < 995:
		step = 10
	}
	return Mass(math.Round(float64(m)/step) * step)
}

// Round rounds x to the given number of decimals, half away from zero.
func Round(x float64, decimals int) float64 {
	f := math.Pow(10, float64(decimals))
	// The small addition makes 225.05, stored as 225.04999…, round as it is written.
	return math.Round(x*f+math.Copysign(1e-9, x)) / f
}

// Speed of wind, m/s.
type Speed float64

// Rainfall is a depth of rain in mm (litres per square metre).
type Rainfall float64
