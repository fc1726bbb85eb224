package keepers_test

import (
	"context"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/keepers"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/year"
)

func ptr[T any](v T) *T { return &v }

func at(s string) quantity.Day {
	d, err := quantity.ParseDay(s)
	if err != nil {
		panic(err)
	}
	return d
}

var today = at("2026-11-24")

// yard is a garden with one bed that is filled as a test wants it.
type yard struct {
	t     *testing.T
	store *store.Store
	keep  keepers.All
	bed   garden.Bed
	act   garden.Act
}

func newYard(t *testing.T) *yard {
	t.Helper()
	st, err := store.Open(context.Background(), filepath.Join(t.TempDir(), "garden.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	y := &yard{t: t, store: st, keep: keepers.Of(st),
		act: garden.Act{Who: "test", At: time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC), Today: today}}
	y.bed = garden.Bed{Name: "Ledge", Kind: garden.KindBed, Shape: garden.ShapeRect, W: 6.4, H: 1.5, Texture: "loam", Depth: 0.15,
		Worked: soil.Dug, FreeLime: soil.LimeNone,
		CEC: ptr(quantity.CationExchangeCapacity(12))}
	y.add(&y.bed)
	return y
}

func (y *yard) add(rs ...garden.Record) {
	y.t.Helper()
	_, err := y.keep.Store.Change(context.Background(), garden.Change{}, func(tx garden.Tx) (string, error) {
		for _, r := range rs {
			if err := tx.Insert(r); err != nil {
				return "", err
			}
		}
		return "added", nil
	})
	require.NoError(y.t, err)
}

func (y *yard) read(day string, m soil.Method, ph quantity.PH) *garden.Reading {
	return &garden.Reading{BedID: y.bed.ID, Date: at(day), Method: m, Basis: soil.Water, PH: &ph, Cores: 12, Depth: 0.15}
}

func (y *yard) crop(id, sown, cleared string) *garden.Planting {
	p := &garden.Planting{BedID: y.bed.ID, Crop: id, Sown: at(sown)}
	if cleared != "" {
		p.Cleared = at(cleared)
	}
	return p
}

func (y *yard) plot(day quantity.Day) plots.Plot {
	y.t.Helper()
	v, err := y.keep.Plots.View(context.Background(), day)
	require.NoError(y.t, err)
	require.Len(y.t, v.Plots, 1)
	return v.Plots[0]
}

func TestTheNextCropCounts(t *testing.T) {
	y := newYard(t)
	assert.Empty(t, y.plot(today).Crop.ID, "none named")
	y.add(y.crop("carrot", "2026-04-20", "2026-10-30"), y.crop("cabbage", "2027-05-24", "2027-12-01"), y.crop("lettuce", "2028-03-01", ""))
	for day, want := range map[string]string{"2026-06-01": "cabbage", "2026-11-24": "cabbage", "2027-06-01": "lettuce",
		"2028-06-01": "lettuce", "2026-03-01": "carrot"} {
		assert.Equal(t, want, y.plot(at(day)).Crop.ID, day)
	}
	standing := y.plot(at("2026-06-01"))
	assert.Equal(t, "carrot", standing.Now[0].Crop)
	assert.Equal(t, "cabbage", standing.Next[0].Crop)
	assert.Empty(t, y.plot(today).Now, "cleared")
}

func TestAPerennialStandsWhateverFollows(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("blueberry", "2021-11-10", ""), y.crop("carrot", "2027-05-01", ""))
	assert.Equal(t, "blueberry", y.plot(today).Crop.ID)
}

func TestABedIsJudgedByItsLastReadingOfTheDay(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("dahlia", "2027-05-15", ""))
	assert.Equal(t, bed.Untested, y.plot(today).Standing)
	y.add(y.read("2024-10-01", soil.Lab, 7.2), y.read("2025-10-01", soil.Lab, 6.5), y.read("2026-10-01", soil.Lab, 5.7),
		&garden.Reading{BedID: y.bed.ID, Date: at("2026-11-01"), Method: soil.Fizz, Cores: 3, Depth: 0.15, Vinegar: soil.LimeStrong,
			Soda: soil.LimeNone})
	for day, want := range map[string]bed.Standing{"2024-09-30": bed.Untested, "2024-12-01": bed.TooSweet, "2025-12-01": bed.InBand,
		"2026-11-24": bed.Sour} {
		assert.Equal(t, want, y.plot(at(day)).Standing, day)
	}
	p := y.plot(today)
	assert.InDelta(t, 0.5, float64(p.Off), 1e-9)
	assert.InDelta(t, 5.7, float64(p.PH), 1e-9, "a jar test pushes no figure aside")
}

