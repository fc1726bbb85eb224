package forecast_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// steady returns a place that is always as warm.
func steady(t quantity.Temperature) *soil.Climate {
	c := &soil.Climate{}
	for m := range c.Normal {
		c.Normal[m] = t
	}
	return c
}

func TestHalfLife(t *testing.T) {
	day := quantity.Date(2026, 3, 1)
	ash, _ := material.Find(material.HardwoodAsh)
	assert.InDelta(t, 0.5, forecast.Unreacted(ash.Reacts, steady(15), true, day, day+21), 1e-9)
	assert.InDelta(t, 0.25, forecast.Unreacted(ash.Reacts, steady(15), true, day, day+42), 1e-9)
	// Ten degrees less: slower by 1.5. On top: slower by 0.4.
	assert.InDelta(t, 0.5, forecast.Unreacted(ash.Reacts, steady(5), true, day, day+quantity.Day(31)), 0.01)
	assert.InDelta(t, 0.757858, forecast.Unreacted(ash.Reacts, steady(15), false, day, day+21), 1e-5)
	lime, _ := material.Find(material.CalciticLime)
	assert.InDelta(t, 0.5, forecast.Unreacted(lime.Reacts, steady(15), true, day, day+76), 0.003)
}

func TestSulfurStopsInCold(t *testing.T) {
	sulfur, _ := material.Find(material.SulfurPowder)
	day := quantity.Date(2026, 3, 1)
	assert.InDelta(t, 1, forecast.Unreacted(sulfur.Reacts, steady(4), true, day, day+300), 1e-12)
	assert.InDelta(t, 0.5, forecast.Unreacted(sulfur.Reacts, steady(25), true, day, day+35), 1e-9)
	// Q10 of 3: at 15 °C three times as long.
	assert.InDelta(t, 0.5, forecast.Unreacted(sulfur.Reacts, steady(15), true, day, day+105), 1e-9)
}

func TestReactionIsMonotonic(t *testing.T) {
	ash, _ := material.Find(material.HardwoodAsh)
	day := quantity.Date(2026, 3, 1)
	assert.InDelta(t, 1, forecast.Unreacted(ash.Reacts, steady(15), true, day, day-10), 1e-12)
	last := 1.0
	for d := range quantity.Day(400) {
		left := forecast.Unreacted(ash.Reacts, steady(12), true, day, day+d)
		assert.LessOrEqual(t, left, last+1e-12)
		last = left
	}
}

func ExampleUnreacted() {
	ash, _ := material.Find(material.HardwoodAsh)
	c, _ := soil.FindClimate("maritime", soil.North)
	left := forecast.Unreacted(ash.Reacts, &c, true, quantity.Date(2026, 8, 30), quantity.Date(2026, 9, 20))
	fmt.Printf("%.0f %% has yet to act\n", 100*left)
	// Output: 49 % has yet to act
}
