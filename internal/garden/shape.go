package garden

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"

	"github.com/peterstace/simplefeatures/geom"

	"zephyrfield/agronomy/quantity"
)

// Point is a place on the plan: metres east and south of its corner.
type Point struct{ X, Y float64 }

// Corners are those of a freehand bed, in metres from its X and Y; stored as a JSON list of pairs,
// none is "".
type Corners []Point

// Text returns the stored form.
func (c Corners) Text() string {
	if len(c) == 0 {
		return ""
	}
	parts := make([]string, len(c))
	for i, p := range c {
		parts[i] = fmt.Sprintf("[%s,%s]", metre(p.X), metre(p.Y))
	}
	return "[" + strings.Join(parts, ",") + "]"
}

// metre formats a length to the tenth of a millimetre.
func metre(m float64) string {
	b, _ := json.Marshal(quantity.Round(m, 4)) // a rounded float always marshals
	return string(b)
}

// Scan reads the output of Text.
func (c *Corners) Scan(src any) error {
	s, ok := src.(string)
	if !ok {
		return fmt.Errorf("cannot scan %T into corners", src)
	}
	*c = nil
	if s == "" {
		return nil
	}
	return c.UnmarshalJSON([]byte(s))
}

// MarshalJSON writes pairs of metres.
func (c Corners) MarshalJSON() ([]byte, error) {
	if len(c) == 0 {
		return []byte("null"), nil
	}
	return []byte(c.Text()), nil
}

// UnmarshalJSON reads pairs of metres.
func (c *Corners) UnmarshalJSON(b []byte) error {
	var pairs [][2]float64
	if err := json.Unmarshal(b, &pairs); err != nil {
		return err
	}
	*c = nil
	for _, p := range pairs {
		*c = append(*c, Point{p[0], p[1]})
	}
	return nil
}

// leastGround is the least area of an outline, m².
const leastGround = 1e-6

// CheckCorners returns the message for an invalid outline, or "".
func CheckCorners(ps []Point) string {
	n := len(ps)
	switch {
	case n < 3:
		return "an outline needs three corners or more"
	case n > MostPoints:
		return fmt.Sprintf("an outline has at most %d corners", MostPoints)
	}
	for i, p := range ps {
		if !finite(p.X) || !finite(p.Y) || math.Abs(p.X) > LimitPlace.High || math.Abs(p.Y) > LimitPlace.High {
			return fmt.Sprintf("corner %d lies too far away", i+1)
		}
		for j := i + 1; j < n; j++ {
			if math.Hypot(p.X-ps[j].X, p.Y-ps[j].Y) < 1e-6 {
				return fmt.Sprintf("corners %d and %d lie on one spot", i+1, j+1)
			}
		}
	}
	// Almost every outline is simple, which one test shows.
	if !LineOf(append(ps[:n:n], ps[0])...).IsSimple() {
		return crossing(ps)
	}
	if PolygonOf(ps).Area() < leastGround {
		return "the outline holds no ground"
	}
	return ""
}

// crossing returns the message on where an outline crosses itself.
func crossing(ps []Point) string {
	n := len(ps)
	for i := range n {
		for j := i + 2; j < n; j++ {
			if i == 0 && j == n-1 {
				continue // neighbours
			}
			if geom.Intersects(LineOf(ps[i], ps[i+1]).AsGeometry(), LineOf(ps[j], ps[(j+1)%n]).AsGeometry()) {
				return fmt.Sprintf("the outline crosses itself between corner %d and corner %d", i+1, j+1)
			}
		}
	}
	return "the outline runs back over itself, and holds no ground there"
}

// turned rotates points clockwise on the plan about a centre.
func turned(ps []Point, about Point, degrees float64) []Point {
	if degrees == 0 {
		return ps
	}
	sin, cos := math.Sincos(degrees * math.Pi / 180)
	out := make([]Point, len(ps))
	for i, p := range ps {
		x, y := p.X-about.X, p.Y-about.Y
		out[i] = Point{about.X + x*cos - y*sin, about.Y + x*sin + y*cos}
	}
	return out
}

// Middle returns the centre of the bed's frame.
func (b Bed) Middle() Point { return Point{b.X + b.W/2, b.Y + b.H/2} }

// Outline returns the bed's rotated corners; nil for circles and rings.
func (b Bed) Outline() []Point {
	switch b.Shape {
	case ShapeCircle, ShapeRings:
		return nil
	case ShapeOutline:
		out := make([]Point, len(b.Corners))
		for i, c := range b.Corners {
			out[i] = Point{b.X + c.X, b.Y + c.Y}
		}
		return turned(out, b.Middle(), b.Turn)
	}
	return turned([]Point{{b.X, b.Y}, {b.X + b.W, b.Y}, {b.X + b.W, b.Y + b.H}, {b.X, b.Y + b.H}}, b.Middle(), b.Turn)
}

