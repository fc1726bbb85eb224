package forecast_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// recorded returns a bed of the maritime climate, read first four years before its day.
func recorded(t *testing.T) forecast.Record {
	t.Helper()
	climate, ok := soil.FindClimate("maritime", soil.North)
	require.True(t, ok)
	loam, ok := soil.FindTexture(soil.Loam)
	require.True(t, ok)
	day := quantity.Date(2026, 10, 1)
	return forecast.Record{Ground: soil.Ground{Texture: loam, Depth: 0.15, Worked: soil.Dug}, Climate: climate, Day: day,
		Readings: []soil.Reading{{Date: day - 4*ledger.YearDays, PH: 6, Method: soil.Lab, Cores: 12}}}
}

// pull returns what one of the pulls comes to; 0 where it is not there.
func pull(r *forecast.Record, id string) float64 {
	for _, p := range r.Pulls() {
		if p.ID == id {
			return p.Rate
		}
	}
	return 0
}

// Rain pulls by the climate, g CaCO₃/m² a year.
func TestRainDriftByClimate(t *testing.T) {
	for id, want := range map[string]float64{"maritime": -18, "continental": -10, "prairie": -5, "warm-temperate": -18, "subtropical": -25} {
		r := recorded(t)
		r.Climate.ID = id
		assert.InDelta(t, want, pull(&r, forecast.PullRain), 1e-9, id)
	}
}

func grown(t *testing.T, id string, from, to quantity.Day) ledger.Grown {
	t.Helper()
	c, ok := crop.Find(id)
	require.True(t, ok, id)
	return ledger.Grown{Crop: c, From: from, To: to}
}

func putOn(t *testing.T, k material.Kind, day quantity.Day, rate quantity.Rate) forecast.Application {
	t.Helper()
	m, ok := material.Find(k)
	require.True(t, ok, k)
	return forecast.Application{Application: ledger.Application{Date: day, Material: m, Rate: rate}}
}

// Rain by the climate; 0.4 g for each gram of K₂O that crops carry off, the usual crop's 10 where none is on record.
func TestPullsMatchGuide(t *testing.T) {
	r := recorded(t)
	assert.InDelta(t, -18, pull(&r, forecast.PullRain), 1e-9)
	assert.InDelta(t, -4, pull(&r, forecast.PullCrop), 1e-9)
	assert.Zero(t, pull(&r, forecast.PullWater))
	assert.Zero(t, pull(&r, forecast.PullFeed))
	// Two tomatoes of 25 g in four years; one that was off before the first reading counts not, one to come neither.
	first := r.Readings[0].Date
	r.Grown = []ledger.Grown{grown(t, "tomato", first-300, first-100), grown(t, "tomato", first+200, first+380),
		grown(t, "tomato", first+600, first+780)}
	assert.InDelta(t, -0.4*2*25/4, pull(&r, forecast.PullCrop), 1e-9)
	// What stands for years carries off its 8 g in each.
	r.Grown = []ledger.Grown{grown(t, "raspberry", first-900, 0)}
	assert.InDelta(t, -0.4*8, pull(&r, forecast.PullCrop), 0.01)
}

// Rotted manure comes to 5 g a kilogram over the years, feeds to what their nitrogen makes; ash is an application and no pull.
func TestFeedsContributeToDrift(t *testing.T) {
	r := recorded(t)
	first := r.Readings[0].Date
	r.Applied = []forecast.Application{putOn(t, "rotted-manure", first+100, 4000), putOn(t, "rotted-manure", first-100, 4000),
		putOn(t, material.HardwoodAsh, first+200, 200), putOn(t, material.TapWater, first+300, 200_000)}
	r.Water.Alkalinity = 200
	assert.InDelta(t, 4*5/4.0, pull(&r, forecast.PullFeed), 1e-9, "what went on before the first reading is in it")
	assert.InDelta(t, 200*0.2/4, pull(&r, forecast.PullWater), 1e-9)
	r.Applied = append(r.Applied, putOn(t, "ammonium-nitrate", first+100, 100))
	assert.InDelta(t, 5-1.8*34/4, pull(&r, forecast.PullFeed), 1e-9)
	method, err := soil.Buffer(soil.ByTable, r.Ground, r.Readings[0], 6.5)
	require.NoError(t, err)
	b := r.Model(method, false)
	require.Len(t, b.Additions, 1)
	assert.InDelta(t, 100, b.Additions[0].CaCO3, 1e-9, "200 g of ash at a half")
	assert.InDelta(t, -18-4+10+5-1.8*34/4, b.Drift, 1e-9)
}

// A crop that stands for years goes on carrying potassium off in years to come; one of a season does not.
func TestPotassiumRemovalByRecordedCrops(t *testing.T) {
	r := recorded(t)
	k := quantity.Concentration(120)
	r.Readings[0].Potassium = &k
	held := r.Potassium(false, r.Day)
	assert.InDelta(t, 0.03, held.Leached, 1e-9, "a loam loses 3 % of what is over half of critical")
	assert.Positive(t, held.Half)
	off := func() (sum float64) {
		b := r.Potassium(true, r.Day.AddMonths(24))
		for _, m := range b.Moves {
			sum += m.Within(r.Day, r.Day.AddMonths(24))
		}
		return sum
	}
	r.Grown = []ledger.Grown{grown(t, "tomato", r.Day.AddMonths(-3), 0)}
	assert.InDelta(t, -25*88/180.0, off(), 0.1, "the rest of its season")
	r.Grown = []ledger.Grown{grown(t, "raspberry", r.Day.AddMonths(-30), 0)}
	assert.InDelta(t, -16, off(), 0.2)
}
