package soil_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Maritime, mid November 8 °C and mid December 6: what was measured goes before it, days
// between lie on a line, a spell wears off to 1/e in ten days, and half a year on all is as usual.
func TestMeasuredTemperatureOverridesUsual(t *testing.T) {
	usual, _ := soil.FindClimate("maritime", soil.North)
	d := quantity.Date(2026, 11, 10)
	c := usual.With([]soil.Warm10{{Day: d + 4, Soil: usual.At(d+4) - 2}, {Day: d, Soil: usual.At(d) + 2}})
	near := func(want, got quantity.Temperature) { t.Helper(); assert.InDelta(t, float64(want), float64(got), 1e-9) }
	near(usual.At(d)+2, c.At(d))
	near(usual.At(d+2), c.At(d+2)) // from 2 above to 2 below
	near(usual.At(d+4)-2, c.At(d+4))
	near(usual.At(d+14)-2*0.36787944117144233, c.At(d+14))
	near(usual.At(d+180), c.At(d+180))
	near(usual.At(d-1), c.At(d-1))
	near(usual.At(d), c.Usual(d))
	got, ok := c.MeasuredOn(d)
	assert.True(t, ok)
	near(usual.At(d)+2, got)
	_, ok = c.MeasuredOn(d + 1)
	assert.False(t, ok)
	assert.Equal(t, usual, c.With(nil), "nothing measured is as usual")
	// Measured ten days apart is a line, eleven is not.
	line := usual.With([]soil.Warm10{{Day: d, Soil: usual.At(d) + 2}, {Day: d + 10, Soil: usual.At(d+10) + 2}})
	near(usual.At(d+9)+2, line.At(d+9))
	apart := usual.With([]soil.Warm10{{Day: d, Soil: usual.At(d) + 2}, {Day: d + 11, Soil: usual.At(d+11) + 2}})
	assert.Less(t, float64(apart.At(d+9)), float64(usual.At(d+9)+1))
	near(usual.At(d+11)+2, apart.At(d+11))
}
