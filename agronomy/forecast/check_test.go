package forecast_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// promised returns a bed of 321 g a pH that was read 5.5, got 321 g/m² at once, and was read again
// by a method after days.
func promised(ph quantity.PH, days quantity.Day, m soil.Method, halfLife float64) forecast.Model {
	climate, _ := soil.FindClimate("maritime", soil.North)
	d := quantity.Date(2025, 4, 1)
	return forecast.Model{Curve: soil.NewCurve([]float64{3, 9}, []float64{321}), Curved: 0.45, Warmth: &climate, Dug: true, DriftSD: 3,
		Additions: []forecast.Addition{{Date: d + 1, CaCO3: 321, Reacts: material.Reaction{HalfLife: halfLife, Reference: 15, Q10: 1.5,
			Floor: -50},
			Batch: "bag", StrengthSD: 0.05}},
		Readings: []forecast.Read{{Date: d, PH: 5.5, SD: 0.14, Method: soil.Lab}, {Date: d + days, PH: ph, SD: 0.14, Method: m}}}
}

const atOnce = 0.01

func checkOf(t *testing.T, b forecast.Model, learned func(*forecast.Learned)) forecast.Check {
	t.Helper()
	l := forecast.Learn(&b)
	if learned != nil {
		learned(&l)
	}
	all := forecast.Checks(&b, &l)
	require.Len(t, all, 1)
	return all[0]
}

// +1.0 is promised; as far as two readings of 0.14 tell (0.2) it is kept, past that the term that carries most of it stands
// behind it.
func TestCheckReasons(t *testing.T) {
	kept := checkOf(t, promised(6.4, 100, soil.Lab, atOnce), nil)
	assert.InDelta(t, 6.5, float64(kept.Promised), 0.01)
	assert.Equal(t, forecast.AsPromised, kept.Why)
	assert.Equal(t, forecast.AsPromised, checkOf(t, promised(6.31, 100, soil.Lab, atOnce), nil).Why)
	short := checkOf(t, promised(6.0, 100, soil.Lab, atOnce), nil)
	assert.Equal(t, forecast.OtherBuffering, short.Why, "the bag is good to a twentieth, the table to a half")
	assert.InDelta(t, -0.5, short.Miss(), 0.01)
	// Untested ash in a bed with a jar series: the ash is the reason.
	ash := promised(6.0, 100, soil.Lab, atOnce)
	ash.Curved, ash.Additions[0].StrengthSD = 0.12, 0.30
	assert.Equal(t, forecast.Strength, checkOf(t, ash, nil).Why)
	// A method that is known to read lower than the first.
	off := checkOf(t, promised(6.0, 100, soil.Kit, atOnce), func(l *forecast.Learned) {
		l.Buffering.Median, l.Bias[soil.Kit], l.Bias[soil.Lab] = 1, -0.4, 0
	})
	assert.Equal(t, forecast.OffMethod, off.Why)
	drifts := checkOf(t, promised(6.0, 700, soil.Lab, atOnce), func(l *forecast.Learned) {
		l.Buffering.Median, l.Drift.Median = 1, -60
	})
	assert.Equal(t, forecast.Drifted, drifts.Why)
	chance := checkOf(t, promised(6.0, 100, soil.Lab, atOnce), func(l *forecast.Learned) {
		l.Buffering.Median, l.Drift.Median, l.Strength = 1, 0, nil
	})
	assert.Equal(t, forecast.ByChance, chance.Why)
}

// Read while most has yet to act, it is as promised for its day, and too soon to say more.
func TestCheckTooSoon(t *testing.T) {
	k := checkOf(t, promised(5.75, 60, soil.Lab, 20), nil)
	assert.Less(t, k.Reacted, 0.5)
	assert.InDelta(t, 6.5, float64(k.Settles), 0.02)
	assert.Less(t, float64(k.Promised), 6.0)
	assert.Equal(t, forecast.TooSoon, k.Why)
}

// A reading days after an application decides nothing: it says so, and the retest is compared with
// the promise from the reading before the application. A reading after half has reacted closes it.
func TestCheckStaysOpenUntilHalfReacted(t *testing.T) {
	b := promised(5.9, 8, soil.Lab, 20)
	last := b.Readings[1]
	last.Date, last.PH = b.Readings[0].Date+500, 5.7
	b.Readings = append(b.Readings, last)
	l := forecast.Learn(&b)
	l.Buffering.Median, l.Drift.Median, l.Strength = 1, 0, nil
	all := forecast.Checks(&b, &l)
	require.Len(t, all, 2)
	assert.Less(t, all[0].Reacted, 0.1)
	assert.Equal(t, forecast.TooEarly, all[0].Why)
	assert.Equal(t, quantity.PH(5.5), all[1].From)
	assert.Greater(t, float64(all[1].Promised), 6.3)
	assert.Equal(t, forecast.ByChance, all[1].Why)
	assert.Equal(t, all[0].First, all[1].First)

	b.Readings[1].Date = b.Readings[0].Date + 300
	l = forecast.Learn(&b)
	assert.Len(t, forecast.Checks(&b, &l), 1, "half and more had acted: the reading after tells of no go")
}

// A nitrogen side dressing lowers pH slightly and counts, but made no promise.
func TestFeedsMakeNoPromise(t *testing.T) {
	b := promised(6.4, 100, soil.Lab, atOnce)
	for _, kind := range []material.Kind{"gypsum", material.AmmoniumSulfate} {
		b.Additions[0].Kind, b.Additions[0].CaCO3 = kind, -22
		l := forecast.Learn(&b)
		assert.Empty(t, forecast.Checks(&b, &l), kind)
	}
	b.Additions = append(b.Additions, forecast.Addition{Date: b.Additions[0].Date, CaCO3: 321, Reacts: b.Additions[0].Reacts,
		Kind: material.CalciticLime})
	l := forecast.Learn(&b)
	all := forecast.Checks(&b, &l)
	require.Len(t, all, 1)
	assert.Less(t, float64(all[0].Promised), 6.49)
}

// Two readings of one day are both held against what was promised for it.
func TestReadingsOfOneDayTestOnePromise(t *testing.T) {
	b := promised(6.4, 100, soil.Lab, atOnce)
	twice := b.Readings[1]
	twice.Method, twice.PH = soil.Kit, 6.0
	b.Readings = append(b.Readings, twice)
	l := forecast.Learn(&b)
	all := forecast.Checks(&b, &l)
	require.Len(t, all, 2)
	assert.Equal(t, []quantity.PH{6.4, 6}, []quantity.PH{all[0].Measured, all[1].Measured})
	assert.InDelta(t, float64(all[0].Promised), float64(all[1].Promised), 1e-9)
	assert.Equal(t, all[0].From, all[1].From)
}

// The terms and the readings' error add up to the miss.
func TestCheckTermsAddUp(t *testing.T) {
	b := promised(6.0, 100, soil.Lab, atOnce)
	k := checkOf(t, b, nil)
	l := forecast.Learn(&b)
	sum := 0.0
	for _, x := range k.Terms {
		sum += x.PH
	}
	// The level that all readings say, less where the first reading was.
	assert.InDelta(t, l.Level.Median-5.5-1, sum, 0.25)
	assert.Greater(t, -sum, 0.2)
}
