package preparation

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Tick is a step done on a day, 0 for today. Signs are the observations at the check, for the step
// that asks.
type Tick struct {
	Task, Version int64
	On            quantity.Day
	Signs         []bedprep.Sign
	Note          string
}

// Done ticks a step. A step waits for those before it and for their intervals. The check is done
// only if the soil is ready, otherwise it is moved; the planting closes the preparation, and its
// crop stands from that day on.
func (svc Service) Done(ctx context.Context, a garden.Actor, tick Tick) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		t, err := garden.Get[garden.Task](tx, tick.Task)
		if err != nil {
			return "", err
		}
		if t.Version != tick.Version || t.State != garden.Open || t.Kind != garden.TaskStep {
			return "", garden.ErrStale
		}
		rec, err := bedstate.ReadBed(tx, t.BedID, a.Today, a.Today)
		if err != nil {
			return "", err
		}
		x := rec.State.PreparationOf(t)
		if x == nil {
			return "", garden.ErrStale
		}
		t.Settled, t.Why = tick.On, strings.TrimSpace(tick.Note)
		if t.Settled.IsZero() {
			t.Settled = a.Today
		}
		if err := tick.may(&rec, &t, x, a.Today); err != nil {
			return "", err
		}
		if t.Step == bedprep.Check {
			return look(tx, t, rec.Bed, tick.Signs, a.Today)
		}
		switch {
		case t.Step == bedprep.Plant:
			err = planted(tx, x, t.Settled)
		case t.Step.Clears():
			err = cleared(tx, &rec, t.Settled)
		case t.Step == bedprep.ChopIn:
			err = choppedIn(tx, &rec, x, t.Settled)
		}
		if err != nil {
			return "", err
		}
		t.State = garden.Done
		return text.Capital(text.StepName(t.Step, t.Says)) + ": done on " + rec.Bed.Name, tx.Update(&t)
	})
}

// may returns the faults of a tick by field, if any.
func (tick Tick) may(rec *bedstate.Record, t *garden.Task, x *bedstate.Preparation, today quantity.Day) error {
	switch {
	case t.Settled > today:
		return garden.Faults{"on": "that day is still to come"}
	case t.Settled < x.Made:
		return garden.Faults{"on": "that is before it was begun, " + text.DayYear(x.Made)}
	case garden.TextFault(t.Why, garden.LongestNote, true) != "":
		return garden.Faults{"note": garden.TextFault(t.Why, garden.LongestNote, true)}
	case t.Step == bedprep.Check && !bedprep.Complete(tick.Signs):
		return garden.Faults{"signs": "answer all three"}
	}
	if why := rec.State.Waits(*t, t.Settled); why != "" {
		return garden.Faults{"on": why}
	}
	return nil
}

// look settles the check, or moves it.
func look(tx Tx, t garden.Task, b garden.Bed, signs []bedprep.Sign, today quantity.Day) (string, error) {
	wait, against := bedprep.Ready(signs)
	if wait == 0 {
		t.State = garden.Done
		t.Why = strings.TrimSpace(text.Found(signs) + ". " + t.Why)
		return b.Name + " is ready to plant", tx.Update(&t)
	}
	again := max(t.Settled+wait, today)
	t.Settled, t.Due, t.Chosen = 0, again, true
	t.Why = text.NotReady(against, again)
	return b.Name + ": " + text.Lower(t.Why), tx.Update(&t)
}

// cleared records that the standing crops are off, except perennials.
func cleared(tx Tx, rec *bedstate.Record, on quantity.Day) error {
	for _, p := range bedstate.StandingOn(rec.Plantings, on) {
		if c, ok := rec.Library.Find(p.Crop); ok && c.Is(crop.Perennial) || p.Sown == on {
			continue
		}
		p.Cleared = on
		if err := tx.Update(&p); err != nil {
			return err
		}
	}
	return nil
}

