package forecast_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// A bed of 321 g a pH, twice as hard to shift: 100 g/m² of a batch that proved half as strong make 0.08, and what is named and
// what is not comes to the drift that was learned.
func TestMovesUseLearnedStrength(t *testing.T) {
	b := promised(6.0, 400, soil.Lab, atOnce)
	b.Additions[0].Date, b.Additions[0].CaCO3, b.Additions[0].Kind = b.Readings[0].Date+100, 100, material.CalciticLime
	l := forecast.Learned{Buffering: forecast.Spread{Median: 2}, Drift: forecast.Spread{Median: -40}, Level: forecast.Spread{Median: 5.5},
		Strength: map[string]float64{"bag": 0.5}}
	pulls := []forecast.Pull{{ID: forecast.PullRain, Rate: -18}, {ID: forecast.PullCrop, Rate: -4}}
	from := b.Readings[0].Date
	year := forecast.Moves(&b, pulls, &l, from, from+365)
	require.Len(t, year, 4)
	assert.Equal(t, material.CalciticLime, year[0].Kind)
	assert.InDelta(t, 100*0.5/321/2, year[0].PH, 1e-3)
	sum := 0.0
	for _, m := range year[1:] {
		sum += m.PH
	}
	assert.Equal(t, forecast.PullElse, year[3].ID)
	assert.InDelta(t, forecast.Yearly(&b, &l), sum, 1e-3)
	assert.InDelta(t, -40.0/321/2, sum, 1e-3)
	// What was applied after the time moved nothing in it.
	assert.Empty(t, forecast.Moves(&b, nil, &forecast.Learned{Buffering: l.Buffering, Level: l.Level}, from, from+90))
}

func line(from quantity.Day, ph ...float64) (out []forecast.Spread) {
	for i, x := range ph {
		out = append(out, forecast.Spread{Date: from.AddMonths(i), Median: x, P05: x - 1, P95: x + 1})
	}
	return out
}

// The month that leaves the range is reported, from a day on, and only once it was in it.
func TestLeaves(t *testing.T) {
	d := quantity.Date(2026, 1, 1)
	for name, x := range map[string]struct {
		ph   []float64
		want int
	}{"falls out": {[]float64{6.2, 6.0, 5.99, 5.8}, 2}, "stays": {[]float64{6.2, 6.0, 6.0}, -1}, "never in": {[]float64{5.5, 5.6, 5.5}, -1},
		"comes in and falls out": {[]float64{5.5, 6.1, 6.2, 5.9}, 3}, "rises out": {[]float64{6.9, 7.0, 7.01}, 2}} {
		day, ok := forecast.Leaves(line(d, x.ph...), d, 6, 7)
		if assert.Equal(t, x.want >= 0, ok, name); ok {
			assert.Equal(t, d.AddMonths(x.want), day, name)
		}
	}
	_, ok := forecast.Leaves(line(d, 6.2, 5.9, 6.1, 6.2), d.AddMonths(2), 6, 7)
	assert.False(t, ok, "what was before the day does not count")
}

// Between two months a forecast lies on the straight line; its ends hold.
func TestOnInterpolates(t *testing.T) {
	d := quantity.Date(2026, 1, 1)
	ph := line(d, 6, 7)
	assert.InDelta(t, 6.5, forecast.On(ph, d+15).Median, 0.02)
	assert.InDelta(t, 5.5, forecast.On(ph, d+15).P05, 0.02)
	assert.InDelta(t, 6, forecast.On(ph, d-40).Median, 1e-9)
	assert.InDelta(t, 7, forecast.On(ph, d+400).Median, 1e-9)
	assert.InDelta(t, 7, forecast.On(ph, d.AddMonths(1)).Median, 1e-9)
	assert.Zero(t, forecast.On(nil, d).Median)
}
