package svg

import (
	"math"

	"zephyrfield/agronomy/quantity"
)

// Scatter is how an amount looks: its handfuls as heaps, and a square of ScatteredSide dusted with it
// as it will lie.
type Scatter struct {
	W, H  Px
	Heaps []Path
	Side  Px
	X0    Px
	Dots  []Ring
}

// The picture's measures: a heap's width and the most that are drawn; the square's side, and what one
// speck weighs in grams, with the most of them.
const (
	heapWide, mostHeaps = 34, 12
	squareSide          = 76
	speck, mostSpecks   = 0.25, 260
)

// ScatteredSide is the side of the square on the ground, ScatteredOn its area.
const (
	ScatteredSide quantity.Depth = 0.3
	ScatteredOn                  = quantity.Area(ScatteredSide * ScatteredSide)
)

// ScatterOf draws handfuls, in halves, and what lies on a square at a rate.
func ScatterOf(handfuls float64, rate quantity.Rate) *Scatter {
	s := &Scatter{H: squareSide + 4, Side: squareSide}
	rows := 2
	n := int(math.Min(math.Ceil(handfuls), mostHeaps))
	in := max(1, (n+rows-1)/rows)
	for i := range n {
		size := math.Min(1, handfuls-float64(i))
		x, y := Px(i%in)*heapWide+2, Px(i/in)*squareSide/2+squareSide/2-4
		if n <= in {
			y = squareSide - 6
		}
		wide := Px(heapWide-6) * Px(math.Sqrt(size))
		s.Heaps = append(s.Heaps, moveTo(x, y).lineTo(x+wide*0.25, y-wide*0.5).lineTo(x+wide*0.5, y-wide*0.62).
			lineTo(x+wide*0.8, y-wide*0.42).lineTo(x+wide, y).closed())
	}
	s.X0 = Px(in)*heapWide + 18
	s.W = s.X0 + squareSide + 2
	grams := float64(rate) * float64(ScatteredOn)
	for i := range int(math.Min(math.Round(grams/speck), mostSpecks)) {
		s.Dots = append(s.Dots, Ring{s.X0 + Px(3+halton(i+1, 2)*(squareSide-6)), Px(5 + halton(i+1, 3)*(squareSide-6)), 1.4})
	}
	return s
}

// halton returns a place from 0 to 1 of a sequence that fills a line evenly without rows.
func halton(i, base int) (x float64) {
	for f := 1 / float64(base); i > 0; f /= float64(base) {
		x += f * float64(i%base)
		i /= base
	}
	return x
}
