package schedule

import (
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// lessRest takes what went on beyond what was planned off the rest of the same material: together they are the dose.
func lessRest(tx Tx, b garden.Bed, t garden.Task, ap garden.Application, today quantity.Day) error {
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
			x.Settle(today, nil, "it went on with the first part")
		}
		x.Rate = x.Total.Per(b.Area())
		if err := tx.Update(x); err != nil {
			return err
		}
	}
	return err
}

// leastRest is the least of a rest that is still told.
const leastRest = quantity.Mass(1)

// dropRest lets what waits go once its test is skipped, or all that was to go on before it, and says so: on the same reading nothing
// more goes on.
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
