package keepers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
)

// Lime that moved a bed by much less than promised, thrice, says that it is stubborn; a reading that is struck out
// unsays it.
func TestABedTeachesHowStubbornItIs(t *testing.T) {
	y := newYard(t)
	_, err := y.keep.Desk.Taught(ctx, y.bed.ID, today)
	require.ErrorIs(t, err, desk.ErrNoReading)
	lime := func(day string) garden.Record {
		return &garden.Application{BedID: y.bed.ID, Date: at(day), What: material.CalciticLime, Rate: 300, Total: 2880}
	}
	y.add(y.crop("dahlia", "2022-05-15", ""), y.read("2022-10-01", soil.Lab, 5.2), lime("2022-11-01"), y.read("2023-10-01", soil.Lab, 5.5),
		lime("2023-11-01"), y.read("2024-10-01", soil.Lab, 5.8), lime("2024-11-01"), y.read("2025-10-01", soil.Lab, 6.0))
	taught, err := y.keep.Desk.Taught(ctx, y.bed.ID, today)
	require.NoError(t, err)
	l := taught.Run.Learned
	assert.True(t, l.Counts)
	assert.Equal(t, 3, l.Tests)
	assert.Greater(t, l.Stubborn.P05, 1.0)
	assert.Contains(t, words.Taught(l, taught.School), "the texture table has it")
	assert.Contains(t, words.Taught(l, taught.School), "moves it less")
	require.Len(t, taught.Checks, 3)
	assert.Contains(t, words.Kept(taught.Checks[0]), "short")
	for _, p := range taught.Run.PH[1:] {
		assert.True(t, p.P05 < p.Median && p.Median < p.P95)
	}
	// Struck out, what it taught is gone: a pair of readings less.
	all := y.rec().Readings
	last := all[len(all)-1]
	_, err = y.keep.Readings.Strike(ctx, y.act, last.ID, last.Version, "another bed’s")
	require.NoError(t, err)
	less, err := y.keep.Desk.Taught(ctx, y.bed.ID, today)
	require.NoError(t, err)
	assert.Equal(t, 2, less.Run.Learned.Tests)
	assert.NotEqual(t, l.Stubborn.Median, less.Run.Learned.Stubborn.Median)
}
