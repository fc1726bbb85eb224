package bedstate_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

func TestTheNextCropCounts(t *testing.T) {
	y := gardentest.New(t)
	assert.Empty(t, y.State(gardentest.Today).Crop.ID, "none named")
	y.Add(y.Planting("carrot", "2026-04-20", "2026-10-30"), y.Planting("cabbage", "2027-05-24", "2027-12-01"), y.Planting("lettuce",
		"2028-03-01", ""))
	for day, want := range map[string]string{"2026-06-01": "cabbage", "2026-11-24": "cabbage", "2027-06-01": "lettuce",
		"2028-06-01": "lettuce", "2026-03-01": "carrot"} {
		assert.Equal(t, want, y.State(gardentest.Day(day)).Crop.ID, day)
	}
	standing := y.State(gardentest.Day("2026-06-01"))
	assert.Equal(t, "carrot", standing.Now[0].Crop)
	assert.Equal(t, "cabbage", standing.Next[0].Crop)
	assert.Empty(t, y.State(gardentest.Today).Now, "cleared")
}

func TestPerennialDecidesOverNextCrop(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("blueberry", "2021-11-10", ""), y.Planting("carrot", "2027-05-01", ""))
	assert.Equal(t, "blueberry", y.State(gardentest.Today).Crop.ID)
}

func TestLastReadingOfADayCounts(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""))
	assert.Equal(t, bed.Untested, y.State(gardentest.Today).Standing)
	y.Add(y.Reading("2024-10-01", soil.Lab, 7.2), y.Reading("2025-10-01", soil.Lab, 6.5), y.Reading("2026-10-01", soil.Lab, 5.7),
		&garden.Reading{BedID: y.Bed.ID, Date: gardentest.Day("2026-11-01"), Method: soil.Fizz, Cores: 3, Depth: 0.15, Vinegar: soil.LimeStrong,
			Soda: soil.LimeNone})
	for day, want := range map[string]bed.Standing{"2024-09-30": bed.Untested, "2024-12-01": bed.TooSweet, "2025-12-01": bed.InRange,
		"2026-11-24": bed.Sour} {
		assert.Equal(t, want, y.State(gardentest.Day(day)).Standing, day)
	}
	p := y.State(gardentest.Today)
	assert.InDelta(t, 0.5, float64(p.Off), 1e-9)
	assert.InDelta(t, 5.7, float64(p.PH), 1e-9, "a jar test pushes no figure aside")
}

func TestReadingsAreConvertedToWater(t *testing.T) {
	y := gardentest.New(t)
	r := y.Reading("2026-10-01", soil.Lab, 5.8)
	r.Basis = soil.CaCl2
	y.Add(y.Planting("dahlia", "2027-05-15", ""), r)
	assert.Equal(t, bed.InRange, y.State(gardentest.Today).Standing)
	assert.InDelta(t, 6.4, float64(y.State(gardentest.Today).PH), 1e-9)
}

