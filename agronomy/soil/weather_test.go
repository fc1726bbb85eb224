package soil_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

func ptrTo[T any](v T) *T { return &v }

func TestAlkalinityPrecedence(t *testing.T) {
	for _, c := range []struct {
		measured, hardness *float64
		ph                 *quantity.PH
		want               float64
	}{
		{ph: ptrTo(quantity.PH(7)), want: 40},
		{ph: ptrTo(quantity.PH(7.5)), want: 120},
		{ph: ptrTo(quantity.PH(8)), want: 220},
		{ph: ptrTo(quantity.PH(7.25)), want: 80},
		{ph: ptrTo(quantity.PH(7.75)), want: 170},
		{ph: ptrTo(quantity.PH(6)), want: 40},
		{ph: ptrTo(quantity.PH(9)), want: 220},
		{hardness: ptrTo(260.0), ph: ptrTo(quantity.PH(8)), want: 208},
		{measured: ptrTo(150.0), hardness: ptrTo(260.0), ph: ptrTo(quantity.PH(8)), want: 150},
	} {
		got, ok := soil.Alkalinity(c.measured, c.hardness, c.ph)
		assert.True(t, ok)
		assert.InDelta(t, c.want, got, 1e-9)
	}
	_, ok := soil.Alkalinity(nil, nil, nil)
	assert.False(t, ok)
}

func TestSouthernWeatherIsSixMonthsLater(t *testing.T) {
	for _, c := range soil.Climates {
		north, south := soil.FindWeather(c.ID, soil.North), soil.FindWeather(c.ID, soil.South)
		for m := range north.Rain {
			assert.Positive(t, north.Rain[m])
			assert.InDelta(t, north.Rain[m], south.Rain[(m+6)%12], 1e-9, "%s, month %d", c.ID, m+1)
		}
		if north.LastFrost.Month == 0 {
			assert.Zero(t, south.LastFrost)
			continue
		}
		assert.Equal(t, int(north.LastFrost.Month+5)%12+1, int(south.LastFrost.Month), c.ID)
		assert.Less(t, north.LastFrost.In(2026), north.FirstFrost.In(2026), "spring before autumn, %s", c.ID)
		assert.Greater(t, south.LastFrost.In(2026), south.FirstFrost.In(2026), c.ID)
	}
}

func TestParseMonthDay(t *testing.T) {
	for _, s := range []string{"04-25", "12-31", "01-01", ""} {
		d, err := soil.ParseMonthDay(s)
		require.NoError(t, err)
		assert.Equal(t, s, d.String())
	}
	d, _ := soil.ParseMonthDay("04-25")
	assert.Equal(t, quantity.Date(2027, 4, 25), d.In(2027))
	assert.Zero(t, soil.MonthDay{}.In(2027))
	for _, s := range []string{"25-04", "13-01", "02-30", "April", "4-25-2026", "02-29"} {
		_, err := soil.ParseMonthDay(s)
		assert.Error(t, err, s)
	}
}
