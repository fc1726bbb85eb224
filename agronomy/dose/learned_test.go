package dose_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/soil"
)

// shownRequest returns the contract's bed, by what its retests shown.
func shownRequest(t *testing.T, l soil.Learned) dose.Answer {
	t.Helper()
	r := request()
	l.Beside, l.Tests, l.LogSD = soil.ByTable, 3, 0.12
	r.Ground.Learned, r.Methods.Buffering = &l, soil.ByLearned
	a, err := dose.For(r)
	require.NoError(t, err)
	return a
}

// What a bed has shown scales its need, and narrows it.
func TestLearnedDose(t *testing.T) {
	table, err := dose.For(request())
	require.NoError(t, err)
	a := shownRequest(t, soil.Learned{Factor: 1.4})
	assert.InDelta(t, 1.4*float64(table.Need.CaCO3), float64(a.Need.CaCO3), 0.01)
	width := func(x dose.Answer) float64 { return float64(x.Need.High-x.Need.Low) / float64(x.Need.CaCO3) }
	assert.Less(t, width(a), 0.6*width(table))
}

// The level of all readings is the start; it never makes a bed that is too sour too sweet.
func TestLearnedStart(t *testing.T) {
	r := request()
	day, ph := r.Reading.Date, r.Reading.PH
	table, err := dose.For(request())
	require.NoError(t, err)
	target := table.Target
	a := shownRequest(t, soil.Learned{Factor: 1, Level: ph + 0.2, LevelSD: 0.08, Day: day})
	want := a.Buffering.Raise.Need(ph+0.2, target)
	assert.InDelta(t, float64(want), float64(a.Need.CaCO3), 0.01)
	assert.InDelta(t, 0.08, a.StartSD, 1e-9)
	assert.Equal(t, table.PH, a.PH, "it is judged by its reading")
	past := shownRequest(t, soil.Learned{Factor: 1, Level: target + 0.3, LevelSD: 0.08, Day: day})
	assert.Equal(t, dose.Leave, past.Direction)
	assert.Zero(t, past.Need.CaCO3)
	// A level of another day is that of another reading.
	old := shownRequest(t, soil.Learned{Factor: 1, Level: ph + 0.2, LevelSD: 0.08, Day: day - 1})
	assert.InDelta(t, float64(table.Need.CaCO3), float64(old.Need.CaCO3), 0.01)
}
