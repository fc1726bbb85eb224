package keepers_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/turn"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/turning"
	"zephyrfield/internal/year"
)

// turned is a yard whose bed is being turned over for dahlias on a day.
func turned(t *testing.T, planting string, c turning.Choice) (*yard, func(turn.StepID) garden.Task) {
	t.Helper()
	y := newYard(t)
	y.add(y.crop("dahlia", planting, ""), y.read("2026-10-12", soil.Lab, 5.7))
	_, err := y.keep.Turning.Plan(ctx, y.act, y.bed.ID, c)
	require.NoError(t, err)
	return y, func(id turn.StepID) garden.Task {
		t.Helper()
		for _, s := range y.turning().Steps {
			if s.Step == id {
				return s
			}
		}
		require.Fail(t, "no such step", id)
		return garden.Task{}
	}
}

func (y *yard) rec() plots.BedRecord {
	y.t.Helper()
	rec, err := y.keep.Plots.Bed(ctx, y.bed.ID, y.act.Today)
	require.NoError(y.t, err)
	return rec
}

func (y *yard) turning() plots.Turning {
	y.t.Helper()
	open := y.rec().Turnings
	require.Len(y.t, open, 1)
	return open[0]
}

// faultAt asks for a sentence at a field.
func faultAt(t *testing.T, err error, field, says string) {
	t.Helper()
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f[field], says)
}

func (y *yard) done(s garden.Task, on quantity.Day, signs ...turn.Sign) error {
	_, err := y.keep.Turning.Done(ctx, y.act, turning.Tick{Task: s.ID, Version: s.Version, On: on, Signs: signs})
	return err
}

// stands is where a step stands in the year.
func (y *yard) stands(id turn.StepID) quantity.Day {
	y.t.Helper()
	tasks := y.rec().Tasks
	i := slices.IndexFunc(tasks, func(t garden.Task) bool { return t.Step == id })
	require.GreaterOrEqual(y.t, i, 0, id)
	return tasks[i].Due
}

func TestABedIsTurnedOverStepByStep(t *testing.T) {
	y, step := turned(t, "2027-05-17", turning.Choice{Template: string(turn.Vegetable)})
	assert.Equal(t, at("2027-05-17"), y.stands(turn.Plant))
	assert.Equal(t, at("2027-05-03"), y.stands(turn.Organic))
	// One after the other, and not before its time.
	y.act.Today = at("2027-02-08")
	faultAt(t, y.done(step(turn.Loosen), 0), "on", "comes before it")
	require.NoError(t, y.done(step(turn.Clear), 0))
	faultAt(t, y.done(step(turn.Loosen), y.act.Today+1), "on", "still to come")
	require.NoError(t, y.done(step(turn.Loosen), 0))
	// The reading answers the test; its own day counts, not the laboratory's time.
	r := y.read("2027-02-08", soil.Lab, 6.3)
	_, err := y.keep.Readings.AddReading(ctx, y.act, *r)
	require.NoError(t, err)
	assert.Equal(t, garden.Done, step(turn.Test).State)
	require.NoError(t, y.done(step(turn.Correct), 0))
	// Compost goes on as any go does, and counts in what the bed got.
	compost := step(turn.Organic)
	_, err = y.keep.Year.PutOn(ctx, y.act, year.Tick{Task: compost.ID, Version: compost.Version})
	require.NoError(t, err)
	rec := y.rec()
	require.Len(t, rec.Applications, 1)
	assert.InDelta(t, 3000*9.6, float64(rec.Applications[0].Total), 1e-6)
	require.NoError(t, y.done(step(turn.Mulch), 0))
	require.NoError(t, y.done(step(turn.Water), 0))
	y.ready(step)
}

// ready looks twice at the ground and plants.
func (y *yard) ready(step func(turn.StepID) garden.Task) {
	t := y.t
	faultAt(t, y.done(step(turn.Check), 0, turn.Crumbles), "signs", "answer all")
	require.NoError(t, y.done(step(turn.Check), 0, turn.Smears, turn.Earthy, turn.Soaked))
	assert.Equal(t, garden.Open, step(turn.Check).State)
	assert.Equal(t, y.act.Today+7, y.stands(turn.Check), "it is looked at again in a week")
	faultAt(t, y.done(step(turn.Plant), 0), "on", "comes before it")
	y.act.Today += 7
	require.NoError(t, y.done(step(turn.Check), 0, turn.Breaks, turn.Earthy, turn.Moist))
	faultAt(t, y.done(step(turn.Plant), 0), "on", "has its time until")
	assert.Empty(t, y.rec().Now, "what waits for its steps does not stand there yet")
	y.act.Today = at("2027-05-24")
	assert.Empty(t, y.rec().Now, "nor when its day has gone by")
	require.NoError(t, y.done(step(turn.Plant), at("2027-05-20")))
	rec := y.rec()
	assert.Empty(t, rec.Turnings)
	require.Len(t, rec.Now, 1)
	assert.Equal(t, at("2027-05-20"), rec.Now[0].Sown)
}

