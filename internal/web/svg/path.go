package svg

import (
	"math"
	"strconv"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// Px is a coordinate in a picture's units, written to a tenth.
type Px float64

// widest bounds coordinates; no picture is that large.
const widest = 1e9

// String rounds to a tenth.
func (p Px) String() string { return string(p.appendTo(nil)) }

func (p Px) appendTo(b []byte) []byte {
	if !(math.Abs(float64(p)) < widest) {
		return append(b, '0')
	}
	tenths := int64(quantity.Round(10*float64(p), 0))
	if tenths < 0 {
		b, tenths = append(b, '-'), -tenths
	}
	b = strconv.AppendInt(b, tenths/10, 10)
	if tenths%10 != 0 {
		b = append(b, '.', byte('0'+tenths%10))
	}
	return b
}

// Path is the data of a path element.
type Path string

// moveTo starts a path.
func moveTo(x, y Px) Path { return Path("M" + x.String() + " " + y.String()) }

func (p Path) lineTo(x, y Px) Path { return p + Path("L"+x.String()+" "+y.String()) }

// to adds a line to a point, or starts there.
func (p Path) to(x, y Px) Path {
	if p == "" {
		return moveTo(x, y)
	}
	return p.lineTo(x, y)
}

// acrossTo and downTo add horizontal and vertical lines to a coordinate, across and down ones of a
// length.
func (p Path) acrossTo(x Px) Path { return p + Path("H"+x.String()) }
func (p Path) downTo(y Px) Path   { return p + Path("V"+y.String()) }
func (p Path) across(d Px) Path   { return p + Path("h"+d.String()) }
func (p Path) down(d Px) Path     { return p + Path("v"+d.String()) }

// through adds a line through points.
func through(points []garden.Point, at func(garden.Point) (x, y Px)) (p Path) {
	for i := range points {
		p = p.to(at(points[i]))
	}
	return p
}

// swingTo adds a curve between two points that is horizontal at both.
func (p Path) swingTo(fromX, fromY, x, y Px) Path {
	middle := ((fromX + x) / 2).String()
	return p + Path("C"+middle+" "+fromY.String()+" "+middle+" "+y.String()+" "+x.String()+" "+y.String())
}

func (p Path) closed() Path { return p + "Z" }

// Transform is the value of a transform attribute.
type Transform string

func moved(x, y Px) Transform { return Transform("translate(" + x.String() + " " + y.String() + ")") }

// turnedUp rotates text to be read from below.
const turnedUp Transform = "rotate(-90)"

// turned adds a clockwise rotation in degrees.
func (t Transform) turned(degrees Px) Transform {
	return t + Transform(" rotate("+degrees.String()+")")
}
