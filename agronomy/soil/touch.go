package soil

import (
	"math"

	"zephyrfield/agronomy/quantity"
)

// triangle is the USDA texture triangle as rules in order, shares in per cent;
// class is the table's row that stands for it.
var triangle = []struct {
	name  string
	class Texture
	holds func(sand, silt, clay float64) bool
}{
	{"sand", Sand, func(sa, si, c float64) bool { return si+1.5*c < 15 }},
	{"loamy sand", LoamySand, func(sa, si, c float64) bool { return si+2*c < 30 }},
	{"sandy loam", SandyLoam, func(sa, si, c float64) bool { return c < 20 && sa > 52 || c < 7 && si < 50 }},
	{"silt", SiltLoam, func(sa, si, c float64) bool { return si >= 80 && c < 12 }},
	{"silt loam", SiltLoam, func(sa, si, c float64) bool { return si >= 50 && c < 27 }},
	{"sandy clay loam", ClayLoam, func(sa, si, c float64) bool { return c >= 20 && c < 35 && si < 28 && sa > 45 }},
	{"loam", Loam, func(sa, si, c float64) bool { return c < 27 }},
	{"silty clay loam", ClayLoam, func(sa, si, c float64) bool { return c < 40 && sa <= 20 }},
	{"clay loam", ClayLoam, func(sa, si, c float64) bool { return c < 40 && sa <= 45 }},
	{"sandy clay", Clay, func(sa, si, c float64) bool { return sa > 45 }},
	{"silty clay", Clay, func(sa, si, c float64) bool { return si >= 40 }},
	{"clay", Clay, func(sa, si, c float64) bool { return true }},
}

// JarTest is a soil shaken in water and left to settle: the layers, any one
// unit of length.
type JarTest struct{ Sand, Silt, Clay float64 }

// Class reads the triangle: the USDA name, the table's row that stands for it,
// and the clay share. ok is false when there are no layers to speak of.
func (j JarTest) Class() (usda string, class TextureClass, clay quantity.Percent, ok bool) {
	all := j.Sand + j.Silt + j.Clay
	if !(j.Sand >= 0 && j.Silt >= 0 && j.Clay >= 0 && all > 0) || math.IsInf(all, 0) {
		return "", TextureClass{}, 0, false
	}
	sand, silt, c := 100*j.Sand/all, 100*j.Silt/all, 100*j.Clay/all
	for _, t := range triangle {
		if t.holds(sand, silt, c) {
			row, found := FindTexture(t.class)
			return t.name, row, quantity.Percent(c), found
		}
	}
	return "", TextureClass{}, 0, false
}

// Feel is four questions put to a moist handful.
type Feel struct {
	// Ball: does it hold a ball when squeezed?
	Ball bool
	// Ribbon is how long a ribbon it presses out to between thumb and finger.
	Ribbon quantity.Depth
	// Gritty and Smooth: how does a wet pinch of it rub? Both false: neither.
	Gritty, Smooth bool
}

// feelRows are the answers by length of ribbon, shortest first.
var feelRows = []struct {
	to                      quantity.Depth
	gritty, smooth, neither Texture
}{
	{0.005, LoamySand, SiltLoam, SandyLoam},
	{0.025, SandyLoam, SiltLoam, Loam},
	{0.05, ClayLoam, ClayLoam, ClayLoam},
	{1, Clay, Clay, Clay},
}

// Class reads the table of answers.
func (f Feel) Class() TextureClass {
	t := Sand
	if f.Ball {
		for _, r := range feelRows {
			if f.Ribbon >= r.to {
				continue
			}
			switch {
			case f.Gritty:
				t = r.gritty
			case f.Smooth:
				t = r.smooth
			default:
				t = r.neither
			}
			break
		}
	}
	row, _ := FindTexture(t)
	return row
}
