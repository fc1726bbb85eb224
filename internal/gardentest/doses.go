package gardentest

import (
	"testing"

	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/present"
)

// On returns the actor on another day.
func (g *Garden) On(day quantity.Day) garden.Actor {
	a := g.Actor
	a.Today = day
	return a
}

// PlanOn plans the first option of the bed's dose on a day.
func (g *Garden) PlanOn(day quantity.Day, c dosing.Choice) error {
	w, err := g.App.Dosing.Dose(Ctx, g.Bed.ID, c, day)
	if err != nil {
		return err
	}
	if len(w.Answer.Options) == 0 {
		return dosing.ErrNoOption
	}
	_, err = g.App.Dosing.Plan(Ctx, g.On(day), g.Bed.ID, c, w.Key(w.Answer.Options[0]), present.EncodePlan)
	return err
}

// RecordOn returns the bed’s record on a day.
func (g *Garden) RecordOn(day quantity.Day) bedstate.Record {
	g.T.Helper()
	rec, err := g.App.BedState.Bed(Ctx, g.Bed.ID, day)
	require.NoError(g.T, err)
	return rec
}

// OpenApplications returns the applications to do of a record; test is its open retest, nil where
// there is none.
func OpenApplications(rec bedstate.Record) (open []garden.Task, test *garden.Task) {
	for i, t := range rec.Tasks {
		if _, held := rec.Held[t.ID]; t.State != garden.Open || held {
			continue
		}
		if t.Kind == garden.TaskRetest {
			test = &rec.Tasks[i]
		} else if t.Kind == garden.TaskApplication {
			open = append(open, t)
		}
	}
	return open, test
}

// NewSandy returns a sour sandy loam in October, read by a colour kit: at most half a dose,
// whatever the pace.
func NewSandy(t *testing.T) *Garden {
	g := New(t)
	g.Bed.Texture = soil.SandyLoam
	g.Change(&g.Bed)
	g.Add(g.Planting("general-vegetables", "2027-04-20", ""), g.Reading("2026-10-10", soil.Kit, 5.3))
	return g
}

// Change updates a record.
func (g *Garden) Change(r garden.Record) {
	g.T.Helper()
	_, err := g.App.Store.Change(Ctx, garden.Change{}, func(tx garden.Tx) (string, error) { return "changed", tx.Update(r) })
	require.NoError(g.T, err)
}
