package soil

import (
	"zephyrfield/agronomy/quantity"
)

// Curve is a rising, piecewise linear relation of pH and g CaCO₃ equivalent per m² of the layer.
// The first and last piece extend beyond the end knots.
type Curve struct {
	// PH are the knots, rising; Sum is g CaCO₃/m² from the first knot to each.
	PH, Sum []float64
}

// NewCurve builds a curve from knots of pH and the slopes between them, g CaCO₃/m² per pH unit.
// There is one slope fewer than knots; slopes must be positive.
func NewCurve(ph, slopes []float64) Curve {
	c := Curve{PH: ph, Sum: make([]float64, len(ph))}
	for i, s := range slopes {
		c.Sum[i+1] = c.Sum[i] + s*(ph[i+1]-ph[i])
	}
	return c
}

// curveThrough builds a curve from knots of pH and cumulative amounts, which may stay level but
// never fall.
func curveThrough(ph, sum []float64) Curve { return Curve{PH: ph, Sum: sum} }

// Scaled returns the curve with every amount multiplied by f.
func (c Curve) Scaled(f float64) Curve {
	out := Curve{PH: c.PH, Sum: make([]float64, len(c.Sum))}
	for i, s := range c.Sum {
		out.Sum[i] = s * f
	}
	return out
}

// at returns the amount between the first knot and p.
func (c Curve) at(p float64) float64 {
	i := 1
	for i < len(c.PH)-1 && p > c.PH[i] {
		i++
	}
	return c.Sum[i-1] + (p-c.PH[i-1])*c.slope(i)
}

// slope returns the slope of the piece that ends at knot i.
func (c Curve) slope(i int) float64 {
	return (c.Sum[i] - c.Sum[i-1]) / (c.PH[i] - c.PH[i-1])
}

// Need returns the CaCO₃ equivalent from one pH to another, negative when lowering.
func (c Curve) Need(from, to quantity.PH) quantity.Rate {
	return quantity.Rate(c.at(float64(to)) - c.at(float64(from)))
}

// Move returns the pH after r has reacted.
func (c Curve) Move(from quantity.PH, r quantity.Rate) quantity.PH {
	want := c.at(float64(from)) + float64(r)
	i := 1
	for i < len(c.Sum)-1 && want > c.Sum[i] {
		i++
	}
	// A level piece takes no amount; go back to the last rising one.
	for i > 1 && c.slope(i) <= 0 {
		i--
	}
	if c.slope(i) <= 0 {
		return from
	}
	return quantity.PH(c.PH[i-1] + (want-c.Sum[i-1])/c.slope(i))
}

// The bounds of any forecast: lime tops out near 8.2.
const (
	LeastPH quantity.PH = 3.3
	MostPH  quantity.PH = 8.3
)

// Amount returns the amount from the curve's start to a pH.
func (c Curve) Amount(p quantity.PH) float64 { return c.at(float64(p)) }

// PHAt is the inverse of Amount. For rising amounts, pass as hint the piece of the previous result.
func (c Curve) PHAt(amount float64, hint *int) quantity.PH {
	i := *hint
	for i < len(c.Sum)-1 && amount > c.Sum[i] {
		i++
	}
	for i > 1 && amount <= c.Sum[i-1] {
		i--
	}
	*hint = i
	return quantity.PH(c.PH[i-1] + (amount-c.Sum[i-1])*(c.PH[i]-c.PH[i-1])/(c.Sum[i]-c.Sum[i-1]))
}

// kinked is the ratio of neighbouring slopes above which a curve counts as uneven.
const kinked = 8

// Uneven reports whether nearly level pieces stand beside steep ones, so that sampling needs finer
// steps.
func (c Curve) Uneven() bool {
	least, most := c.slope(1), c.slope(1)
	for i := 2; i < len(c.PH); i++ {
		least, most = min(least, c.slope(i)), max(most, c.slope(i))
	}
	return most > kinked*least
}

// Settle returns Move clamped to the bounds of any forecast.
func (c Curve) Settle(from quantity.PH, r quantity.Rate) quantity.PH {
	return max(LeastPH, min(MostPH, c.Move(from, r)))
}

// Piece is a stretch of a curve with one slope.
type Piece struct {
	From, To quantity.PH
	Slope    float64 // g CaCO₃/m² per pH unit
}

// Pieces splits the way between two pH values where the slope changes, lowest pH first.
func (c Curve) Pieces(from, to quantity.PH) []Piece {
	lo, hi := float64(min(from, to)), float64(max(from, to))
	var out []Piece
	for i := 1; i < len(c.PH); i++ {
		a, b := c.PH[i-1], c.PH[i]
		if i == 1 {
			a = min(a, lo)
		}
		if i == len(c.PH)-1 {
			b = max(b, hi)
		}
		a, b = max(a, lo), min(b, hi)
		if b > a {
			out = append(out, Piece{quantity.PH(a), quantity.PH(b), c.slope(i)})
		}
	}
	return out
}
