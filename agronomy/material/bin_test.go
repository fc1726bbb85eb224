package material_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

func on(s string) quantity.Day {
	d, err := quantity.ParseDay(s)
	if err != nil {
		panic(err)
	}
	return d
}

func ash(t *testing.T, k material.Kind) material.Batch {
	m, ok := material.Find(k)
	assert.True(t, ok)
	return material.Batch{Material: m, Condition: material.Dry, Source: material.Clean}
}

func TestVinegarRuns(t *testing.T) {
	for _, c := range []struct {
		runs []float64
		mean float64
		wild int
	}{
		{nil, 0, -1},
		{[]float64{120}, 120, -1},
		{[]float64{120, 60}, 90, -1}, // two cannot tell which is wild
		{[]float64{118, 122, 120}, 120, -1},
		{[]float64{118, 122, 60}, 120, 2},
		{[]float64{100, 100, 125}, 325.0 / 3, -1}, // a quarter off is still of them
		{[]float64{100, 100, 125.1}, 100, 2},
		{[]float64{100, 60, 100, 150}, 260.0 / 3, 3}, // the farthest alone
	} {
		mean, wild := material.VinegarRuns(c.runs)
		assert.InDelta(t, c.mean, mean, 1e-9, c.runs)
		assert.Equal(t, c.wild, wild, c.runs)
	}
}

func TestAshOfACord(t *testing.T) {
	assert.InDelta(t, 9000, float64(material.OfLogs(3.6)), 1e-9)
	assert.InDelta(t, 7500, float64(material.OfLogs(3)), 1e-9)
}

func TestHotAsh(t *testing.T) {
	b := ash(t, material.HardwoodAsh)
	assert.False(t, b.Hot(on("2026-11-24")), "a fire that nobody dated is not known to be hot")
	b.Burnt = on("2026-11-18")
	assert.True(t, b.Hot(on("2026-11-24")))
	assert.False(t, b.Hot(on("2026-11-25")))
	b.Embers = true
	assert.True(t, b.Hot(on("2027-11-25")))
	m, _ := material.Find(material.CalciticLime)
	lime := material.Batch{Material: m, Embers: true, Source: material.Painted}
	assert.False(t, lime.Hot(on("2026-11-25")) || lime.Barred())
}

func TestMixed(t *testing.T) {
	oven, stove := ash(t, material.HardwoodAsh), ash(t, "wood-ash-softwood")
	mix := material.Mixed([]material.Batch{oven, stove}, []quantity.Mass{3000, 1000})
	assert.Equal(t, material.UnknownAsh, mix.Kind)
	assert.Nil(t, mix.Measured, "nobody tested it")
	assert.InDelta(t, (3*5+3)/4.0, float64(*mix.Potash), 1e-9)

	cce, ml := quantity.Percent(60), 120.0
	oven.Measured = &cce
	stove.Vinegar = &material.VinegarTest{MilliLitres: ml, Strength: 5}
	oven.Burnt, stove.Burnt = on("2026-03-01"), on("2026-11-20")
	oven.Charcoal = 10
	mix = material.Mixed([]material.Batch{oven, stove}, []quantity.Mass{1000, 3000})
	assert.InDelta(t, (60+3*0.417*120)/4, float64(*mix.Measured), 0.01, "before its charcoal is taken off")
	assert.InDelta(t, 2.5, float64(mix.Charcoal), 1e-9)
	assert.True(t, mix.Hot(on("2026-11-25")), "as young as the youngest")
	assert.False(t, mix.Barred())

	stove.Source, stove.Condition, stove.Embers, stove.Walnut = material.Painted, material.Wet, true, true
	for _, parts := range [][]material.Batch{{oven, stove}, {stove, oven}} {
		mix = material.Mixed(parts, []quantity.Mass{9999, 1})
		assert.True(t, mix.Barred(), "a handful spoils it")
		assert.Equal(t, material.Painted, mix.Source)
		assert.Equal(t, material.Dry, mix.Condition, "only a handful of it is wet")
		assert.True(t, mix.Embers && mix.Walnut)
	}
	oven.Condition = material.Wet
	both := material.Mixed([]material.Batch{oven, stove}, []quantity.Mass{1000, 1000})
	assert.Equal(t, material.Wet, both.Condition)
	assert.InDelta(t, (60+0.417*120)/2, float64(*both.Measured), 0.01, "the rain is reckoned once")
	same := ash(t, material.HardwoodAsh)
	assert.Equal(t, material.HardwoodAsh, material.Mixed([]material.Batch{same, same}, []quantity.Mass{1, 1}).Kind)
}

func TestGrades(t *testing.T) {
	lime, _ := material.Find(material.CalciticLime)
	last := 1.1
	for _, g := range material.Grades {
		b := material.Batch{Material: lime, Fineness: &g.Shares}
		var sum quantity.Percent
		for _, p := range g.Shares {
			sum += p
		}
		assert.InDelta(t, 100, float64(sum), 1e-9, g.ID)
		assert.Less(t, b.Fine(), last, g.ID)
		last = b.Fine()
		back, ok := material.GradeOf(g.Shares)
		assert.True(t, ok && back.ID == g.ID)
	}
	ordinary, _ := material.FindGrade("ordinary")
	assert.InDelta(t, 0.80, (&material.Batch{Material: lime, Fineness: &ordinary.Shares}).Fine(), 1e-9, "the printed tables' own")
	_, ok := material.FindGrade("boulders")
	assert.False(t, ok)
}

// As much a day as until now: 4 kg in 24 days are 16 kg in 96 more. Nothing is reported of less
// than a fortnight, nor after the winter.
func TestByEnd(t *testing.T) {
	first, end := quantity.Date(2026, 11, 1), quantity.Date(2027, 3, 1)
	more, ok := material.ByEnd(4000, first, first+24, end)
	assert.True(t, ok)
	assert.InDelta(t, 16000, float64(more), 1)
	for name, today := range map[string]quantity.Day{"a day short of a fortnight": first + 13, "the winter’s end": end} {
		_, ok = material.ByEnd(4000, first, today, end)
		assert.False(t, ok, name)
	}
	_, ok = material.ByEnd(4000, first, first+14, end)
	assert.True(t, ok)
	_, ok = material.ByEnd(0, first, first+30, end)
	assert.False(t, ok, "no fire was logged")
}
