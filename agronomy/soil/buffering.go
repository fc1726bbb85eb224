package soil

import (
	"zephyrfield/agronomy/quantity"
)

// School is the id of a way to reckon how stubborn a soil is.
type School string

// Schools of buffering that this version reckons by.
const (
	ByTable         School = "table"
	ByOrganicMatter School = "organic-matter"
)

// Schools lists them, the default first.
var Schools = []School{ByTable, ByOrganicMatter}

// Buffering is a school applied to a ground.
type Buffering struct {
	School School
	// Raise and Lower differ: lime tables and sulfur tables are printed apart.
	Raise, Lower Curve
	// RelativeSD is the school's doubt as a share of the need.
	RelativeSD float64
	// PerSoil is g CaCO₃ per kg soil and pH unit; 0 for the texture table.
	PerSoil float64
}

// Curve picks the one for a direction.
func (b Buffering) Curve(from, to quantity.PH) Curve {
	if to < from {
		return b.Lower
	}
	return b.Raise
}

// sulfurGram is what 1 g of sulfur cancels, g CaCO₃.
const sulfurGram = 3.12

// MissingError names the value that a school needs and does not have.
type MissingError struct{ Field, Why string }

func (e *MissingError) Error() string { return e.Field + ": " + e.Why }

// Buffer applies a school to a ground. Errors are *MissingError.
//
// Sources: the texture table is that of soil surveys of the 1950s; organic
// matter and clay from Aitken, Moody & McKinley 1990 with OC = OM/1.72.
func Buffer(s School, g Ground) (Buffering, error) {
	deep := float64(g.Depth / quantity.SevenInches)
	switch s {
	case ByTable:
		row, cool := g.Texture.Cool, g.Texture.Cool
		if g.Table == WarmTable {
			row = g.Texture.Warm
		}
		return Buffering{
			School: s, RelativeSD: 0.30,
			Raise: NewCurve([]float64{3.5, 4.5, 5.5, 6.5}, tons(row, deep)),
			// Lowering takes the cool column everywhere: it is the one that the
			// printed berry table agrees with.
			Lower: lowering([]float64{3.5, 4.5, 5.5, 6.5}, tons(cool, deep), g.Texture, deep),
		}, nil
	case ByOrganicMatter:
		if g.OrganicMatter == nil {
			return Buffering{}, &MissingError{"bed.organic_matter_pct", "the organic matter school needs it"}
		}
		per := 0.555*float64(*g.OrganicMatter) + 0.011*float64(g.Clays())
		slope := per * g.SoilMass()
		if slope <= 0 {
			return Buffering{}, &MissingError{"bed.organic_matter_pct", "with no organic matter and no clay this school gives nothing"}
		}
		return Buffering{
			School: s, RelativeSD: 0.25, PerSoil: per,
			Raise: NewCurve([]float64{3.5, 6.5}, []float64{slope}),
			Lower: lowering([]float64{3.5, 6.5}, []float64{slope}, g.Texture, deep),
		}, nil
	}
	return Buffering{}, &MissingError{"school.buffering", "“" + string(s) + "” is not a school that this version reckons by"}
}

func tons(steps [3]float64, deep float64) []float64 {
	out := make([]float64, len(steps))
	for i, t := range steps {
		out[i] = t * float64(quantity.ShortTonPerAcre) * deep
	}
	return out
}

// lowering puts the printed sulfur table on top of a curve that ends at 6.5.
func lowering(ph, slopes []float64, t TextureClass, deep float64) Curve {
	last := 0.0
	for i, lb := range t.Sulfur {
		ph = append(ph, 7.0+0.5*float64(i))
		acid := (lb - last) * float64(quantity.PoundPerAcre) * deep * sulfurGram
		slopes = append(slopes, acid/0.5)
		last = lb
	}
	return NewCurve(ph, slopes)
}
