package instrument_test

import (
	"math"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/instrument"
)

func spot(id string) instrument.Spot {
	c, _ := soil.FindClimate(id, soil.North)
	return instrument.Spot{Climate: c, Usual: soil.FindWeather(id, soil.North)}
}

func TestFakeWeatherMatchesClimate(t *testing.T) {
	from := quantity.Date(2000, 1, 1)
	for _, id := range []string{"maritime", "continental", "prairie", "warm-temperate", "subtropical"} {
		at := spot(id)
		days, err := instrument.FakeWeather{Seed: 7}.Days(t.Context(), at, from, from+20*365, from+20*365)
		require.NoError(t, err)
		var rain, off, n float64
		for _, x := range days {
			rain += float64(*x.Rain)
			off += float64(*x.Soil - at.Climate.At(x.Day))
			n++
			require.GreaterOrEqual(t, float64(*x.Wind), 0.0)
			require.LessOrEqual(t, *x.Low, *x.Air)
			require.False(t, *x.Snow > 0 && *x.Air > 0, "snow falls in the cold")
		}
		usual := 0.0
		for _, mm := range at.Usual.Rain {
			usual += mm
		}
		assert.InEpsilon(t, usual, rain/20, 0.15, "rain of a year, %s", id)
		assert.InDelta(t, 0, off/n, 0.1, id)
	}
}

func TestFakeForecastErrorGrows(t *testing.T) {
	w, at := instrument.FakeWeather{Seed: 7}, spot("maritime")
	miss := func(ahead quantity.Day) (sum float64) {
		for d := quantity.Date(2026, 1, 1); d < quantity.Date(2028, 1, 1); d += 3 {
			was, err := w.Days(t.Context(), at, d, d, d)
			require.NoError(t, err)
			told, err := w.Days(t.Context(), at, d, d, d-ahead)
			require.NoError(t, err)
			sum += math.Abs(float64(*was[0].Air - *told[0].Air))
		}
		return sum
	}
	assert.Zero(t, miss(0))
	assert.Greater(t, miss(9), 1.5*miss(2))
	today := quantity.Date(2026, 11, 24)
	days, err := w.Days(t.Context(), at, today, today+30, today)
	require.NoError(t, err)
	assert.Len(t, days, 10, "ten days are forecast, and no more")
	again, err := w.Days(t.Context(), at, today, today+30, today)
	require.NoError(t, err)
	assert.Equal(t, days, again, "the same seed, the same weather")
}

func TestFileWeatherUnits(t *testing.T) {
	dir := t.TempDir()
	written := int64(0)
	write := func(name, text string) {
		written++
		path := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
		require.NoError(t, os.Chtimes(path, time.Now(), time.Unix(written*1000, 0)))
	}
	write("2026-10.csv", "\ufeffdate,soil_f,air_c,low_c,wind_mph,rain_in,snow_cm\n2026-11-23,50,8,,10,0.5,\n2026-11-24,41,4,\"-3,5\",2,0,2\n")
	write("2026-11.csv", "date, wind_km_h\n2026-11-23, 7.2\n")
	w := &instrument.FileWeather{Path: dir}
	read := func() calendar.Skies {
		days, err := w.Days(t.Context(), instrument.Spot{}, quantity.Date(2026, 11, 1), quantity.Date(2026, 12, 1), quantity.Date(2026, 11, 24))
		require.NoError(t, err)
		return days
	}
	days := read()
	require.Len(t, days, 2)
	assert.InDelta(t, 10, float64(*days[0].Soil), 1e-9)
	assert.InDelta(t, 2, float64(*days[0].Wind), 1e-9, "the later file goes before the earlier")
	assert.InDelta(t, 12.7, float64(*days[0].Rain), 1e-9)
	assert.Nil(t, days[0].Low)
	assert.Nil(t, days[0].Snow, "an empty cell is not known")
	assert.InDelta(t, -3.5, float64(*days[1].Low), 1e-9, "a comma serves")
	assert.Equal(t, calendar.Snowy, days.Against(days[1].Day, calendar.Work{Family: material.Ash}))
	write("2026-12.csv", "date,rain_mm\n2026-11-25,9\n")
	assert.Len(t, read(), 3, "a new file is seen")
	for text, says := range map[string]string{
		"date,cloud\n2026-11-25,4\n": `no column is called "cloud"`, "rain_mm\n4\n": "a column called date is needed",
		"date,rain_mm\n25.11.2026,4\n": "line 2", "date,rain_mm\n2026-11-25,-1\n": `line 2: "-1" is no rain_mm`,
		"date,soil_c\n2026-11-25,NaN\n": "is no soil_c", "date,soil_c\n2026-11-25,4\n2026-11-26,warm\n": `line 3: "warm" is no soil_c`,
	} {
		write("2026-12.csv", text)
		_, err := w.Days(t.Context(), instrument.Spot{}, 1, 2, 1)
		require.ErrorContains(t, err, says)
		assert.ErrorContains(t, err, "2026-12.csv")
	}
}