func TestAnotherBasisIsJudgedAsWater(t *testing.T) {
	y := newYard(t)
	r := y.read("2026-10-01", soil.Lab, 5.8)
	r.Basis = soil.CaCl2
	y.add(y.crop("dahlia", "2027-05-15", ""), r)
	assert.Equal(t, bed.InBand, y.plot(today).Standing)
	assert.InDelta(t, 6.4, float64(y.plot(today).PH), 1e-9)
}

func (y *yard) dose(c desk.Choice) *desk.Worked {
	y.t.Helper()
	w, err := y.keep.Desk.Dose(context.Background(), y.bed.ID, c, today)
	require.NoError(y.t, err)
	return &w
}

func TestADoseJoinsTheRecords(t *testing.T) {
	y := newYard(t)
	_, err := y.keep.Desk.Dose(context.Background(), y.bed.ID, desk.Choice{}, today)
	require.ErrorIs(t, err, desk.ErrNoReading)
	potassium := y.read("2025-11-01", soil.Lab, 6.0)
	potassium.Potassium, potassium.Magnesium = ptr(quantity.Concentration(82)), ptr(quantity.Concentration(70))
	last := y.read("2026-11-12", soil.Lab, 5.7)
	y.add(y.crop("sweet-pea", "2026-04-14", "2026-10-18"), y.crop("dahlia", "2027-05-15", ""), potassium, last,
		&garden.Application{BedID: y.bed.ID, Date: at("2023-12-02"), What: material.HardwoodAsh, Rate: 60, Total: 576},
		&garden.Application{BedID: y.bed.ID, Date: at("2026-03-02"), What: material.HardwoodAsh, Rate: 100, Total: 960})
	w := y.dose(desk.Choice{})
	q := w.Request
	assert.Equal(t, last.ID, w.Used.ID)
	assert.InDelta(t, 82, float64(*q.Reading.Potassium), 0, "a potassium test is lent for two years")
	assert.Equal(t, []calendar.Start{{Day: at("2027-05-15")}}, q.Sown)
	assert.Equal(t, at("2026-10-18"), q.Cleared)
	require.Len(t, q.History, 2)
	assert.Equal(t, "dahlia", q.Crop.ID)
	assert.Len(t, q.Materials, 6, "the usual kinds stand in for an empty shelf")
	// 5.7 to 6.5: 0.8 × 1.7 × 224.17 × 15 / 17.78, nothing on its way any more.
	assert.InDelta(t, 0.8*1.7*224.17*0.15/0.1778, float64(w.Answer.Need.CaCO3), 0.5)
	older := y.dose(desk.Choice{Reading: potassium.ID, Target: ptr(quantity.PH(6.4)), Depth: ptr(quantity.Depth(0.2))})
	assert.InDelta(t, 6.0, float64(older.Answer.PH), 1e-9)
	assert.InDelta(t, 0.2, float64(older.Request.Ground.Depth), 1e-9)
	_, err = y.keep.Desk.Dose(context.Background(), y.bed.ID, desk.Choice{Reading: 999}, today)
	require.ErrorIs(t, err, garden.ErrMissing)
	_, err = y.keep.Desk.Dose(context.Background(), y.bed.ID, desk.Choice{Target: ptr(quantity.PH(14))}, today)
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f, "target_ph")
}

func TestTheShelfGoesBeforeTheUsualKinds(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("dahlia", "2027-05-15", ""), y.read("2026-11-12", soil.Lab, 5.7),
		&garden.Batch{Name: "Pellet ash", Kind: "wood-ash-softwood", Condition: material.Dry, Source: material.Clean,
			OnHand: ptr(quantity.Mass(900))})
	w := y.dose(desk.Choice{})
	kinds := map[material.Kind]bool{}
	for _, m := range w.Request.Materials {
		kinds[m.Kind] = true
	}
	assert.True(t, kinds["wood-ash-softwood"] && kinds[material.CalciticLime] && kinds[material.SulfurPowder])
	assert.False(t, kinds[material.HardwoodAsh], "any ash on the shelf stands for ash")
	o, ok := w.Pick("b1")
	require.True(t, ok)
	assert.LessOrEqual(t, float64(o.Parts[0].Total), 900.0+1e-6, "no more than there is")
	_, ok = w.Pick("b7")
	assert.False(t, ok)
}

