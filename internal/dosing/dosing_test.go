package dosing_test

import (
	"context"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

func TestDoseUsesRecords(t *testing.T) {
	y := gardentest.New(t)
	_, err := y.App.Dosing.Dose(context.Background(), y.Bed.ID, dosing.Choice{}, gardentest.Today)
	require.ErrorIs(t, err, dosing.ErrNoReading)
	potassium := y.Reading("2025-11-01", soil.Lab, 6.0)
	potassium.Potassium, potassium.Magnesium = gardentest.Ptr(quantity.Concentration(82)), gardentest.Ptr(quantity.Concentration(70))
	last := y.Reading("2026-11-12", soil.Lab, 5.7)
	y.Add(y.Planting("sweet-pea", "2026-04-14", "2026-10-18"), y.Planting("dahlia", "2027-05-15", ""), potassium, last,
		&garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2023-12-02"), What: material.HardwoodAsh, Rate: 60, Total: 576},
		&garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2026-03-02"), What: material.HardwoodAsh, Rate: 100, Total: 960})
	w := y.Dose(dosing.Choice{})
	q := w.Request
	assert.Equal(t, last.ID, w.Used.ID)
	assert.InDelta(t, 82, float64(*q.Reading.Potassium), 0, "a potassium test is lent for two years")
	assert.Equal(t, []calendar.Start{{Day: gardentest.Day("2027-05-15")}}, q.Sown)
	assert.Equal(t, gardentest.Day("2026-10-18"), q.Cleared)
	require.Len(t, q.History, 2)
	assert.Equal(t, "dahlia", q.Crop.ID)
	assert.Len(t, q.Materials, 6, "the usual kinds stand in for an empty shelf")
	// 5.7 to 6.5: 0.8 × 1.7 × 224.17 × 15 / 17.78, nothing on its way any more.
	assert.InDelta(t, 0.8*1.7*224.17*0.15/0.1778, float64(w.Answer.Need.CaCO3), 0.5)
	older := y.Dose(dosing.Choice{Reading: potassium.ID, Target: gardentest.Ptr(quantity.PH(6.4)), Depth: gardentest.Ptr(quantity.Depth(0.2))})
	assert.InDelta(t, 6.0, float64(older.Answer.PH), 1e-9)
	assert.InDelta(t, 0.2, float64(older.Request.Ground.Depth), 1e-9)
	_, err = y.App.Dosing.Dose(context.Background(), y.Bed.ID, dosing.Choice{Reading: 999}, gardentest.Today)
	require.ErrorIs(t, err, garden.ErrMissing)
	_, err = y.App.Dosing.Dose(context.Background(), y.Bed.ID, dosing.Choice{Target: gardentest.Ptr(quantity.PH(14))}, gardentest.Today)
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f, "target_ph")
}

func TestStockReplacesUsualKinds(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-12", soil.Lab, 5.7),
		&garden.Batch{Name: "Pellet ash", Kind: "wood-ash-softwood", Condition: material.Dry, Source: material.Clean,
			OnHand: gardentest.Ptr(quantity.Mass(900))})
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

func TestNewDoseReplacesOldPlan(t *testing.T) {
	y := gardentest.New(t)
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

func TestPlannedApplicationKeepsReadingFresh(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-12", soil.Lab, 5.7))
	require.NoError(t, y.Plan("a", y.FirstKey()))
	g := y.OpenTasks()[0]
	_, err := y.App.Applications.PutOn(context.Background(), y.Actor, applications.Tick{Task: g.ID, Version: g.Version})
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
	all := dosing.Choice{Target: gardentest.Ptr(quantity.PH(6.1)), Pace: dose.AllAtOnce}
	assert.Equal(t, dose.Leave, y.Dose(all).Answer.Direction, "it is on its way")
	careful := y.Dose(dosing.Choice{Target: gardentest.Ptr(quantity.PH(6.5))}).Answer
	assert.Equal(t, dose.Refused, careful.Direction)
	assert.Equal(t, guard.FirstPartGoneID, careful.Guards[0].ID, "the rest waits for the test")
	y.Add(&garden.Application{BedID: y.Bed.ID, Date: gardentest.Today, What: material.HardwoodAsh, Rate: 20, Total: 192})
	assert.True(t, stale(), "this one was not planned from it")
}

// The test after a dose is foretold by the method that the dose went by, not by the record's.
func TestPromiseGoesByMethodOfDose(t *testing.T) {
	y := gardentest.New(t)
	r := y.Reading("2026-11-12", soil.Lab, 5.6)
	r.BufferKind, r.BufferPH = soil.SMP, gardentest.Ptr(quantity.PH(5.8))
	y.Add(y.Planting("kale", "2027-05-15", ""), r)
	for method, own := range map[soil.LimeMethod]bool{"": true, soil.ByTable: true, soil.BySMP: false} {
		w := y.Dose(dosing.Choice{Buffering: method})
		assert.Equal(t, own, w.Request.Foretold != nil, method)
		o := &w.Answer.Options[0]
		assert.LessOrEqual(t, o.AtRetest.Median, o.PH.Median+0.05, method)
		assert.NotNil(t, w.Request.Proved, method)
		m, ph, ok := w.ByRecord(o)
		assert.Equal(t, !own, ok, method)
		if ok {
			assert.Equal(t, soil.ByTable, m)
			assert.Greater(t, ph, o.AtRetest.Median+1, "lime for a strong buffer, on a loam by its texture")
		}
	}
}

// Where a dose says that the bed will settle is where the bed says so once it is on, and where the next dose says so.
func TestDoseSettlesWhereBedSaysSo(t *testing.T) {
	y := gardentest.New(t)
	// Two readings that differ: the level by both is neither.
	y.Add(y.Planting("kale", "2027-05-15", ""), y.Reading("2026-03-20", soil.Lab, 6.3), y.Reading("2026-11-12", soil.Lab, 5.9))
	all := dosing.Choice{Pace: dose.AllAtOnce}
	w := y.Dose(all)
	o := w.Answer.Options[0]
	require.Greater(t, math.Abs(float64(w.Request.Foretold.From-5.9)), 0.05, "its level is not what was read last")
	steps := w.Answer.Working(&o)
	i := slices.IndexFunc(steps, func(x working.Step) bool { return x.ID == "settles-by-record" })
	require.GreaterOrEqual(t, i, 0)
	from := steps[i].From
	assert.InDelta(t, steps[i].Result.N, from.N("from")+from.N("caco3")/from.N("each"), 1e-9, "it can be reckoned by hand")
	require.NoError(t, y.PlanChoice("a", w.Key(o), all))
	last := quantity.Day(0)
	for _, task := range y.OpenTasks() {
		if task.Kind == garden.TaskApplication {
			y.PutOn(task, task.Due.String())
			last = task.Due
		}
	}
	at := y.State(last + 1).AtWork
	require.NotNil(t, at)
	assert.InDelta(t, float64(o.PH.Median), float64(at.Settles), 0.02)
	again, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, all, last+1)
	require.NoError(t, err)
	require.Equal(t, dose.Leave, again.Answer.Direction)
	for _, step := range again.Answer.Need.Working {
		if step.ID == "at-work" {
			assert.InDelta(t, float64(at.Settles), step.From.N("settles"), 1e-9)
			return
		}
	}
	t.Error("no step tells what is at work")
}
