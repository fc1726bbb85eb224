package soil

import "zephyrfield/agronomy/quantity"

// Supply is how a soil stands in potassium.
type Supply string

// Bands of potassium.
const (
	Short   Supply = "short"
	Enough  Supply = "enough"
	Plenty  Supply = "plenty"
	TooMuch Supply = "too-much"
	Unknown Supply = "unknown"
)

// PotassiumScale holds the edges of the bands for a ground.
type PotassiumScale struct {
	// Critical is where enough begins; EnoughTo where plenty begins; Ceiling
	// where too much begins.
	Critical, EnoughTo, Ceiling quantity.Concentration
}

// PotassiumBands gives the edges: critical ppm = 75 + 2.5 × CEC, CEC counted
// to 30 at most.
func PotassiumBands(g Ground) PotassiumScale {
	c := quantity.Concentration(75 + 2.5*min(float64(g.Capacity()), 30))
	return PotassiumScale{Critical: c, EnoughTo: c + 60, Ceiling: 2 * c}
}

// Judge puts a figure in its band; nil is unknown.
func (s PotassiumScale) Judge(k *quantity.Concentration) Supply {
	switch {
	case k == nil:
		return Unknown
	case *k < s.Critical:
		return Short
	case *k <= s.EnoughTo:
		return Enough
	case *k <= s.Ceiling:
		return Plenty
	default:
		return TooMuch
	}
}

// K2OToK turns potash into potassium by weight.
const K2OToK = 0.83

// Held is the share of added potassium that a test finds again.
func Held(g Ground) float64 {
	if g.Texture.ID == Muck {
		return 0.8
	}
	return 0.6 / (1 + 0.05*float64(g.Capacity()))
}

// PotassiumRise is the rise of tested K from K₂O put on, the addition alone.
func PotassiumRise(g Ground, k2o quantity.Rate) quantity.Concentration {
	return quantity.Concentration(float64(k2o) * K2OToK * 1000 / g.SoilMass() * Held(g))
}

// PotashFor is the K₂O that brings a rise: the reverse of PotassiumRise.
func PotashFor(g Ground, rise quantity.Concentration) quantity.Rate {
	return quantity.Rate(float64(rise) / (K2OToK * 1000) * g.SoilMass() / Held(g))
}

// MagnesiumLow is the figure below which dolomitic lime is preferred.
const MagnesiumLow quantity.Concentration = 60
