package app_test

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
	"zephyrfield/internal/app"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/present"
)

func Ptr[T any](v T) *T { return &v }

func Day(s string) quantity.Day {
	d, err := quantity.ParseDay(s)
	if err != nil {
		panic(err)
	}
	return d
}

var Today = Day("2026-11-24")

// yard is a garden with one bed that is filled as a test wants it.
type Garden struct {
	T     *testing.T
	Store *store.Store
	App  app.Services
	Bed   garden.Bed
	Actor   garden.Actor
}

func New(t *testing.T) *Garden {
	t.Helper()
	st, err := store.Open(context.Background(), filepath.Join(t.TempDir(), "garden.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	y := &Garden{T: t, Store: st, App: app.Of(st),
		Actor: garden.Actor{Who: "test", At: time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC), Today: Today}}
	y.Bed = garden.Bed{Name: "Ledge", Kind: garden.KindBed, Shape: garden.ShapeRect, W: 6.4, H: 1.5, Texture: "loam", Depth: 0.15,
		Worked: soil.Dug, FreeLime: soil.LimeNone,
		CEC: Ptr(quantity.CationExchangeCapacity(12))}
	y.Add(&y.Bed)
	return y
}

func (y *Garden) Add(rs ...garden.Record) {
	y.T.Helper()
	_, err := y.App.Store.Change(context.Background(), garden.Change{}, func(tx garden.Tx) (string, error) {
		for _, r := range rs {
			if err := tx.Insert(r); err != nil {
				return "", err
			}
		}
		return "added", nil
	})
	require.NoError(y.T, err)
}

func (y *Garden) Reading(day string, m soil.Method, ph quantity.PH) *garden.Reading {
	return &garden.Reading{BedID: y.Bed.ID, Date: Day(day), Method: m, Basis: soil.Water, PH: &ph, Cores: 12, Depth: 0.15}
}

func (y *Garden) Planting(id, sown, cleared string) *garden.Planting {
	p := &garden.Planting{BedID: y.Bed.ID, Crop: id, Sown: Day(sown)}
	if cleared != "" {
		p.Cleared = Day(cleared)
	}
	return p
}

func (y *Garden) State(day quantity.Day) bedstate.State {
	y.T.Helper()
	v, err := y.App.BedState.View(context.Background(), day)
	require.NoError(y.T, err)
	require.Len(y.T, v.Beds, 1)
	return v.Beds[0]
}

func TestTheNextCropCounts(t *testing.T) {
	y := New(t)
	assert.Empty(t, y.State(Today).Crop.ID, "none named")
	y.Add(y.Planting("carrot", "2026-04-20", "2026-10-30"), y.Planting("cabbage", "2027-05-24", "2027-12-01"), y.Planting("lettuce", "2028-03-01", ""))
	for day, want := range map[string]string{"2026-06-01": "cabbage", "2026-11-24": "cabbage", "2027-06-01": "lettuce",
		"2028-06-01": "lettuce", "2026-03-01": "carrot"} {
		assert.Equal(t, want, y.State(Day(day)).Crop.ID, day)
	}
	standing := y.State(Day("2026-06-01"))
	assert.Equal(t, "carrot", standing.Now[0].Crop)
	assert.Equal(t, "cabbage", standing.Next[0].Crop)
	assert.Empty(t, y.State(Today).Now, "cleared")
}

func TestAPerennialStandsWhateverFollows(t *testing.T) {
	y := New(t)
	y.Add(y.Planting("blueberry", "2021-11-10", ""), y.Planting("carrot", "2027-05-01", ""))
	assert.Equal(t, "blueberry", y.State(Today).Crop.ID)
}

