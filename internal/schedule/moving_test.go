package schedule_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

func TestMoveShiftsFollowers(t *testing.T) {
	y := gardentest.New(t)
	y.Applied(material.CalciticLime, 240, "2026-11-20", "2027-02-12")
	require.Nil(t, y.Move("2026-11-18", 0, "2026-11-30"))
	assert.Equal(t, []string{"2026-11-30", "2027-02-22"}, y.Due("2026-11-18"), "twelve weeks after it")
	m, err := y.App.Schedule.Moving(gardentest.Ctx, y.OpenTasks()[0].ID, gardentest.Day("2026-12-10"), gardentest.Day("2026-11-18"))
	require.NoError(t, err)
	assert.True(t, m.Serves())
	require.Len(t, m.Others, 1)
	assert.Equal(t, gardentest.Day("2027-03-04"), m.Others[0].Is.Day)
	assert.Equal(t, []string{"2026-11-30", "2027-02-22"}, y.Due("2026-11-18"), "nothing is moved by asking")
	// The second cannot come nearer than its spacing: a day earlier is refused, on the day it may.
	f := y.Move("2026-11-18", 1, "2027-02-21")
	assert.Contains(t, f["to"], "not on 21 Feb 2027: applications must be kept apart. The first suitable day is 22 Feb 2027")
	require.Nil(t, y.Move("2026-11-18", 1, "2027-02-22"))
	for to, why := range map[string]string{"2026-11-17": "gone by", "2029-06-01": "two years ahead"} {
		assert.Contains(t, y.Move("2026-11-18", 0, to)["to"], why, to)
	}
}

func TestMovedApplicationTakesRetestAlong(t *testing.T) {
	y := gardentest.New(t)
	y.PlanApplications(material.CalciticLime, 240, "2027-05-21", "2026-11-20")
	require.Nil(t, y.Move("2026-11-18", 0, "2027-01-15"))
	assert.Equal(t, []string{"2027-01-15", gardentest.Day("2027-01-15").AddWeeks(26).String()}, y.Due("2026-11-18"))
	require.Nil(t, y.Tick("2027-01-15", applications.Tick{}))
	assert.Equal(t, []string{gardentest.Day("2027-01-15").AddWeeks(26).String()}, y.Due("2027-01-15"))
	f := y.Move("2027-01-16", 0, gardentest.Day("2027-01-15").AddWeeks(12).String())
	assert.Nil(t, f, "a retest may be sooner than its interval, once what went on has acted")
	f = y.Move("2027-01-16", 0, (gardentest.Day("2027-01-15").AddWeeks(12) - 1).String())
	assert.Contains(t, f["to"], "lime 12 weeks before a sample shows")
}

func TestMoveKeepsOrderOfDose(t *testing.T) {
	y := gardentest.New(t)
	y.PlanApplications(material.CalciticLime, 240, "2027-05-21", "2026-11-20", "2027-05-22")
	require.Nil(t, y.Move("2026-11-18", 0, "2027-10-20"))
	due := y.Due("2026-11-18")
	assert.Equal(t, []string{"2027-10-20", gardentest.Day("2027-10-20").AddWeeks(26).String()}, due[:2], "the test comes after it")
	assert.Greater(t, due[2], due[1], "and what waits for the test after that")
	f := y.Move("2026-11-18", 2, "2027-11-20")
	assert.NotEmpty(t, f["to"], "the rest goes on before no test")
	// A test that is moved takes what waits for it along.
	require.Nil(t, y.Move("2026-11-18", 1, "2028-05-20"))
	assert.Equal(t, "2028-05-20", y.Due("2026-11-18")[1])
	assert.Greater(t, y.Due("2026-11-18")[2], "2028-05-20")
}

func TestSheetIsInWalkingOrder(t *testing.T) {
	y := gardentest.New(t)
	for n, x := range []float64{30, 2, 60, 12} {
		b := y.Bed
		b.Meta, b.Name, b.X, b.Y = garden.Meta{}, string(rune('A'+n)), x, 1
		y.Add(&b)
		y.Add(&garden.Task{BedID: b.ID, Kind: garden.TaskApplication, Due: gardentest.Day("2026-11-20") + 3 - quantity.Day(n%3),
			What:  material.Compost,
			Rate:  1000,
			Total: 9600, State: garden.Open, Depth: 0.15})
	}
	sh, err := y.App.Schedule.Sheet(gardentest.Ctx, gardentest.Day("2026-11-24"), gardentest.Day("2026-11-24"))
	require.NoError(t, err)
	way := ""
	for _, x := range sh.Due {
		way += sh.Beds[x.BedID].Name
	}
	assert.Equal(t, "BDAC", way)
}

