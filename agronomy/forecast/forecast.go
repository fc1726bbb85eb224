// Package forecast predicts the pH and potassium of a bed in time, with quantiles, from its
// readings and applications, and learns the bed's own buffering, drift and strength of batches.
package forecast

import (
	"math"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// SurfaceSlow is how much slower a material acts that is not dug in.
const SurfaceSlow = 0.4

// Unreacted returns the share of a material that has not acted between two days, 0 to 1: first
// order in weekly steps at the usual soil temperature. Days in the wrong order give 1.
func Unreacted(r material.Reaction, w soil.Warmth, dug bool, from, to quantity.Day) float64 {
	if r.HalfLife <= 0 {
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
