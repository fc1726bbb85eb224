package calendar_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

func ptr[T any](x T) *T { return &x }

func TestTheWeatherOfADayAgainstWhatGoesOn(t *testing.T) {
	d := at("2026-11-24")
	for _, c := range []struct {
		name   string
		sky    calendar.Sky
		family material.Family
		want   calendar.SkyWhy
	}{
		{"still and dry", calendar.Sky{Wind: ptr(quantity.Speed(2)), Rain: ptr(quantity.Rainfall(0))}, material.Ash, calendar.Fair},
		{"wind just under", calendar.Sky{Wind: ptr(quantity.Speed(3.99))}, material.Ash, calendar.Fair},
		{"wind at four", calendar.Sky{Wind: ptr(quantity.Speed(4))}, material.Ash, calendar.Windy},
		{"wind and lime", calendar.Sky{Wind: ptr(quantity.Speed(4))}, material.Lime, calendar.Windy},
		{"wind and manure", calendar.Sky{Wind: ptr(quantity.Speed(9))}, material.FreshManure, calendar.Fair},
		{"eight millimetres", calendar.Sky{Rain: ptr(quantity.Rainfall(8))}, material.Ash, calendar.Fair},
		{"a tenth more", calendar.Sky{Rain: ptr(quantity.Rainfall(8.1))}, material.Ash, calendar.Rainy},
		{"rain on lime", calendar.Sky{Rain: ptr(quantity.Rainfall(20))}, material.Lime, calendar.Fair},
		{"soaked", calendar.Sky{Rain: ptr(quantity.Rainfall(36))}, material.Lime, calendar.Soaked},
		{"soil at freezing", calendar.Sky{Soil: ptr(quantity.Temperature(0))}, material.Lime, calendar.Frosty},
		{"soil above it", calendar.Sky{Soil: ptr(quantity.Temperature(1.5))}, material.Lime, calendar.Fair},
		{"a hard night", calendar.Sky{Low: ptr(quantity.Temperature(-3))}, material.Ash, calendar.Frosty},
		{"a light frost", calendar.Sky{Low: ptr(quantity.Temperature(-2.9))}, material.Ash, calendar.Fair},
		{"snow lies", calendar.Sky{Snow: ptr(quantity.Depth(0.01))}, material.Potash, calendar.Snowy},
		{"none lies", calendar.Sky{Snow: ptr(quantity.Depth(0))}, material.Potash, calendar.Fair},
	} {
		c.sky.Day = d
		s := calendar.Skies{c.sky}
		assert.Equal(t, c.want, s.Against(d, c.family), c.name)
		assert.Equal(t, calendar.Unknown, s.Against(d+1, c.family), "nobody said")
	}
}

func TestRainOfThreeDaysSoaksTheGround(t *testing.T) {
	d := at("2026-11-24")
	var s calendar.Skies
	for n := range quantity.Day(10) {
		rain := quantity.Rainfall(0)
		if n >= 2 && n < 5 {
			rain = 12
		}
		s = append(s, calendar.Sky{Day: d + n, Rain: &rain, Wind: ptr(quantity.Speed(2))})
	}
	assert.Equal(t, calendar.Fair, s.Against(d+3, material.Lime), "24 mm")
	assert.Equal(t, calendar.Soaked, s.Against(d+4, material.Lime), "36 mm in three days")
	assert.Equal(t, calendar.Fair, s.Against(d+5, material.Lime), "the first of them is four days back")
	assert.Equal(t, d+5, s.NextFair(d+1, material.Ash), "ash waits for the wet days too")
	assert.Equal(t, d+2, s.NextFair(d+1, material.Lime))
	assert.Equal(t, quantity.Day(0), s.NextFair(d+9, material.Lime), "beyond what is known")
	*s[5].Wind = 6
	assert.Equal(t, d+6, s.NextFair(d+3, material.Lime, material.Ash))
}
