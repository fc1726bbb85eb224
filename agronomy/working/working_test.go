package working_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/working"
)

func TestGet(t *testing.T) {
	v := working.Values{working.Num("rate", working.Rate, quantity.Rate(225)), working.ID("kind", "gypsum"),
		working.On("day", quantity.Date(2026, 11, 24))}
	assert.InDelta(t, 225, v.N("rate"), 0)
	assert.Equal(t, "gypsum", v.Text("kind"))
	assert.Equal(t, "2026-11-24", v.Day("day").String())
	assert.Zero(t, v.Get("none"))
}

func ExampleStep() {
	s := working.Step{ID: "on-bed", Result: working.Num("total", working.Mass, quantity.Mass(4321)),
		From: working.Values{working.Num("rate", working.Rate, quantity.Rate(450)), working.Num("area", working.Area, quantity.Area(9.6))}}
	fmt.Printf("%s: %.0f × %.1f = %.0f %s\n", s.ID, s.From.N("rate"), s.From.N("area"), s.Result.N, s.Result.Unit)
	// Output: on-bed: 450 × 9.6 = 4321 g
}
