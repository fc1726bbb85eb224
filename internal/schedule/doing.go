package schedule

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Sheet is what is to be done by a day, with the beds it is done on.
type Sheet struct {
	Garden garden.Garden
	Today  quantity.Day
	// Due are open and due, Coming open within the fortnight after, Settled
	// done or skipped today.
	Due, Coming, Settled []garden.Task
	// Next is the first open task beyond the fortnight; nil when there is none.
	Next    *garden.Task
	Beds    map[int64]garden.Bed
	Batches map[int64]garden.Batch
	// States are the beds as they stand, with their crops by the library.
	States  map[int64]*bedstate.State
	Library garden.Library
	// Held are the applications among them that are held back, with the day on which the
	// reading that they rest on was struck out; Moved those that do not stand on the
	// day that they were planned for.
	Held  map[int64]quantity.Day
	Moved map[int64]bedstate.Move
	// Overtaken are those among them that a later reading may have changed.
	Overtaken map[int64]garden.Overtaken
	// Last are the last days on which applications among them may go on, where their window closes soon; Missed those that missed theirs and
	// stand on a day to come. None on a past day.
	Last   map[int64]quantity.Day
	Missed []garden.Task
	// Rests are what waits for tests; none on a past day.
	Rests []bedstate.Rest
	// Put is what went on, by its task, of the settled.
	Put map[int64]garden.Application
}

const fortnight quantity.Day = 14

// lookBack is how long before a past day what was due is still told.
const lookBack quantity.Day = 90

// tasksAsOf are the tasks that were open on a past day.
func tasksAsOf(r Reader, on quantity.Day) ([]garden.Task, error) {
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
func (svc Service) Sheet(ctx context.Context, today, on quantity.Day) (s Sheet, err error) {
	s.Today, s.Beds = on, map[int64]garden.Bed{}
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		v, err := svc.BedState.ViewIn(r, today, on)
		if err != nil {
			return err
		}
		// Past days are told as they stood then, days to come with all that is open
		// now.
		open := v.Tasks
		s.Moved, s.Last, s.Rests = v.Moved, v.Last, v.Rests
		if on < today {
			s.Moved, s.Last, s.Rests = nil, nil, nil
			if open, err = tasksAsOf(r, on); err != nil {
				return err
			}
		}
		s.Garden, s.Held, s.Library, s.Overtaken, s.Batches = v.Garden, v.Held, v.Library, v.Overtaken, v.Batches
		s.States = make(map[int64]*bedstate.State, len(v.Beds))
		for i := range v.Beds {
			s.States[v.Beds[i].Bed.ID] = &v.Beds[i]
		}
		for i, t := range open {
			if m, ok := s.Moved[t.ID]; ok && on == today && t.Kind == garden.TaskApplication && m.Missed(m.From, today) {
				s.Missed = append(s.Missed, t)
			}
			switch {
			case t.Due <= on:
				s.Due = append(s.Due, t)
			case t.Due <= on+fortnight:
				s.Coming = append(s.Coming, t)
			case s.Next == nil:
				s.Next = &open[i]
			}
		}
		if s.Settled, err = garden.Where[garden.Task](r, "settled", on.String()); err != nil {
			return err
		}
		put, err := r.ApplicationsSince(on.String())
		if err != nil {
			return err
		}
		s.Put = make(map[int64]garden.Application, len(put))
		for _, a := range put {
			if a.TaskID != nil {
				s.Put[*a.TaskID] = a
			}
		}
		for _, b := range v.AllBeds() {
			s.Beds[b.ID] = b
		}
		s.walk()
		return nil
	})
	return s, err
}

// walk puts what is due in the order of a short way past the beds, from the plan's corner.
func (s *Sheet) walk() {
	var ids []int64
	var at []sampling.Point
	for _, t := range s.Due {
		if !slices.Contains(ids, t.BedID) {
			m := s.Beds[t.BedID].Middle()
			ids, at = append(ids, t.BedID), append(at, sampling.Point{X: m.X, Y: m.Y})
		}
	}
	order, _ := sampling.Walk(sampling.Point{}, at)
	place := make(map[int64]int, len(ids))
	for n, i := range order {
		place[ids[i]] = n
	}
	slices.SortStableFunc(s.Due, func(a, b garden.Task) int {
		if a.PreparationID != nil && b.PreparationID != nil && *a.PreparationID == *b.PreparationID {
			return int(a.Place - b.Place)
		}
		return place[a.BedID] - place[b.BedID]
	})
}

