package keepers_test

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/year"
)

// note logs what went on the yard's bed of 9.6 m².
func (y *yard) note(k material.Kind, total quantity.Mass, on string) garden.Application {
	y.t.Helper()
	x := garden.Application{BedID: y.bed.ID, What: k, Date: at(on), Total: total}
	_, err := y.keep.Year.Note(ctx, y.act, x)
	if f := (garden.Faults{}); errors.As(err, &f) {
		sure := y.act
		sure.Sure = f[garden.SureField] // it went on all the same
		_, err = y.keep.Year.Note(ctx, sure, x)
	}
	require.NoError(y.t, err)
	l, err := y.keep.Year.Log(ctx, year.Filter{}, today)
	require.NoError(y.t, err)
	for _, e := range l.Entries {
		if e.What == k && e.Date == at(on) {
			return e.Application
		}
	}
	require.Fail(y.t, "not in the log")
	return garden.Application{}
}

func TestTheLogSumsWhatWentOnByBedAndSeason(t *testing.T) {
	y := newYard(t)
	y.note(material.HardwoodAsh, 960, "2026-02-10")     // 100 g/m²: 50 of lime's worth, 5 K₂O, 1.5 P₂O₅, 2 Mg
	y.note(material.AmmoniumSulfate, 192, "2026-06-01") // 20 g/m²: 4.2 N, -22.4
	y.note("bone-meal", 960, "2025-04-01")              // 100 g/m²: 4 N, 20 P₂O₅
	l, err := y.keep.Year.Log(ctx, year.Filter{}, today)
	require.NoError(t, err)
	require.Len(t, l.Sums, 2)
	is := l.Sums[0]
	assert.Equal(t, "2026", is.Season)
	for name, c := range map[string]struct {
		want float64
		got  quantity.Rate
	}{"lime": {50 - 22.4, is.Brought.CaCO3}, "K2O": {5, is.Brought.K2O}, "N": {4.2, is.Brought.N}, "P2O5": {1.5, is.Brought.P2O5},
		"Mg": {2, is.Brought.Magnesium}, "P2O5 before": {20, l.Sums[1].Brought.P2O5}, "N before": {4, l.Sums[1].Brought.N}} {
		assert.InDelta(t, c.want, float64(c.got), 1e-9, name)
	}
	only, err := y.keep.Year.Log(ctx, year.Filter{Season: "2025", What: "bone-meal", Bed: y.bed.ID}, today)
	require.NoError(t, err)
	assert.Len(t, only.Entries, 1)
	assert.Equal(t, []string{"2026", "2025"}, only.Seasons, "what there is to filter by stays")
	none, err := y.keep.Year.Log(ctx, year.Filter{}, at("2024-01-01"))
	require.NoError(t, err)
	assert.Empty(t, none.Entries, "nothing of days to come")
	assert.Equal(t, "2025/26", year.Season(at("2026-06-30"), soil.South))
	assert.Equal(t, "2026/27", year.Season(at("2026-07-01"), soil.South))
}

func TestManureThatIsLoggedMovesAGoByItsRule(t *testing.T) {
	y := newYard(t)
	y.goes(material.HardwoodAsh, 100, "2026-11-25")
	assert.Equal(t, []string{"2026-11-25"}, y.due("2026-11-24"))
	manure, _ := material.Find(material.Manure)
	kg, _ := manure.Weigh(0.5, material.Barrows, y.bed.Area())
	y.note(material.Manure, kg, "2026-11-14")
	assert.Equal(t, []string{"2026-12-05"}, y.due("2026-11-24"), "21 days after fresh manure")
	x := y.note(material.Compost, 5000, "2026-11-20")
	assert.Equal(t, []string{"2026-12-05"}, y.due("2026-11-24"), "compost keeps nothing off")
	// Put right, it counts from its own day; taken out, not at all.
	l, err := y.keep.Year.Log(ctx, year.Filter{What: material.Manure}, today)
	require.NoError(t, err)
	e := l.Entries[0]
	is := e.Application
	is.Date = at("2026-11-16")
	_, err = y.keep.Year.Correct(ctx, y.act, e.ID, e.Version, is)
	var winter garden.Faults
	require.ErrorAs(t, err, &winter)
	assert.Contains(t, winter["put_amount"], "wash it out", "the log asks by the dose's rules")
	sure := y.act
	sure.Sure = winter[garden.SureField]
	_, err = y.keep.Year.Correct(ctx, sure, e.ID, e.Version, is)
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-12-07"}, y.due("2026-11-24"))
	_, err = y.keep.Year.Correct(ctx, y.act, e.ID, e.Version, is)
	require.ErrorIs(t, err, garden.ErrStale, "the older window is told")
	_, err = y.keep.Year.Remove(ctx, y.act, e.ID, e.Version+1)
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-11-25"}, y.due("2026-11-24"))
	bad := x
	bad.Date = today + 1
	_, err = y.keep.Year.Correct(ctx, y.act, x.ID, x.Version, bad)
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f["put_date"], "still to come")
}

