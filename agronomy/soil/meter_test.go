package soil_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

var calibrated = soil.Calibration{On: quantity.Date(2026, 11, 20),
	Points: []soil.BufferPoint{{Bottle: 7, Shown: 7.1}, {Bottle: 4, Shown: 4.25}}}

func TestMeterCorrection(t *testing.T) {
	assert.InDelta(t, 95, float64(calibrated.Slope()), 1e-9, "(7.1 − 4.25) / 3")
	assert.True(t, calibrated.Good())
	assert.InDelta(t, 7, float64(calibrated.Correct(7.1)), 1e-9)
	assert.InDelta(t, 4, float64(calibrated.Correct(4.25)), 1e-9)
	// 4 + (5.675 − 4.25) / 0.95
	assert.InDelta(t, 5.5, float64(calibrated.Correct(5.675)), 1e-9)
	three := calibrated
	three.Points = append([]soil.BufferPoint{{Bottle: 10, Shown: 9.8}}, three.Points...)
	assert.InDelta(t, 8.5, float64(three.Correct(8.45)), 1e-9, "between the upper two")
	assert.InDelta(t, 5.5, float64(three.Correct(5.675)), 1e-9)
	assert.InDelta(t, 6.3, float64(soil.Calibration{}.Correct(6.3)), 1e-9)
}

func TestMeterCalibrationIsGood(t *testing.T) {
	on := calibrated.On
	assert.Equal(t, soil.Meter, calibrated.Method(on))
	assert.Equal(t, soil.Meter, calibrated.Method(on+7))
	assert.Equal(t, soil.MeterStale, calibrated.Method(on+8))
	assert.Equal(t, soil.MeterStale, calibrated.Method(on-1), "calibrated only after it")
	weak := soil.Calibration{On: on, Points: []soil.BufferPoint{{Bottle: 4, Shown: 4.5}, {Bottle: 7, Shown: 7.0}}}
	assert.InDelta(t, 83.3, float64(weak.Slope()), 0.05)
	assert.Equal(t, soil.MeterStale, weak.Method(on), "its slope is too flat")
	near := soil.Calibration{On: on, Points: []soil.BufferPoint{{Bottle: 6.86, Shown: 6.86}, {Bottle: 7, Shown: 7}}}
	assert.Equal(t, soil.MeterStale, near.Method(on), "bottles too near each other")
	assert.Equal(t, soil.MeterStale, soil.Calibration{On: on}.Method(on))
}

func TestAgreedReadings(t *testing.T) {
	_, ok := soil.Agreed([]quantity.PH{6.1, 6.1})
	assert.False(t, ok)
	_, ok = soil.Agreed([]quantity.PH{6.4, 6.2, 6.0})
	assert.False(t, ok)
	ph, ok := soil.Agreed([]quantity.PH{6.6, 6.3, 6.1, 6.1, 6.0})
	assert.True(t, ok)
	assert.InDelta(t, 6.0667, float64(ph), 1e-4)
	_, ok = soil.Settled([]quantity.PH{6.1, 6.1, 6.0})
	assert.False(t, ok, "a bottle is wanted closer")
	ph, ok = soil.Settled([]quantity.PH{7.4, 7.12, 7.1, 7.08})
	assert.True(t, ok)
	assert.InDelta(t, 7.1, float64(ph), 1e-9)
}

func TestProbePlaces(t *testing.T) {
	ph, far := soil.OfPlaces([]quantity.PH{5.1, 5.3, 6.0, 5.2, 5.2})
	assert.InDelta(t, 5.2, float64(ph), 1e-9, "the median, which one odd place does not move")
	assert.Equal(t, []quantity.PH{6.0}, far)
	ph, far = soil.OfPlaces([]quantity.PH{5, 6})
	assert.InDelta(t, 5.5, float64(ph), 1e-9)
	assert.Empty(t, far, "two cannot outvote each other")
	ph, far = soil.OfPlaces(nil)
	assert.Zero(t, ph)
	assert.Empty(t, far)
}

func TestSlurryTemperature(t *testing.T) {
	assert.InDelta(t, 5.0, float64(soil.AtTemperature(5.0, 25)), 1e-9)
	// 7 − 2 × 298.15 / 283.15
	assert.InDelta(t, 4.894, float64(soil.AtTemperature(5.0, 10)), 0.001)
	assert.InDelta(t, 7, float64(soil.AtTemperature(7, 3)), 1e-9)
}

// A slope counts from 90 to 105 %, both ends in, whatever the figures that it is computed from.
func TestSlopeLimits(t *testing.T) {
	for _, offset := range []quantity.PH{-0.3, -0.1, 0, 0.07, 0.2} {
		for slope, good := range map[quantity.PH]bool{89.9: false, 90: true, 100: true, 105: true, 105.1: false} {
			c := soil.Calibration{Points: []soil.BufferPoint{{Bottle: 4, Shown: 4 + offset}, {Bottle: 7, Shown: 4 + offset + 3*slope/100}}}
			assert.Equal(t, good, c.Good(), "%v %% from %v", slope, 4+offset)
		}
	}
}

func TestKitStep(t *testing.T) {
	chips := []float64{4, 5, 6, 6.5}
	for _, c := range []struct{ low, high, want quantity.PH }{{5, 6, 1}, {4, 4, 1}, {5, 5, 1}, {6, 6, 1}, {6.5, 6.5, 0.5}, {6, 6.5, 0.5},
		{7, 7, 0.5}} {
		assert.InDelta(t, float64(c.want), float64(soil.KitStep(chips, c.low, c.high)), 1e-9, "%v to %v", c.low, c.high)
	}
	assert.InDelta(t, 0.5, float64(soil.KitStep(nil, 6, 6)), 1e-9, "a kit that nobody told of")
}

func TestKitSD(t *testing.T) {
	assert.InDelta(t, 0.35, soil.KitSD(0.5), 1e-9)
	assert.InDelta(t, 0.5, soil.KitSD(1), 1e-9)
}
