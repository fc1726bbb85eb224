package forecast

import (
	"math"

	"zephyrfield/agronomy/quantity"
)

// Pull is one cause of drift, g CaCO₃/m² a year, positive when it raises pH.
type Pull struct {
	ID   string
	Rate float64
}

// The ids of pulls.
const (
	PullRain  = "rain"
	PullCrop  = "crop"
	PullWater = "water"
	PullFeed  = "feed"
)

// rain is the drift by rain and leaching, by climate (guide, section 7).
var rain = map[string]float64{"maritime": -18, "continental": -10, "prairie": -5, "warm-temperate": -18, "subtropical": -25}

// temperateRain is the value for a climate not in the table.
const temperateRain = -18

// removalPull is the drift per gram of K₂O removed by crops.
const removalPull = -0.4

// Water is a bed's watering: litres per square metre and year, and mg/L CaCO₃.
type Water struct{ Litres, Alkalinity float64 }

// RemovalPull returns the drift by a crop that removes so much K₂O in a year, g CaCO₃/m².
func RemovalPull(k2o quantity.Rate) float64 { return removalPull * float64(k2o) }

// The standard deviation of a drift: a share of the sum, and a constant.
const (
	driftShare = 0.4
	driftLeast = 3.0
)

// Drift returns the sum of pulls with its standard deviation.
func Drift(all []Pull) (sum, sd float64) {
	for _, p := range all {
		sum += p.Rate
	}
	return sum, driftShare*math.Abs(sum) + driftLeast
}
