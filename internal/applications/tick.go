package applications

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
)

// Tick is a ticked application: Total is the applied amount, nil as planned; On is the day, 0 for
// today.
type Tick struct {
	Task, Version int64
	Total         *quantity.Mass
	// Scoops replaces Total when the amount was counted in level scoops.
	Scoops *float64
	On     quantity.Day
	Note   string
}

// PutOn ticks an application: it is recorded on the bed and leaves the shelf, and what follows
// keeps its interval. A tick that breaks a cap or an interval is refused in words.
func (svc Service) PutOn(ctx context.Context, a garden.Actor, tick Tick) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) { return tick.PutOn(tx, a) })
}

// PutOn ticks an application within a transaction.
func (tick Tick) PutOn(tx Tx, a garden.Actor) (string, error) {
	t, b, err := schedule.OpenTask(tx, tick.Task, tick.Version)
	if err != nil {
		return "", err
	}
	if t.Kind != garden.TaskApplication {
		return "", garden.Faults{"task": "only an application can be put on"}
	}
	ap, s, err := tick.application(tx, t, b, a.Today)
	if err != nil {
		return "", err
	}
	if err := mayLeave(s, ap); err != nil {
		return "", err
	}
	rec, err := bedstate.ReadBed(tx, b.ID, a.Today, a.Today)
	if err != nil {
		return "", err
	}
	g, err := tx.Garden()
	if err != nil {
		return "", err
	}
	if err := mayApply(&rec, g, t, ap, a); err != nil {
		return "", err
	}
	if err := doubt(tx, g, t, s, ap, a); err != nil {
		return "", err
	}
	if err := tx.Insert(&ap); err != nil {
		return "", err
	}
	planned := t.Total
	t.State, t.Settled = garden.Done, ap.Date
	if err := tx.Update(&t); err != nil {
		return "", err
	}
	if err := schedule.ReduceRest(tx, b, t, ap, a.Today); err != nil {
		return "", err
	}
	if err := schedule.FollowOn(tx, g, t, ap.Date, ap.Total != planned); err != nil {
		return "", err
	}
	if t.BatchID != nil {
		out := garden.Movement{BatchID: s.ID, Date: ap.Date, Kind: garden.MovedOut, Amount: ap.Total, ApplicationID: &ap.ID}
		if err := tx.Insert(&out); err != nil {
			return "", err
		}
	}
	return tick.journal(g.Units(), ap, s, b, a.Today), nil
}

// journal returns the journal entry of a tick.
func (tick Tick) journal(u text.Units, ap garden.Application, s garden.Batch, b garden.Bed, today quantity.Day) string {
	name := text.Material(ap.What)
	if ap.BatchID != nil {
		name = s.Name
	}
	amount := u.Amount(ap.Total, s.Measure())
	if tick.Scoops != nil {
		amount = strconv.FormatFloat(*tick.Scoops, 'g', 6, 64) + " scoops (" + u.Mass(ap.Total) + ")"
	}
	says := fmt.Sprintf("Put %s of %s on %s", amount, text.Lower(name), b.Name)
	if ap.Date != today {
		says += ", " + text.DayYear(ap.Date)
	}
	return says
}

// application returns the ticked application with its batch; the zero batch for none.
func (tick Tick) application(tx Tx, t garden.Task, b garden.Bed, today quantity.Day) (ap garden.Application, s garden.Batch, err error) {
	ap = garden.Application{BedID: b.ID, TaskID: &t.ID, BatchID: t.BatchID, Date: tick.On, What: t.What, Total: t.Total, Rate: t.Rate,
		Note: strings.TrimSpace(tick.Note)}
	if ap.Date.IsZero() {
		ap.Date = today
	}
	if t.BatchID != nil {
		if s, err = garden.Get[garden.Batch](tx, *t.BatchID); err != nil {
			return ap, s, err
		}
		ap.From(s)
	}
	switch {
	case tick.Total != nil:
		ap.Total = *tick.Total
	case tick.Scoops != nil && s.Scoop != nil:
		ap.Total = quantity.Mass(*tick.Scoops) * *s.Scoop
	default:
		return ap, s, nil
	}
	ap.Rate = ap.Total.Per(b.Area())
	return ap, s, nil
}