func TestFollowersReturnWhenMovedForward(t *testing.T) {
	y := gardentest.New(t)
	y.Applied(material.CalciticLime, 240, "2026-11-25", "2027-02-17")
	_, err := y.App.Layout.SetDays(gardentest.Ctx, garden.Actor{Key: "away", Today: gardentest.Day("2026-11-18")}, 1, nil,
		garden.Stretches{{From: gardentest.Day("2026-11-25"), To: gardentest.Day("2026-12-10")}})
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-12-11", "2027-03-05"}, y.Due("2026-11-18"))
	m, err := y.App.Schedule.Moving(gardentest.Ctx, y.OpenTasks()[0].ID, gardentest.Day("2026-11-26"), gardentest.Day("2026-11-18"))
	require.NoError(t, err)
	require.Len(t, m.Others, 1)
	assert.Equal(t, gardentest.Day("2027-02-18"), m.Others[0].Is.Day, "it is dated from the day that it was planned for")
	require.Nil(t, y.Move("2026-11-18", 0, "2026-11-26"))
	assert.Equal(t, []string{"2026-11-26", "2027-02-18"}, y.Due("2026-11-18"))
}

func TestTasksKeepToWorkingDays(t *testing.T) {
	y := gardentest.New(t)
	y.Applied(material.CalciticLime, 240, "2026-11-20")
	_, err := y.App.Layout.SetDays(gardentest.Ctx, garden.Actor{Key: "days", Today: gardentest.Day("2026-11-18")}, 1, garden.Figures{6},
		garden.Stretches{{From: gardentest.Day("2026-11-21"), To: gardentest.Day("2026-11-27")}})
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-11-28"}, y.Due("2026-11-18"), "the first Saturday on which they are not away")
	g, err := y.App.Place(gardentest.Ctx)
	require.NoError(t, err)
	_, err = y.App.Layout.SetPlace(gardentest.Ctx, garden.Actor{Key: "place", Today: gardentest.Day("2026-11-18")},
		garden.Garden{Meta: g.Meta, Name: "Renamed",
			Climate: g.Climate, Hemisphere: g.Hemisphere, SoilTable: g.SoilTable, Buffering: g.Buffering, AshApproach: g.AshApproach,
			Trigger: g.Trigger})
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-11-28"}, y.Due("2026-11-18"), "the place’s form knows nothing of days, and leaves them")
	require.Nil(t, y.Move("2026-11-18", 0, "2026-11-23"), "by hand any day serves")
	assert.Equal(t, []string{"2026-11-23"}, y.Due("2026-11-18"))
	for name, days := range map[string]garden.Figures{"no day": {7}, "half a day": {1.5}, "twice": {1, 1}} {
		_, err = y.App.Layout.SetDays(gardentest.Ctx, garden.Actor{Key: name, Today: gardentest.Day("2026-11-18")}, 3, days, nil)
		var f garden.Faults
		require.ErrorAs(t, err, &f, name)
		assert.NotEmpty(t, f["work_days"])
	}
	_, err = y.App.Layout.SetDays(gardentest.Ctx, garden.Actor{Key: "back", Today: gardentest.Day("2026-11-18")}, 3, nil,
		garden.Stretches{{From: gardentest.Day("2026-12-01"), To: gardentest.Day("2026-11-30")}})
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f["away"], "after the first")
}

// What the weather moves says of each that it leaves where it is, and why.
func TestWaitNamesWhatStays(t *testing.T) {
	y := gardentest.New(t)
	second, third := y.Bed, y.Bed
	second.Meta, second.Name, second.Y = garden.Meta{}, "Second", 5
	third.Meta, third.Name, third.Y = garden.Meta{}, "Third", 9
	y.Add(&second, &third)
	var goes []garden.Task
	for i, b := range []garden.Bed{y.Bed, second, third} {
		g := &garden.Task{BedID: b.ID, Kind: garden.TaskApplication, Due: gardentest.Today, What: material.HardwoodAsh, Rate: 50, Total: 480,
			State: garden.Open,
			Depth: 0.15}
		y.Add(g)
		if i < 2 {
			y.Add(&garden.Planting{BedID: b.ID, Crop: "dahlia", Sown: gardentest.Today + 30})
		}
		goes = append(goes, *g)
	}
	_, err := y.App.Schedule.Wait(gardentest.Ctx, y.Actor, goes[:2], gardentest.Today+5)
	gardentest.FaultAt(t, err, "to", "Ledge: ")
	gardentest.FaultAt(t, err, "to", "Second: ")
	r, err := y.App.Schedule.Wait(gardentest.Ctx, y.Actor, goes, gardentest.Today+5)
	require.NoError(t, err)
	lines, err := y.App.Journal(gardentest.Ctx, 0, 1)
	require.NoError(t, err)
	require.Equal(t, r.Journal, lines[0].ID)
	assert.Contains(t, lines[0].What, "Moved 1 application")
	assert.Contains(t, lines[0].What, "left where they are: Ledge: ")
	assert.Contains(t, lines[0].What, "; Second: ")
}
