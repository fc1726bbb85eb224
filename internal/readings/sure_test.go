package readings_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

func TestFarReadingIsQueriedOnce(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Reading("2026-03-03", soil.Lab, 5.8))
	assert.Nil(t, y.Ask(y.Actor, *y.Reading("2026-11-01", soil.Lab, 7.3)), "1.5 is not over 1.5")
	y = gardentest.New(t)
	y.Add(y.Reading("2026-03-03", soil.Lab, 5.8))
	far := *y.Reading("2026-11-01", soil.Lab, 7.4)
	f := y.Ask(y.Actor, far)
	assert.Contains(t, f["ph"], "that is 1.6 from the 5.8 of 3 Mar 2026. Sure?")
	again := y.Actor
	again.Sure = f[garden.SureField]
	other := *y.Reading("2026-11-01", soil.Lab, 7.6)
	assert.NotNil(t, y.Ask(again, other), "another figure is another question")
	assert.Nil(t, y.Ask(again, far))
	y = gardentest.New(t)
	y.Add(y.Reading("2025-10-31", soil.Lab, 5.8))
	assert.Nil(t, y.Ask(y.Actor, far), "more than a year ago")

	old := *y.Reading("2024-11-23", soil.Lab, 5.8)
	f = y.Ask(y.Actor, old)
	assert.Contains(t, f["date"], "that is 2 years ago. Sure?")
	assert.Nil(t, y.Ask(y.Actor, *y.Reading("2024-11-24", soil.Lab, 5.8)), "two years to the day")
	cannot := *y.Reading("2024-11-23", soil.Lab, 58)
	assert.NotContains(t, y.Ask(y.Actor, cannot), garden.SureField, "what cannot be is refused, not asked about")
}

func TestUnusualAmountIsQueriedOnce(t *testing.T) {
	y := gardentest.New(t)
	y.Add(&garden.Task{BedID: y.Bed.ID, Kind: garden.TaskApplication, Due: gardentest.Today, What: material.CalciticLime, Rate: 40, Total: 384,
		State: garden.Open, Depth: 0.15})
	f := y.Tick("2026-11-24", applications.Tick{Total: gardentest.Ptr(quantity.Mass(3840))})
	assert.Contains(t, f["amount"], "that is ten times the 380 g that were planned")
	assert.Contains(t, y.Tick("2026-11-24", applications.Tick{Total: gardentest.Ptr(quantity.Mass(38))})["amount"], "a tenth")
	y.Actor.Sure = f[garden.SureField]
	assert.Nil(t, y.Tick("2026-11-24", applications.Tick{Total: gardentest.Ptr(quantity.Mass(3840))}))

	log := func(grams quantity.Mass) garden.Faults {
		_, err := y.App.Applications.Note(gardentest.Ctx, garden.Actor{Who: "test", At: y.Actor.At, Today: gardentest.Today},
			garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2026-10-01"), What: material.HardwoodAsh, Total: grams})
		if err == nil {
			return nil
		}
		var f garden.Faults
		require.ErrorAs(t, err, &f)
		return f
	}
	assert.Contains(t, log(4801)["put_amount"], "more than the 500 g/m² of a year")
	assert.Nil(t, log(200))
	assert.Contains(t, log(2000)["put_amount"], "ten times what was put on before")
	assert.Contains(t, log(1999)["put_amount"], "8 weeks apart", "less is asked about by the dose's own rules")
}

func TestJarTestShowsUntilReading(t *testing.T) {
	y := gardentest.New(t)
	jars := y.Reading("2026-10-01", soil.Fizz, 0)
	jars.PH, jars.Vinegar, jars.Soda = nil, soil.LimeNone, soil.LimeClear
	y.Add(jars)
	p := y.State(gardentest.Today)
	assert.Equal(t, bed.Untested, p.Standing)
	require.NotNil(t, p.Fizz)
	y.Add(y.Reading("2026-11-01", soil.Lab, 5.8))
	p = y.State(gardentest.Today)
	assert.Nil(t, p.Fizz, "a figure goes before it")
	assert.NotNil(t, p.Reading)
}
