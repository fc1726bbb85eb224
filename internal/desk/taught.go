package desk

import (
	"context"
	"fmt"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
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
	t.Pulls = t.pulls(readings[0].Date, today)
	t.Bed = forecast.BedOf(t.Request.Ground, &t.Request.Climate, buffer, readings, t.goes(today, buffer.Stone), t.Pulls)
	t.Run = forecast.Run(&t.Bed, today.AddMonths(foretold))
	t.Checks = forecast.Checks(&t.Bed)
	return nil
}

// goes are what went on and what is planned, each of its batch.
func (t *Taught) goes(today quantity.Day, stone float64) (out []forecast.Gone) {
	all := make([]garden.Application, 0, len(t.Applications)+len(t.Tasks))
	for _, a := range t.Applications {
		if a.Date <= today {
			all = append(all, a)
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
		all = append(all, a)
	}
	for i, a := range all {
		put, ok := a.Put()
		if !ok || !put.MovesPH() {
			continue
		}
		batch := fmt.Sprintf("go %d", i)
		if a.BatchID != nil {
			batch = fmt.Sprintf("batch %d", *a.BatchID)
		}
		out = append(out, forecast.GoOf(&put, batch, stone))
	}
	return out
}

// pulls are what moves the bed from year to year: its climate, its crops since the first reading, and the water that
// stands in the log.
func (t *Taught) pulls(first, today quantity.Day) []forecast.Pull {
	years := max(1, float64(today-first)/float64(ledger.YearDays))
	var removed float64
	for _, p := range t.Plantings {
		c, ok := t.Library.Find(p.Crop)
		if !ok || p.Sown > today || p.Cleared != 0 && p.Cleared <= first {
			continue
		}
		seasons := 1.0
		if c.Is(crop.Perennial) {
			to := today
			if p.Cleared != 0 {
				to = min(to, p.Cleared)
			}
			seasons = max(1, float64(to-max(p.Sown, first))/float64(ledger.YearDays))
		}
		removed += seasons * float64(c.Removal)
	}
	w := forecast.Water{}
	if mg := t.Garden.Alkalinity(); mg != nil {
		w.Alkalinity = *mg
	}
	for _, a := range t.Applications {
		if a.What == material.TapWater && a.Date > first && a.Date <= today {
			w.Litres += float64(a.Rate) / 1000 / years
		}
	}
	return forecast.Pulls(t.Garden.Climate, quantity.Rate(removed/years), w)
}
