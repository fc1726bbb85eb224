package keepers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/seasons"
)

func (y *yard) season() seasons.Season {
	y.t.Helper()
	s, err := y.keep.Seasons.Bed(ctx, y.bed.ID, today)
	require.NoError(y.t, err)
	return s
}

// With nothing planned both lines are one; what is put in the year lifts the one and leaves the other; what is held back does
// not count.
func TestASeasonGoesWithWhatIsPlanned(t *testing.T) {
	y := stubborn(t)
	before := y.season()
	assert.Zero(t, before.Planned)
	later := today.AddMonths(18)
	assert.InDelta(t, forecast.On(before.Idle.PH, later).Median, forecast.On(before.Run.PH, later).Median, 1e-9)
	y.add(&garden.Task{BedID: y.bed.ID, Kind: garden.TaskGo, What: material.CalciticLime, Rate: 300, Total: 2880, Due: today + 10,
		State: garden.Open})
	after := y.season()
	assert.Equal(t, 1, after.Planned)
	assert.InDelta(t, forecast.On(before.Idle.PH, later).Median, forecast.On(after.Idle.PH, later).Median, 1e-9)
	lifted := forecast.On(after.Run.PH, later).Median - forecast.On(after.Idle.PH, later).Median
	curve := after.Lesson.Buffer.Raise
	level := after.Lesson.Learned().Level.Median
	byTable := float64(curve.Settle(after.Lesson.Record.Readings[3].PH, 291)) - float64(after.Lesson.Record.Readings[3].PH)
	assert.Greater(t, lifted, 0.1)
	assert.Less(t, lifted, byTable, "a stubborn bed is moved less than the table says")
	assert.InDelta(t, byTable/after.Lesson.Learned().Stubborn.Median, lifted, 0.1, "level %.2f", level)
	// The same as a plan of one's own.
	m, _ := material.Find(material.CalciticLime)
	_, own := before.With([]forecast.Put{{Application: ledger.Application{Date: today + 10, Material: m, Rate: 300}}})
	assert.InDelta(t, forecast.On(after.Run.PH, later).Median, forecast.On(own.PH, later).Median, 0.01)
}

// Potassium has a line of its own: what came and what crops carried off between its readings.
func TestASeasonTellsOfPotassium(t *testing.T) {
	y := newYard(t)
	first, last := y.read("2024-11-24", soil.Lab, 6.5), y.read("2026-11-24", soil.Lab, 6.4)
	k1, k2 := first, last
	k1.Potassium, k2.Potassium = ptr(quantity.Concentration(120)), ptr(quantity.Concentration(110))
	y.add(y.crop("tomato", "2025-05-10", "2025-10-10"), y.crop("tomato", "2026-05-10", "2026-10-10"), k1, k2,
		&garden.Application{BedID: y.bed.ID, Date: at("2025-12-01"), What: material.HardwoodAsh, Rate: 100, Total: 960})
	s := y.season()
	assert.InDelta(t, 25, s.KMoved.Carried, 0.2)
	assert.InDelta(t, 2.5, s.KMoved.Brought, 0.05)
	require.NotEmpty(t, s.K)
	assert.InDelta(t, 105, float64(s.Scale.Critical), 1e-9)
}

// All beds have a line, the untested an empty one; the month that leaves the band is a day's to come.
func TestOutlinesAreOfAllBeds(t *testing.T) {
	y := stubborn(t)
	other := y.bed
	other.Meta, other.Name, other.X = garden.Meta{}, "New ground", 20
	y.add(&other)
	all, err := y.keep.Seasons.Outlines(ctx, today)
	require.NoError(t, err)
	require.Len(t, all, 2)
	assert.NotEmpty(t, all[0].Back)
	assert.Empty(t, all[1].Back)
	assert.InDelta(t, forecast.On(y.season().Run.PH, today).Median, all[0].Ahead[0].Median, 0.05)
	_, err = y.keep.Seasons.Bed(ctx, other.ID, today)
	assert.ErrorIs(t, err, seasons.ErrNoReading)
}