func TestOutlookFollowsPlan(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-12", soil.Lab, 5.7))
	on := func(day string) bedstate.State {
		v, err := y.App.BedState.On(context.Background(), gardentest.Today, gardentest.Day(day), bedstate.ForecastOutlook{})
		require.NoError(t, err)
		return v.Beds[0]
	}
	assert.InDelta(t, 5.67, float64(on("2027-04-01").PH), 0.02, "nothing planned: it drifts as rain has it")
	read, err := y.App.BedState.ViewOn(context.Background(), gardentest.Today, gardentest.Day("2027-04-01"))
	require.NoError(t, err)
	assert.InDelta(t, 5.7, float64(read.Beds[0].PH), 1e-9, "what was read stays as it is: it is shared")
	assert.False(t, read.Beds[0].Expected)
	all := dosing.Choice{Pace: dose.AllAtOnce}
	require.NoError(t, y.PlanChoice("a", y.Dose(all).Key(y.Dose(all).Answer.Options[0]), all))
	last := y.OpenTasks()[0]
	ahead := on("2027-04-01")
	assert.True(t, ahead.Expected)
	assert.Greater(t, float64(ahead.PH), 5.75, "some of it has reacted")
	assert.Less(t, float64(ahead.PH), float64(*last.PHAfter)-0.05, "but by far not all: lime is slow")
	settled := on("2030-04-01")
	drift := (18 + 0.4*15) / 321.5 // rain and dahlias, a year
	years := float64(gardentest.Day("2030-04-01")-gardentest.Day("2026-11-12")) / 365.25
	assert.InDelta(t, float64(*last.PHAfter)-drift*years, float64(settled.PH), 0.04, "it settles, less what pulls it meanwhile")
	assert.Equal(t, bed.InRange, settled.Standing)
	// The retest's promise, the handle and the dose say the same.
	tasks := y.OpenTasks()
	retest := tasks[len(tasks)-1]
	require.Equal(t, garden.TaskRetest, retest.Kind)
	assert.InDelta(t, float64(*retest.PHAfter), float64(on(retest.Due.String()).PH), 0.006)
	past := on("2026-11-13")
	assert.False(t, past.Expected)
	assert.InDelta(t, 5.7, float64(past.PH), 1e-9)
}

// What is late has not begun to act: it goes on today at the earliest.
func TestOutlookCountsLateApplicationFromToday(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-12", soil.Lab, 5.7))
	require.NoError(t, y.Plan("a", y.FirstKey()))
	due, late := y.OpenTasks()[0].Due, gardentest.Day("2027-02-20")
	require.Less(t, due, late-60)
	seen := func(today, day quantity.Day) bedstate.State {
		v, err := y.App.BedState.On(gardentest.Ctx, today, day, bedstate.ForecastOutlook{})
		require.NoError(t, err)
		p, _ := v.Bed(y.Bed.ID)
		return p
	}
	assert.InDelta(t, 5.7, float64(seen(late, late+1).PH), 0.02, "put on today, it has hardly begun")
	assert.Greater(t, float64(seen(gardentest.Today, late+1).PH), 5.73, "put on in time, it would have")
	rec, err := y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, late)
	require.NoError(t, err)
	g, err := y.App.Place(gardentest.Ctx)
	require.NoError(t, err)
	ph, ok := bedstate.ForecastOutlook{}.Expect(rec.Coming(g, nil, late), late+400)
	require.True(t, ok)
	assert.InDelta(t, float64(seen(late, late+400).PH), float64(ph), 1e-9, "the plan and the record say the same")
}

func TestFreeSpotIsFree(t *testing.T) {
	x, y := bedstate.FreeSpot([]bedstate.State{{Bed: garden.Bed{Shape: garden.ShapeRect, X: 2, Y: 1, W: 4, H: 3}},
		{Bed: garden.Bed{Shape: garden.ShapeRect, X: 8, Y: 6, W: 1, H: 2}}})
	assert.InDelta(t, 2, x, 1e-9)
	assert.Greater(t, y, 8.0)
}

// The list of beds, the record and the dose judge a bed by the same figure: readings of the same
// soil are combined, those further apart in time are not.
func TestStateCombinesReadingsAsDoseDoes(t *testing.T) {
	for _, x := range []struct {
		first string
		n     int
	}{{"2026-10-03", 2}, {"2026-10-02", 1}} {
		y := gardentest.New(t)
		y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading(x.first, soil.Lab, 6.0), y.Reading("2026-11-14", soil.Meter, 6.4))
		p, w := y.State(gardentest.Today), y.Dose(dosing.Choice{})
		assert.Equal(t, x.n, p.Joined.N, x.first)
		assert.Equal(t, w.Answer.PH, p.PH)
		assert.Equal(t, w.Record.State.PH, p.PH)
		assert.Equal(t, w.Record.State.Standing, p.Standing)
		assert.Equal(t, x.n == 2, p.PH < 6.4, "between the two only when combined")
		assert.Equal(t, 1, y.State(gardentest.Day("2026-11-13")).Joined.N, "nothing of the days after")
	}
}
