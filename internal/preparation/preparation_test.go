package preparation_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/preparation"
)

// turned returns a garden whose bed is being prepared for dahlias on a day.
func turned(t *testing.T, planting string, c preparation.Choice) (*gardentest.Garden, func(bedprep.StepID) garden.Task) {
	t.Helper()
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", planting, ""), y.Reading("2026-10-12", soil.Lab, 5.7))
	_, err := y.App.Preparation.Plan(gardentest.Ctx, y.Actor, y.Bed.ID, c)
	require.NoError(t, err)
	return y, func(id bedprep.StepID) garden.Task {
		t.Helper()
		for _, s := range y.Preparation().Steps {
			if s.Step == id {
				return s
			}
		}
		require.Fail(t, "no such step", id)
		return garden.Task{}
	}
}

func TestPreparationStepByStep(t *testing.T) {
	y, step := turned(t, "2027-05-17", preparation.Choice{Template: string(bedprep.Vegetable)})
	assert.Equal(t, gardentest.Day("2027-05-17"), y.Stands(bedprep.Plant))
	assert.Equal(t, gardentest.Day("2027-05-03"), y.Stands(bedprep.Organic))
	// One after the other, and not before its time.
	y.Actor.Today = gardentest.Day("2027-02-08")
	gardentest.FaultAt(t, y.Done(step(bedprep.Loosen), 0), "on", "comes before it")
	require.NoError(t, y.Done(step(bedprep.Clear), 0))
	gardentest.FaultAt(t, y.Done(step(bedprep.Loosen), y.Actor.Today+1), "on", "still to come")
	require.NoError(t, y.Done(step(bedprep.Loosen), 0))
	// The reading answers the test; its own day counts, not the laboratory's time.
	r := y.Reading("2027-02-08", soil.Lab, 6.3)
	_, err := y.App.Readings.AddReading(gardentest.Ctx, y.Actor, *r)
	require.NoError(t, err)
	assert.Equal(t, garden.Done, step(bedprep.Test).State)
	require.NoError(t, y.Done(step(bedprep.Correct), 0))
	// Compost goes on as any application does, and counts in what the bed got.
	compost := step(bedprep.Organic)
	_, err = y.App.Applications.PutOn(gardentest.Ctx, y.Actor, applications.Tick{Task: compost.ID, Version: compost.Version})
	require.NoError(t, err)
	rec := y.Record()
	require.Len(t, rec.Applications, 1)
	assert.InDelta(t, 3000*9.6, float64(rec.Applications[0].Total), 1e-6)
	require.NoError(t, y.Done(step(bedprep.Mulch), 0))
	require.NoError(t, y.Done(step(bedprep.Water), 0))
	y.Ready(step)
}

// Sod chopped in late puts the planting off, and ash that was dated after it with it.
func TestPlantingWaitsForSteps(t *testing.T) {
	y, step := turned(t, "2027-01-10", preparation.Choice{Template: string(bedprep.Sod)})
	assert.Equal(t, gardentest.Today+60, y.Stands(bedprep.Plant), "sixty days for the sod")
	assert.Equal(t, gardentest.Today+60, y.Preparation().Planting.Sown)
	y.Actor.Today = gardentest.Today + 30
	require.NoError(t, y.Done(step(bedprep.Strip), 0))
	assert.Equal(t, y.Actor.Today+60, y.Stands(bedprep.Plant))
	assert.Equal(t, y.Actor.Today, y.Stands(bedprep.Loosen))
}

// Fresh manure is ticked, though it lies less than sixty days before the planting: that waits.
func TestPreparationManureMovesPlanting(t *testing.T) {
	y, step := turned(t, "2027-05-01", preparation.Choice{Template: string(bedprep.Vegetable),
		Organic: &preparation.Gives{Kind: material.Manure, Rate: 2000},
		Without: []bedprep.StepID{bedprep.Clear, bedprep.Loosen, bedprep.Test, bedprep.Correct}})
	manure := step(bedprep.Organic)
	y.Actor.Today = gardentest.Day("2027-04-05")
	_, err := y.App.Applications.PutOn(gardentest.Ctx, y.Actor, applications.Tick{Task: manure.ID, Version: manure.Version})
	require.NoError(t, err)
	assert.Equal(t, gardentest.Day("2027-04-05")+60, y.Stands(bedprep.Plant))
}

