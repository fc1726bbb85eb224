package app_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/web/present"
)

// A tick two days late moves the test; nothing else has a day that it could stand before it on.
func TestLateTickKeepsRestWaiting(t *testing.T) {
	for _, pace := range []dose.Pace{dose.Careful, dose.AllAtOnce} {
		y := gardentest.NewSandy(t)
		start := gardentest.Day("2026-10-17")
		require.NoError(t, y.PlanOn(start, dosing.Choice{Pace: pace}))
		goes, test := gardentest.OpenApplications(y.RecordOn(start))
		require.Len(t, goes, 1, "what waits for the test is no task")
		require.Len(t, y.RecordOn(start).Rests, 1)
		late := goes[0].Due + 2
		_, err := y.App.Applications.PutOn(gardentest.Ctx, y.On(late), applications.Tick{Task: goes[0].ID, Version: goes[0].Version})
		require.NoError(t, err)
		rec := y.RecordOn(late)
		goes, moved := gardentest.OpenApplications(rec)
		assert.Empty(t, goes)
		require.NotNil(t, moved)
		assert.Equal(t, late.AddWeeks(26), moved.Due, "26 weeks after the lime")
		assert.Greater(t, moved.Due, test.Due)
		assert.Equal(t, moved.Due, rec.Rests[0].Test)
		for day := late; day < late+800; day += 40 {
			s, err := y.App.Schedule.Sheet(gardentest.Ctx, day, day)
			require.NoError(t, err)
			for _, task := range append(s.Due, s.Coming...) {
				assert.Equal(t, garden.TaskRetest, task.Kind, "%s, %s", pace, day)
			}
			require.Len(t, s.Rests, 1)
			assert.Equal(t, day >= late.AddMonths(24), s.Rests[0].Lapsed, "%s", day)
			for _, c := range []dosing.Choice{{}, {Pace: dose.AllAtOnce}} {
				if day < late.AddMonths(24) || c.Pace == "" {
					assert.Error(t, y.PlanOn(day, c), "%s: on the same reading the rest waits, %v", day, c)
				}
			}
		}
	}
}

// Random years of late ticks, moves, other amounts, skips, tests and undos never apply what waits
// for a test. YEARS is the number of years in each of eight gardens: 250 before a change lands, few
// under the race detector.
func TestNoRestPassesItsTest(t *testing.T) {
	const gardens = 8
	years := 15
	if n, err := strconv.Atoi(os.Getenv("YEARS")); err == nil {
		years = n
	}
	for n := range gardens {
		t.Run(fmt.Sprint(n), func(t *testing.T) {
			t.Parallel()
			y := gardentest.NewSandy(t)
			rng := rand.New(rand.NewPCG(31, uint64(n)))
			for i := range years {
				x := life{Garden: y, rng: rng, day: gardentest.Day("2026-10-01") + quantity.Day(rng.IntN(40))}
				x.begin()
				for range 6 {
					x.step()
					x.check(fmt.Sprintf("garden %d, year %d", n, i))
				}
			}
		})
	}
}

// life is a random year of a bed.
type life struct {
	*gardentest.Garden
	rng  *rand.Rand
	day  quantity.Day
	last []int64 // lines of the journal that may be taken back
}

// begin clears the bed's records and plans a dose.
func (x *life) begin() {
	_, err := x.App.Store.Change(gardentest.Ctx, garden.Change{}, func(tx garden.Tx) (string, error) {
		for _, of := range []string{"applications", "rests", "tasks", "plans", "readings"} {
			tb, _ := garden.FindTable(of)
			var all []garden.Record
			if err := tx.Each(tb.Name, func(r garden.Record) error { all = append(all, r); return nil }); err != nil {
				return "", err
			}
			for _, r := range all {
				if err := tx.Delete(r); err != nil {
					return "", err
				}
			}
		}
		method := []soil.Method{soil.Lab, soil.Kit, soil.Meter}[x.rng.IntN(3)]
		return "begun", tx.Insert(x.Reading((x.day - 5).String(), method, quantity.PH(4.8+0.8*x.rng.Float64())))
	})
	require.NoError(x.T, err)
	x.plan()
}

func (x *life) plan() {
	pace := []dose.Pace{dose.Careful, dose.Careful, dose.AllAtOnce}[x.rng.IntN(3)]
	w, err := x.App.Dosing.Dose(gardentest.Ctx, x.Bed.ID, dosing.Choice{Pace: pace}, x.day)
	require.NoError(x.T, err)
	if n := len(w.Answer.Options); n > 0 {
		o := w.Answer.Options[x.rng.IntN(n)]
		if w.UnknownAsh(o) {
			return
		}
		r, err := x.App.Dosing.Plan(gardentest.Ctx, x.On(x.day), x.Bed.ID, dosing.Choice{Pace: pace}, w.Key(o), present.EncodePlan)
		x.took(r, err)
	}
}

