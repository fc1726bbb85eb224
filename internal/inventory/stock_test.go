package inventory_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/web/present"
)

func TestTicksAreUndoneInAnyOrder(t *testing.T) {
	y := gardentest.New(t)
	y.ShelvedAsh(gardentest.Ptr(quantity.Mass(5000)))
	goes := y.OpenTasks()
	first, second := y.PutOn(goes[0], "2026-09-20"), y.PutOn(goes[1], "2026-11-24")
	assert.InDelta(t, 3080, y.Left(), 1e-9)
	y.TakeBack(first)
	assert.InDelta(t, 4040, y.Left(), 1e-9, "the first of two")
	y.TakeBack(second)
	assert.InDelta(t, 5000, y.Left(), 1e-9)
	rec, err := y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	assert.Empty(t, rec.Applications)
}

func TestLevel(t *testing.T) {
	y := gardentest.New(t)
	b := y.ShelvedAsh(gardentest.Ptr(quantity.Mass(1000)))
	move := func(kind, on string, grams quantity.Mass) {
		y.Add(&garden.Movement{BatchID: b.ID, Date: gardentest.Day(on), Kind: kind, Amount: grams})
	}
	move(garden.MovedIn, "2026-10-01", 500)
	move(garden.MovedOut, "2026-10-02", 200)
	assert.InDelta(t, 1300, y.Left(), 1e-9)
	move(garden.MovedWeighed, "2026-10-10", 1250)
	assert.InDelta(t, 1250, y.Left(), 1e-9, "the scale is right")
	move(garden.MovedOut, "2026-10-09", 400)
	assert.InDelta(t, 1250, y.Left(), 1e-9, "what left before it was weighed is in it")
	move(garden.MovedOut, "2026-10-10", 50)
	assert.InDelta(t, 1200, y.Left(), 1e-9, "on the day itself, what was noted after it")
	move(garden.MovedOut, "2026-11-01", 5000)
	assert.Zero(t, y.Left(), "never below nothing")
}

func TestApplicationBeforeWeighing(t *testing.T) {
	y := gardentest.New(t)
	b := y.ShelvedAsh(gardentest.Ptr(quantity.Mass(5000)))
	line := y.PutOn(y.OpenTasks()[0], "2026-09-20")
	y.Add(&garden.Movement{BatchID: b.ID, Date: gardentest.Day("2026-10-10"), Kind: garden.MovedWeighed, Amount: 3900})
	y.TakeBack(line)
	assert.InDelta(t, 3900, y.Left(), 1e-9)
}

func TestUnknownStock(t *testing.T) {
	y := gardentest.New(t)
	b := y.ShelvedAsh(nil)
	assert.InDelta(t, -1, y.Left(), 0)
	y.PutOn(y.OpenTasks()[0], "2026-09-20")
	assert.InDelta(t, -1, y.Left(), 0, "what left tells nothing of what is there")
	y.Add(&garden.Movement{BatchID: b.ID, Date: gardentest.Day("2026-10-10"), Kind: garden.MovedIn, Amount: 2000})
	assert.InDelta(t, 1040, y.Left(), 1e-9)
}

func TestDoseIsLimitedByStock(t *testing.T) {
	y := gardentest.New(t)
	b := y.ShelvedAsh(gardentest.Ptr(quantity.Mass(5000)))
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-12", "lab", 5.7),
		&garden.Movement{BatchID: b.ID, Date: gardentest.Day("2026-10-10"), Kind: garden.MovedWeighed, Amount: 900})
	o, ok := y.Dose(dosing.Choice{}).Pick("b1")
	require.True(t, ok)
	assert.InDelta(t, 900, float64(o.Parts[0].Total), 1e-6)
}

func TestInvalidMovements(t *testing.T) {
	one := int64(1)
	for field, m := range map[string]garden.Movement{
		"kind":     {Kind: "lent", Date: gardentest.Today, Amount: 1},
		"date":     {Kind: garden.MovedIn, Amount: 1},
		"amount_g": {Kind: garden.MovedOut, Date: gardentest.Today},
	} {
		m.Meta, m.BatchID = garden.Meta{ID: 1, Version: 1}, 1
		var f garden.Faults
		require.ErrorAs(t, garden.CheckRecord(&m), &f, field)
		assert.Contains(t, f, field)
	}
	empty := garden.Movement{Meta: garden.Meta{ID: 1, Version: 1}, BatchID: 1, Kind: garden.MovedWeighed, Date: gardentest.Today}
	require.NoError(t, garden.CheckRecord(&empty), "a bucket may weigh nothing")
	in := garden.Movement{Meta: garden.Meta{ID: 1, Version: 1}, BatchID: 1, Kind: garden.MovedIn, Date: gardentest.Today, Amount: 5,
		ApplicationID: &one}
	require.Error(t, garden.CheckRecord(&in), "nothing comes in by a go")
}

func TestJournalOfBed(t *testing.T) {
	y := gardentest.New(t)
	y.ShelvedAsh(nil)
	other := garden.Bed{Name: "Other", Kind: garden.KindBed, Shape: garden.ShapeRect, X: 9, Y: 9, W: 2, H: 2, Texture: "loam",
		Depth: 0.15, Worked: "dug", FreeLime: "unknown"}
	y.Add(&other)
	before := y.Lines(y.Bed.ID)
	line := y.PutOn(y.OpenTasks()[0], "2026-09-20")
	assert.Equal(t, before+1, y.Lines(y.Bed.ID))
	assert.Equal(t, 1, y.Lines(other.ID), "only that it was made")
	y.TakeBack(line)
	assert.Equal(t, before+2, y.Lines(y.Bed.ID), "taking it back is a change as well")
}

// A reading that comes after a dose was planned says so on the dose and on the sheet of the
// day, with the new amount beside the old; the same reading twice does not.
func TestLaterReadingOvertakesDose(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-01", soil.Lab, 5.6))
	dosed := func() dosing.Dose {
		w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
		require.NoError(t, err)
		return w
	}
	_, err := y.App.Dosing.Plan(gardentest.Ctx, y.Actor, y.Bed.ID, dosing.Choice{}, string(material.CalciticLime), present.EncodePlan)
	require.NoError(t, err)
	assert.Nil(t, dosed().Outdated)
	was := dosed().Answer.Options[0].Parts[0].Total
	y.Add(y.Reading("2026-11-20", soil.Lab, 6.0))
	o := dosed().Outdated
	require.NotNil(t, o)
	assert.Equal(t, gardentest.Day("2026-11-01"), o.Reading.Date)
	assert.InDelta(t, float64(was), float64(o.Left), 1)
	require.NotNil(t, o.Now)
	assert.True(t, o.Changed())
	assert.Less(t, float64(o.Total), float64(o.Left))
	sh, err := y.App.Schedule.Sheet(gardentest.Ctx, gardentest.Today, gardentest.Today)
	require.NoError(t, err)
	require.Len(t, sh.Due, 1)
	assert.Equal(t, quantity.PH(6.0), sh.Overtaken[sh.Due[0].ID].PH)
}

// In range by a later reading: the dose would not be offered any more.
func TestLaterReadingRemovesDose(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-09-01", soil.Lab, 5.6))
	_, err := y.App.Dosing.Plan(gardentest.Ctx, y.Actor, y.Bed.ID, dosing.Choice{}, string(material.CalciticLime), present.EncodePlan)
	require.NoError(t, err)
	y.Add(y.Reading("2026-11-20", soil.Lab, 6.5))
	w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
	require.NoError(t, err)
	require.NotNil(t, w.Outdated)
	assert.Nil(t, w.Outdated.Now)
}
