package garden

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/words"
)

// Sheet is what is to be done by a day, with the beds it is done on.
type Sheet struct {
	Garden Garden
	Today  quantity.Day
	// Due are open and due, Coming open within the fortnight after, Settled
	// done or skipped today.
	Due, Coming, Settled []Task
	// Next is the first open task beyond the fortnight; nil when there is none.
	Next    *Task
	Beds    map[int64]Bed
	Batches map[int64]Batch
	// Held are the goes among them that are held back, with the day on which the
	// reading that they rest on was struck out; Moved those that do not stand on the
	// day that they were planned for.
	Held  map[int64]quantity.Day
	Moved map[int64]Move
	// Put is what went on, by its task, of the settled.
	Put map[int64]Application
}

const fortnight quantity.Day = 14

// lookBack is how long before a past day what was due is still told.
const lookBack quantity.Day = 90

// tasksAsOf are the tasks that were open on a past day.
func tasksAsOf(r Reader, on quantity.Day) ([]Task, error) {
	all, err := r.TasksBetween((on - lookBack).String(), (on + lookBack).String())
	open := all[:0]
	for _, t := range all {
		if t.Settled == 0 || t.Settled > on {
			open = append(open, t)
		}
	}
	return open, err
}

// Sheet reads the work of a day.
func (k Keeper) Sheet(ctx context.Context, today, on quantity.Day) (s Sheet, err error) {
	s.Today, s.Beds, s.Batches = on, map[int64]Bed{}, map[int64]Batch{}
	err = k.Store.Read(ctx, func(r Reader) error {
		v, err := k.viewIn(r, today, on)
		if err != nil {
			return err
		}
		// Past days are told as they stood then, days to come with all that is open
		// now.
		open := v.Tasks
		s.Moved = v.Moved
		if on < today {
			s.Moved = nil
			if open, err = tasksAsOf(r, on); err != nil {
				return err
			}
		}
		s.Garden, s.Held = v.Garden, v.Held
		for i, t := range open {
			switch {
			case t.Due <= on:
				s.Due = append(s.Due, t)
			case t.Due <= on+fortnight:
				s.Coming = append(s.Coming, t)
			case s.Next == nil:
				s.Next = &open[i]
			}
		}
		if s.Settled, err = Where[Task](r, "settled", on.String()); err != nil {
			return err
		}
		put, err := r.ApplicationsSince(on.String())
		if err != nil {
			return err
		}
		s.Put = make(map[int64]Application, len(put))
		for _, a := range put {
			if a.TaskID != nil {
				s.Put[*a.TaskID] = a
			}
		}
		for _, b := range v.beds {
			s.Beds[b.ID] = b
		}
		bs, err := All[Batch](r)
		for _, b := range bs {
			s.Batches[b.ID] = b
		}
		return err
	})
	return s, err
}

// heldOn are the goes that were held back by a day.
func heldOn(held []Held, on quantity.Day) map[int64]quantity.Day {
	out := make(map[int64]quantity.Day, len(held))
	for _, h := range held {
		if h.Struck <= on {
			out[h.Task] = h.Struck
		}
	}
	return out
}

// DueCount is how many tasks are open and due.
func (k Keeper) DueCount(ctx context.Context, today quantity.Day) (n int, err error) {
	v, err := k.View(ctx, today)
	for _, t := range v.Tasks {
		if t.Due <= today {
			n++
		}
	}
	return n, err
}

// Tick is a go that was put on: Total is what really went on, nil what was
// planned; On is the day, no day today.
type Tick struct {
	Task, Version int64
	Total         *quantity.Mass
	// Scoops is set instead where the amount was counted in level scoops.
	Scoops *float64
	On     quantity.Day
	Note   string
}

