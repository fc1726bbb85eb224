package svg

import (
	"zephyrfield/agronomy/quantity"
)

// Strip is an amount in a row of several, as a dot with an interval.
type Strip struct {
	W, H, Y   Px
	HasDoubt  bool
	X0, Width Px
	At        Px
}

// StripOf draws an amount among others of which most is the largest, ignoring signs.
func StripOf(x, low, high, most quantity.Rate) Strip {
	const w, h, edge = 96, 18, 6
	size := func(r quantity.Rate) Px { return edge + Px(float64(max(r, -r)/max(most, 1))*(w-2*edge)) }
	s := Strip{W: w, H: h, Y: h / 2, At: size(x), HasDoubt: low != 0 || high != 0}
	if low*x < 0 {
		low = 0 // the interval includes 0: the bar ends there
	}
	a, b := size(low), size(high)
	s.X0, s.Width = min(a, b), max(a-b, b-a)
	return s
}