// Sod chopped in late puts the planting off, and ash that was dated after it with it.
func TestAPlantingWaitsForWhatGoesBeforeIt(t *testing.T) {
	y, step := turned(t, "2027-01-10", turning.Choice{Template: string(turn.Sod)})
	assert.Equal(t, today+60, y.stands(turn.Plant), "sixty days for the sod")
	assert.Equal(t, today+60, y.turning().Planting.Sown)
	y.act.Today = today + 30
	require.NoError(t, y.done(step(turn.Strip), 0))
	assert.Equal(t, y.act.Today+60, y.stands(turn.Plant))
	assert.Equal(t, y.act.Today, y.stands(turn.Loosen))
}

// Fresh manure is ticked, though it lies less than sixty days before the planting: that waits.
func TestManureOfATurningMovesItsPlanting(t *testing.T) {
	y, step := turned(t, "2027-05-01", turning.Choice{Template: string(turn.Vegetable),
		Organic: &turning.Gives{Kind: material.Manure, Rate: 2000}, Without: []turn.StepID{turn.Clear, turn.Loosen, turn.Test, turn.Correct}})
	manure := step(turn.Organic)
	y.act.Today = at("2027-04-05")
	_, err := y.keep.Year.PutOn(ctx, y.act, year.Tick{Task: manure.ID, Version: manure.Version})
	require.NoError(t, err)
	assert.Equal(t, at("2027-04-05")+60, y.stands(turn.Plant))
}

func TestStepsAreAddedKeptAndDropped(t *testing.T) {
	y, step := turned(t, "2027-05-17", turning.Choice{})
	x := y.turning()
	e := turning.Extra{Turning: x.ID, After: step(turn.Loosen).ID, Says: "Lay boards to tread on", Wait: 3}
	_, _, err := y.keep.Turning.Add(ctx, y.act, e)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, y.stands(turn.Test)-y.stands(turn.Own), quantity.Day(3))
	assert.GreaterOrEqual(t, y.stands(turn.Own), y.stands(turn.Loosen))
	e.Says = ""
	_, _, err = y.keep.Turning.Add(ctx, y.act, e)
	faultAt(t, err, "says", "say what")
	_, _, err = y.keep.Turning.KeepAs(ctx, y.act, x.ID, "Boards first")
	require.NoError(t, err)
	_, _, err = y.keep.Turning.KeepAs(ctx, y.act, x.ID, "boards FIRST")
	faultAt(t, err, "name", "already")
	_, err = y.keep.Turning.Plan(ctx, y.act, y.bed.ID, turning.Choice{})
	faultAt(t, err, "template", "already")
	_, _, err = y.keep.Turning.Drop(ctx, y.act, x.ID, x.Version)
	require.NoError(t, err)
	assert.Empty(t, y.rec().Turnings)
	assert.False(t, slices.ContainsFunc(y.rec().Tasks, func(t garden.Task) bool { return t.State == garden.Open }))
	d, err := y.keep.Turning.Draft(ctx, y.bed.ID, turning.Choice{Template: turning.WayKey(1)}, today)
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(d.Placed, func(p turning.Placed) bool { return p.Says == "Lay boards to tread on" }))
	lead := slices.IndexFunc(d.Steps, func(s turn.Step) bool { return s.ID == turn.Correct })
	assert.Equal(t, turn.LeadOf(turn.Correct), d.Steps[lead].Lead, "lime keeps its twelve weeks in a way of one’s own")
}

// A dose that is put in the year while the bed is turned over takes the place of an earlier dose, and of nothing else.
func TestADoseLeavesTheStepsAndFeedsThatArePlanned(t *testing.T) {
	y, step := turned(t, "2027-05-17", turning.Choice{})
	_, err := y.keep.Year.PlanFeed(ctx, y.act, garden.Application{BedID: y.bed.ID, What: material.PotassiumSulfate, Total: 100,
		Date: at("2027-06-20")})
	require.NoError(t, err)
	before := len(y.turning().Steps)
	for _, key := range []string{"a", "b"} { // the second time the first dose gives way
		require.NoError(t, y.putInYear(key, y.first()))
	}
	assert.Len(t, y.turning().Steps, before)
	assert.Equal(t, garden.Open, step(turn.Plant).State)
	goes, feeds := 0, 0
	for _, x := range y.rec().Tasks {
		if x.Kind == garden.TaskGo && x.TurningID == nil && x.PlanID == nil {
			feeds++
		} else if x.PlanID != nil && x.Kind == garden.TaskRetest {
			goes++
		}
	}
	assert.Equal(t, 1, feeds)
	assert.Equal(t, 1, goes, "one dose stands")
}

func TestTheWayThatABedMostLikelyWantsComesFirst(t *testing.T) {
	taken := func(y *yard) string {
		d, err := y.keep.Turning.Draft(ctx, y.bed.ID, turning.Choice{}, today)
		require.NoError(t, err)
		return d.Template
	}
	y := newYard(t)
	y.add(y.crop("dahlia", "2027-05-17", ""))
	assert.EqualValues(t, turn.Sod, taken(y), "nothing ever grew there")
	y.add(y.crop("bean", "2026-05-17", "2026-10-01"))
	assert.EqualValues(t, turn.Vegetable, taken(y))
	y.note(material.Manure, 9600, "2026-11-01")
	assert.EqualValues(t, turn.AfterManure, taken(y))
	y.bed.Worked = soil.Surface
	_, err := y.keep.Ground.EditBed(ctx, y.act, y.bed)
	require.NoError(t, err)
	assert.EqualValues(t, turn.NoDig, taken(y))
}

