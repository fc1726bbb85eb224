package desk

import (
	"context"
	"fmt"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
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
	t.School = t.Request.Schools.Buffering
	buffer, err := soil.Buffer(t.School, t.Request.Ground, t.Used.Soil(), t.Answer.Target)
	if err != nil {
		return garden.FaultOf(err)
	}
	var readings []soil.Reading
	for _, x := range t.Readings {
		if x.PH != nil && x.Date <= today {
			readings = append(readings, x.Soil())
		}
	}
	if len(readings) == 0 {
		return ErrNoReading
	}
	rec := t.record(readings, today)
	t.Pulls, t.Bed = rec.Pulls(), rec.Bed(buffer, true)
	t.Run = forecast.Run(&t.Bed, today.AddMonths(foretold))
	t.Checks = forecast.Checks(&t.Bed)
	return nil
}

// record is what a forecast is made from: all that stands in the bed's, and what is planned.
func (t *Taught) record(readings []soil.Reading, today quantity.Day) forecast.Record {
	out := forecast.Record{Ground: t.Request.Ground, Climate: t.Request.Climate, Day: today, Readings: readings}
	for _, p := range t.Plantings {
		if c, ok := t.Library.Find(p.Crop); ok && p.Sown <= today {
			out.Grown = append(out.Grown, ledger.Grown{Crop: c, From: p.Sown, To: p.Cleared})
		}
	}
	for i := range t.Applications {
		if a := &t.Applications[i]; a.Date <= today {
			out.Put = appendPut(out.Put, a)
		}
	}
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
		out.Plan = appendPut(out.Plan, &a)
	}
	if mg := t.Garden.Alkalinity(); mg != nil {
		out.Water.Alkalinity = *mg
	}
	return out
}

// appendPut adds an application with its batch.
func appendPut(all []forecast.Put, a *garden.Application) []forecast.Put {
	put, ok := a.Put()
	if !ok {
		return all
	}
	x := forecast.Put{Application: put}
	if a.BatchID != nil {
		x.Batch = fmt.Sprintf("batch %d", *a.BatchID)
	}
	return append(all, x)
}
