package schedule_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/readings"
)

func TestLateApplicationDelaysNext(t *testing.T) {
	y := gardentest.New(t)
	y.Applied(material.CalciticLime, 240, "2026-11-20", "2027-02-12")
	assert.Equal(t, []string{"2026-11-20", "2027-02-12"}, y.Due("2026-11-20"), "on its day")
	assert.Equal(t, []string{"2026-11-20", "2027-02-13"}, y.Due("2026-11-21"), "a day late, a day later")
	assert.Equal(t, []string{"2026-11-20", "2027-05-15"}, y.Due("2027-02-20"),
		"twelve weeks from the day that it is put on at the earliest")
	n, err := y.App.Schedule.DueCount(gardentest.Ctx, gardentest.Day("2027-02-20"))
	require.NoError(t, err)
	assert.Equal(t, 1, n, "never both")
	v, err := y.App.BedState.View(gardentest.Ctx, gardentest.Day("2027-02-20"))
	require.NoError(t, err)
	assert.Equal(t, bedstate.Move{From: gardentest.Day("2027-02-12"),
		Placed: calendar.Placed{Day: gardentest.Day("2027-05-15"), Lands: gardentest.Day("2027-05-15"), Why: calendar.TooSoon}},
		v.Moved[v.Tasks[1].ID])

	require.Nil(t, y.Tick("2027-02-20", applications.Tick{}))
	assert.Equal(t, []string{"2027-05-15"}, y.Due("2027-02-20"))
	f := y.Tick("2027-02-20", applications.Tick{})
	assert.Contains(t, f["amount"], "the nearest application of ground limestone or similar was on 20 Feb 2027; "+
		"they are kept 12 weeks apart, "+
		"so none until 15 May 2027")
	assert.Contains(t, f["amount"], "note it on the bed’s record")
	assert.NotNil(t, y.Tick("2027-05-14", applications.Tick{}), "a day earlier")
	assert.Nil(t, y.Tick("2027-05-15", applications.Tick{}))
}

func TestDelayedApplicationKeepsCapAndWindows(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("lettuce", "2027-04-20", "2027-09-30"),
		&garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2026-02-10"), What: material.HardwoodAsh, Rate: 200, Total: 1920})
	y.Applied(material.HardwoodAsh, 200, "2026-11-20", "2027-01-15")
	// 200 + 200 + 200 pass 500 g/m² until 10 Feb 2027, then ash is kept 42 days from
	// the lettuce and off it while it stands.
	assert.Equal(t, []string{"2026-11-20", "2027-02-10"}, y.Due("2026-11-24"))
	assert.Equal(t, []string{"2026-11-20", "2027-10-17"}, y.Due("2027-02-01"),
		"eight weeks on would fall too near the sowing, then on standing lettuce, until the soil cools")
	f := y.Tick("2026-11-24", applications.Tick{})
	require.Nil(t, f)
	f = y.Tick("2027-01-20", applications.Tick{})
	assert.Contains(t, f["amount"], "400 g/m² of hardwood ash was put on within a year; "+
		"200 g/m² more would pass the 500 g/m² that any 365 days may have")
}

func TestTickRespectsCapOnOneApplication(t *testing.T) {
	y := gardentest.New(t)
	y.Applied(material.HardwoodAsh, 200, "2026-11-20")
	f := y.Tick("2026-11-24", applications.Tick{Total: gardentest.Ptr(quantity.Mass(2401))})
	assert.Contains(t, f["amount"], "is more than the 250 g/m² that this bed takes at one time")
	assert.NotNil(t, y.Tick("2026-11-24", applications.Tick{Total: gardentest.Ptr(quantity.Mass(0))}))
	assert.Nil(t, y.Tick("2026-11-24", applications.Tick{Total: gardentest.Ptr(quantity.Mass(2400))}), "250 g/m² to the gram")
}

func TestTickNearSowingIsRefused(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("lettuce", "2026-11-30", ""))
	y.Applied(material.HardwoodAsh, 100, "2026-11-20")
	f := y.Tick("2026-11-24", applications.Tick{})
	assert.Contains(t, f["amount"], "too near the sowing")
}