func TestABedIsJudgedByItsLastReadingOfTheDay(t *testing.T) {
	y := New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""))
	assert.Equal(t, bed.Untested, y.State(Today).Standing)
	y.Add(y.Reading("2024-10-01", soil.Lab, 7.2), y.Reading("2025-10-01", soil.Lab, 6.5), y.Reading("2026-10-01", soil.Lab, 5.7),
		&garden.Reading{BedID: y.Bed.ID, Date: Day("2026-11-01"), Method: soil.Fizz, Cores: 3, Depth: 0.15, Vinegar: soil.LimeStrong,
			Soda: soil.LimeNone})
	for day, want := range map[string]bed.Standing{"2024-09-30": bed.Untested, "2024-12-01": bed.TooSweet, "2025-12-01": bed.InBand,
		"2026-11-24": bed.Sour} {
		assert.Equal(t, want, y.State(Day(day)).Standing, day)
	}
	p := y.State(Today)
	assert.InDelta(t, 0.5, float64(p.Off), 1e-9)
	assert.InDelta(t, 5.7, float64(p.PH), 1e-9, "a jar test pushes no figure aside")
}

func TestAnotherBasisIsJudgedAsWater(t *testing.T) {
	y := New(t)
	r := y.Reading("2026-10-01", soil.Lab, 5.8)
	r.Basis = soil.CaCl2
	y.Add(y.Planting("dahlia", "2027-05-15", ""), r)
	assert.Equal(t, bed.InBand, y.State(Today).Standing)
	assert.InDelta(t, 6.4, float64(y.State(Today).PH), 1e-9)
}

func (y *Garden) Dose(c dosing.Choice) *dosing.Dose {
	y.T.Helper()
	w, err := y.App.Dosing.Dose(context.Background(), y.Bed.ID, c, Today)
	require.NoError(y.T, err)
	return &w
}

func TestADoseJoinsTheRecords(t *testing.T) {
	y := New(t)
	_, err := y.App.Dosing.Dose(context.Background(), y.Bed.ID, dosing.Choice{}, Today)
	require.ErrorIs(t, err, dosing.ErrNoReading)
	potassium := y.Reading("2025-11-01", soil.Lab, 6.0)
	potassium.Potassium, potassium.Magnesium = Ptr(quantity.Concentration(82)), Ptr(quantity.Concentration(70))
	last := y.Reading("2026-11-12", soil.Lab, 5.7)
	y.Add(y.Planting("sweet-pea", "2026-04-14", "2026-10-18"), y.Planting("dahlia", "2027-05-15", ""), potassium, last,
		&garden.Application{BedID: y.Bed.ID, Date: Day("2023-12-02"), What: material.HardwoodAsh, Rate: 60, Total: 576},
		&garden.Application{BedID: y.Bed.ID, Date: Day("2026-03-02"), What: material.HardwoodAsh, Rate: 100, Total: 960})
	w := y.Dose(dosing.Choice{})
	q := w.Request
	assert.Equal(t, last.ID, w.Used.ID)
	assert.InDelta(t, 82, float64(*q.Reading.Potassium), 0, "a potassium test is lent for two years")
	assert.Equal(t, []calendar.Start{{Day: Day("2027-05-15")}}, q.Sown)
	assert.Equal(t, Day("2026-10-18"), q.Cleared)
	require.Len(t, q.History, 2)
	assert.Equal(t, "dahlia", q.Crop.ID)
	assert.Len(t, q.Materials, 6, "the usual kinds stand in for an empty shelf")
	// 5.7 to 6.5: 0.8 × 1.7 × 224.17 × 15 / 17.78, nothing on its way any more.
	assert.InDelta(t, 0.8*1.7*224.17*0.15/0.1778, float64(w.Answer.Need.CaCO3), 0.5)
	older := y.Dose(dosing.Choice{Reading: potassium.ID, Target: Ptr(quantity.PH(6.4)), Depth: Ptr(quantity.Depth(0.2))})
	assert.InDelta(t, 6.0, float64(older.Answer.PH), 1e-9)
	assert.InDelta(t, 0.2, float64(older.Request.Ground.Depth), 1e-9)
	_, err = y.App.Dosing.Dose(context.Background(), y.Bed.ID, dosing.Choice{Reading: 999}, Today)
	require.ErrorIs(t, err, garden.ErrMissing)
	_, err = y.App.Dosing.Dose(context.Background(), y.Bed.ID, dosing.Choice{Target: Ptr(quantity.PH(14))}, Today)
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f, "target_ph")
}