// choppedIn returns the potash of a bed's green manure to it: of one cleared since the preparation
// began, or still standing.
func choppedIn(tx Tx, rec *bedstate.Record, x *bedstate.Preparation, on quantity.Day) error {
	if err := cleared(tx, rec, on); err != nil {
		return err
	}
	m, _ := material.Find(material.GreenManure)
	var took quantity.Rate
	for _, p := range rec.Plantings {
		since := p.Cleared == 0 || p.Cleared >= x.Made
		if c, ok := rec.Library.Find(p.Crop); ok && p.Sown < on && since && !c.Is(crop.Perennial) {
			took += c.Removal
		}
	}
	if took == 0 {
		return nil
	}
	rate := took / quantity.Rate(m.K2O.Typical/100)
	return tx.Insert(&garden.Application{BedID: rec.Bed.ID, Date: on, What: m.Kind, Rate: rate, Total: rate.Over(rec.Bed.Area()),
		Note: text.TookItBack})
}

// planted closes a preparation: its crop stands from a day on.
func planted(tx Tx, x *bedstate.Preparation, on quantity.Day) error {
	p, err := garden.Get[garden.Planting](tx, x.PlantingID)
	if err != nil {
		return err
	}
	if p.Cleared != 0 && p.Cleared <= on {
		return garden.Faults{"on": "that crop was to be cleared by then; put its days right on the bed’s record first"}
	}
	p.Sown, x.Closed = on, on
	if err := tx.Update(&p); err != nil {
		return err
	}
	return tx.Update(&x.Preparation)
}

// Extra is the gardener's own step, after another; Wait is the interval after it in days.
type Extra struct {
	Preparation, After int64
	Says               string
	Wait               quantity.Day
}

// Add inserts the gardener's own step.
func (svc Service) Add(ctx context.Context, a garden.Actor, e Extra) (bed int64, r garden.Receipt, err error) {
	r, err = garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		x, b, err := preparationOf(tx, e.Preparation)
		if err != nil {
			return "", err
		}
		bed = b.ID
		at := slices.IndexFunc(x.Steps, func(t garden.Task) bool { return t.ID == e.After })
		switch {
		case !x.Open():
			return "", garden.ErrStale
		case at < 0 || at == len(x.Steps)-1 || x.Steps[at].Step == bedprep.Plant:
			return "", garden.Faults{"after": "after which step?"}
		case x.Steps[at+1].State == garden.Done:
			return "", garden.Faults{"after": "what follows it is done already"}
		case e.Wait < 0 || e.Wait > mostWait:
			return "", garden.Faults{"wait": fmt.Sprintf("up to %d days", mostWait)}
		}
		t := garden.StepTask(bedprep.Step{ID: bedprep.Own, Says: strings.TrimSpace(e.Says), Wait: e.Wait})
		before, after := x.Steps[at], x.Steps[at+1]
		t.BedID, t.PreparationID, t.Place = b.ID, &x.ID, (before.Place+after.Place)/2
		t.Due = max(before.Due, after.Due-e.Wait)
		switch {
		case t.Place == before.Place:
			return "", garden.Faults{"after": "no more steps fit there"}
		case t.Says == "":
			return "", garden.Faults{"says": "say what is to be done"}
		case garden.TextFault(t.Says, garden.LongestName, false) != "":
			return "", garden.Faults{"says": garden.TextFault(t.Says, garden.LongestName, false)}
		}
		return "Added “" + t.Says + "” to preparing " + b.Name, tx.Insert(&t)
	})
	return bed, r, err
}

// mostWait is the longest interval of an own step.
const mostWait = 180

// Bed returns a bed with its preparations.
func (svc Service) Bed(ctx context.Context, id int64, today quantity.Day) (g garden.Garden, rec bedstate.Record, err error) {
	err = garden.Ask(ctx, svc.Store, func(r bedstate.Reader) error {
		if g, err = r.Garden(); err != nil {
			return err
		}
		rec, err = bedstate.ReadBed(r, id, today, today)
		return err
	})
	return g, rec, err
}