// mayLeave returns why nothing of a batch may be applied to a bed, whatever was planned.
func mayLeave(s garden.Batch, ap garden.Application) error {
	m, _ := material.Find(s.Kind)
	of := s.Material(m)
	switch {
	case ap.BatchID == nil:
		return nil
	case of.Barred():
		return garden.Faults{"amount": text.Barred(of.Source)}
	case of.Hot(ap.Date):
		return garden.Faults{"amount": "this ash may hide embers: not before it is cold right through"}
	case s.Gone != 0 && ap.Date >= s.Gone:
		return garden.Faults{"amount": text.Lower(s.Name) + " stands on the shelf no more; plan the dose anew"}
	}
	return nil
}

// mayApply returns the faults of an application by field, if any.
func mayApply(rec *bedstate.Record, g garden.Garden, t garden.Task, ap garden.Application, a garden.Actor) error {
	today := a.Today
	if on, ok := rec.Held[t.ID]; ok {
		return garden.Faults{"amount": "the reading that this rests on was deleted on " + text.DayYear(on) + "; plan the dose anew"}
	}
	switch {
	case ap.Date > today:
		return garden.Faults{"on": "that day is still to come"}
	case garden.DayFault(ap.Date) != "":
		return garden.Faults{"on": garden.DayFault(ap.Date)}
	case !garden.LimitAmount.Holds(float64(ap.Total)):
		return garden.Faults{"amount": "how much was put on? an amount above 0 kg is needed"}
	case !garden.LimitRate.Holds(float64(ap.Rate)):
		return garden.Faults{"amount": "on this bed that is more than a bed can take: " + garden.LimitRate.Says()}
	case garden.TextFault(ap.Note, garden.LongestNote, true) != "":
		return garden.Faults{"note": garden.TextFault(ap.Note, garden.LongestNote, true)}
	case rec.Moved[t.ID].Retest:
		return garden.Faults{"amount": text.ApplicationWaits}
	}
	m, _ := material.Find(ap.What)
	if why := rec.State.Waits(t, ap.Date); why != "" {
		return garden.Faults{"amount": why}
	}
	if why := rec.State.Leading(t).Stops(g.Units(), m, ap.Rate, ap.Date); why != "" {
		return garden.Faults{"amount": why + text.IfOnAlready}
	}
	return nil
}

// doubt asks once about an amount far from the planned one, or larger than the stock. s is its
// batch, the zero batch for none.
func doubt(tx Tx, g garden.Garden, t garden.Task, s garden.Batch, ap garden.Application, a garden.Actor) error {
	u, says := g.Units(), ""
	amount := u.Amount(t.Total, s.Measure())
	switch far := t.Total; {
	case ap.Total >= garden.FarOver*far:
		says = "that is ten times the " + amount + " that were planned, or further off"
	case garden.FarOver*ap.Total <= far:
		says = "that is a tenth of the " + amount + " that were planned, or further off"
	}
	if ap.BatchID != nil {
		all, err := garden.Shelf(tx)
		if err != nil {
			return err
		}
		for _, x := range all {
			if x.ID != *ap.BatchID || x.Left == nil || float64(ap.Total) <= float64(*x.Left)*(1+1e-6) {
				continue
			}
			if says != "" {
				says += ", and "
			}
			says += "that is more than the " + u.Amount(*x.Left, x.Measure()) + " that are left by the shelf"
		}
	}
	if says == "" {
		return nil
	}
	return a.Ask(garden.Faults{"amount": says + ". Sure? Put it on once more if it is"})
}
