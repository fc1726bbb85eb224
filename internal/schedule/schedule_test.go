package schedule_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

func TestRibbonWindowsUniteBeds(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("carrot", "2026-04-20", "2026-10-30"), y.Planting("carrot", "2027-04-20", "2027-10-30"))
	other := y.Bed
	other.Meta, other.Name = garden.Meta{}, "Other"
	y.Add(&other)
	y.Add(&garden.Planting{BedID: other.ID, Crop: "dahlia", Sown: gardentest.Day("2027-05-20")})
	v, err := y.App.BedState.View(context.Background(), gardentest.Today)
	require.NoError(t, err)
	from, to := gardentest.Day("2026-09-01"), gardentest.Day("2027-12-31")
	year, err := y.App.Schedule.Year(context.Background(), v, from, to)
	require.NoError(t, err)
	c := &soil.Climates[0]
	seasons := []*calendar.Conditions{
		{Weather: c, Starts: []calendar.Start{{Day: gardentest.Day("2027-04-20")}}, Cleared: gardentest.Day("2026-10-30"), SowingGap: 28,
			Dug: true},
		{Weather: c, Starts: []calendar.Start{{Day: gardentest.Day("2027-05-20")}}, SowingGap: 28, Dug: true},
	}
	require.Len(t, year.Windows, 3)
	assert.Equal(t, calendar.InGrowth, year.Windows[1].Windows[0].Opens, "ash opens when growth ends")
	assert.Equal(t, calendar.NearSowing, year.Windows[1].Windows[0].Closes, "and shuts before the later sowing")
	assert.Equal(t, calendar.ColdSoil, year.Windows[2].Windows[0].Opens, "sulfur waits for warm soil")
	assert.Equal(t, calendar.ColdSoil, year.Windows[2].Windows[0].Closes)
	for _, w := range year.Windows {
		open := map[quantity.Day]bool{}
		for _, x := range w.Windows {
			for d := x.From; d <= x.To; d++ {
				open[d] = true
			}
		}
		for d := from; d <= to; d++ {
			any := seasons[0].Blocked(w.Family, d) == calendar.Free || seasons[1].Blocked(w.Family, d) == calendar.Free
			require.Equal(t, any, open[d], "%s on %s", w.Family, d)
		}
	}
}

// The year has what was done on the day that it was done, and what is to do on the day that it is put on; what was skipped, and
// what lies outside, is not in it.
func TestYearHasTasksOnTheirDays(t *testing.T) {
	y := gardentest.New(t)
	task := func(state, due, settled string) *garden.Task {
		x := &garden.Task{BedID: y.Bed.ID, Kind: garden.TaskRetest, Due: gardentest.Day(due), State: state, Method: soil.Lab, Depth: 0.15}
		if settled != "" {
			x.Settled = gardentest.Day(settled)
		}
		y.Add(x)
		return x
	}
	late := task(garden.Done, "2026-08-20", "2026-09-12")
	task(garden.Done, "2026-09-05", "2026-08-30")
	task(garden.Skipped, "2026-10-01", "2026-10-01")
	open := task(garden.Open, "2027-01-10", "")
	task(garden.Open, "2028-02-01", "")
	v, err := y.App.BedState.View(context.Background(), gardentest.Today)
	require.NoError(t, err)
	year, err := y.App.Schedule.Year(context.Background(), v, gardentest.Day("2026-09-01"), gardentest.Day("2027-12-31"))
	require.NoError(t, err)
	days := map[int64]quantity.Day{}
	for _, x := range year.Tasks {
		days[x.ID] = x.On()
	}
	assert.Equal(t, map[int64]quantity.Day{late.ID: gardentest.Day("2026-09-12"), open.ID: gardentest.Day("2027-01-10")}, days)
}