// A bed that is turned over counts once among what is due, and its planting is not skipped.
func TestATurningIsDueOnce(t *testing.T) {
	y, step := turned(t, "2026-12-01", turning.Choice{Template: string(turn.Vegetable)})
	n, err := y.keep.Year.DueCount(ctx, today)
	require.NoError(t, err)
	assert.Equal(t, 1, n, "clearing, loosening and the sample come one after the other")
	plant := step(turn.Plant)
	_, err = y.keep.Year.Skip(ctx, y.act, plant.ID, plant.Version, "")
	faultAt(t, err, "why", "drop the turning over")
}

// While a dose stands in the year, no ash goes round the plants beside it.
func TestADoseComesBeforeASideDressing(t *testing.T) {
	y, _, ash := filled(t)
	c := desk.SideChoice{Key: desk.BatchKey(ash.ID), Ring: dose.Ring{Plants: 4, Across: 1}}
	_, err := y.keep.Desk.Side(ctx, y.bed.ID, c, today)
	faultAt(t, err, "bed", "nothing stands there")
	y.add(y.crop("cucumber", "2026-05-20", "2027-05-01"))
	s, err := y.keep.Desk.Side(ctx, y.bed.ID, c, today)
	require.NoError(t, err)
	require.True(t, s.Dose.May())
	require.NoError(t, y.putInYear("a", y.first()))
	_, err = y.keep.Desk.Side(ctx, y.bed.ID, c, today)
	faultAt(t, err, "bed", "its goes come first")
	_, err = y.keep.Desk.PutSide(ctx, y.act, y.bed.ID, c)
	faultAt(t, err, "bed", "its goes come first")
}

// Clearing notes that the old crop is off, so that lime may go on; what stands for years stays.
func TestClearingOpensTheBed(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("bean", "2026-06-01", "2027-05-17"), y.crop("rose", "2020-03-01", ""), y.crop("dahlia", "2027-05-17", ""))
	_, err := y.keep.Turning.Plan(ctx, y.act, y.bed.ID, turning.Choice{Template: string(turn.Vegetable)})
	require.NoError(t, err)
	require.NoError(t, y.done(y.turning().Steps[0], 0))
	off := map[string]quantity.Day{}
	for _, p := range y.rec().Plantings {
		off[p.Crop] = p.Cleared
	}
	assert.Equal(t, map[string]quantity.Day{"bean": today, "rose": 0, "dahlia": 0}, off)
}

// Clover that is chopped in gives back the 15 g of potash that it took; it is off, and counts once.
func TestAGreenManureGivesBackWhatItTook(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("clover", "2026-08-01", "2027-05-17"), y.crop("dahlia", "2027-05-17", ""))
	_, err := y.keep.Turning.Plan(ctx, y.act, y.bed.ID, turning.Choice{Template: string(turn.GreenManure)})
	require.NoError(t, err)
	require.NoError(t, y.done(y.turning().Steps[0], 0))
	assert.Equal(t, today, y.rec().Plantings[0].Cleared)
	require.Empty(t, y.rec().Applications)
	y.act.Today += 3
	require.NoError(t, y.done(y.turning().Steps[1], 0))
	put := y.rec().Applications
	require.Len(t, put, 1)
	p, _ := put[0].Put()
	assert.InDelta(t, 15, float64(p.K2O()), 1e-9)
}

// Ash round plants is judged by what stands, not by what comes next: sour as the bed is, none goes round
// watermelons, though kale follows; round cucumbers it may.
func TestASideDressingIsJudgedByThePlantsThatStand(t *testing.T) {
	for crop, may := range map[string]bool{"watermelon": false, "cucumber": true} {
		y := newYard(t)
		ash := garden.Batch{Name: "Oven ash", Kind: material.HardwoodAsh, Condition: material.Dry, Source: material.Clean,
			OnHand: ptr(quantity.Mass(20000))}
		y.add(&ash, y.crop(crop, "2026-04-20", "2027-05-01"), y.crop("kale", "2027-05-01", ""), y.read("2026-11-12", soil.Lab, 5.1))
		c := desk.SideChoice{Key: desk.BatchKey(ash.ID), Ring: dose.Ring{Plants: 4, Across: 1}}
		s, err := y.keep.Desk.Side(ctx, y.bed.ID, c, today)
		require.NoError(t, err)
		assert.Equal(t, may, s.Dose.May(), crop)
		assert.Equal(t, may, len(s.Dose.Against) == 0, crop)
		if !may {
			_, err = y.keep.Desk.PutSide(ctx, y.act, y.bed.ID, c)
			faultAt(t, err, "ash", "may not go round them")
		}
	}
}
