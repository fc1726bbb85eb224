package keepers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/year"
)

// shelved adds a batch of ash with two goes from it, dated a season apart.
func (y *yard) shelved(onHand *quantity.Mass) garden.Batch {
	b := garden.Batch{Name: "Oven ash", Kind: material.HardwoodAsh, Condition: material.Dry, Source: material.Clean, OnHand: onHand}
	y.add(&b)
	for _, due := range []string{"2026-09-20", "2026-11-24"} {
		y.add(&garden.Task{BedID: y.bed.ID, Kind: garden.TaskGo, Due: at(due), What: material.HardwoodAsh, BatchID: &b.ID, Rate: 100,
			Total: 960, State: garden.Open, Depth: 0.15})
	}
	return b
}

// left is what there is of the only batch; below 0 where nobody knows.
func (y *yard) left() float64 {
	y.t.Helper()
	var out *quantity.Mass
	require.NoError(y.t, y.keep.Store.Read(ctx, func(r garden.Reader) error {
		shelf, err := garden.Shelf(r)
		if err == nil {
			out = shelf[0].Left
		}
		return err
	}))
	if out == nil {
		return -1
	}
	return float64(*out)
}

// putOn ticks a task on a day and gives its line in the journal.
func (y *yard) putOn(t garden.Task, on string) int64 {
	y.t.Helper()
	r, err := y.keep.Year.PutOn(ctx, y.act, year.Tick{Task: t.ID, Version: t.Version, On: at(on)})
	require.NoError(y.t, err)
	return r.Journal
}

func (y *yard) takeBack(line int64) {
	y.t.Helper()
	_, err := y.keep.Undo(ctx, y.act, line)
	require.NoError(y.t, err)
}

func TestTwoTicksFromOneBatchAreTakenBackInAnyOrder(t *testing.T) {
	y := newYard(t)
	y.shelved(ptr(quantity.Mass(5000)))
	goes := y.open()
	first, second := y.putOn(goes[0], "2026-09-20"), y.putOn(goes[1], "2026-11-24")
	assert.InDelta(t, 3080, y.left(), 1e-9)
	y.takeBack(first)
	assert.InDelta(t, 4040, y.left(), 1e-9, "the first of two")
	y.takeBack(second)
	assert.InDelta(t, 5000, y.left(), 1e-9)
	rec, err := y.keep.Plots.Bed(ctx, y.bed.ID, today)
	require.NoError(t, err)
	assert.Empty(t, rec.Applications)
}

func TestTheLevelIsASum(t *testing.T) {
	y := newYard(t)
	b := y.shelved(ptr(quantity.Mass(1000)))
	move := func(kind, on string, grams quantity.Mass) {
		y.add(&garden.Movement{BatchID: b.ID, Date: at(on), Kind: kind, Amount: grams})
	}
	move(garden.MovedIn, "2026-10-01", 500)
	move(garden.MovedOut, "2026-10-02", 200)
	assert.InDelta(t, 1300, y.left(), 1e-9)
	move(garden.MovedWeighed, "2026-10-10", 1250)
	assert.InDelta(t, 1250, y.left(), 1e-9, "the scale is right")
	move(garden.MovedOut, "2026-10-09", 400)
	assert.InDelta(t, 1250, y.left(), 1e-9, "what left before it was weighed is in it")
	move(garden.MovedOut, "2026-10-10", 50)
	assert.InDelta(t, 1200, y.left(), 1e-9, "on the day itself, what was noted after it")
	move(garden.MovedOut, "2026-11-01", 5000)
	assert.Zero(t, y.left(), "never below nothing")
}

func TestAGoBeforeAWeighingChangesNothingOfIt(t *testing.T) {
	y := newYard(t)
	b := y.shelved(ptr(quantity.Mass(5000)))
	line := y.putOn(y.open()[0], "2026-09-20")
	y.add(&garden.Movement{BatchID: b.ID, Date: at("2026-10-10"), Kind: garden.MovedWeighed, Amount: 3900})
	y.takeBack(line)
	assert.InDelta(t, 3900, y.left(), 1e-9)
}

func TestWhatNobodyWeighedIsNotKnown(t *testing.T) {
	y := newYard(t)
	b := y.shelved(nil)
	assert.InDelta(t, -1, y.left(), 0)
	y.putOn(y.open()[0], "2026-09-20")
	assert.InDelta(t, -1, y.left(), 0, "what left tells nothing of what is there")
	y.add(&garden.Movement{BatchID: b.ID, Date: at("2026-10-10"), Kind: garden.MovedIn, Amount: 2000})
	assert.InDelta(t, 1040, y.left(), 1e-9)
}

