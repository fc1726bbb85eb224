package keepers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/seasons"
)

// fedYard is a bed that was tested for potassium four times, in the middle of months, while ash and crops moved it.
func fedYard(t *testing.T) *yard {
	y := newYard(t)
	y.add(y.crop("tomato", "2024-05-10", "2024-10-10"), y.crop("tomato", "2025-05-10", "2025-10-10"),
		y.crop("raspberry", "2025-11-01", ""))
	for day, k := range map[string]quantity.Concentration{"2023-10-17": 120, "2024-10-17": 112, "2025-10-17": 100, "2026-06-17": 96} {
		r := y.read(day, soil.Lab, 6.0)
		r.Potassium, r.Extractant = ptr(k), soil.AmmoniumAcetate
		y.add(r)
	}
	y.add(&garden.Application{BedID: y.bed.ID, Date: at("2026-03-01"), What: material.HardwoodAsh, Rate: 100, Total: 960},
		&garden.Application{BedID: y.bed.ID, Date: at("2026-09-05"), What: material.HardwoodAsh, Rate: 100, Total: 960})
	return y
}

// nowOf is the potassium that Ground has of the bed on a day.
func (y *yard) nowOf(day quantity.Day) soil.PotassiumNow {
	y.t.Helper()
	v, err := y.keep.Plots.On(ctx, today, day, plots.Foretold{})
	require.NoError(y.t, err)
	p, ok := v.Plot(y.bed.ID)
	require.True(y.t, ok)
	require.NotNil(y.t, p.K.Now)
	return p.K
}

// Ground, the bed's record, its dose and the line through the years have one figure of today's potassium, and one of a day to come.
func TestPotassiumIsOneFigure(t *testing.T) {
	y := fedYard(t)
	// What is to go on today is not in the ground yet.
	y.add(&garden.Task{BedID: y.bed.ID, Kind: garden.TaskGo, What: material.PotassiumSulfate, Rate: 30, Total: 288, Due: today,
		State: garden.Open})
	now := y.nowOf(today)
	assert.Equal(t, quantity.Concentration(96), *now.Read)
	s := y.season()
	assert.InDelta(t, float64(*now.Now), forecast.On(s.K, today).Median, 1e-3, "the line with what is planned")
	assert.InDelta(t, float64(*now.Now), forecast.On(s.KIdle, today).Median, 1e-3, "the line without")
	w := y.dosed(desk.Choice{})
	assert.InDelta(t, float64(*now.Now), float64(*w.Answer.K.Now), 1e-9, "the dose")
	rec, err := y.keep.Plots.Bed(ctx, y.bed.ID, today)
	require.NoError(t, err)
	assert.InDelta(t, float64(*now.Now), float64(*rec.K.Now), 1e-9, "the record")
	// A day to come, in the middle of a month, with what is planned by then.
	later := today + 100
	then := y.nowOf(later)
	k := seasons.PotassiumOf(&rec, w.Garden, s.Planning(), today, later, later.AddMonths(3))
	assert.InDelta(t, float64(*then.Now), forecast.On(k.Line, later).Median, 1e-3)
	rise := float64(soil.PotassiumRise(rec.Ground, 15))
	idle := seasons.PotassiumOf(&rec, w.Garden, nil, today, later, later.AddMonths(3))
	assert.InDelta(t, rise, float64(*then.Now)-forecast.On(idle.Line, later).Median, 0.1*rise, "30 g at 50 % come by then")
	// A day that is past knows what was read by then.
	assert.Equal(t, quantity.Concentration(100), *y.nowOf(at("2026-06-16")).Read)
	assert.InDelta(t, 96, float64(*y.nowOf(at("2026-06-17")).Now), 1e-3, "on its day the test is the figure")
}

// What moved it since its newest test is named: ash that went on, what crops carried off, what leached.
func TestPotassiumNamesWhatMovedIt(t *testing.T) {
	y := fedYard(t)
	k := y.nowOf(today)
	assert.InDelta(t, 5, float64(k.Moved.Given), 1e-9, "100 g of ash at 5 %, and none of what went on before the test")
	assert.InDelta(t, 8*160.0/365, float64(k.Moved.Carried), 0.05, "raspberries carry off 8 g a year")
	ground := y.plot(today).Ground
	half := float64(k.Scale.Critical) / 2
	assert.InDelta(t, 0.03*160/365*(97-half), float64(k.Moved.Leached), 0.1, "3 % a year of what is over half of critical")
	sum := *k.Read + soil.PotassiumRise(ground, k.Moved.Given-k.Moved.Carried) - k.Moved.Leached + k.Weighed
	assert.InDelta(t, float64(sum), float64(*k.Now), 1e-9)
	// A reading that is struck out, or of another extractant, is not carried on.
	struck := y.read("2026-10-01", soil.Lab, 6.0)
	struck.Potassium, struck.Extractant, struck.Struck = ptr(quantity.Concentration(300)), soil.AmmoniumAcetate, today-1
	y.add(struck)
	assert.InDelta(t, float64(*k.Now), float64(*y.nowOf(today).Now), 1e-9)
	y.add(func() *garden.Reading {
		r := y.read("2026-10-01", soil.Lab, 6.0)
		r.Potassium, r.Extractant = ptr(quantity.Concentration(60)), soil.Olsen
		return r
	}())
	other := y.nowOf(today)
	assert.InDelta(t, 60, float64(*other.Now), 2)
	assert.Zero(t, float64(other.Moved.Given), "the ash was before it")
}

// Crops that are sown later carry off what they will.
func TestPotassiumToComeGoesWithTheCropsThatArePlanned(t *testing.T) {
	y := newYard(t)
	r := y.read("2026-10-17", soil.Lab, 6.4)
	r.Potassium = ptr(quantity.Concentration(150))
	y.add(r)
	later := at("2027-12-01")
	without := float64(*y.nowOf(later).Now)
	y.add(y.crop("tomato", "2027-05-10", "2027-10-10"))
	rise := float64(soil.PotassiumRise(y.plot(today).Ground, 25))
	assert.InDelta(t, rise, without-float64(*y.nowOf(later).Now), 1, "25 g of a tomato")
}

// What finds no day is not foretold; what is tried in place of the crops that are planned is in their place.
func TestPotassiumIsForetoldFromWhatComes(t *testing.T) {
	y := fedYard(t)
	later := at("2027-12-01")
	far := at("2028-06-01")
	before := float64(*y.nowOf(far).Now)
	y.add(&garden.Task{BedID: y.bed.ID, Kind: garden.TaskGo, What: material.HardwoodAsh, Rate: 5000, Total: 48_000, Due: today + 30,
		State: garden.Open, Depth: 0.15})
	assert.InDelta(t, before, float64(*y.nowOf(far).Now), 1e-9, "so much of it serves on no day")
	c, _ := crop.Find("lettuce")
	lettuce := forecast.On(ptr(y.season()).Try(seasons.Try{Crop: &c}).K, later).Median
	y.add(y.crop("tomato", "2027-05-10", "2027-10-10"))
	assert.InDelta(t, lettuce, forecast.On(ptr(y.season()).Try(seasons.Try{Crop: &c}).K, later).Median, 0.01)
}
