package calendar_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

var lime, ash = calendar.Work{Family: material.Lime}, calendar.Work{Family: material.Ash}

func ptr[T any](x T) *T { return &x }

func TestWeatherRules(t *testing.T) {
	d := at("2026-11-24")
	for _, c := range []struct {
		name   string
		sky    calendar.Sky
		family material.Family
		want   calendar.SkyWhy
		clay   bool
	}{
		{"still and dry", calendar.Sky{Wind: ptr(quantity.Speed(2)), Rain: ptr(quantity.Rainfall(0))}, material.Ash, calendar.Fair, false},
		{"wind just under", calendar.Sky{Wind: ptr(quantity.Speed(3.99))}, material.Ash, calendar.Fair, false},
		{"wind at four", calendar.Sky{Wind: ptr(quantity.Speed(4))}, material.Ash, calendar.Windy, false},
		{"wind and lime", calendar.Sky{Wind: ptr(quantity.Speed(4))}, material.Lime, calendar.Windy, false},
		{"wind and manure", calendar.Sky{Wind: ptr(quantity.Speed(9))}, material.FreshManure, calendar.Fair, false},
		{"eight millimetres", calendar.Sky{Rain: ptr(quantity.Rainfall(8))}, material.Ash, calendar.Fair, false},
		{"a tenth more", calendar.Sky{Rain: ptr(quantity.Rainfall(8.1))}, material.Ash, calendar.Rainy, false},
		{"rain on lime", calendar.Sky{Rain: ptr(quantity.Rainfall(20))}, material.Lime, calendar.Fair, false},
		{"rain on lime that is dug into clay", calendar.Sky{Rain: ptr(quantity.Rainfall(8.1))}, material.Lime, calendar.Rainy, true},
		{"a tenth less", calendar.Sky{Rain: ptr(quantity.Rainfall(8))}, material.Lime, calendar.Fair, true},
		{"rain on sulfur that is dug into clay", calendar.Sky{Rain: ptr(quantity.Rainfall(20))}, material.Sulfur, calendar.Fair, true},
		{"soaked", calendar.Sky{Rain: ptr(quantity.Rainfall(36))}, material.Lime, calendar.Soaked, false},
		{"soil at freezing", calendar.Sky{Soil: ptr(quantity.Temperature(0))}, material.Lime, calendar.Frosty, false},
		{"soil above it", calendar.Sky{Soil: ptr(quantity.Temperature(1.5))}, material.Lime, calendar.Fair, false},
		{"a hard night", calendar.Sky{Low: ptr(quantity.Temperature(-3))}, material.Ash, calendar.Frosty, false},
		{"a light frost", calendar.Sky{Low: ptr(quantity.Temperature(-2.9))}, material.Ash, calendar.Fair, false},
		{"snow lies", calendar.Sky{Snow: ptr(quantity.Depth(0.01))}, material.Potash, calendar.Snowy, false},
		{"none lies", calendar.Sky{Snow: ptr(quantity.Depth(0))}, material.Potash, calendar.Fair, false},
	} {
		c.sky.Day = d
		s := calendar.Skies{c.sky}
		assert.Equal(t, c.want, s.Against(d, calendar.Work{Family: c.family, DugClay: c.clay}), c.name)
		assert.Equal(t, calendar.Unknown, s.Against(d+1, calendar.Work{Family: c.family}), "nobody said")
	}
}

func TestSoakingRain(t *testing.T) {
	d := at("2026-11-24")
	var s calendar.Skies
	for n := range quantity.Day(10) {
		rain := quantity.Rainfall(0)
		if n >= 2 && n < 5 {
			rain = 12
		}
		s = append(s, calendar.Sky{Day: d + n, Rain: &rain, Wind: ptr(quantity.Speed(2))})
	}
	assert.Equal(t, calendar.Fair, s.Against(d+3, lime), "24 mm")
	assert.Equal(t, calendar.Soaked, s.Against(d+4, lime), "36 mm in three days")
	assert.Equal(t, calendar.Fair, s.Against(d+5, lime), "the first of them is four days back")
	assert.Equal(t, d+5, s.NextFair(d+1, ash), "ash waits for the wet days too")
	assert.Equal(t, d+2, s.NextFair(d+1, lime))
	assert.Equal(t, quantity.Day(0), s.NextFair(d+9, lime), "beyond what is known")
	*s[5].Wind = 6
	assert.Equal(t, d+6, s.NextFair(d+3, lime, ash))
}

// Only what is dug into clay waits for it to dry.
func TestWetClayIsNotDug(t *testing.T) {
	for _, c := range []struct {
		texture soil.Texture
		worked  soil.Worked
		use     soil.Use
		dug     bool
	}{{soil.Clay, soil.Dug, soil.UseBed, true}, {soil.ClayLoam, soil.Dug, soil.UseBed, true}, {soil.Loam, soil.Dug, soil.UseBed, false},
		{soil.Clay, soil.Surface, soil.UseBed, false}, {soil.Clay, soil.Dug, soil.UseLawn, false}} {
		texture, _ := soil.FindTexture(c.texture)
		w := calendar.WorkOn(material.Lime, &soil.Ground{Texture: texture, Worked: c.worked, Use: c.use})
		assert.Equal(t, c.dug, w.DugClay, "%+v", c)
	}
}
