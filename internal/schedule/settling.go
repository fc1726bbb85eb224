package schedule

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

func OpenTask(tx Tx, id, version int64) (t garden.Task, b garden.Bed, err error) {
	if t, err = garden.Get[garden.Task](tx, id); err != nil {
		return t, b, err
	}
	if t.Version != version || t.State != garden.Open {
		return t, b, garden.ErrStale
	}
	b, err = garden.Get[garden.Bed](tx, t.BedID)
	return t, b, err
}

// FollowOn updates an application's plan once it is settled on day put (0 when skipped): the retest
// keeps its interval after the actual day, and the promise is dropped if another amount was
// applied.
func FollowOn(tx Tx, g garden.Garden, settled garden.Task, put quantity.Day, other bool) error {
	if settled.PlanID == nil {
		return nil
	}
	tasks, err := garden.Where[garden.Task](tx, "bed_id", settled.BedID)
	if err != nil {
		return err
	}
	waiting, err := garden.WaitingOf(tx, *settled.PlanID)
	if err != nil {
		return err
	}
	m, _ := material.Find(settled.What)
	climate := g.Warmth()
	test := func() quantity.Day {
		if len(waiting) > 0 {
			return calendar.PaceTest(&m, &climate, put)
		}
		return calendar.Retest(&m, &climate, put, 0, calendar.Yearly)
	}
	for i := range tasks {
		t := &tasks[i]
		if t.State != garden.Open || t.PlanID == nil || *t.PlanID != *settled.PlanID {
			continue
		}
		was := *t
		if other {
			t.PHAfter = nil
		}
		if t.Kind == garden.TaskRetest && t.Due > settled.Due && (put > settled.Due || put != 0 && settled.Chosen) {
			t.Due = max(t.Due, test())
		}
		if *t != was {
			if err := tx.Update(t); err != nil {
				return err
			}
		}
	}
	return nil
}

// Skip marks a task as skipped, with the reason.
func (svc Service) Skip(ctx context.Context, a garden.Actor, task, version int64, why string) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		t, b, err := OpenTask(tx, task, version)
		if err != nil {
			return "", err
		}
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		t.State, t.Settled, t.Why = garden.Skipped, a.Today, strings.TrimSpace(why)
		if why := garden.TextFault(t.Why, garden.LongestNote, true); why != "" {
			return "", garden.Faults{"why": why}
		}
		if t.Step == bedprep.Plant {
			return "", garden.Faults{"why": "the planting is what the rest is for; delete the preparation instead"}
		}
		if err := tx.Update(&t); err != nil {
			return "", err
		}
		if t.Kind == garden.TaskApplication {
			if err := FollowOn(tx, g, t, 0, true); err != nil {
				return "", err
			}
		}
		dropped, err := dropRest(tx, t, a.Today)
		if err != nil {
			return "", err
		}
		batches, err := bedstate.BatchesByID(tx)
		return fmt.Sprintf("Skipped %s on %s", taskName(t, garden.BatchIn(batches, t.BatchID)), b.Name) + dropped, err
	})
}

// ReduceRest subtracts an amount applied beyond the plan from the waiting rest of the same
// material: together they are the dose.
func ReduceRest(tx Tx, b garden.Bed, t garden.Task, ap garden.Application, today quantity.Day) error {
	if t.PlanID == nil || ap.Total <= t.Total {
		return nil
	}
	waiting, err := garden.WaitingOf(tx, *t.PlanID)
	for i := range waiting {
		x := &waiting[i]
		if x.What != t.What {
			continue
		}
		if x.Total -= ap.Total - t.Total; x.Total < leastRest {
			x.Total = 0
			x.Settle(today, nil, "it was put on with the first part")
		}
		x.Rate = x.Total.Per(b.Area())
		if err := tx.Update(x); err != nil {
			return err
		}
	}
	return err
}

// leastRest is the least rest that is kept.
const leastRest = quantity.Mass(1)

// dropRest drops a waiting rest, with a journal note, once its test or everything before it is
// skipped: nothing more is applied on the same reading.
func dropRest(tx Tx, skipped garden.Task, today quantity.Day) (says string, err error) {
	if skipped.PlanID == nil || skipped.Kind == garden.TaskStep {
		return "", nil
	}
	waiting, err := garden.WaitingOf(tx, *skipped.PlanID)
	if err != nil || len(waiting) == 0 {
		return "", err
	}
	why := "its test was skipped"
	if skipped.Kind == garden.TaskApplication {
		tasks, err := garden.Where[garden.Task](tx, "plan_id", *skipped.PlanID)
		if err != nil {
			return "", err
		}
		if slices.ContainsFunc(tasks, func(t garden.Task) bool { return t.Kind == garden.TaskApplication && t.State != garden.Skipped }) {
			return "", nil
		}
		why = "its first part was skipped"
	}
	for i := range waiting {
		waiting[i].Settle(today, nil, why)
		if err := tx.Update(&waiting[i]); err != nil {
			return "", err
		}
	}
	return "; the rest of its dose is dropped with it: a new reading brings a new dose", nil
}