// Frame returns a point of the bed's rotated frame: across and down it, from 0 to 1.
func (b Bed) Frame(across, down float64) Point {
	return turned([]Point{{b.X + across*b.W, b.Y + down*b.H}}, b.Middle(), b.Turn)[0]
}

// Circle is a circle on the plan.
type Circle struct {
	Middle Point
	Radius float64
}

// Circles returns the bed's circles: one, or its rings spaced evenly along it.
func (b Bed) Circles() []Circle {
	switch b.Shape {
	case ShapeCircle:
		return []Circle{{b.Middle(), b.W / 2}}
	case ShapeRings:
		out := make([]Circle, b.Rings)
		gap := 0.0
		if b.Rings > 1 {
			gap = (b.W - b.H) / float64(b.Rings-1)
		}
		for i := range out {
			at := turned([]Point{{b.X + b.H/2 + float64(i)*gap, b.Y + b.H/2}}, b.Middle(), b.Turn)
			out[i] = Circle{at[0], b.H / 2}
		}
		return out
	}
	return nil
}

// Bounds returns the upright bounding box of the bed.
func (b Bed) Bounds() (low, high Point) {
	low, high = Point{math.Inf(1), math.Inf(1)}, Point{math.Inf(-1), math.Inf(-1)}
	grow := func(x0, y0, x1, y1 float64) {
		low = Point{math.Min(low.X, x0), math.Min(low.Y, y0)}
		high = Point{math.Max(high.X, x1), math.Max(high.Y, y1)}
	}
	for _, p := range b.Outline() {
		grow(p.X, p.Y, p.X, p.Y)
	}
	for _, c := range b.Circles() {
		grow(c.Middle.X-c.Radius, c.Middle.Y-c.Radius, c.Middle.X+c.Radius, c.Middle.Y+c.Radius)
	}
	return low, high
}

// Area is always computed from the shape: rings are H across, a circle W.
func (b Bed) Area() quantity.Area {
	switch b.Shape {
	case ShapeRings:
		return quantity.Area(float64(b.Rings) * math.Pi / 4 * b.H * b.H)
	case ShapeCircle:
		return quantity.Area(math.Pi / 4 * b.W * b.W)
	case ShapeOutline:
		if len(b.Corners) < 3 {
			return 0
		}
		return quantity.Area(PolygonOf(b.Corners).Area())
	}
	return quantity.Area(b.W * b.H)
}

// FitFrame sets a freehand bed's place and size from corners on the plan.
func (b *Bed) FitFrame(ps []Point) {
	low, high := Point{math.Inf(1), math.Inf(1)}, Point{math.Inf(-1), math.Inf(-1)}
	for _, p := range ps {
		low = Point{math.Min(low.X, p.X), math.Min(low.Y, p.Y)}
		high = Point{math.Max(high.X, p.X), math.Max(high.Y, p.Y)}
	}
	b.X, b.Y, b.W, b.H = low.X, low.Y, high.X-low.X, high.Y-low.Y
	b.Corners = nil
	for _, p := range ps {
		b.Corners = append(b.Corners, Point{p.X - low.X, p.Y - low.Y})
	}
}

// sides is the number of corners by which circles are approximated in comparisons.
const sides = 32

// polygons returns the bed's pieces as polygons.
func (b Bed) polygons() (out [][]Point) {
	if o := b.Outline(); len(o) > 0 {
		return [][]Point{o}
	}
	for _, c := range b.Circles() {
		ps := make([]Point, sides)
		for i := range ps {
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / sides)
			ps[i] = Point{c.Middle.X + c.Radius*cos, c.Middle.Y + c.Radius*sin}
		}
		out = append(out, ps)
	}
	return out
}

// touching is how deep two beds may overlap without counting, metres: beds may share an edge.
const touching = 0.01

// Overlaps reports whether two beds overlap.
func Overlaps(a, b Bed) bool {
	al, ah := a.Bounds()
	bl, bh := b.Bounds()
	if al.X > bh.X-touching || bl.X > ah.X-touching || al.Y > bh.Y-touching || bl.Y > ah.Y-touching {
		return false
	}
	for _, p := range a.polygons() {
		for _, q := range b.polygons() {
			if geom.Intersects(PolygonOf(shrunk(p)).AsGeometry(), PolygonOf(shrunk(q)).AsGeometry()) {
				return true
			}
		}
	}
	return false
}

// shrunk moves a polygon's corners toward their mean by half of touching.
func shrunk(ps []Point) []Point {
	var m Point
	for _, p := range ps {
		m.X, m.Y = m.X+p.X/float64(len(ps)), m.Y+p.Y/float64(len(ps))
	}
	out := make([]Point, len(ps))
	for i, p := range ps {
		d := math.Hypot(p.X-m.X, p.Y-m.Y)
		f := math.Max(0, d-touching/2) / math.Max(d, 1e-9)
		out[i] = Point{m.X + (p.X-m.X)*f, m.Y + (p.Y-m.Y)*f}
	}
	return out
}
