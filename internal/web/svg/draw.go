// Package svg computes the program's pictures as plain figures that templates write as SVG. Each
// picture also comes as words or as a table.
package svg

import (
	"math"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
)

// scale maps values to pixels.
type scale struct{ from, to, px0, px1 float64 }

func (s scale) at(v float64) Px {
	return Px(s.px0 + (v-s.from)/(s.to-s.from)*(s.px1-s.px0))
}

// clamped clamps a value to the scale.
func (s scale) clamped(v float64) Px { return s.at(min(max(v, s.from), s.to)) }

// Text is a label at a place.
type Text struct {
	X, Y Px
	Text string
}

// Tick is a mark on an axis; Label may be empty.
type Tick struct {
	At    Px
	Major bool
	Label string
}

// The possible spacings of a chart's grid, closest first, and the room that a label needs.
var (
	phSteps = []float64{0.5, 1, 2, 5}
	kSteps  = []float64{50, 100, 200, 500, 1000}
)

const tickRoom = 13

// ticks returns the grid of a scale, as close as its labels allow.
func (s scale) ticks(steps []float64, label func(float64) string) (out []Tick) {
	room := math.Abs(s.px1-s.px0) / (s.to - s.from)
	step := steps[len(steps)-1]
	for _, x := range steps {
		if room*x >= tickRoom {
			step = x
			break
		}
	}
	for _, v := range stepsFrom(math.Ceil(s.from/step-1e-9)*step, s.to+1e-9, step) {
		out = append(out, Tick{At: s.at(v), Label: label(v)})
	}
	return out
}

func phLabel(v float64) string { return text.PH(quantity.PH(v)) }

// mostSteps bounds the number of ticks or grid lines.
const mostSteps = 200

// stepsFrom returns the values from one to another in steps, at most mostSteps.
func stepsFrom(from, to, step float64) (out []float64) {
	for n := range mostSteps {
		v := from + float64(n)*step
		if !(v <= to) {
			break
		}
		out = append(out, v)
	}
	return out
}
