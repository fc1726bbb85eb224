package forecast_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// known returns a loam that a lab read four times at about 6.2, with more readings after.
func known(more ...forecast.Read) forecast.Model {
	climate, _ := soil.FindClimate("maritime", soil.North)
	curve := soil.NewCurve([]float64{3.5, 4.5, 5.5, 6.5, 7.5}, []float64{227, 227, 321.5, 321.5})
	b := forecast.Model{Curve: curve, Curved: 0.45, Warmth: &climate, Dug: true, Drift: -26, DriftSD: 13.4}
	for i, ph := range []quantity.PH{6.25, 6.15, 6.2, 6.1} {
		b.Readings = append(b.Readings, lab(start.AddMonths(6*i), ph))
	}
	b.Readings = append(b.Readings, more...)
	return b
}

func lab(d quantity.Day, ph quantity.PH) forecast.Read {
	return forecast.Read{Date: d, PH: ph, SD: 0.14, Method: soil.Lab}
}

func TestSurprisingTestAwaitsConfirmation(t *testing.T) {
	day := start.AddMonths(24)
	calm := known()
	before := forecast.Learn(&calm)
	b := known(lab(day, 5.08))
	s := b.Sift()
	require.NotNil(t, s.Open)
	assert.InDelta(t, 6.1, float64(s.Open.Expected), 0.1)
	assert.InDelta(t, 5.08, float64(s.Open.Read.PH), 1e-9)
	assert.Equal(t, day+21, s.Open.Test)
	without := b.Without(&s)
	assert.Len(t, without.Readings, 4, "learning leaves it out")
	after := forecast.Learn(&without)
	assert.InDelta(t, before.Buffering.Median, after.Buffering.Median, 1e-9)
	assert.InDelta(t, before.Level.Median, after.Level.Median, 1e-9)

	for _, x := range []struct {
		name           string
		second         quantity.PH
		stood, open    bool
		left, believed int
	}{
		{"as expected", 6.15, false, false, 1, 5},
		{"as the first test", 5.15, true, false, 0, 6},
		{"as neither", 7.4, false, true, 2, 4},
	} {
		b := known(lab(day, 5.08), lab(day+21, x.second))
		s := b.Sift()
		assert.Equal(t, x.open, s.Open != nil, x.name)
		assert.Len(t, s.Left, x.left, x.name)
		assert.Len(t, b.Without(&s).Readings, x.believed, x.name)
		if !x.open {
			require.Len(t, s.Verdicts, 1, x.name)
			assert.Equal(t, x.stood, s.Verdicts[0].Stood, x.name)
			assert.False(t, s.Beside(day+21, day), "%s: the two are not joined", x.name)
		} else {
			assert.True(t, s.Open.More, "a third test")
		}
	}
	third := known(lab(day, 5.08), lab(day+21, 7.4), lab(day+42, 7.3))
	s = third.Sift()
	assert.Nil(t, s.Open)
	assert.True(t, s.Verdicts[0].Stood)
	assert.InDelta(t, 7.4, float64(s.Verdicts[0].First.PH), 1e-9)
}

func TestSurpriseThreshold(t *testing.T) {
	day := start.AddMonths(24)
	b := known(lab(day, 5.08))
	o := b.Sift().Open
	require.NotNil(t, o)
	edge := float64(o.Expected) - 2*o.SD
	in, out := known(lab(day, quantity.PH(edge+0.01))), known(lab(day, quantity.PH(edge-0.01)))
	assert.Nil(t, in.Sift().Open)
	assert.NotNil(t, out.Sift().Open)
}

func TestLittleKnownBedIsNotSurprised(t *testing.T) {
	b := known()
	b.Readings = []forecast.Read{lab(start, 6.2), lab(start.AddMonths(12), 4.6)}
	assert.Nil(t, b.Sift().Open, "two readings, and nothing that let expect a figure")
	b.Readings = append(b.Readings, lab(start.AddMonths(24), 7.9))
	assert.NotNil(t, b.Sift().Open, "the third may")
	lime, _ := material.Find(material.CalciticLime)
	b.Readings = []forecast.Read{lab(start, 5.2), lab(start.AddMonths(12), 4.1)}
	b.Additions = []forecast.Addition{{Date: start + 20, CaCO3: 320, Reacts: lime.Reacts, Batch: "bag", StrengthSD: 0.05}}
	assert.NotNil(t, b.Sift().Open, "lime let expect a rise")
}

func TestWeakerMethodDoesNotConfirm(t *testing.T) {
	day := start.AddMonths(24)
	kit := forecast.Read{Date: day + 21, PH: 6.2, SD: 0.36, Method: soil.Kit}
	b := known(lab(day, 5.08), kit)
	s := b.Sift()
	require.NotNil(t, s.Open)
	assert.InDelta(t, 5.08, float64(s.Open.Read.PH), 1e-9)
	assert.Len(t, b.Without(&s).Readings, 4)
	b = known(lab(day, 5.08), kit, lab(day+30, 6.1))
	s = b.Sift()
	assert.Nil(t, s.Open)
}

// Once learning counts it keeps counting, whatever its width.
func TestLearningKeepsCounting(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	curve := soil.NewCurve([]float64{3.5, 4.5, 5.5, 6.5, 7.5}, []float64{227, 227, 321.5, 321.5})
	lime, _ := material.Find(material.CalciticLime)
	counted := 0
	for _, last := range []quantity.PH{5.2, 5.6, 6.0, 6.4} {
		b := forecast.Model{Curve: curve, Curved: 0.45, Warmth: &climate, Dug: true, Drift: -26, DriftSD: 13.4}
		for i, ph := range []quantity.PH{5.0, 6.4, 7.2, 7.6} {
			b.Readings = append(b.Readings, lab(start.AddMonths(12*i), ph))
			b.Additions = append(b.Additions, forecast.Addition{Date: start.AddMonths(12*i) + 10, CaCO3: 250, Reacts: lime.Reacts, Batch: "bag",
				StrengthSD: 0.05})
		}
		before := forecast.Learn(&b)
		require.True(t, before.Counts)
		b.Readings = append(b.Readings, lab(start.AddMonths(48), last), lab(start.AddMonths(54), last))
		if after := forecast.Learn(&b); after.Counts {
			counted++
			assert.NotNil(t, after.Beside(soil.ByTable))
		}
	}
	assert.Equal(t, 4, counted)
}

// Level and buffering are correlated: a higher level implies weaker buffering.
func TestLevelAndBufferingAreJoint(t *testing.T) {
	b := known()
	lime, _ := material.Find(material.CalciticLime)
	b.Additions = []forecast.Addition{{Date: start.AddMonths(12) + 3, CaCO3: 200, Reacts: lime.Reacts, Batch: "bag", StrengthSD: 0.05}}
	b.Readings[3].PH = 6.6
	l := forecast.Learn(&b)
	require.Greater(t, len(l.Joint), 4)
	sum, mean, factor, with := 0.0, 0.0, 0.0, 0.0
	for _, x := range l.Joint {
		sum, mean, factor = sum+x.Weight, mean+x.Weight*float64(x.Start), factor+x.Weight*math.Log(x.Factor)
	}
	for _, x := range l.Joint {
		with += x.Weight * (float64(x.Start) - mean) * (math.Log(x.Factor) - factor)
	}
	assert.InDelta(t, 1, sum, 1e-9)
	assert.InDelta(t, l.Level.Median, mean, 0.02)
	assert.Negative(t, with)
}
