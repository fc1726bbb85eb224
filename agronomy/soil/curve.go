package soil

import (
	"zephyrfield/agronomy/quantity"
)

// Curve reports how much pure CaCO₃ equivalent per m² of the layer lies between
// two pH values: straight pieces, rising. The first and last piece go on
// beyond their ends.
type Curve struct {
	// PH are the knots, rising; Sum is g CaCO₃/m² from the first of them.
	PH, Sum []float64
}

// NewCurve joins knots of pH and slopes between them (g CaCO₃/m² per pH unit).
// There is one slope fewer than knots; slopes must be above 0.
func NewCurve(ph, slopes []float64) Curve {
	c := Curve{PH: ph, Sum: make([]float64, len(ph))}
	for i, s := range slopes {
		c.Sum[i+1] = c.Sum[i] + s*(ph[i+1]-ph[i])
	}
	return c
}

// curveThrough joins knots of pH and of the amount from the first knot, which
// may stand still for a stretch but never fall.
func curveThrough(ph, sum []float64) Curve { return Curve{PH: ph, Sum: sum} }

// Scaled is the curve with every amount times f.
func (c Curve) Scaled(f float64) Curve {
	out := Curve{PH: c.PH, Sum: make([]float64, len(c.Sum))}
	for i, s := range c.Sum {
		out.Sum[i] = s * f
	}
	return out
}

// at is the amount between the first knot and p.
func (c Curve) at(p float64) float64 {
	i := 1
	for i < len(c.PH)-1 && p > c.PH[i] {
		i++
	}
	return c.Sum[i-1] + (p-c.PH[i-1])*c.slope(i)
}

// slope is that of the piece that ends at knot i.
func (c Curve) slope(i int) float64 {
	return (c.Sum[i] - c.Sum[i-1]) / (c.PH[i] - c.PH[i-1])
}

// Need is the CaCO₃ equivalent from one pH to another: below 0 when lowering.
func (c Curve) Need(from, to quantity.PH) quantity.Rate {
	return quantity.Rate(c.at(float64(to)) - c.at(float64(from)))
}

// Move is the pH at which the soil settles when r has reacted.
func (c Curve) Move(from quantity.PH, r quantity.Rate) quantity.PH {
	want := c.at(float64(from)) + float64(r)
	i := 1
	for i < len(c.Sum)-1 && want > c.Sum[i] {
		i++
	}
	// A level piece takes no amount; go back to the last one that does.
	for i > 1 && c.slope(i) <= 0 {
		i--
	}
	if c.slope(i) <= 0 {
		return from
	}
	return quantity.PH(c.PH[i-1] + (want-c.Sum[i-1])/c.slope(i))
}

// No forecast goes past these: lime tops out near 8.2.
const (
	LeastPH quantity.PH = 3.3
	MostPH  quantity.PH = 8.3
)

// Amount is what lies between the curve's own beginning and a pH.
func (c Curve) Amount(p quantity.PH) float64 { return c.at(float64(p)) }

// PHAt is the pH that an amount from the curve's own beginning comes to: the
// reverse of Amount. Amounts that rise may be asked for with hint, the piece
// where the last lay.
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

// kinked is how much steeper one piece of a curve may be than another before it
// counts as uneven.
const kinked = 8

// Uneven reports whether a curve has pieces that are next to level beside others,
// so that it must be looked at in finer steps.
func (c Curve) Uneven() bool {
	least, most := c.slope(1), c.slope(1)
	for i := 2; i < len(c.PH); i++ {
		least, most = min(least, c.slope(i)), max(most, c.slope(i))
	}
	return most > kinked*least
}

// Settle is Move within what a soil can come to.
func (c Curve) Settle(from quantity.PH, r quantity.Rate) quantity.PH {
	return max(LeastPH, min(MostPH, c.Move(from, r)))
}

// Piece is a stretch of a curve that lies on one slope.
type Piece struct {
	From, To quantity.PH
	Slope    float64 // g CaCO₃/m² per pH unit
}

// Pieces takes the way between two pH values apart where the slope changes,
// lowest pH first.
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
