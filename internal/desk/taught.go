package desk

import (
	"context"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
)

// Taught is what a bed's own readings say of it.
type Taught struct {
	Worked
	// School is the one that the bed is told beside.
	School soil.School
	Bed    forecast.Bed
	Run    forecast.Result
	Checks []forecast.Kept
	Pulls  []forecast.Pull
}

// foretold is how far ahead a bed is foretold, months.
const foretold = 36

// Taught foretells a bed from all of its readings; ErrNoReading where it has none.
func (k Keeper) Taught(ctx context.Context, bed int64, today quantity.Day) (t Taught, err error) {
	err = garden.Ask(ctx, k.Store, func(r Reader) error {
		if t.Worked, err = worked(r, bed, Choice{}, today); err != nil {
			return err
		}
		return t.foretell(today)
	})
	return t, err
}

func (t *Taught) foretell(today quantity.Day) error {
	if t.Lesson == nil {
		return ErrNoReading
	}
	rec := t.Lesson.Record
	rec.Plan = t.plan(today)
	t.School, t.Pulls = t.Lesson.School, rec.Pulls()
	t.Bed = rec.Bed(t.Lesson.Buffer, true)
	t.Bed.Others = t.Lesson.Model.Others
	t.Run = forecast.Run(&t.Bed, today.AddMonths(foretold))
	t.Checks = t.Lesson.Checks()
	return nil
}

// plan are the goes that are in the year, each as strong as its batch.
func (t *Taught) plan(today quantity.Day) (out []forecast.Put) {
	for _, x := range t.Tasks {
		if _, held := t.Held[x.ID]; held || x.State != garden.Open || x.Kind != garden.TaskGo || t.Moved[x.ID].Unmet {
			continue
		}
		a := garden.Application{What: x.What, Rate: x.Rate, Date: max(x.Due, today), BatchID: x.BatchID}
		for i := range t.Stocks {
			if x.BatchID != nil && t.Stocks[i].ID == *x.BatchID {
				a.From(t.Stocks[i].Batch)
			}
		}
		out = plots.AppendPut(out, &a)
	}
	return out
}
