package forecast

import (
	"math"

	"zephyrfield/agronomy/quantity"
)

// Pull is one of the things that move a bed's pH from year to year, g CaCO₃/m² a year: above 0 it
// sweetens.
type Pull struct {
	ID   string
	Rate float64
}

// Ids of pulls.
const (
	PullRain  = "rain"
	PullCrop  = "crop"
	PullWater = "water"
	PullFeed  = "feed"
)

// rain is what rain and leaching pull, by the place's climate (field guide, section 7).
var rain = map[string]float64{"maritime": -18, "continental": -10, "prairie": -5, "warm-temperate": -18, "subtropical": -25}

// temperateRain is that of a climate that is not in the table.
const temperateRain = -18

// removalPull is what a gram of K₂O that a crop carries off pulls.
const removalPull = -0.4

// Water is what a bed is watered with: litres a square metre in a year, and mg/L CaCO₃.
type Water struct{ Litres, Alkalinity float64 }

// RemovalPull returns what a crop pulls that carries off so much K₂O in a year, g CaCO₃/m².
func RemovalPull(k2o quantity.Rate) float64 { return removalPull * float64(k2o) }

// The doubt of a drift: so much of its sum, and so much besides.
const (
	driftShare = 0.4
	driftLeast = 3.0
)

// Drift returns the sum of pulls with its doubt.
func Drift(all []Pull) (sum, sd float64) {
	for _, p := range all {
		sum += p.Rate
	}
	return sum, driftShare*math.Abs(sum) + driftLeast
}
