package plots

import (
	"sort"
)

// FreeSpot proposes a place for a new bed: under all that is on the plan.
func FreeSpot(ps []Plot) (x, y float64) {
	x, y = 1, 1
	for _, p := range ps {
		_, high := p.Bed.Bounds()
		y = max(y, high.Y+0.5)
	}
	if len(ps) > 0 {
		xs := make([]float64, len(ps))
		for i, p := range ps {
			xs[i] = p.Bed.X
		}
		sort.Float64s(xs)
		x = xs[0]
	}
	return x, y
}
