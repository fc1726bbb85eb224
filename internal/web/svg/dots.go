package svg

import (
	"html/template"
	"math"

	"zephyrfield/internal/garden"
)

// Dots is a bed with a mark for each scoop.
type Dots struct {
	W, H       Px
	BedX, BedY Px
	BedW, BedH Px
	Dots       []Ring
}

// mostDots is the largest number of scoops drawn.
const mostDots = 60

// DotsOf spreads n scoops evenly over a bed; nil if there are too many or the bed is not a
// rectangle.
func DotsOf(b garden.Bed, n int) *Dots {
	if n < 1 || n > mostDots || b.Shape != garden.ShapeRect {
		return nil
	}
	long, short := math.Max(b.W, b.H), math.Min(b.W, b.H)
	const w = 354
	h := math.Min(math.Max(w*short/long, 34), 150)
	d := Dots{W: w, H: Px(h + 4), BedX: 1, BedY: 2, BedW: w - 2, BedH: Px(h)}
	rows := max(1, int(math.Round(math.Sqrt(float64(n)*short/long))))
	left := n
	for r := range rows {
		in := int(math.Ceil(float64(left) / float64(rows-r)))
		left -= in
		y := 2 + h*(float64(r)+0.5)/float64(rows)
		for i := range in {
			d.Dots = append(d.Dots, Ring{Px(1 + (w-2)*(float64(i)+0.5)/float64(in)), Px(y), 4.5})
		}
	}
	return &d
}

// Marks returns the SVG of the marks.
func (d *Dots) Marks() template.HTML {
	var w writer
	for _, r := range d.Dots {
		w.circle().centre(r.X, r.Y, r.R).end()
	}
	return w.html()
}