func TestBackdatedTick(t *testing.T) {
	y := gardentest.New(t)
	y.PlanApplications(material.CalciticLime, 240, "2027-06-01", "2026-11-20")
	assert.Equal(t, "that day is still to come", y.Tick("2026-11-24", applications.Tick{On: gardentest.Day("2026-11-25")})["on"])
	require.Nil(t, y.Tick("2026-11-24", applications.Tick{On: gardentest.Day("2026-11-22"), Note: " By moonlight. "}))
	rec, err := y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	require.Len(t, rec.Applications, 1)
	assert.Equal(t, "2026-11-22", rec.Applications[0].Date.String())
	assert.Equal(t, "By moonlight.", rec.Applications[0].Note)
	s, err := y.App.Schedule.Sheet(gardentest.Ctx, gardentest.Today, gardentest.Day("2026-11-22"))
	require.NoError(t, err)
	require.Len(t, s.Settled, 1)
	assert.InDelta(t, 2304, float64(s.Put[s.Settled[0].ID].Total), 1e-9)
}

func TestBackdatedTickCountsInItsYears(t *testing.T) {
	y := gardentest.New(t)
	y.Add(&garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2026-11-20"), What: material.HardwoodAsh, Rate: 240, Total: 2304},
		&garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2026-03-01"), What: material.HardwoodAsh, Rate: 240, Total: 2304})
	y.Applied(material.HardwoodAsh, 100, "2026-06-01")
	assert.Contains(t, y.Tick("2026-11-24", applications.Tick{On: gardentest.Day("2026-08-01")})["amount"], "any 365 days")
}

func TestTickInScoops(t *testing.T) {
	y := gardentest.New(t)
	b := garden.Batch{Name: "Oven ash", Kind: material.HardwoodAsh, Condition: material.Dry, Source: material.Clean,
		Scoop: gardentest.Ptr(quantity.Mass(100)), OnHand: gardentest.Ptr(quantity.Mass(5000))}
	y.Add(&b)
	y.Add(&garden.Task{BedID: y.Bed.ID, Kind: garden.TaskApplication, Due: gardentest.Today, What: material.HardwoodAsh, BatchID: &b.ID,
		Rate:  100,
		Total: 960, State: garden.Open, Depth: 0.15})
	g := y.OpenTasks()[0]
	r, err := y.App.Applications.PutOn(gardentest.Ctx, y.Actor, applications.Tick{Task: g.ID, Version: g.Version, Scoops: gardentest.Ptr(8.5)})
	require.NoError(t, err)
	e, err := y.App.Entry(gardentest.Ctx, r.Journal)
	require.NoError(t, err)
	assert.Equal(t, "Put 8.5 scoops (850 g) of oven ash on Ledge", e.What)
}

func TestRetestFollowsActualDay(t *testing.T) {
	y := gardentest.New(t)
	y.PlanApplications(material.HardwoodAsh, 100, "2027-02-12", "2026-11-20")
	assert.Equal(t, []string{"2026-11-20", "2027-03-12"}, y.Due("2026-12-18"), "twelve weeks after the go at the earliest")
	require.Nil(t, y.Tick("2026-12-18", applications.Tick{Total: gardentest.Ptr(quantity.Mass(480))}))
	assert.Equal(t, []string{"2027-03-12"}, y.Due("2026-12-18"), "kept with the tick")
	rest := y.OpenTasks()
	require.Len(t, rest, 1)
	assert.Nil(t, rest[0].PHAfter, "half of it does not bring what was promised")
	_, err := y.App.Schedule.Skip(gardentest.Ctx, y.Actor, rest[0].ID, rest[0].Version, "No spade.")
	require.NoError(t, err, "a retest can be skipped")
}

func TestApplicationWaitsForRetest(t *testing.T) {
	y := gardentest.New(t)
	y.PlanApplications(material.HardwoodAsh, 100, "2027-02-12", "2026-11-20", "2027-03-01")
	require.Nil(t, y.Tick("2026-11-24", applications.Tick{}))
	assert.Equal(t, []string{"2027-02-16", "2027-03-01"}, y.Due("2027-02-20"))
	assert.Equal(t, []string{"2027-02-16", "2027-03-06"}, y.Due("2027-03-05"), "always a day after it")
	assert.Contains(t, y.Tick("2027-03-05", applications.Tick{})["amount"], "a retest comes before this")
}

func TestAtWork(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-06-01", soil.Lab, 5.6))
	assert.Nil(t, y.State(gardentest.Today).AtWork)
	y.Add(&garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2026-06-10"), What: material.CalciticLime, Rate: 300, Total: 2880})
	p := y.State(gardentest.Today)
	require.NotNil(t, p.AtWork)
	assert.Equal(t, bed.Sour, p.Standing, "it reads what it read")
	assert.InDelta(t, 6.15, float64(p.AtWork.Now), 0.15)
	assert.Greater(t, p.AtWork.Settles, p.AtWork.Now)
	// The outlook of the year is the same figure.
	v, err := y.App.BedState.On(gardentest.Ctx, gardentest.Day("2026-06-10"), gardentest.Today, bedstate.ForecastOutlook{})
	require.NoError(t, err)
	assert.InDelta(t, float64(v.Beds[0].PH), float64(p.AtWork.Now), 0.02)
	y.Add(y.Reading("2026-11-20", soil.Lab, 6.1))
	assert.LessOrEqual(t, float64(y.State(gardentest.Today).AtWork.Now), 6.15, "a new reading holds what has acted")
}

func TestLabFileByBedClosesRound(t *testing.T) {
	y := gardentest.New(t)
	w := y.SetOut(y.Choice(y.Bed.ID))
	for n := 1; n <= w.Beds[0].Cores; n++ {
		_, err := y.App.Rounds.Tick(gardentest.Ctx, y.Actor, w.Beds[0].ID, n, y.Actor.At)
		require.NoError(t, err)
	}
	early := *y.Reading("2026-11-10", soil.Lab, 6)
	_, err := y.App.Readings.ImportLab(gardentest.Ctx, y.Actor, "old.csv", []readings.LabLine{{Line: 2, Reading: early}}, nil)
	require.NoError(t, err)
	w, _ = y.App.Rounds.Walk(gardentest.Ctx, w.Round.ID)
	assert.Equal(t, garden.SampleTaken, w.Samples[0].State, "an older reading is not of this sample")
	_, err = y.App.Readings.ImportLab(gardentest.Ctx, y.Actor, "new.csv", []readings.LabLine{{Line: 2, Reading: *y.Reading("2026-11-24",
		soil.Lab,
		5.9)}}, nil)
	require.NoError(t, err)
	w, _ = y.App.Rounds.Walk(gardentest.Ctx, w.Round.ID)
	assert.Equal(t, garden.SampleRead, w.Samples[0].State)
	assert.Equal(t, gardentest.Today, w.Round.Ended)
}

func TestOtherDaysShowTodaysTasks(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""))
	y.Applied(material.CalciticLime, 200, "2026-11-24", "2027-02-20")
	w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{Today: gardentest.Today}, gardentest.Day("2027-06-01"))
	require.NoError(t, err)
	v, err := y.App.BedState.On(gardentest.Ctx, gardentest.Today, gardentest.Day("2027-06-01"), bedstate.ForecastOutlook{})
	require.NoError(t, err)
	for i, want := range []string{"2026-11-24", "2027-02-20"} {
		assert.Equal(t, want, w.Record.Tasks[i].Due.String())
		assert.Equal(t, want, v.Tasks[i].Due.String())
	}
	c, err := y.App.Dosing.Coming(gardentest.Ctx, &w, gardentest.Today)
	require.NoError(t, err)
	ph, ok := bedstate.ForecastOutlook{}.Expect(c, gardentest.Day("2027-06-01"))
	require.True(t, ok)
	assert.InDelta(t, float64(v.Beds[0].PH), float64(ph), 1e-9, "the slip and the plan say the same")
	assert.Greater(t, float64(ph), 6.0)
}