func TestATickThatIsPutRightTakesItsShelfAndItsTestAlong(t *testing.T) {
	y := newYard(t)
	y.plan(material.CalciticLime, 240, "2027-05-21", "2026-11-20")
	require.Nil(t, y.tick("2026-11-20", year.Tick{}))
	l, err := y.keep.Year.Log(ctx, year.Filter{}, today)
	require.NoError(t, err)
	e := l.Entries[0]
	is := e.Application
	is.Date, is.Total, is.What = at("2026-11-23"), 2000, material.HardwoodAsh
	_, err = y.keep.Year.Correct(ctx, y.act, e.ID, e.Version, is)
	require.NoError(t, err)
	rec, err := y.keep.Plots.Bed(ctx, y.bed.ID, today)
	require.NoError(t, err)
	assert.Equal(t, material.CalciticLime, rec.Applications[0].What, "what a go was of stays")
	assert.InDelta(t, 2000/9.6, float64(rec.Applications[0].Rate), 1e-9)
	assert.Equal(t, []string{at("2026-11-23").AddWeeks(26).String()}, y.due("2026-11-24"))
	_, err = y.keep.Year.Remove(ctx, y.act, e.ID, e.Version+1)
	require.NoError(t, err)
	assert.Contains(t, y.due("2026-11-24"), "2026-11-20", "it is to do again")
}

// A feed for a day to come stands in the year and keeps its distances; lime is planned from the dose.
func TestFeedsArePlannedAndKeepTheirDistances(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("dahlia", "2027-05-17", ""), y.read("2026-11-12", soil.Lab, 6.5))
	plan := func(k material.Kind, total quantity.Mass, on string) error {
		_, err := y.keep.Year.PlanFeed(ctx, y.act, garden.Application{BedID: y.bed.ID, What: k, Total: total, Date: at(on)})
		return err
	}
	require.NoError(t, plan("rotted-manure", 9600, "2027-04-10"))
	tasks := y.rec().Tasks
	require.Len(t, tasks, 1)
	assert.Equal(t, at("2027-04-10"), tasks[0].Due)
	assert.InDelta(t, 1000, float64(tasks[0].Rate), 1e-6)
	// Twelve weeks from the other, and sixty days before the planting, are over by then: it is dated, with the reason, after it.
	require.NoError(t, plan("horse-manure", 9600, "2027-04-12"))
	rec := y.rec()
	later := rec.Tasks[len(rec.Tasks)-1]
	assert.NotEqual(t, at("2027-04-12"), later.Due)
	faultAt(t, plan("poultry-manure", 9600*1.2, "2027-04-10"), "put_amount", "at one time")
	assert.NotEmpty(t, rec.Moved[later.ID].Why)
	faultAt(t, plan(material.CalciticLime, 900, "2027-03-01"), "put_date", "planned from the dose")
	faultAt(t, plan(material.AmmoniumSulfate, 9600, "2027-06-20"), "put_amount", "plan several goes")
	faultAt(t, plan(material.Compost, 9600, "2029-06-20"), "put_date", "two years")
	faultAt(t, plan(material.Compost, 0, "2027-06-20"), "put_amount", "above 0")
}

// Thirty litres a square metre of water with 200 mg/L of alkalinity bring 6 g of lime's worth; of water that nobody
// measured, nothing is told.
func TestWaterBringsItsLime(t *testing.T) {
	y := newYard(t)
	y.note(material.TapWater, 30*9600, "2026-11-20")
	worth := func() quantity.Rate {
		l, err := y.keep.Year.Log(ctx, year.Filter{}, today)
		require.NoError(t, err)
		return l.Sums[0].Brought.CaCO3
	}
	assert.Zero(t, worth())
	g, err := y.keep.Place(ctx)
	require.NoError(t, err)
	g.WaterAlkalinity = ptr(200.0)
	_, err = y.keep.Ground.SetPlace(ctx, y.act, g)
	require.NoError(t, err)
	assert.InDelta(t, 6, float64(worth()), 1e-9)
}

// A heap is asked about ash with fresh manure, and about nothing that is a bed's: no cap, no winter.
func TestAHeapIsAskedAboutAmmoniaAlone(t *testing.T) {
	y := newYard(t)
	y.bed.Kind = garden.KindHeap
	_, err := y.keep.Ground.EditBed(ctx, y.act, y.bed)
	require.NoError(t, err)
	put := func(k material.Kind, on string) error {
		_, err := y.keep.Year.Note(ctx, y.act, garden.Application{BedID: y.bed.ID, What: k, Date: at(on), Total: 20000})
		return err
	}
	require.NoError(t, put(material.HardwoodAsh, "2026-10-01"))
	require.NoError(t, put(material.HardwoodAsh, "2026-10-05"))
	faultAt(t, put(material.Manure, "2026-10-20"), "put_amount", "lime or ash went on")
	require.NoError(t, put(material.Manure, "2026-11-10"))
	faultAt(t, put(material.HardwoodAsh, "2026-11-20"), "put_amount", "fresh manure went on")
}