// took remembers an entry that can be undone; a refusal in words is accepted too.
func (x *life) took(r garden.Receipt, err error) {
	var f garden.Faults
	if errors.As(err, &f) || errors.Is(err, garden.ErrStale) {
		return
	}
	require.NoError(x.T, err)
	x.last = append(x.last, r.Journal)
}

// step performs one random action.
func (x *life) step() {
	x.day += quantity.Day(x.rng.IntN(60))
	rec := x.RecordOn(x.day)
	goes, test := gardentest.OpenApplications(rec)
	switch n := x.rng.IntN(9); {
	case n < 3 && len(goes) > 0:
		g := goes[x.rng.IntN(len(goes))]
		tick := applications.Tick{Task: g.ID, Version: g.Version, On: x.day - quantity.Day(x.rng.IntN(3))}
		if n == 1 {
			other := g.Total * quantity.Mass(0.6+0.7*x.rng.Float64())
			tick.Total = &other
		}
		r, err := x.App.Applications.PutOn(gardentest.Ctx, x.On(x.day), tick)
		x.took(r, err)
	case n < 5 && test != nil:
		to := x.day + quantity.Day(x.rng.IntN(400))
		if n == 3 && len(goes) > 0 {
			test = &goes[x.rng.IntN(len(goes))]
		}
		r, err := x.App.Schedule.Move(gardentest.Ctx, x.On(x.day), test.ID, test.Version, to)
		x.took(r, err)
	case n == 5 && len(goes) > 0:
		r, err := x.App.Schedule.Skip(gardentest.Ctx, x.On(x.day), goes[0].ID, goes[0].Version, "")
		x.took(r, err)
	case n == 6 && len(x.last) > 0:
		line := x.last[len(x.last)-1]
		x.last = x.last[:len(x.last)-1]
		_, err := x.App.Store.Undo(gardentest.Ctx, garden.Change{}, line)
		var f garden.Faults
		if err != nil && !errors.As(err, &f) {
			require.ErrorIs(x.T, err, garden.ErrUndone)
		}
	case n == 7:
		x.plan()
	case n == 8:
		r, err := x.App.Readings.AddReading(gardentest.Ctx, x.On(x.day), *x.Reading(x.day.String(), soil.Lab,
			quantity.PH(5.2+1.2*x.rng.Float64())))
		x.took(r, err)
	}
}

// check compares open work with waiting rests.
func (x *life) check(name string) {
	rec := x.RecordOn(x.day)
	goes, test := gardentest.OpenApplications(rec)
	waits := map[int64]quantity.Day{}
	for _, r := range rec.Rests {
		if !r.Lapsed {
			waits[r.PlanID] = r.Test
		}
	}
	for _, g := range goes {
		if g.PlanID == nil {
			continue
		}
		// What is late stands today; a test that is late too waits for it as well.
		if on, waiting := waits[*g.PlanID]; waiting && on > x.day {
			require.Less(x.T, max(g.Due, x.day), on, "%s: a go of %s stands after the test that its rest waits for", name, g.Due)
		}
	}
	if test != nil && len(rec.Rests) > 0 && test.PlanID != nil {
		x.checkTest(rec, test, name)
	}
	if len(waits) > 0 {
		// On the reading that the first part went on by, no more than it goes on.
		for _, r := range rec.Rests {
			if w, err := x.App.Dosing.Dose(gardentest.Ctx, x.Bed.ID, dosing.Choice{}, x.day); r.Put != 0 && !r.Lapsed && err == nil &&
				w.Used.Date <= r.Put {
				assert.Error(x.T, x.dry(&w), "%s: more is planned on the same reading", name)
			}
		}
	}
}

// dry tries to plan all at once what a careful dose does not, without saving.
func (x *life) dry(w *dosing.Dose) error {
	all, err := x.App.Dosing.Dose(gardentest.Ctx, x.Bed.ID, dosing.Choice{Pace: dose.AllAtOnce}, x.day)
	if err != nil || len(all.Answer.Options) == 0 {
		return dosing.ErrNoOption
	}
	key := all.Key(all.Answer.Options[0])
	if all.UnknownAsh(all.Answer.Options[0]) {
		return dosing.ErrNoOption
	}
	r, err := x.App.Dosing.Plan(gardentest.Ctx, x.On(x.day), x.Bed.ID, dosing.Choice{Pace: dose.AllAtOnce}, key, present.EncodePlan)
	if err == nil {
		x.TakeBack(r.Journal)
	}
	return err
}

// checkTest checks that what was applied before a rest's test has reacted by then.
func (x *life) checkTest(rec bedstate.Record, test *garden.Task, name string) {
	for _, a := range rec.Applications {
		p, ok := a.Put()
		if ok && p.Material.Raises() && a.Date <= x.day {
			require.GreaterOrEqual(x.T, test.Due, a.Date+calendar.ActsBefore(p.Material.Family), name)
		}
	}
}
