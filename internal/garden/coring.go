package garden

import (
	"math"

	"github.com/peterstace/simplefeatures/geom"
)

// Letters are the names of a round's samples.
const Letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"

// Letter returns the name of a round's nth sample: A to Z, then AA.
func Letter(n int) string {
	if n < len(Letters) {
		return Letters[n : n+1]
	}
	return Letter(n/len(Letters)-1) + Letters[n%len(Letters):n%len(Letters)+1]
}

// The zigzag along a bed: from side to side, clear of its ends; many cores go up one line across
// and down the next.
const (
	clearEnds = 0.1
	manyCores = 20
)

// zigzag returns the position of the i-th of n cores along and across an area, as shares of its
// length and width.
func zigzag(i, n int, length, width float64) (along, across float64) {
	rows := 2
	if n > manyCores {
		rows = max(2, int(math.Round(math.Sqrt(float64(n)*width/length))))
	}
	place := func(k, of int, clear float64) float64 {
		if of < 2 {
			return 0.5
		}
		return clear + (1-2*clear)*float64(k)/float64(of-1)
	}
	if rows == 2 {
		return place(i, n, clearEnds), 0.25 + 0.5*float64(i%2)
	}
	line, in := i/rows, i%rows
	if line%2 == 1 {
		in = rows - 1 - in
	}
	return place(line, (n+rows-1)/rows, clearEnds), place(in, rows, 2*clearEnds)
}

// CorePoints returns n places for cores on a bed: a zigzag along it, a fifth of its width clear of
// its edges.
func (b Bed) CorePoints(n int) []Point {
	if n < 1 {
		return nil
	}
	switch b.Shape {
	case ShapeCircle, ShapeRings:
		circles := b.Circles()
		out := make([]Point, n)
		for i := range out {
			c := circles[i*len(circles)/n]
			// Around each ring, alternately at two thirds of its radius and near its centre.
			sin, cos := math.Sincos(2 * math.Pi * float64(i) * 0.381966)
			r := c.Radius * []float64{0.66, 0.33}[i%2]
			out[i] = Point{c.Middle.X + r*cos, c.Middle.Y + r*sin}
		}
		return out
	case ShapeOutline:
		return b.zigzagIn(n)
	}
	out := make([]Point, n)
	for i := range out {
		along, across := zigzag(i, n, max(b.W, b.H), min(b.W, b.H))
		if b.W < b.H {
			along, across = across, along
		}
		out[i] = b.Frame(along, across)
	}
	return out
}

// zigzagIn samples n points evenly from a fine grid well inside an outline.
func (b Bed) zigzagIn(n int) []Point {
	outline := b.Outline()
	ground, edge := PolygonOf(outline).AsGeometry(), PolygonOf(outline).Boundary().AsGeometry()
	low, high := b.Bounds()
	var inside []Point
	var fromEdge []float64
	const fine = 40
	for i := range fine {
		x := low.X + (high.X-low.X)*(float64(i)+0.5)/fine
		for j := range fine {
			// Up one column and down the next.
			row := j
			if i%2 == 1 {
				row = fine - 1 - j
			}
			p := Point{x, low.Y + (high.Y-low.Y)*(float64(row)+0.5)/fine}
			at := geom.XY(p).AsPoint().AsGeometry()
			if !geom.Intersects(at, ground) {
				continue
			}
			if far, ok := geom.Distance(at, edge); ok {
				inside, fromEdge = append(inside, p), append(fromEdge, far)
			}
		}
	}
	for clear := 0.15 * math.Min(high.X-low.X, high.Y-low.Y); ; clear /= 2 {
		var in []Point
		for i, p := range inside {
			if fromEdge[i] >= clear {
				in = append(in, p)
			}
		}
		if len(in) >= n || clear < 1e-4 && len(in) > 0 {
			out := make([]Point, n)
			for i := range out {
				out[i] = in[(2*i+1)*len(in)/(2*n)]
			}
			return out
		}
		if clear < 1e-4 {
			return nil
		}
	}
}