// PutOn ticks a go. It becomes an application of the bed, and leaves the shelf;
// what follows it keeps its distance. A tick that would break a go's cap, the
// year's or the spacing is refused in words.
func (k Keeper) PutOn(ctx context.Context, a Act, tick Tick) (Receipt, error) {
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		t, b, err := openTask(tx, tick.Task, tick.Version)
		if err != nil {
			return "", err
		}
		if t.Kind != TaskGo {
			return "", Faults{"task": "only a go can be put on"}
		}
		ap, s, err := tick.application(tx, t, b, a.Today)
		if err != nil {
			return "", err
		}
		rec, err := bedRecord(tx, b.ID, a.Today, a.Today)
		if err != nil {
			return "", err
		}
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		if err := rec.mayGo(g, t, ap, a); err != nil {
			return "", err
		}
		if err := tx.Insert(&ap); err != nil {
			return "", err
		}
		planned := t.Total
		t.State, t.Settled = Done, ap.Date
		if err := tx.Update(&t); err != nil {
			return "", err
		}
		if err := followOn(tx, g, t, ap.Date, ap.Total != planned); err != nil {
			return "", err
		}
		name := words.Material(t.What)
		if t.BatchID != nil {
			name = s.Name
			out := Movement{BatchID: s.ID, Date: ap.Date, Kind: MovedOut, Amount: ap.Total, ApplicationID: &ap.ID}
			if err := tx.Insert(&out); err != nil {
				return "", err
			}
		}
		amount := g.Units().Mass(ap.Total)
		if tick.Scoops != nil {
			amount = strconv.FormatFloat(*tick.Scoops, 'g', 6, 64) + " scoops (" + amount + ")"
		}
		says := fmt.Sprintf("Put %s of %s on %s", amount, words.Lower(name), b.Name)
		if ap.Date != a.Today {
			says += ", " + words.DayYear(ap.Date)
		}
		return says, nil
	})
}

// application is what a tick says went on, with the batch that it is of; the zero
// batch for none.
func (tick Tick) application(tx Tx, t Task, b Bed, today quantity.Day) (ap Application, s Batch, err error) {
	ap = Application{BedID: b.ID, TaskID: &t.ID, BatchID: t.BatchID, Date: tick.On, What: t.What, Total: t.Total, Rate: t.Rate, Note: strings.TrimSpace(tick.Note)}
	if ap.Date.IsZero() {
		ap.Date = today
	}
	if t.BatchID != nil {
		if s, err = Get[Batch](tx, *t.BatchID); err != nil {
			return ap, s, err
		}
		ap.from(s)
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

// mayGo says what stands against a go's going on: nothing known, or faults at
// their fields.
func (rec *BedRecord) mayGo(g Garden, t Task, ap Application, a Act) error {
	today := a.Today
	if on, ok := rec.Held[t.ID]; ok {
		return Faults{"amount": "the reading that this rests on was struck out on " + words.DayYear(on) + "; plan the dose anew"}
	}
	switch {
	case ap.Date > today:
		return Faults{"on": "that day is still to come"}
	case dayFault(ap.Date) != "":
		return Faults{"on": dayFault(ap.Date)}
	case !LimitAmount.Holds(float64(ap.Total)):
		return Faults{"amount": "how much went on? an amount above 0 kg is needed"}
	case !LimitRate.Holds(float64(ap.Rate)):
		return Faults{"amount": "on this bed that is more than a bed can take: " + LimitRate.Says()}
	case TextFault(ap.Note, longestNote, true) != "":
		return Faults{"note": TextFault(ap.Note, longestNote, true)}
	case rec.Moved[t.ID].Retest:
		return Faults{"amount": words.GoWaits}
	}
	m, _ := material.Find(ap.What)
	if why := rec.stops(g.Units(), m, ap.Rate, ap.Date); why != "" {
		return Faults{"amount": why}
	}
	if far := t.Total; ap.Total >= farOver*far || farOver*ap.Total <= far {
		says := "that is a tenth of the " + g.Units().Mass(far) + " that were planned"
		if ap.Total > far {
			says = "that is ten times the " + g.Units().Mass(far) + " that were planned"
		}
		if err := a.sure(Faults{"amount": says + ", or further off. Sure? Put it on once more if it is"}); err != nil {
			return err
		}
	}
	return nil
}

// followOn keeps the rest of a go's plan true once it is settled: the retest
// stands its interval after the day on which it really went on, put (no day when
// it was skipped), and what the plan promised no longer holds where other than
// what was planned went on.
func followOn(tx Tx, g Garden, settled Task, put quantity.Day, other bool) error {
	if settled.PlanID == nil {
		return nil
	}
	tasks, err := Where[Task](tx, "bed_id", settled.BedID)
	if err != nil {
		return err
	}
	m, _ := material.Find(settled.What)
	climate := g.ClimateNormals()
	for i := range tasks {
		t := &tasks[i]
		if t.State != Open || t.PlanID == nil || *t.PlanID != *settled.PlanID {
			continue
		}
		was := *t
		if other {
			t.PHAfter = nil
		}
		if t.Kind == TaskRetest && t.Due > settled.Due && put > settled.Due {
			t.Due = max(t.Due, calendar.Retest(&m, &climate, put, 0, calendar.Yearly))
		}
		if *t != was {
			if err := tx.Update(t); err != nil {
				return err
			}
		}
	}
	return nil
}

// Skip leaves a task out, with the reason.
func (k Keeper) Skip(ctx context.Context, a Act, task, version int64, why string) (Receipt, error) {
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		t, b, err := openTask(tx, task, version)
		if err != nil {
			return "", err
		}
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		t.State, t.Settled, t.Why = Skipped, a.Today, strings.TrimSpace(why)
		if why := TextFault(t.Why, longestNote, true); why != "" {
			return "", Faults{"why": why}
		}
		if err := tx.Update(&t); err != nil {
			return "", err
		}
		if t.Kind == TaskGo {
			if err := followOn(tx, g, t, 0, true); err != nil {
				return "", err
			}
		}
		what := "the retest"
		if t.Kind == TaskGo {
			what = "a go of " + words.Material(t.What)
		}
		return fmt.Sprintf("Skipped %s on %s", what, b.Name), nil
	})
}

