package applications_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

func TestLogSumsByBedAndSeason(t *testing.T) {
	y := gardentest.New(t)
	y.Note(material.HardwoodAsh, 960, "2026-02-10")     // 100 g/m²: 50 of lime's worth, 5 K₂O, 1.5 P₂O₅, 2 Mg
	y.Note(material.AmmoniumSulfate, 192, "2026-06-01") // 20 g/m²: 4.2 N, -22.4
	y.Note("bone-meal", 960, "2025-04-01")              // 100 g/m²: 4 N, 20 P₂O₅
	l, err := y.App.Applications.Log(gardentest.Ctx, applications.Filter{}, gardentest.Today)
	require.NoError(t, err)
	require.Len(t, l.Sums, 2)
	is := l.Sums[0]
	assert.Equal(t, "2025/26", is.Season)
	for name, c := range map[string]struct {
		want float64
		got  quantity.Rate
	}{"lime": {50 - 22.4, is.Brought.CaCO3}, "K2O": {5, is.Brought.K2O}, "N": {4.2, is.Brought.N}, "P2O5": {1.5, is.Brought.P2O5},
		"Mg": {2, is.Brought.Magnesium}, "P2O5 before": {20, l.Sums[1].Brought.P2O5}, "N before": {4, l.Sums[1].Brought.N}} {
		assert.InDelta(t, c.want, float64(c.got), 1e-9, name)
	}
	only, err := y.App.Applications.Log(gardentest.Ctx, applications.Filter{Season: "2024/25", What: "bone-meal", Bed: y.Bed.ID},
		gardentest.Today)
	require.NoError(t, err)
	assert.Len(t, only.Entries, 1)
	assert.Equal(t, []string{"2025/26", "2024/25"}, only.Seasons, "what there is to filter by stays")
	none, err := y.App.Applications.Log(gardentest.Ctx, applications.Filter{}, gardentest.Day("2024-01-01"))
	require.NoError(t, err)
	assert.Empty(t, none.Entries, "nothing of days to come")
}

func TestLoggedManureMovesApplications(t *testing.T) {
	y := gardentest.New(t)
	y.Applied(material.HardwoodAsh, 100, "2026-11-25")
	assert.Equal(t, []string{"2026-11-25"}, y.Due("2026-11-24"))
	manure, _ := material.Find(material.Manure)
	kg, _ := manure.Weigh(0.5, material.Barrows, y.Bed.Area())
	y.Note(material.Manure, kg, "2026-11-14")
	assert.Equal(t, []string{"2026-12-05"}, y.Due("2026-11-24"), "21 days after fresh manure")
	x := y.Note(material.Compost, 5000, "2026-11-20")
	assert.Equal(t, []string{"2026-12-05"}, y.Due("2026-11-24"), "compost keeps nothing off")
	// Put right, it counts from its own day; taken out, not at all.
	l, err := y.App.Applications.Log(gardentest.Ctx, applications.Filter{What: material.Manure}, gardentest.Today)
	require.NoError(t, err)
	e := l.Entries[0]
	is := e.Application
	is.Date = gardentest.Day("2026-11-16")
	_, err = y.App.Applications.Correct(gardentest.Ctx, y.Actor, e.ID, e.Version, is)
	var winter garden.Faults
	require.ErrorAs(t, err, &winter)
	assert.Contains(t, winter["put_amount"], "wash it out", "the log asks by the dose's rules")
	sure := y.Actor
	sure.Sure = winter[garden.SureField]
	_, err = y.App.Applications.Correct(gardentest.Ctx, sure, e.ID, e.Version, is)
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-12-07"}, y.Due("2026-11-24"))
	_, err = y.App.Applications.Correct(gardentest.Ctx, y.Actor, e.ID, e.Version, is)
	require.ErrorIs(t, err, garden.ErrStale, "the older window is told")
	_, err = y.App.Applications.Remove(gardentest.Ctx, y.Actor, e.ID, e.Version+1)
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-11-25"}, y.Due("2026-11-24"))
	bad := x
	bad.Date = gardentest.Today + 1
	_, err = y.App.Applications.Correct(gardentest.Ctx, y.Actor, x.ID, x.Version, bad)
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f["put_date"], "still to come")
}