func TestOwnStepsAndTemplates(t *testing.T) {
	y, step := turned(t, "2027-05-17", preparation.Choice{})
	x := y.Preparation()
	e := preparation.Extra{Preparation: x.ID, After: step(bedprep.Loosen).ID, Says: "Lay boards to tread on", Wait: 3}
	_, _, err := y.App.Preparation.Add(gardentest.Ctx, y.Actor, e)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, y.Stands(bedprep.Test)-y.Stands(bedprep.Own), quantity.Day(3))
	assert.GreaterOrEqual(t, y.Stands(bedprep.Own), y.Stands(bedprep.Loosen))
	e.Says = ""
	_, _, err = y.App.Preparation.Add(gardentest.Ctx, y.Actor, e)
	gardentest.FaultAt(t, err, "says", "say what")
	_, _, err = y.App.Preparation.KeepAs(gardentest.Ctx, y.Actor, x.ID, "Boards first")
	require.NoError(t, err)
	_, _, err = y.App.Preparation.KeepAs(gardentest.Ctx, y.Actor, x.ID, "boards FIRST")
	gardentest.FaultAt(t, err, "name", "already")
	_, err = y.App.Preparation.Plan(gardentest.Ctx, y.Actor, y.Bed.ID, preparation.Choice{})
	gardentest.FaultAt(t, err, "template", "already")
	_, _, err = y.App.Preparation.Drop(gardentest.Ctx, y.Actor, x.ID, x.Version)
	require.NoError(t, err)
	assert.Empty(t, y.Record().State.Preparations)
	assert.False(t, slices.ContainsFunc(y.Record().Tasks, func(t garden.Task) bool { return t.State == garden.Open }))
	d, err := y.App.Preparation.Draft(gardentest.Ctx, y.Bed.ID, preparation.Choice{Template: preparation.WayKey(1)}, gardentest.Today)
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(d.Placed, func(p preparation.Placed) bool { return p.Says == "Lay boards to tread on" }))
	lead := slices.IndexFunc(d.Steps, func(s bedprep.Step) bool { return s.ID == bedprep.Correct })
	assert.Equal(t, bedprep.LeadOf(bedprep.Correct), d.Steps[lead].Lead, "lime keeps its twelve weeks in a way of one’s own")
}

// A dose that is put in the year while the bed is turned over takes the place of an earlier dose, and of nothing else.
func TestDoseKeepsStepsAndFeeds(t *testing.T) {
	y, step := turned(t, "2027-05-17", preparation.Choice{})
	_, err := y.App.Schedule.PlanFeed(gardentest.Ctx, y.Actor, garden.Application{BedID: y.Bed.ID, What: material.PotassiumSulfate, Total: 100,
		Date: gardentest.Day("2027-06-20")})
	require.NoError(t, err)
	before := len(y.Preparation().Steps)
	for _, key := range []string{"a", "b"} { // the second time the first dose gives way
		require.NoError(t, y.Plan(key, y.FirstKey()))
	}
	assert.Len(t, y.Preparation().Steps, before)
	assert.Equal(t, garden.Open, step(bedprep.Plant).State)
	goes, feeds := 0, 0
	for _, x := range y.Record().Tasks {
		if x.Kind == garden.TaskApplication && x.PreparationID == nil && x.PlanID == nil {
			feeds++
		} else if x.PlanID != nil && x.Kind == garden.TaskRetest {
			goes++
		}
	}
	assert.Equal(t, 1, feeds)
	assert.Equal(t, 1, goes, "one dose stands")
}

func TestDefaultTemplate(t *testing.T) {
	taken := func(y *gardentest.Garden) string {
		d, err := y.App.Preparation.Draft(gardentest.Ctx, y.Bed.ID, preparation.Choice{}, gardentest.Today)
		require.NoError(t, err)
		return d.Template
	}
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-17", ""))
	assert.EqualValues(t, bedprep.Sod, taken(y), "nothing ever grew there")
	y.Add(y.Planting("bean", "2026-05-17", "2026-10-01"))
	assert.EqualValues(t, bedprep.Vegetable, taken(y))
	y.Note(material.Manure, 9600, "2026-11-01")
	assert.EqualValues(t, bedprep.AfterManure, taken(y))
	y.Bed.Worked = soil.Surface
	_, err := y.App.Layout.EditBed(gardentest.Ctx, y.Actor, y.Bed)
	require.NoError(t, err)
	assert.EqualValues(t, bedprep.NoDig, taken(y))
}

// A bed that is turned over counts once among what is due, and its planting is not skipped.
func TestPreparationIsDueOnce(t *testing.T) {
	y, step := turned(t, "2026-12-01", preparation.Choice{Template: string(bedprep.Vegetable)})
	n, err := y.App.Schedule.DueCount(gardentest.Ctx, gardentest.Today)
	require.NoError(t, err)
	assert.Equal(t, 1, n, "clearing, loosening and the sample come one after the other")
	plant := step(bedprep.Plant)
	_, err = y.App.Schedule.Skip(gardentest.Ctx, y.Actor, plant.ID, plant.Version, "")
	gardentest.FaultAt(t, err, "why", "delete the preparation")
}