func TestTheShelfGoesBeforeTheUsualKinds(t *testing.T) {
	y := New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-12", soil.Lab, 5.7),
		&garden.Batch{Name: "Pellet ash", Kind: "wood-ash-softwood", Condition: material.Dry, Source: material.Clean,
			OnHand: Ptr(quantity.Mass(900))})
	w := y.Dose(dosing.Choice{})
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

func (y *Garden) Plan(key, use string) error { return y.PlanChoice(key, use, dosing.Choice{}) }

func (y *Garden) PlanChoice(key, use string, c dosing.Choice) error {
	a := y.Actor
	a.Key = key
	_, err := y.App.Dosing.Plan(context.Background(), a, y.Bed.ID, c, use, present.EncodePlan)
	return err
}

// first is the key of the best option of the bed's dose.
func (y *Garden) FirstKey() string {
	w := y.Dose(dosing.Choice{})
	return w.Key(w.Answer.Options[0])
}

func (y *Garden) OpenTasks() (out []garden.Task) {
	rec, err := y.App.BedState.Bed(context.Background(), y.Bed.ID, Today)
	require.NoError(y.T, err)
	for _, t := range rec.Tasks {
		if t.State == garden.Open {
			out = append(out, t)
		}
	}
	return out
}

func TestANewDoseTakesTheOldOnesPlace(t *testing.T) {
	y := New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-12", soil.Lab, 5.7))
	best := y.Dose(dosing.Choice{}).Answer.Options[0]
	require.NoError(t, y.Plan("a", y.Dose(dosing.Choice{}).Key(best)))
	first := y.OpenTasks()
	require.Len(t, first, len(best.Applications)+1)
	assert.Equal(t, garden.TaskRetest, first[len(first)-1].Kind)
	assert.Equal(t, best.Retest, first[len(first)-1].Due)
	require.NoError(t, y.Plan("a", y.Dose(dosing.Choice{}).Key(best)), "the same post again")
	assert.Equal(t, first, y.OpenTasks())
	require.NoError(t, y.Plan("b", y.Dose(dosing.Choice{}).Key(best)))
	second := y.OpenTasks()
	require.Len(t, second, len(first))
	assert.NotEqual(t, first[0].ID, second[0].ID)
	require.ErrorIs(t, y.Plan("c", "99"), dosing.ErrNoOption)
	assert.Equal(t, second, y.OpenTasks(), "a refused post changes nothing")
}

func TestWhatWentOnFromThePlanDoesNotMakeItsReadingStale(t *testing.T) {
	y := New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-12", soil.Lab, 5.7))
	require.NoError(t, y.Plan("a", y.FirstKey()))
	g := y.OpenTasks()[0]
	_, err := y.App.Schedule.PutOn(context.Background(), y.Actor, schedule.Tick{Task: g.ID, Version: g.Version})
	require.NoError(t, err)
	stale := func() bool {
		for _, f := range y.Dose(dosing.Choice{}).Answer.Guards {
			if f.ID == "stale-reading" {
				return true
			}
		}
		return false
	}
	assert.False(t, stale())
	all := dosing.Choice{Target: Ptr(quantity.PH(6.1)), Pace: dose.AllAtOnce}
	assert.Equal(t, dose.Leave, y.Dose(all).Answer.Direction, "it is on its way")
	careful := y.Dose(dosing.Choice{Target: Ptr(quantity.PH(6.5))}).Answer
	assert.Equal(t, dose.Refused, careful.Direction)
	assert.Equal(t, guard.FirstPartGoneID, careful.Guards[0].ID, "the rest waits for the test")
	y.Add(&garden.Application{BedID: y.Bed.ID, Date: Today, What: material.HardwoodAsh, Rate: 20, Total: 192})
	assert.True(t, stale(), "this one was not planned from it")
}