func TestCorrectedTickUpdatesStockAndRetest(t *testing.T) {
	y := gardentest.New(t)
	y.PlanApplications(material.CalciticLime, 240, "2027-05-21", "2026-11-20")
	require.Nil(t, y.Tick("2026-11-20", applications.Tick{}))
	l, err := y.App.Applications.Log(gardentest.Ctx, applications.Filter{}, gardentest.Today)
	require.NoError(t, err)
	e := l.Entries[0]
	is := e.Application
	is.Date, is.Total, is.What = gardentest.Day("2026-11-23"), 2000, material.HardwoodAsh
	_, err = y.App.Applications.Correct(gardentest.Ctx, y.Actor, e.ID, e.Version, is)
	require.NoError(t, err)
	rec, err := y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	assert.Equal(t, material.CalciticLime, rec.Applications[0].What, "what a go was of stays")
	assert.InDelta(t, 2000/9.6, float64(rec.Applications[0].Rate), 1e-9)
	assert.Equal(t, []string{gardentest.Day("2026-11-23").AddWeeks(26).String()}, y.Due("2026-11-24"))
	_, err = y.App.Applications.Remove(gardentest.Ctx, y.Actor, e.ID, e.Version+1)
	require.NoError(t, err)
	assert.Contains(t, y.Due("2026-11-24"), "2026-11-20", "it is to do again")
}

// A feed for a day to come stands in the year and keeps its distances; lime is planned from the dose.
func TestPlannedFeedsKeepIntervals(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-17", ""), y.Reading("2026-11-12", soil.Lab, 6.5))
	plan := func(k material.Kind, total quantity.Mass, on string) error {
		_, err := y.App.Schedule.PlanFeed(gardentest.Ctx, y.Actor, garden.Application{BedID: y.Bed.ID, What: k, Total: total,
			Date: gardentest.Day(on)})
		return err
	}
	require.NoError(t, plan("rotted-manure", 9600, "2027-04-10"))
	tasks := y.Record().Tasks
	require.Len(t, tasks, 1)
	assert.Equal(t, gardentest.Day("2027-04-10"), tasks[0].Due)
	assert.InDelta(t, 1000, float64(tasks[0].Rate), 1e-6)
	// Twelve weeks from the other, and sixty days before the planting, are over by then: it is dated, with the reason, after it.
	require.NoError(t, plan("horse-manure", 9600, "2027-04-12"))
	rec := y.Record()
	later := rec.Tasks[len(rec.Tasks)-1]
	assert.NotEqual(t, gardentest.Day("2027-04-12"), later.Due)
	gardentest.FaultAt(t, plan("poultry-manure", 9600*1.2, "2027-04-10"), "put_amount", "at one time")
	assert.NotEmpty(t, rec.Moved[later.ID].Why)
	gardentest.FaultAt(t, plan(material.CalciticLime, 900, "2027-03-01"), "put_date", "planned from the dose")
	gardentest.FaultAt(t, plan(material.AmmoniumSulfate, 9600, "2027-06-20"), "put_amount", "plan several applications")
	gardentest.FaultAt(t, plan(material.Compost, 9600, "2029-06-20"), "put_date", "two years")
	gardentest.FaultAt(t, plan(material.Compost, 0, "2027-06-20"), "put_amount", "above 0")
}

// Thirty litres a square metre of water with 200 mg/L of alkalinity bring 6 g of lime's worth; of water that nobody
// measured, nothing is reported.
func TestWaterLime(t *testing.T) {
	y := gardentest.New(t)
	y.Note(material.TapWater, 30*9600, "2026-11-20")
	worth := func() quantity.Rate {
		l, err := y.App.Applications.Log(gardentest.Ctx, applications.Filter{}, gardentest.Today)
		require.NoError(t, err)
		return l.Sums[0].Brought.CaCO3
	}
	assert.Zero(t, worth())
	g, err := y.App.Place(gardentest.Ctx)
	require.NoError(t, err)
	g.WaterAlkalinity = gardentest.Ptr(200.0)
	_, err = y.App.Layout.SetPlace(gardentest.Ctx, y.Actor, g)
	require.NoError(t, err)
	assert.InDelta(t, 6, float64(worth()), 1e-9)
}

// A heap is asked about ash with fresh manure, and about nothing that is a bed's: no cap, no winter.
func TestHeapChecksOnlyAmmonia(t *testing.T) {
	y := gardentest.New(t)
	y.Bed.Kind = garden.KindHeap
	_, err := y.App.Layout.EditBed(gardentest.Ctx, y.Actor, y.Bed)
	require.NoError(t, err)
	put := func(k material.Kind, on string) error {
		_, err := y.App.Applications.Note(gardentest.Ctx, y.Actor, garden.Application{BedID: y.Bed.ID, What: k, Date: gardentest.Day(on),
			Total: 20000})
		return err
	}
	require.NoError(t, put(material.HardwoodAsh, "2026-10-01"))
	require.NoError(t, put(material.HardwoodAsh, "2026-10-05"))
	gardentest.FaultAt(t, put(material.Manure, "2026-10-20"), "put_amount", "lime or ash was put on")
	require.NoError(t, put(material.Manure, "2026-11-10"))
	gardentest.FaultAt(t, put(material.HardwoodAsh, "2026-11-20"), "put_amount", "fresh manure was put on")
}