func (y *yard) putInYear(key, use string) error { return y.putChoice(key, use, desk.Choice{}) }

func (y *yard) putChoice(key, use string, c desk.Choice) error {
	a := y.act
	a.Key = key
	_, err := y.keep.Desk.PutInYear(context.Background(), a, y.bed.ID, c, use, present.EncodePlan)
	return err
}

// first is the key of the best option of the bed's dose.
func (y *yard) first() string {
	w := y.dose(desk.Choice{})
	return w.Key(w.Answer.Options[0])
}

func (y *yard) open() (out []garden.Task) {
	rec, err := y.keep.Plots.Bed(context.Background(), y.bed.ID, today)
	require.NoError(y.t, err)
	for _, t := range rec.Tasks {
		if t.State == garden.Open {
			out = append(out, t)
		}
	}
	return out
}

func TestANewDoseTakesTheOldOnesPlace(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("dahlia", "2027-05-15", ""), y.read("2026-11-12", soil.Lab, 5.7))
	best := y.dose(desk.Choice{}).Answer.Options[0]
	require.NoError(t, y.putInYear("a", y.dose(desk.Choice{}).Key(best)))
	first := y.open()
	require.Len(t, first, len(best.Goes)+1)
	assert.Equal(t, garden.TaskRetest, first[len(first)-1].Kind)
	assert.Equal(t, best.Retest, first[len(first)-1].Due)
	require.NoError(t, y.putInYear("a", y.dose(desk.Choice{}).Key(best)), "the same post again")
	assert.Equal(t, first, y.open())
	require.NoError(t, y.putInYear("b", y.dose(desk.Choice{}).Key(best)))
	second := y.open()
	require.Len(t, second, len(first))
	assert.NotEqual(t, first[0].ID, second[0].ID)
	require.ErrorIs(t, y.putInYear("c", "99"), desk.ErrNoOption)
	assert.Equal(t, second, y.open(), "a refused post changes nothing")
}

func TestWhatWentOnFromThePlanDoesNotMakeItsReadingStale(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("dahlia", "2027-05-15", ""), y.read("2026-11-12", soil.Lab, 5.7))
	require.NoError(t, y.putInYear("a", y.first()))
	g := y.open()[0]
	_, err := y.keep.Year.PutOn(context.Background(), y.act, year.Tick{Task: g.ID, Version: g.Version})
	require.NoError(t, err)
	stale := func() bool {
		for _, f := range y.dose(desk.Choice{}).Answer.Guards {
			if f.ID == "stale-reading" {
				return true
			}
		}
		return false
	}
	assert.False(t, stale())
	all := desk.Choice{Target: ptr(quantity.PH(6.1)), Pace: dose.AllAtOnce}
	assert.Equal(t, dose.Leave, y.dose(all).Answer.Direction, "it is on its way")
	careful := y.dose(desk.Choice{Target: ptr(quantity.PH(6.5))}).Answer
	assert.Equal(t, dose.Refused, careful.Direction)
	assert.Equal(t, guard.FirstPartGoneID, careful.Guards[0].ID, "the rest waits for the test")
	y.add(&garden.Application{BedID: y.bed.ID, Date: today, What: material.HardwoodAsh, Rate: 20, Total: 192})
	assert.True(t, stale(), "this one was not planned from it")
}

