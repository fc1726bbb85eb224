package dose_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Two limes that differ in nothing but how fast they act: the faster one stands first, in whatever order they came.
func TestFastestRanksFirst(t *testing.T) {
	ground, pelleted := batch(material.CalciticLime), batch("pelleted-lime")
	for _, b := range []*material.Batch{&ground, &pelleted} {
		b.Measured, b.Held = ptr(quantity.Percent(97)), ptr(quantity.Mass(1e6))
	}
	for _, list := range [][]material.Batch{{ground, pelleted}, {pelleted, ground}} {
		a, err := dose.For(request(func(r *dose.Request) {
			r.Materials = list
			r.Reading.Potassium, r.Reading.Magnesium = ptr(quantity.Concentration(200)), ptr(quantity.Concentration(150))
		}))
		require.NoError(t, err)
		require.GreaterOrEqual(t, len(a.Options), 2)
		first, second := a.Options[0], a.Options[1]
		assert.Less(t, first.Acts, second.Acts)
		assert.Equal(t, dose.Soonest, a.First)
	}
}
