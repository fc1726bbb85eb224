package outlook_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/outlook"
)

// With nothing planned both lines are one; what is put in the year lifts the one and leaves the other; what is held back does
// not count.
func TestForecastFollowsPlan(t *testing.T) {
	y := gardentest.NewBuffered(t)
	before := y.Forecast()
	assert.Zero(t, before.Planned)
	later := gardentest.Today.AddMonths(18)
	assert.InDelta(t, forecast.On(before.Idle.PH, later).Median, forecast.On(before.Run.PH, later).Median, 1e-9)
	y.Add(&garden.Task{BedID: y.Bed.ID, Kind: garden.TaskApplication, What: material.CalciticLime, Rate: 300, Total: 2880,
		Due:   gardentest.Today + 10,
		State: garden.Open})
	after := y.Forecast()
	assert.Equal(t, 1, after.Planned)
	assert.InDelta(t, forecast.On(before.Idle.PH, later).Median, forecast.On(after.Idle.PH, later).Median, 1e-9)
	lifted := forecast.On(after.Run.PH, later).Median - forecast.On(after.Idle.PH, later).Median
	curve := after.Record.Lesson.Buffer.Raise
	level := after.Record.Lesson.Learned().Level.Median
	byTable := float64(curve.Settle(after.Record.Lesson.Record.Readings[3].PH, 291)) - float64(after.Record.Lesson.Record.Readings[3].PH)
	assert.Greater(t, lifted, 0.1)
	assert.Less(t, lifted, byTable, "a stubborn bed is moved less than the table says")
	assert.InDelta(t, byTable/after.Record.Lesson.Learned().Buffering.Median, lifted, 0.1, "level %.2f", level)
	// The same as a plan of one's own.
	m, _ := material.Find(material.CalciticLime)
	_, own := before.With([]forecast.Application{{Application: ledger.Application{Date: gardentest.Today + 10, Material: m, Rate: 300}}})
	assert.InDelta(t, forecast.On(after.Run.PH, later).Median, forecast.On(own.PH, later).Median, 0.01)
}