func TestTheOutlookFollowsThePlannedGoes(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("dahlia", "2027-05-15", ""), y.read("2026-11-12", soil.Lab, 5.7))
	on := func(day string) plots.Plot {
		v, err := y.keep.Plots.On(context.Background(), today, at(day), plots.Foretold{})
		require.NoError(t, err)
		return v.Plots[0]
	}
	assert.InDelta(t, 5.67, float64(on("2027-04-01").PH), 0.02, "nothing planned: it drifts as rain has it")
	read, err := y.keep.Plots.ViewOn(context.Background(), today, at("2027-04-01"))
	require.NoError(t, err)
	assert.InDelta(t, 5.7, float64(read.Plots[0].PH), 1e-9, "what was read stays as it is: it is shared")
	assert.False(t, read.Plots[0].Expected)
	all := desk.Choice{Pace: dose.AllAtOnce}
	require.NoError(t, y.putChoice("a", y.dose(all).Key(y.dose(all).Answer.Options[0]), all))
	last := y.open()[0]
	ahead := on("2027-04-01")
	assert.True(t, ahead.Expected)
	assert.Greater(t, float64(ahead.PH), 5.75, "some of it has reacted")
	assert.Less(t, float64(ahead.PH), float64(*last.PHAfter)-0.05, "but by far not all: lime is slow")
	settled := on("2030-04-01")
	drift := (18 + 0.4*15) / 321.5 // rain and dahlias, a year
	years := float64(at("2030-04-01")-at("2026-11-12")) / 365.25
	assert.InDelta(t, float64(*last.PHAfter)-drift*years, float64(settled.PH), 0.04, "it settles, less what pulls it meanwhile")
	assert.Equal(t, bed.InBand, settled.Standing)
	// The retest's promise, the handle and the dose say the same.
	tasks := y.open()
	retest := tasks[len(tasks)-1]
	require.Equal(t, garden.TaskRetest, retest.Kind)
	assert.InDelta(t, float64(*retest.PHAfter), float64(on(retest.Due.String()).PH), 0.006)
	past := on("2026-11-13")
	assert.False(t, past.Expected)
	assert.InDelta(t, 5.7, float64(past.PH), 1e-9)
}

// What is late has not begun to act: it goes on today at the earliest.
func TestTheOutlookCountsALateGoFromToday(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("dahlia", "2027-05-15", ""), y.read("2026-11-12", soil.Lab, 5.7))
	require.NoError(t, y.putInYear("a", y.first()))
	due, late := y.open()[0].Due, at("2027-02-20")
	require.Less(t, due, late-60)
	seen := func(today, day quantity.Day) plots.Plot {
		v, err := y.keep.Plots.On(ctx, today, day, plots.Foretold{})
		require.NoError(t, err)
		p, _ := v.Plot(y.bed.ID)
		return p
	}
	assert.InDelta(t, 5.7, float64(seen(late, late+1).PH), 0.02, "put on today, it has hardly begun")
	assert.Greater(t, float64(seen(today, late+1).PH), 5.73, "put on in time, it would have")
	rec, err := y.keep.Plots.Bed(ctx, y.bed.ID, late)
	require.NoError(t, err)
	g, err := y.keep.Place(ctx)
	require.NoError(t, err)
	ph, ok := plots.Foretold{}.Expect(rec.Coming(g, nil, late), late+400)
	require.True(t, ok)
	assert.InDelta(t, float64(seen(late, late+400).PH), float64(ph), 1e-9, "the plan and the record say the same")
}

func TestTheRibbonOpensWhereAnyBedIsFree(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("carrot", "2026-04-20", "2026-10-30"), y.crop("carrot", "2027-04-20", "2027-10-30"))
	other := y.bed
	other.Meta, other.Name = garden.Meta{}, "Other"
	y.add(&other)
	y.add(&garden.Planting{BedID: other.ID, Crop: "dahlia", Sown: at("2027-05-20")})
	v, err := y.keep.Plots.View(context.Background(), today)
	require.NoError(t, err)
	from, to := at("2026-09-01"), at("2027-12-31")
	year, err := y.keep.Year.Year(context.Background(), v, from, to)
	require.NoError(t, err)
	c := &soil.Climates[0]
	seasons := []*calendar.Season{
		{Weather: c, Starts: []calendar.Start{{Day: at("2027-04-20")}}, Cleared: at("2026-10-30"), SowingGap: 28, Dug: true},
		{Weather: c, Starts: []calendar.Start{{Day: at("2027-05-20")}}, SowingGap: 28, Dug: true},
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

func TestFreeSpotLiesOnNothing(t *testing.T) {
	x, y := plots.FreeSpot([]plots.Plot{{Bed: garden.Bed{Shape: garden.ShapeRect, X: 2, Y: 1, W: 4, H: 3}},
		{Bed: garden.Bed{Shape: garden.ShapeRect, X: 8, Y: 6, W: 1, H: 2}}})
	assert.InDelta(t, 2, x, 1e-9)
	assert.Greater(t, y, 8.0)
}
