package gardentest

import (
	"errors"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/preparation"
)

// Note logs an application to the garden's bed of 9.6 m².
func (g *Garden) Note(k material.Kind, total quantity.Mass, on string) garden.Application {
	g.T.Helper()
	x := garden.Application{BedID: g.Bed.ID, What: k, Date: Day(on), Total: total}
	_, err := g.App.Applications.Note(Ctx, g.Actor, x)
	if f := (garden.Faults{}); errors.As(err, &f) {
		sure := g.Actor
		sure.Sure = f[garden.SureField] // confirm the questions
		_, err = g.App.Applications.Note(Ctx, sure, x)
	}
	require.NoError(g.T, err)
	l, err := g.App.Applications.Log(Ctx, applications.Filter{}, Today)
	require.NoError(g.T, err)
	for _, e := range l.Entries {
		if e.What == k && e.Date == Day(on) {
			return e.Application
		}
	}
	require.Fail(g.T, "not in the log")
	return garden.Application{}
}

// Move moves the nth open task to a day and returns the faults.
func (g *Garden) Move(on string, n int, to string) garden.Faults {
	g.T.Helper()
	v, err := g.App.BedState.View(Ctx, Day(on))
	require.NoError(g.T, err)
	t := v.Tasks[n]
	_, err = g.App.Schedule.Move(Ctx, garden.Actor{Key: "move " + on + to, Today: Day(on)}, t.ID, t.Version, Day(to))
	if err == nil {
		return nil
	}
	var f garden.Faults
	require.ErrorAs(g.T, err, &f)
	return f
}

// Applied adds open applications of one plan to the garden's bed, of 9.6 m².
func (g *Garden) Applied(k material.Kind, rate quantity.Rate, days ...string) {
	g.T.Helper()
	g.PlanApplications(k, rate, "", days...)
}

func (g *Garden) PlanApplications(k material.Kind, rate quantity.Rate, retest string, days ...string) {
	g.T.Helper()
	g.Add(g.Reading("2026-11-01", soil.Lab, 5.6))
	rec, err := g.App.BedState.Bed(Ctx, g.Bed.ID, Today)
	require.NoError(g.T, err)
	p := garden.Plan{BedID: g.Bed.ID, Made: Today, ReadingID: rec.Readings[0].ID, Target: 6.5, Request: garden.JSON("{}")}
	g.Add(&p)
	for _, d := range days {
		g.Add(&garden.Task{BedID: g.Bed.ID, PlanID: &p.ID, Kind: garden.TaskApplication, Due: Day(d), What: k, Rate: rate,
			Total: quantity.Mass(float64(rate) * 9.6), State: garden.Open, Depth: 0.15, PHAfter: Ptr(quantity.PH(6))})
	}
	if retest != "" {
		g.Add(&garden.Task{BedID: g.Bed.ID, PlanID: &p.ID, Kind: garden.TaskRetest, Due: Day(retest), State: garden.Open,
			Method: soil.Lab, Depth: 0.15, PHAfter: Ptr(quantity.PH(6.5))})
	}
}

// Due returns the current days of the open tasks as of a day.
func (g *Garden) Due(on string) (out []string) {
	g.T.Helper()
	v, err := g.App.BedState.View(Ctx, Day(on))
	require.NoError(g.T, err)
	for _, t := range v.Tasks {
		out = append(out, t.Due.String())
	}
	return out
}

// Tick ticks the first open application and returns the fault at a field.
func (g *Garden) Tick(on string, x applications.Tick) garden.Faults {
	g.T.Helper()
	a := g.Actor
	a.Today = Day(on)
	for _, t := range g.OpenTasks() {
		if t.Kind == garden.TaskApplication {
			x.Task, x.Version = t.ID, t.Version
			break
		}
	}
	_, err := g.App.Applications.PutOn(Ctx, a, x)
	if err == nil {
		return nil
	}
	var f garden.Faults
	require.ErrorAs(g.T, err, &f)
	return f
}

func (g *Garden) Record() bedstate.Record {
	g.T.Helper()
	rec, err := g.App.BedState.Bed(Ctx, g.Bed.ID, g.Actor.Today)
	require.NoError(g.T, err)
	return rec
}

func (g *Garden) Preparation() bedstate.Preparation {
	g.T.Helper()
	open := g.Record().State.Preparations
	require.Len(g.T, open, 1)
	return open[0]
}

// FaultAt requires a fault at a field and returns it.
func FaultAt(t *testing.T, err error, field, says string) {
	t.Helper()
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f[field], says)
}

func (g *Garden) Done(s garden.Task, on quantity.Day, signs ...bedprep.Sign) error {
	_, err := g.App.Preparation.Done(Ctx, g.Actor, preparation.Tick{Task: s.ID, Version: s.Version, On: on, Signs: signs})
	return err
}

// Stands returns the current day of a step.
func (g *Garden) Stands(id bedprep.StepID) quantity.Day {
	g.T.Helper()
	tasks := g.Record().Tasks
	i := slices.IndexFunc(tasks, func(t garden.Task) bool { return t.Step == id })
	require.GreaterOrEqual(g.T, i, 0, id)
	return tasks[i].Due
}

// Ready answers the soil check twice and plants.
func (g *Garden) Ready(step func(bedprep.StepID) garden.Task) {
	t := g.T
	FaultAt(t, g.Done(step(bedprep.Check), 0, bedprep.Crumbles), "signs", "answer all")
	require.NoError(t, g.Done(step(bedprep.Check), 0, bedprep.Smears, bedprep.Earthy, bedprep.Soaked))
	assert.Equal(t, garden.Open, step(bedprep.Check).State)
	assert.Equal(t, g.Actor.Today+7, g.Stands(bedprep.Check), "it is looked at again in a week")
	FaultAt(t, g.Done(step(bedprep.Plant), 0), "on", "comes before it")
	g.Actor.Today += 7
	require.NoError(t, g.Done(step(bedprep.Check), 0, bedprep.Breaks, bedprep.Earthy, bedprep.Moist))
	FaultAt(t, g.Done(step(bedprep.Plant), 0), "on", "needs its time until")
	assert.Empty(t, g.Record().State.Now, "what waits for its steps does not stand there yet")
	g.Actor.Today = Day("2027-05-24")
	assert.Empty(t, g.Record().State.Now, "nor when its day has gone by")
	require.NoError(t, g.Done(step(bedprep.Plant), Day("2027-05-20")))
	rec := g.Record()
	assert.Empty(t, rec.State.Preparations)
	require.Len(t, rec.State.Now, 1)
	assert.Equal(t, Day("2027-05-20"), rec.State.Now[0].Sown)
}