func TestTheOutlookFollowsThePlannedGoes(t *testing.T) {
	y := New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-12", soil.Lab, 5.7))
	on := func(day string) bedstate.State {
		v, err := y.App.BedState.On(context.Background(), Today, Day(day), bedstate.Foretold{})
		require.NoError(t, err)
		return v.Beds[0]
	}
	assert.InDelta(t, 5.67, float64(on("2027-04-01").PH), 0.02, "nothing planned: it drifts as rain has it")
	read, err := y.App.BedState.ViewOn(context.Background(), Today, Day("2027-04-01"))
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
	years := float64(Day("2030-04-01")-Day("2026-11-12")) / 365.25
	assert.InDelta(t, float64(*last.PHAfter)-drift*years, float64(settled.PH), 0.04, "it settles, less what pulls it meanwhile")
	assert.Equal(t, bed.InBand, settled.Standing)
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
func TestTheOutlookCountsALateGoFromToday(t *testing.T) {
	y := New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-12", soil.Lab, 5.7))
	require.NoError(t, y.Plan("a", y.FirstKey()))
	due, late := y.OpenTasks()[0].Due, Day("2027-02-20")
	require.Less(t, due, late-60)
	seen := func(today, day quantity.Day) bedstate.State {
		v, err := y.App.BedState.On(Ctx, today, day, bedstate.Foretold{})
		require.NoError(t, err)
		p, _ := v.Bed(y.Bed.ID)
		return p
	}
	assert.InDelta(t, 5.7, float64(seen(late, late+1).PH), 0.02, "put on today, it has hardly begun")
	assert.Greater(t, float64(seen(Today, late+1).PH), 5.73, "put on in time, it would have")
	rec, err := y.App.BedState.Bed(Ctx, y.Bed.ID, late)
	require.NoError(t, err)
	g, err := y.App.Place(Ctx)
	require.NoError(t, err)
	ph, ok := bedstate.Foretold{}.Expect(rec.Coming(g, nil, late), late+400)
	require.True(t, ok)
	assert.InDelta(t, float64(seen(late, late+400).PH), float64(ph), 1e-9, "the plan and the record say the same")
}

func TestTheRibbonOpensWhereAnyBedIsFree(t *testing.T) {
	y := New(t)
	y.Add(y.Planting("carrot", "2026-04-20", "2026-10-30"), y.Planting("carrot", "2027-04-20", "2027-10-30"))
	other := y.Bed
	other.Meta, other.Name = garden.Meta{}, "Other"
	y.Add(&other)
	y.Add(&garden.Planting{BedID: other.ID, Crop: "dahlia", Sown: Day("2027-05-20")})
	v, err := y.App.BedState.View(context.Background(), Today)
	require.NoError(t, err)
	from, to := Day("2026-09-01"), Day("2027-12-31")
	year, err := y.App.Schedule.Year(context.Background(), v, from, to)
	require.NoError(t, err)
	c := &soil.Climates[0]
	seasons := []*calendar.Conditions{
		{Weather: c, Starts: []calendar.Start{{Day: Day("2027-04-20")}}, Cleared: Day("2026-10-30"), SowingGap: 28, Dug: true},
		{Weather: c, Starts: []calendar.Start{{Day: Day("2027-05-20")}}, SowingGap: 28, Dug: true},
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
	x, y := bedstate.FreeSpot([]bedstate.State{{Bed: garden.Bed{Shape: garden.ShapeRect, X: 2, Y: 1, W: 4, H: 3}},
		{Bed: garden.Bed{Shape: garden.ShapeRect, X: 8, Y: 6, W: 1, H: 2}}})
	assert.InDelta(t, 2, x, 1e-9)
	assert.Greater(t, y, 8.0)
}
