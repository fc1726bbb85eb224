package dosing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

// The test that is read answers the rest, and a correction that was begun is finished by it; without the reading it waits again.
func TestTestAnswersRest(t *testing.T) {
	for name, takeBack := range map[string]func(y *gardentest.Garden, r garden.Reading, journal int64){
		"undone": func(y *gardentest.Garden, _ garden.Reading, journal int64) { y.TakeBack(journal) },
		"struck out": func(y *gardentest.Garden, r garden.Reading, _ int64) {
			_, err := y.App.Readings.Strike(gardentest.Ctx, y.Actor, r.ID, r.Version, "wrong sample")
			require.NoError(y.T, err)
		},
	} {
		y := gardentest.NewSandy(t)
		start := gardentest.Day("2026-10-17")
		require.NoError(t, y.PlanOn(start, dosing.Choice{}))
		goes, _ := gardentest.OpenApplications(y.RecordOn(start))
		_, err := y.App.Applications.PutOn(gardentest.Ctx, y.On(start), applications.Tick{Task: goes[0].ID, Version: goes[0].Version})
		require.NoError(t, err)
		_, test := gardentest.OpenApplications(y.RecordOn(start))
		read := *y.Reading(test.Due.String(), soil.Lab, 6.1)
		got, err := y.App.Readings.AddReading(gardentest.Ctx, y.On(test.Due), read)
		require.NoError(t, err)
		rec := y.RecordOn(test.Due)
		assert.Empty(t, rec.Rests, name)
		w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, test.Due)
		require.NoError(t, err)
		assert.True(t, w.Request.Begun, "in range, and begun")
		assert.Equal(t, dose.Raise, w.Answer.Direction, "it is finished to its aim of 6.5")
		takeBack(y, rec.Readings[len(rec.Readings)-1], got.Journal)
		again := y.RecordOn(test.Due)
		require.Len(t, again.Rests, 1, name)
		_, open := gardentest.OpenApplications(again)
		require.NotNil(t, open, "%s: its test is to do again", name)
		assert.Equal(t, open.Due, again.Rests[0].Test)
	}
}

// A reading from before the lime, or too soon after it, tests nothing of it: the rest waits on.
func TestUnsuitableReadingAnswersNoRest(t *testing.T) {
	y := gardentest.NewSandy(t)
	start := gardentest.Day("2026-10-17")
	require.NoError(t, y.PlanOn(start, dosing.Choice{}))
	_, test := gardentest.OpenApplications(y.RecordOn(start))
	require.NotNil(t, test)
	readOn := func(day quantity.Day) int {
		_, err := y.App.Readings.AddReading(gardentest.Ctx, y.On(day), *y.Reading(day.String(), soil.Kit, 5.3))
		require.NoError(t, err)
		return len(y.RecordOn(day).Rests)
	}
	assert.Equal(t, 1, readOn(test.Due), "nothing went on yet")
	late := test.Due + 3
	goes, _ := gardentest.OpenApplications(y.RecordOn(late))
	require.Len(t, goes, 1)
	_, err := y.App.Applications.PutOn(gardentest.Ctx, y.On(late), applications.Tick{Task: goes[0].ID, Version: goes[0].Version})
	require.NoError(t, err)
	assert.Equal(t, 1, readOn(late+83), "twelve weeks less a day after the lime")
	assert.Equal(t, 0, readOn(late+84))
}

func TestCorrectionEnds(t *testing.T) {
	for ph, begun := range map[quantity.PH]bool{6.3: true, 6.34: true, 6.36: false, 6.45: false} {
		y := gardentest.NewSandy(t)
		start := gardentest.Day("2026-10-17")
		require.NoError(t, y.PlanOn(start, dosing.Choice{}))
		goes, _ := gardentest.OpenApplications(y.RecordOn(start))
		_, err := y.App.Applications.PutOn(gardentest.Ctx, y.On(start), applications.Tick{Task: goes[0].ID, Version: goes[0].Version})
		require.NoError(t, err)
		y.Add(y.Reading("2027-04-19", soil.Lab, ph))
		ask := func(day quantity.Day) bool {
			w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, day)
			require.NoError(t, err)
			return w.Request.Begun
		}
		assert.Equal(t, begun, ask(gardentest.Day("2027-04-19")), "%v", ph)
		assert.False(t, ask(gardentest.Day("2029-04-19")), "two years without a test")
		rec := y.RecordOn(gardentest.Day("2027-04-19"))
		rec.Plantings[0].Crop = "lettuce"
		y.Change(&rec.Plantings[0])
		assert.False(t, ask(gardentest.Day("2027-04-19")), "another crop")
	}
}

// What was applied beyond what was planned is of the rest; a test that is skipped takes the rest with it.
func TestOtherAmountAndSkipReduceRest(t *testing.T) {
	y := gardentest.NewSandy(t)
	start := gardentest.Day("2026-10-17")
	require.NoError(t, y.PlanOn(start, dosing.Choice{}))
	rec := y.RecordOn(start)
	goes, _ := gardentest.OpenApplications(rec)
	whole := goes[0].Total + rec.Rests[0].Total
	more := goes[0].Total * 1.25
	r, err := y.App.Applications.PutOn(gardentest.Ctx, y.On(start), applications.Tick{Task: goes[0].ID, Version: goes[0].Version,
		Total: &more})
	require.NoError(t, err)
	assert.InDelta(t, float64(whole-more), float64(y.RecordOn(start).Rests[0].Total), 1e-6)
	y.TakeBack(r.Journal)
	assert.InDelta(t, float64(whole-goes[0].Total), float64(y.RecordOn(start).Rests[0].Total), 1e-6)
	_, test := gardentest.OpenApplications(y.RecordOn(start))
	r, err = y.App.Schedule.Skip(gardentest.Ctx, y.On(start), test.ID, test.Version, "no time")
	require.NoError(t, err)
	assert.Empty(t, y.RecordOn(start).Rests)
	y.TakeBack(r.Journal)
	assert.Len(t, y.RecordOn(start).Rests, 1)
}
