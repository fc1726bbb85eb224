package dosing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

// steady returns a bed that a lab read about 6.1 four times.
func steady(t *testing.T) *gardentest.Garden {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""))
	for day, ph := range map[string]quantity.PH{"2024-10-20": 6.2, "2025-03-15": 6.1, "2025-10-20": 6.15, "2026-03-18": 6.1} {
		y.Add(y.Reading(day, soil.Lab, ph))
	}
	return y
}

// A surprising test stops every dose, plans its confirming test and leads the walk; the confirming
// one decides, and the two are not combined.
func TestSurprisingTestStopsDoseUntilConfirmed(t *testing.T) {
	for second, stood := range map[quantity.PH]bool{6.0: false, 5.1: true} {
		y := steady(t)
		day := gardentest.Day("2026-11-12")
		_, err := y.App.Readings.AddReading(gardentest.Ctx, y.On(day), *y.Reading(day.String(), soil.Lab, 5.08))
		require.NoError(t, err)
		w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, day)
		require.NoError(t, err)
		assert.Equal(t, dose.Refused, w.Answer.Direction)
		assert.Equal(t, guard.SurprisingID, w.Answer.Guards[0].ID)
		assert.Empty(t, w.Answer.Options)
		_, test := gardentest.OpenApplications(w.Record)
		require.NotNil(t, test, "its confirming test is planned")
		assert.Equal(t, day+21, test.Due)
		_, all, err := y.App.Rounds.Candidates(gardentest.Ctx, day)
		require.NoError(t, err)
		assert.Equal(t, sampling.Confirm, all[0].Due)
		assert.True(t, all[0].For.Confirms, "by a sample of its own")
		// The doses of several beds and the bucket are refused alike.
		many, err := y.App.Dosing.Many(gardentest.Ctx, nil, "", day)
		require.NoError(t, err)
		assert.Nil(t, many.Rows[0].Option)

		later := day + 21
		_, err = y.App.Readings.AddReading(gardentest.Ctx, y.On(later), *y.Reading(later.String(), soil.Lab, second))
		require.NoError(t, err)
		w, err = y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, later)
		require.NoError(t, err)
		assert.Empty(t, w.Beside, "not joined with the one that surprised")
		assert.Equal(t, dose.Raise, w.Answer.Direction)
		_, test = gardentest.OpenApplications(w.Record)
		assert.Nil(t, test, "there is nothing to confirm any more")
		v, ok := w.Record.Lesson.Verdict(later)
		require.True(t, ok)
		assert.Equal(t, stood, v.Stood)
		if !stood {
			assert.InDelta(t, 6.1, w.Record.Lesson.Learned().Level.Median, 0.15, "the wild one teaches nothing")
		}
	}
}

// A test that is too soon confirms nothing: the confirming one stays to do.
func TestSurpriseIsNotConfirmedTooSoon(t *testing.T) {
	y := steady(t)
	day := gardentest.Day("2026-11-12")
	for _, on := range []quantity.Day{day, day + 3} {
		_, err := y.App.Readings.AddReading(gardentest.Ctx, y.On(on), *y.Reading(on.String(), soil.Lab, 5.08))
		require.NoError(t, err)
	}
	w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, day+3)
	require.NoError(t, err)
	assert.Equal(t, dose.Refused, w.Answer.Direction)
	_, test := gardentest.OpenApplications(w.Record)
	require.NotNil(t, test)
	assert.GreaterOrEqual(t, test.Due, day+21)
}

// A surprising test is told as it was read, not as a mean with what it contradicts.
func TestSurprisingTestIsCombinedWithNone(t *testing.T) {
	y := steady(t)
	day := gardentest.Day("2026-11-12")
	y.Add(y.Reading("2026-11-01", soil.Lab, 6.1), y.Reading(day.String(), soil.Lab, 5.08))
	w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, day)
	require.NoError(t, err)
	require.NotNil(t, w.Record.State.Surprise)
	assert.Empty(t, w.Beside)
	assert.InDelta(t, 5.08, float64(w.Record.State.PH), 1e-9)
	assert.InDelta(t, 5.08, float64(y.State(day).PH), 1e-9, "in the list of beds too")
}

// A surprising value is reported before it is saved; striking it out removes its confirming test.
func TestSurprisingTestIsQueried(t *testing.T) {
	y := steady(t)
	w, err := y.App.Dosing.Preview(gardentest.Ctx, *y.Reading("2026-11-12", soil.Lab, 5.08), gardentest.Today)
	require.NoError(t, err)
	require.NotNil(t, w.Request.Surprise)
	assert.Equal(t, dose.Refused, w.Answer.Direction)
	_, err = y.App.Readings.AddReading(gardentest.Ctx, y.Actor, *y.Reading("2026-11-12", soil.Lab, 5.08))
	require.NoError(t, err)
	rec := y.RecordOn(gardentest.Today)
	last := rec.Readings[len(rec.Readings)-1]
	_, err = y.App.Readings.Strike(gardentest.Ctx, y.Actor, last.ID, last.Version+1, "the wrong bag")
	require.ErrorIs(t, err, garden.ErrStale, "another window has changed it since")
	_, err = y.App.Readings.Strike(gardentest.Ctx, y.Actor, last.ID, last.Version, "the wrong bag")
	require.NoError(t, err)
	rec = y.RecordOn(gardentest.Today)
	_, test := gardentest.OpenApplications(rec)
	assert.Nil(t, test)
	assert.Nil(t, rec.State.Surprise)
	tasks := 0
	for _, x := range rec.Tasks {
		if x.Kind == garden.TaskRetest {
			tasks++
		}
	}
	assert.Zero(t, tasks)
}

// A second test that surprises in its turn confirms nothing: the one confirming test stays open, and moves on with it.
func TestSurprisingConfirmationStaysOpen(t *testing.T) {
	y := steady(t)
	first := gardentest.Day("2026-11-12")
	second := first + 21
	for _, x := range []struct {
		day quantity.Day
		ph  quantity.PH
	}{{first, 5.08}, {second, 4.1}} {
		_, err := y.App.Readings.AddReading(gardentest.Ctx, y.On(x.day), *y.Reading(x.day.String(), soil.Lab, x.ph))
		require.NoError(t, err)
	}
	var tests []garden.Task
	for _, x := range y.RecordOn(second).Tasks {
		if x.Kind == garden.TaskRetest {
			tests = append(tests, x)
		}
	}
	require.Len(t, tests, 1)
	assert.Equal(t, garden.Open, tests[0].State)
	assert.Greater(t, tests[0].Due, second)
}
