package instrument

import (
	"context"
	"math"
	"math/rand/v2"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Weather supplies past weather and a forecast.
type Weather interface {
	Name() string
	Simulated() bool
	// Days returns the days of a range in order: measured up to today, then forecast. Unknown days
	// are left out.
	Days(ctx context.Context, at Spot, from, to, today quantity.Day) (calendar.Skies, error)
}

// Spot is the place. A real station ignores it; a stand-in computes from its usual weather.
type Spot struct {
	Climate soil.Climate
	Usual   soil.Weather
}

// ForecastDays is the length of a forecast, today included.
const ForecastDays quantity.Day = 10

// FakeWeather is a stand-in for a weather station and a forecast: usual weather with persistence
// from day to day. The same seed gives the same weather, and forecasts are less accurate further
// ahead.
type FakeWeather struct{ Seed uint64 }

// Name implements Weather.
func (FakeWeather) Name() string { return "Simulated station" }

// Simulated implements Weather.
func (FakeWeather) Simulated() bool { return true }

// Its parameters.
const (
	airSpread, soilSpread = 3.0, 1.0 // °C about the usual
	nightDrop             = 4.0
	usualWind             = 2.6 // m/s
	wetDay                = 6.5 // mm on a wet day
	keeps                 = 0.7 // persistence of a deviation
	memory                = 12  // days
)

// Days implements Weather.
func (w FakeWeather) Days(_ context.Context, at Spot, from, to, today quantity.Day) (calendar.Skies, error) {
	to = min(to, today+ForecastDays-1)
	var out calendar.Skies
	for d := from; d <= to; d++ {
		out = append(out, w.day(at, d, max(0, d-today)))
	}
	return out, nil
}

// drift returns a slowly varying standard normal deviation.
func (w FakeWeather) drift(d quantity.Day, kind uint64) float64 {
	sum, share := 0.0, 1.0
	for n := range quantity.Day(memory) {
		sum += share * rand.New(rand.NewPCG(w.Seed+kind, uint64(d-n))).NormFloat64()
		share *= keeps
	}
	return sum * math.Sqrt(1-keeps*keeps)
}

// The series that it draws.
const (
	ofAir uint64 = iota << 8
	ofRain
	ofWind
	ofMiss
)

// day returns a day's weather, forecast so many days before.
func (w FakeWeather) day(at Spot, d, ahead quantity.Day) calendar.Sky {
	miss := 0.0
	if ahead > 0 {
		miss = 0.12 * math.Sqrt(float64(ahead)) * rand.New(rand.NewPCG(w.Seed+ofMiss, uint64(d)<<8|uint64(ahead))).NormFloat64()
	}
	warm := w.drift(d, ofAir) + miss
	earth := float64(at.Climate.At(d)) + soilSpread*warm
	air := float64(at.Climate.At(d)) + airSpread*warm
	low := air - max(0.5, nightDrop+1.5*w.drift(d, ofWind))
	wind := usualWind * math.Exp(0.45*(w.drift(d, ofWind)+miss))
	month := d.Month() - 1
	chance := min(0.85, at.Usual.Rain[month]/wetDay/30)
	rain, snow := 0.0, 0.0
	if wet := w.drift(d, ofRain) + miss; normal(wet) < chance {
		rain = wetDay * -math.Log(max(1e-3, normal(wet)/chance)) // exponential amounts
	}
	if air <= 0 && rain > 0 {
		snow = rain / 100 // 1 cm of snow per mm of water
	}
	round := func(x float64, places int) float64 { return quantity.Round(x, places) }
	sky := calendar.Sky{Day: d}
	t1, t2, t3 := quantity.Temperature(round(earth, 1)), quantity.Temperature(round(air, 1)), quantity.Temperature(round(low, 1))
	s, r, deep := quantity.Speed(round(wind, 1)), quantity.Rainfall(round(rain, 1)), quantity.Depth(round(snow, 2))
	sky.Soil, sky.Air, sky.Low, sky.Wind, sky.Rain, sky.Snow = &t1, &t2, &t3, &s, &r, &deep
	return sky
}

// normal returns the standard normal distribution function.
func normal(x float64) float64 { return 0.5 * math.Erfc(-x/math.Sqrt2) }