// DueCount is how many tasks are open and due, a bed that is turned over once: its steps come
// one after the other.
func (svc Service) DueCount(ctx context.Context, today quantity.Day) (n int, err error) {
	v, err := svc.BedState.View(ctx, today)
	var turned []int64
	for _, t := range v.Tasks {
		switch {
		case t.Due > today:
			continue
		case t.PreparationID != nil && slices.Contains(turned, *t.PreparationID):
			continue
		case t.PreparationID != nil:
			turned = append(turned, *t.PreparationID)
		}
		n++
	}
	return n, err
}

// Tick is an application that was put on: Total is what really went on, nil what was
// planned; On is the day, no day today.
type Tick struct {
	Task, Version int64
	Total         *quantity.Mass
	// Scoops is set instead where the amount was counted in level scoops.
	Scoops *float64
	On     quantity.Day
	Note   string
}

// PutOn ticks an application. It becomes an application of the bed, and leaves the shelf;
// what follows it keeps its distance. A tick that would break an application's cap, the
// year's or the spacing is refused in words.
func (svc Service) PutOn(ctx context.Context, a garden.Actor, tick Tick) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) { return tick.PutOn(tx, a) })
}

// PutOn ticks a go within a change.
func (tick Tick) PutOn(tx Tx, a garden.Actor) (string, error) {
	t, b, err := openTask(tx, tick.Task, tick.Version)
	if err != nil {
		return "", err
	}
	if t.Kind != garden.TaskApplication {
		return "", garden.Faults{"task": "only a go can be put on"}
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
	if err := lessRest(tx, b, t, ap, a.Today); err != nil {
		return "", err
	}
	if err := followOn(tx, g, t, ap.Date, ap.Total != planned); err != nil {
		return "", err
	}
	if t.BatchID != nil {
		out := garden.Movement{BatchID: s.ID, Date: ap.Date, Kind: garden.MovedOut, Amount: ap.Total, ApplicationID: &ap.ID}
		if err := tx.Insert(&out); err != nil {
			return "", err
		}
	}
	return tick.says(g.Units(), ap, s, b, a.Today), nil
}

// says is what the journal tells of a tick.
func (tick Tick) says(u text.Units, ap garden.Application, s garden.Batch, b garden.Bed, today quantity.Day) string {
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

// application is what a tick says went on, with the batch that it is of; the zero
// batch for none.
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

// mayLeave says why nothing of a batch goes on a bed: whatever asks, and whenever it
// was planned.
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

// mayApply says what stands against an application's going on: nothing known, or faults at
// their fields.
func mayApply(rec *bedstate.Record, g garden.Garden, t garden.Task, ap garden.Application, a garden.Actor) error {
	today := a.Today
	if on, ok := rec.Held[t.ID]; ok {
		return garden.Faults{"amount": "the reading that this rests on was struck out on " + text.DayYear(on) + "; plan the dose anew"}
	}
	switch {
	case ap.Date > today:
		return garden.Faults{"on": "that day is still to come"}
	case garden.DayFault(ap.Date) != "":
		return garden.Faults{"on": garden.DayFault(ap.Date)}
	case !garden.LimitAmount.Holds(float64(ap.Total)):
		return garden.Faults{"amount": "how much went on? an amount above 0 kg is needed"}
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

// doubt asks once about an amount that is far from what was planned, or more than there
// is by the shelf. s is the batch that it is of, the zero batch for none.
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

// followOn keeps the rest of an application's plan true once it is settled: the retest
// stands its interval after the day on which it really went on, put (no day when
// it was skipped), and what the plan promised no longer holds where other than
// what was planned went on.
func followOn(tx Tx, g garden.Garden, settled garden.Task, put quantity.Day, other bool) error {
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

// Skip leaves a task out, with the reason.
func (svc Service) Skip(ctx context.Context, a garden.Actor, task, version int64, why string) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		t, b, err := openTask(tx, task, version)
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
			return "", garden.Faults{"why": "the planting is what the rest is for; drop the turning over instead"}
		}
		if err := tx.Update(&t); err != nil {
			return "", err
		}
		if t.Kind == garden.TaskApplication {
			if err := followOn(tx, g, t, 0, true); err != nil {
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

func openTask(tx Tx, id, version int64) (t garden.Task, b garden.Bed, err error) {
	if t, err = garden.Get[garden.Task](tx, id); err != nil {
		return t, b, err
	}
	if t.Version != version || t.State != garden.Open {
		return t, b, garden.ErrStale
	}
	b, err = garden.Get[garden.Bed](tx, t.BedID)
	return t, b, err
}
