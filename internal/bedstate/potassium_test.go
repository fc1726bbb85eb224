package bedstate_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/outlook"
)

// fedYard returns a bed that was tested for potassium four times, in the middle of months, while
// ash and crops moved it.
func fedYard(t *testing.T) *gardentest.Garden {
	y := gardentest.New(t)
	y.Add(y.Planting("tomato", "2024-05-10", "2024-10-10"), y.Planting("tomato", "2025-05-10", "2025-10-10"),
		y.Planting("raspberry", "2025-11-01", ""))
	for day, k := range map[string]quantity.Concentration{"2023-10-17": 120, "2024-10-17": 112, "2025-10-17": 100, "2026-06-17": 96} {
		r := y.Reading(day, soil.Lab, 6.0)
		r.Potassium, r.Extractant = gardentest.Ptr(k), soil.AmmoniumAcetate
		y.Add(r)
	}
	y.Add(&garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2026-03-01"), What: material.HardwoodAsh, Rate: 100, Total: 960},
		&garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2026-09-05"), What: material.HardwoodAsh, Rate: 100, Total: 960})
	return y
}

// Ground, the bed's record, its dose and the line through the years have one figure of today's potassium, and one of a day to come.
func TestPotassiumIsTheSameEverywhere(t *testing.T) {
	y := fedYard(t)
	// What is to be applied today is not in the ground yet.
	y.Add(&garden.Task{BedID: y.Bed.ID, Kind: garden.TaskApplication, What: material.PotassiumSulfate, Rate: 30, Total: 288,
		Due:   gardentest.Today,
		State: garden.Open})
	now := y.Potassium(gardentest.Today)
	assert.Equal(t, quantity.Concentration(96), *now.Read)
	s := y.Forecast()
	assert.InDelta(t, float64(*now.Now), forecast.On(s.K, gardentest.Today).Median, 1e-3, "the line with what is planned")
	assert.InDelta(t, float64(*now.Now), forecast.On(s.KIdle, gardentest.Today).Median, 1e-3, "the line without")
	w := y.Dose(dosing.Choice{})
	assert.InDelta(t, float64(*now.Now), float64(*w.Answer.K.Now), 1e-9, "the dose")
	rec, err := y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	assert.InDelta(t, float64(*now.Now), float64(*rec.State.K.Now), 1e-9, "the record")
	// A day to come, in the middle of a month, with what is planned by then.
	later := gardentest.Today + 100
	then := y.Potassium(later)
	k := outlook.PotassiumOf(&rec, w.Garden, s.Planning(), gardentest.Today, later, later.AddMonths(3))
	assert.InDelta(t, float64(*then.Now), forecast.On(k.Line, later).Median, 1e-3)
	rise := float64(soil.PotassiumRise(rec.State.Ground, 15))
	idle := outlook.PotassiumOf(&rec, w.Garden, nil, gardentest.Today, later, later.AddMonths(3))
	assert.InDelta(t, rise, float64(*then.Now)-forecast.On(idle.Line, later).Median, 0.1*rise, "30 g at 50 % come by then")
	// A day that is past knows what was read by then.
	assert.Equal(t, quantity.Concentration(100), *y.Potassium(gardentest.Day("2026-06-16")).Read)
	assert.InDelta(t, 96, float64(*y.Potassium(gardentest.Day("2026-06-17")).Now), 1e-3, "on its day the test is the figure")
}

// What moved it since its newest test is named: ash that was applied, what crops carried off, what leached.
func TestPotassiumCauses(t *testing.T) {
	y := fedYard(t)
	k := y.Potassium(gardentest.Today)
	assert.InDelta(t, 5, float64(k.Moved.Given), 1e-9, "100 g of ash at 5 %, and none of what went on before the test")
	assert.InDelta(t, 8*160.0/365, float64(k.Moved.Carried), 0.05, "raspberries carry off 8 g a year")
	ground := y.State(gardentest.Today).Ground
	half := float64(k.Scale.Critical) / 2
	assert.InDelta(t, 0.03*160/365*(97-half), float64(k.Moved.Leached), 0.1, "3 % a year of what is over half of critical")
	sum := *k.Read + soil.PotassiumRise(ground, k.Moved.Given-k.Moved.Carried) - k.Moved.Leached + k.Weighed
	assert.InDelta(t, float64(sum), float64(*k.Now), 1e-9)
	// A reading that is struck out, or of another extractant, is not carried on.
	struck := y.Reading("2026-10-01", soil.Lab, 6.0)
	struck.Potassium, struck.Extractant, struck.Struck = gardentest.Ptr(quantity.Concentration(300)), soil.AmmoniumAcetate, gardentest.Today-1
	y.Add(struck)
	assert.InDelta(t, float64(*k.Now), float64(*y.Potassium(gardentest.Today).Now), 1e-9)
	y.Add(func() *garden.Reading {
		r := y.Reading("2026-10-01", soil.Lab, 6.0)
		r.Potassium, r.Extractant = gardentest.Ptr(quantity.Concentration(60)), soil.Olsen
		return r
	}())
	other := y.Potassium(gardentest.Today)
	assert.InDelta(t, 60, float64(*other.Now), 2)
	assert.Zero(t, float64(other.Moved.Given), "the ash was before it")
}

// Crops that are sown later carry off what they will.
func TestPotassiumFollowsPlannedCrops(t *testing.T) {
	y := gardentest.New(t)
	r := y.Reading("2026-10-17", soil.Lab, 6.4)
	r.Potassium = gardentest.Ptr(quantity.Concentration(150))
	y.Add(r)
	later := gardentest.Day("2027-12-01")
	without := float64(*y.Potassium(later).Now)
	y.Add(y.Planting("tomato", "2027-05-10", "2027-10-10"))
	rise := float64(soil.PotassiumRise(y.State(gardentest.Today).Ground, 25))
	assert.InDelta(t, rise, without-float64(*y.Potassium(later).Now), 1, "25 g of a tomato")
}

// What finds no day is not forecast; what is tried in place of the crops that are planned is in their place.
func TestPotassiumForecastUsesPlan(t *testing.T) {
	y := fedYard(t)
	later := gardentest.Day("2027-12-01")
	far := gardentest.Day("2028-06-01")
	before := float64(*y.Potassium(far).Now)
	y.Add(&garden.Task{BedID: y.Bed.ID, Kind: garden.TaskApplication, What: material.HardwoodAsh, Rate: 5000, Total: 48_000,
		Due:   gardentest.Today + 30,
		State: garden.Open, Depth: 0.15})
	assert.InDelta(t, before, float64(*y.Potassium(far).Now), 1e-9, "so much of it serves on no day")
	c, _ := crop.Find("lettuce")
	lettuce := forecast.On(gardentest.Ptr(y.Forecast()).Try(outlook.Try{Crop: &c}).K, later).Median
	y.Add(y.Planting("tomato", "2027-05-10", "2027-10-10"))
	assert.InDelta(t, lettuce, forecast.On(gardentest.Ptr(y.Forecast()).Try(outlook.Try{Crop: &c}).K, later).Median, 0.01)
}

// A crop to come changes nothing of what the bed holds today: neither its potassium nor its level.
func TestCropToComeChangesNothingToday(t *testing.T) {
	g := gardentest.NewBuffered(t)
	g.Add(g.Planting("kale", "2026-08-01", ""))
	r := g.Reading("2026-04-01", soil.Lab, 6.1)
	r.Potassium = gardentest.Ptr(quantity.Concentration(80))
	g.Add(r)
	before, level := g.State(gardentest.Today), g.Record().Lesson.Course()
	require.NoError(t, g.Plant("leek", "2026-12-20", false))
	after, now := g.State(gardentest.Today), g.Record().Lesson.Course()
	assert.NotZero(t, before.K.Moved.Carried)
	assert.InDelta(t, float64(*before.K.Now), float64(*after.K.Now), 1e-9)
	assert.InDelta(t, float64(level.On(gardentest.Today).PH), float64(now.On(gardentest.Today).PH), 1e-9)
}