// While a dose stands in the year, no ash goes round the plants beside it.
func TestSideDressingNeedsDose(t *testing.T) {
	y, _, ash := gardentest.NewFilled(t)
	c := dosing.SideDressingChoice{Key: dosing.BatchKey(ash.ID), Ring: dose.Ring{Plants: 4, Across: 1}}
	_, err := y.App.Dosing.SideDress(gardentest.Ctx, y.Bed.ID, c, gardentest.Today)
	gardentest.FaultAt(t, err, "bed", "nothing stands there")
	y.Add(y.Planting("cucumber", "2026-05-20", "2027-05-01"))
	s, err := y.App.Dosing.SideDress(gardentest.Ctx, y.Bed.ID, c, gardentest.Today)
	require.NoError(t, err)
	require.True(t, s.Dressing.May())
	require.NoError(t, y.Plan("a", y.FirstKey()))
	_, err = y.App.Dosing.SideDress(gardentest.Ctx, y.Bed.ID, c, gardentest.Today)
	gardentest.FaultAt(t, err, "bed", "its applications come first")
	_, err = y.App.Dosing.ApplySideDressing(gardentest.Ctx, y.Actor, y.Bed.ID, c)
	gardentest.FaultAt(t, err, "bed", "its applications come first")
}

// Clearing notes that the old crop is off, so that lime may be applied; what stands for years stays.
func TestClearingOpensBed(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("bean", "2026-06-01", "2027-05-17"), y.Planting("rose", "2020-03-01", ""), y.Planting("dahlia", "2027-05-17", ""))
	_, err := y.App.Preparation.Plan(gardentest.Ctx, y.Actor, y.Bed.ID, preparation.Choice{Template: string(bedprep.Vegetable)})
	require.NoError(t, err)
	require.NoError(t, y.Done(y.Preparation().Steps[0], 0))
	off := map[string]quantity.Day{}
	for _, p := range y.Record().Plantings {
		off[p.Crop] = p.Cleared
	}
	assert.Equal(t, map[string]quantity.Day{"bean": gardentest.Today, "rose": 0, "dahlia": 0}, off)
}

// Clover that is chopped in returns the 15 g of potash that it took; it is off, and counts once.
func TestGreenManureReturnsPotash(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("clover", "2026-08-01", "2027-05-17"), y.Planting("dahlia", "2027-05-17", ""))
	_, err := y.App.Preparation.Plan(gardentest.Ctx, y.Actor, y.Bed.ID, preparation.Choice{Template: string(bedprep.GreenManure)})
	require.NoError(t, err)
	require.NoError(t, y.Done(y.Preparation().Steps[0], 0))
	assert.Equal(t, gardentest.Today, y.Record().Plantings[0].Cleared)
	require.Empty(t, y.Record().Applications)
	y.Actor.Today += 3
	require.NoError(t, y.Done(y.Preparation().Steps[1], 0))
	put := y.Record().Applications
	require.Len(t, put, 1)
	p, _ := put[0].Put()
	assert.InDelta(t, 15, float64(p.K2O()), 1e-9)
}

// Ash round plants is judged by what stands, not by what comes next: sour as the bed is, none goes round
// watermelons, though kale follows; round cucumbers it may.
func TestSideDressingUsesStandingPlants(t *testing.T) {
	for crop, may := range map[string]bool{"watermelon": false, "cucumber": true} {
		y := gardentest.New(t)
		ash := garden.Batch{Name: "Oven ash", Kind: material.HardwoodAsh, Condition: material.Dry, Source: material.Clean,
			OnHand: gardentest.Ptr(quantity.Mass(20000))}
		y.Add(&ash, y.Planting(crop, "2026-04-20", "2027-05-01"), y.Planting("kale", "2027-05-01", ""), y.Reading("2026-11-12", soil.Lab, 5.1))
		c := dosing.SideDressingChoice{Key: dosing.BatchKey(ash.ID), Ring: dose.Ring{Plants: 4, Across: 1}}
		s, err := y.App.Dosing.SideDress(gardentest.Ctx, y.Bed.ID, c, gardentest.Today)
		require.NoError(t, err)
		assert.Equal(t, may, s.Dressing.May(), crop)
		assert.Equal(t, may, len(s.Dressing.Against) == 0, crop)
		if !may {
			_, err = y.App.Dosing.ApplySideDressing(gardentest.Ctx, y.Actor, y.Bed.ID, c)
			gardentest.FaultAt(t, err, "ash", "no ash round them today")
		}
	}
}