func TestADoseIsHeldToWhatIsLeft(t *testing.T) {
	y := newYard(t)
	b := y.shelved(ptr(quantity.Mass(5000)))
	y.add(y.crop("dahlia", "2027-05-15", ""), y.read("2026-11-12", "lab", 5.7),
		&garden.Movement{BatchID: b.ID, Date: at("2026-10-10"), Kind: garden.MovedWeighed, Amount: 900})
	o, ok := y.dose(desk.Choice{}).Pick("b1")
	require.True(t, ok)
	assert.InDelta(t, 900, float64(o.Parts[0].Total), 1e-6)
}

func TestMovementsThatCannotBe(t *testing.T) {
	one := int64(1)
	for field, m := range map[string]garden.Movement{
		"kind":     {Kind: "lent", Date: today, Amount: 1},
		"date":     {Kind: garden.MovedIn, Amount: 1},
		"amount_g": {Kind: garden.MovedOut, Date: today},
	} {
		m.Meta, m.BatchID = garden.Meta{ID: 1, Version: 1}, 1
		var f garden.Faults
		require.ErrorAs(t, garden.CheckRecord(&m), &f, field)
		assert.Contains(t, f, field)
	}
	empty := garden.Movement{Meta: garden.Meta{ID: 1, Version: 1}, BatchID: 1, Kind: garden.MovedWeighed, Date: today}
	require.NoError(t, garden.CheckRecord(&empty), "a bucket may weigh nothing")
	in := garden.Movement{Meta: garden.Meta{ID: 1, Version: 1}, BatchID: 1, Kind: garden.MovedIn, Date: today, Amount: 5,
		ApplicationID: &one}
	require.Error(t, garden.CheckRecord(&in), "nothing comes in by a go")
}

func TestTheJournalKnowsTheBedsOfAChange(t *testing.T) {
	y := newYard(t)
	y.shelved(nil)
	other := garden.Bed{Name: "Other", Kind: garden.KindBed, Shape: garden.ShapeRect, X: 9, Y: 9, W: 2, H: 2, Texture: "loam",
		Depth: 0.15, Worked: "dug", FreeLime: "unknown"}
	y.add(&other)
	before := y.lines(y.bed.ID)
	line := y.putOn(y.open()[0], "2026-09-20")
	assert.Equal(t, before+1, y.lines(y.bed.ID))
	assert.Equal(t, 1, y.lines(other.ID), "only that it was made")
	y.takeBack(line)
	assert.Equal(t, before+2, y.lines(y.bed.ID), "taking it back is a change as well")
}

// lines is how many changes touch a bed.
func (y *yard) lines(bed int64) int {
	y.t.Helper()
	ls, err := y.keep.JournalOf(ctx, bed, 100)
	require.NoError(y.t, err)
	return len(ls)
}

// A reading that comes after a dose was planned says so on the dose and on the sheet of the
// day, with the new amount beside the old; the same reading twice does not.
func TestALaterReadingSaysThatItChangedADose(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("dahlia", "2027-05-15", ""), y.read("2026-11-01", soil.Lab, 5.6))
	dosed := func() desk.Worked {
		w, err := y.keep.Desk.Dose(ctx, y.bed.ID, desk.Choice{}, today)
		require.NoError(t, err)
		return w
	}
	_, err := y.keep.Desk.PutInYear(ctx, y.act, y.bed.ID, desk.Choice{}, string(material.CalciticLime), present.EncodePlan)
	require.NoError(t, err)
	assert.Nil(t, dosed().Outdated)
	was := dosed().Answer.Options[0].Parts[0].Total
	y.add(y.read("2026-11-20", soil.Lab, 6.0))
	o := dosed().Outdated
	require.NotNil(t, o)
	assert.Equal(t, at("2026-11-01"), o.Reading.Date)
	assert.InDelta(t, float64(was), float64(o.Left), 1)
	require.NotNil(t, o.Now)
	assert.True(t, o.Changed())
	assert.Less(t, float64(o.Total), float64(o.Left))
	sh, err := y.keep.Year.Sheet(ctx, today, today)
	require.NoError(t, err)
	require.Len(t, sh.Due, 1)
	assert.Equal(t, quantity.PH(6.0), sh.Overtaken[sh.Due[0].ID].PH)
}

// In band by a later reading: the dose would not be offered any more.
func TestALaterReadingMayTakeADoseBack(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("dahlia", "2027-05-15", ""), y.read("2026-09-01", soil.Lab, 5.6))
	_, err := y.keep.Desk.PutInYear(ctx, y.act, y.bed.ID, desk.Choice{}, string(material.CalciticLime), present.EncodePlan)
	require.NoError(t, err)
	y.add(y.read("2026-11-20", soil.Lab, 6.5))
	w, err := y.keep.Desk.Dose(ctx, y.bed.ID, desk.Choice{}, today)
	require.NoError(t, err)
	require.NotNil(t, w.Outdated)
	assert.Nil(t, w.Outdated.Now)
}