// Potassium has a line of its own: what came and what crops carried off between its readings.
func TestForecastPotassium(t *testing.T) {
	y := gardentest.New(t)
	first, last := y.Reading("2024-11-24", soil.Lab, 6.5), y.Reading("2026-11-24", soil.Lab, 6.4)
	k1, k2 := first, last
	k1.Potassium, k2.Potassium = gardentest.Ptr(quantity.Concentration(120)), gardentest.Ptr(quantity.Concentration(110))
	y.Add(y.Planting("tomato", "2025-05-10", "2025-10-10"), y.Planting("tomato", "2026-05-10", "2026-10-10"), k1, k2,
		&garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2025-12-01"), What: material.HardwoodAsh, Rate: 100, Total: 960})
	s := y.Forecast()
	assert.InDelta(t, 25, s.KMoved.Carried, 0.2)
	assert.InDelta(t, 2.5, s.KMoved.Brought, 0.05)
	require.NotEmpty(t, s.K)
	assert.InDelta(t, 105, float64(s.Scale.Critical), 1e-9)
}

// All beds have a line, the untested an empty one; the month that leaves the range is a day's to come.
func TestOutlinesOfAllBeds(t *testing.T) {
	y := gardentest.NewBuffered(t)
	other := y.Bed
	other.Meta, other.Name, other.X = garden.Meta{}, "New ground", 20
	y.Add(&other)
	all, err := y.App.Outlook.Outlines(gardentest.Ctx, gardentest.Today)
	require.NoError(t, err)
	require.Len(t, all, 2)
	assert.NotEmpty(t, all[0].Back)
	assert.Empty(t, all[1].Back)
	assert.InDelta(t, forecast.On(y.Forecast().Run.PH, gardentest.Today).Median, all[0].Ahead[0].Median, 0.05)
	_, err = y.App.Outlook.Bed(gardentest.Ctx, other.ID, gardentest.Today)
	assert.ErrorIs(t, err, outlook.ErrNoReading)
}

// What is tried takes the place of what is: other water instead of the log's, another crop instead of those that grew.
func TestTryReplacesPlan(t *testing.T) {
	y := gardentest.NewBuffered(t)
	g, err := y.App.Place(gardentest.Ctx)
	require.NoError(t, err)
	g.WaterAlkalinity = gardentest.Ptr(250.0)
	_, err = y.App.Layout.SetPlace(gardentest.Ctx, y.Actor, g)
	require.NoError(t, err)
	for _, day := range []string{"2023-06-01", "2023-07-01", "2024-06-01", "2024-07-01", "2025-06-01", "2025-07-01", "2026-06-01"} {
		y.Add(&garden.Application{BedID: y.Bed.ID, Date: gardentest.Day(day), What: material.TapWater, Rate: 100_000, Total: 960_000})
	}
	s := y.Forecast()
	five := gardentest.Today.AddMonths(outlook.Ahead)
	end := func(try outlook.Try) float64 { return forecast.On(s.Try(try).PH, five).Median }
	water := 0.0
	for _, p := range s.Pulls {
		if p.ID == forecast.PullWater {
			water = p.Rate
		}
	}
	require.Positive(t, water)
	as := end(outlook.Try{})
	none, same := 0.0, water/250*1000
	assert.Less(t, end(outlook.Try{Litres: &none}), as-0.05)
	assert.InDelta(t, as, end(outlook.Try{Litres: &same}), 0.02, "as much as now changes nothing")
	hungry, ok := crop.Find("potato")
	require.True(t, ok)
	light, ok := crop.Find("heather")
	require.True(t, ok)
	assert.Less(t, end(outlook.Try{Crop: &hungry}), end(outlook.Try{Crop: &light}))
}

// A report tells what was by its day; an application whose reading was struck out is not planned; a dose on an older reading makes no
// promise by the forecast, which rests on the last.
func TestStruckReadingsAreIgnored(t *testing.T) {
	y := gardentest.NewBuffered(t)
	early, err := y.App.Outlook.Report(gardentest.Ctx, "2025/26", 0, gardentest.Day("2025-09-30"))
	require.NoError(t, err)
	require.Len(t, early.Beds, 1)
	assert.Empty(t, early.Beds[0].Readings)
	later, err := y.App.Outlook.Report(gardentest.Ctx, "2025/26", 0, gardentest.Today)
	require.NoError(t, err)
	assert.Len(t, later.Beds[0].Readings, 1)
	assert.NotNil(t, y.Dose(dosing.Choice{}).Request.Foretold)
	first := y.Record().Readings[0]
	assert.Nil(t, y.Dose(dosing.Choice{Reading: first.ID}).Request.Foretold)
	require.NoError(t, y.Plan("a", y.FirstKey()))
	assert.Positive(t, y.Forecast().Planned)
	all := y.Record().Readings
	last := all[len(all)-1]
	_, err = y.App.Readings.Strike(gardentest.Ctx, y.Actor, last.ID, last.Version, "another bed’s")
	require.NoError(t, err)
	assert.Zero(t, y.Forecast().Planned)
}

// The level of today is the end of the past, and what Seasons has for the day.
func TestLevelIsEndOfPast(t *testing.T) {
	y := gardentest.NewBuffered(t)
	s := y.Forecast()
	past := outlook.Past(&s.Record, gardentest.Today)
	now, ok := outlook.Level(&s.Record, gardentest.Today)
	require.True(t, ok)
	end, season := past[len(past)-1], forecast.On(s.Run.PH, gardentest.Today)
	assert.Equal(t, gardentest.Today, end.Date)
	assert.InDelta(t, end.Median, now.Median, 1e-9)
	assert.InDelta(t, season.Median, now.Median, 1e-9)
	assert.InDelta(t, end.P05, now.P05, 0.02)
	assert.InDelta(t, end.P95, now.P95, 0.02)
	_, ok = outlook.Level(&bedstate.Record{}, gardentest.Today)
	assert.False(t, ok)
}
