package schedule

import (
	"context"
	"fmt"
	"strings"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// feedFaults validates a planned feed, by field.
func feedFaults(x garden.Application, today quantity.Day) garden.Faults {
	f := garden.Faults{}
	m, ok := material.Find(x.What)
	switch {
	case !ok:
		f["what"] = "choose what is to go on"
	case material.ByDoseOnly(m.Family):
		f["put_date"] = "that day is still to come; lime, ash and sulfur are planned from the dose, which knows how much the bed wants"
	case x.Date > today+MoveAhead:
		f["put_date"] = "two years ahead is as far as work is dated"
	}
	if !garden.LimitAmount.Holds(float64(x.Total)) {
		f["put_amount"] = "how much is to go on? an amount above 0 is needed"
	}
	return f
}

// PlanFeed plans nitrogen, manure, compost or another feed on a coming day: an application without
// a dose, with the usual intervals.
func (svc Service) PlanFeed(ctx context.Context, a garden.Actor, x garden.Application) (garden.Receipt, error) {
	if err := feedFaults(x, a.Today).OrNil(); err != nil {
		return garden.Receipt{}, err
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		rec, err := bedstate.ReadBed(tx, x.BedID, a.Today, a.Today)
		if err != nil {
			return "", err
		}
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		m, _ := material.Find(x.What)
		rate := x.Total.Per(rec.Bed.Area())
		caps, ok := m.CapsOn(rec.State.Ground)
		if ok && rate > caps.Once*(1+1e-6) {
			return "", garden.Faults{"put_amount": text.FeedTooMuch(g.Units(), text.Material(x.What), rate, caps.Once)}
		}
		if stops := guard.Against(&rec.State.Judgement, &material.Batch{Material: m}); len(stops) > 0 {
			return "", garden.Faults{"what": text.Lower(g.Units().Guard(stops[0]).Says)}
		}
		t := garden.Task{BedID: x.BedID, Kind: garden.TaskApplication, State: garden.Open, Due: x.Date, What: x.What, BatchID: x.BatchID,
			Rate:  rate,
			Total: x.Total, Why: strings.TrimSpace(x.Note)}
		if err := garden.CheckTask(&t); err != nil {
			return "", err
		}
		if err := tx.Insert(&t); err != nil {
			return "", err
		}
		says := fmt.Sprintf("Planned %s of %s on %s for %s", g.Units().Mass(x.Total), text.Material(x.What), rec.Bed.Name,
			text.DayYear(x.Date))
		if rec, err = bedstate.ReadBed(tx, x.BedID, a.Today, a.Today); err != nil {
			return "", err
		}
		if moved, ok := rec.Moved[t.ID]; ok {
			says += "; it stands on " + text.DayYear(moved.Lands) + ", " + g.Units().Moved(x.Date, moved.Placed)
		}
		return says, nil
	})
}
