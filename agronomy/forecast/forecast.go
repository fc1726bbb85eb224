// Package forecast predicts a bed's pH and potassium over time, with quantiles, from its readings
// and applications, and learns its buffering, drift and the strength of batches.
package forecast

import (
	"math"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// SurfaceSlow is the speed factor of a material that is not dug in.
const SurfaceSlow = 0.4

// Unreacted returns the unreacted share of a material between two days, 0 to 1: first order, in
// weekly steps, at the given soil temperatures. It is 1 when the days are reversed.
func Unreacted(r material.Reaction, w soil.Warmth, dug bool, from, to quantity.Day) float64 {
	if r.HalfLife <= 0 { // at once
		if to < from {
			return 1
		}
		return 0
	}
	halves := 0.0
	for d := from; d < to; d += 7 {
		step := min(float64(to-d)/7, 1)
		halves += step * r.RateAt(w.At(d+quantity.Day(3)))
	}
	if !dug {
		halves *= SurfaceSlow
	}
	return math.Exp2(-halves / r.HalfLife)
}