// Log notes what went on outside a plan, today or earlier: an application
// without a task.
func (k Keeper) Log(ctx context.Context, a Act, x Application) (Receipt, error) {
	f := Faults{}
	if _, ok := material.Find(x.What); !ok {
		f["what"] = "choose what went on"
	}
	switch {
	case x.Date.IsZero():
		f["put_date"] = "a day is needed: when it went on"
	case x.Date > a.Today:
		f["put_date"] = "that day is still to come"
	case dayFault(x.Date) != "":
		f["put_date"] = dayFault(x.Date)
	}
	if !LimitAmount.Holds(float64(x.Total)) {
		f["put_amount"] = "how much went on? an amount above 0 is needed"
	}
	if why := TextFault(x.Note, longestNote, true); why != "" {
		f["put_note"] = why
	}
	if err := f.orNil(); err != nil {
		return Receipt{}, err
	}
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		b, err := Get[Bed](tx, x.BedID)
		if err != nil {
			return "", err
		}
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		x.Rate, x.Note = x.Total.Per(b.Area()), strings.TrimSpace(x.Note)
		if !LimitRate.Holds(float64(x.Rate)) {
			return "", Faults{"put_amount": "on this bed that is more than a bed can take: " + LimitRate.Says()}
		}
		rec, err := bedRecord(tx, x.BedID, a.Today, a.Today)
		if err != nil {
			return "", err
		}
		if err := askLog(rec, g, a, x); err != nil {
			return "", err
		}
		return fmt.Sprintf("Noted %s of %s on %s, %s", g.Units().Mass(x.Total), words.Material(x.What), b.Name, words.DayYear(x.Date)), tx.Insert(&x)
	})
}

func openTask(tx Tx, id, version int64) (t Task, b Bed, err error) {
	if t, err = Get[Task](tx, id); err != nil {
		return t, b, err
	}
	if t.Version != version || t.State != Open {
		return t, b, ErrStale
	}
	b, err = Get[Bed](tx, t.BedID)
	return t, b, err
}

// BringIn brings an archive into a garden that holds no records: one change, and
// one undo.
func (k Keeper) BringIn(ctx context.Context, a Act, rows func(put func(Record) error) error) (Receipt, error) {
	return k.Store.Restore(ctx, a.Change(), rows)
}

// Entry reads a line of the journal.
func (k Keeper) Entry(ctx context.Context, id int64) (e Entry, err error) {
	err = k.Store.Read(ctx, func(r Reader) error { e, err = Get[Entry](r, id); return err })
	return e, err
}
