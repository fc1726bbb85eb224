package schedule

import (
	"context"
	"fmt"
	"strings"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Moving is the outcome of moving an open task to another day.
type Moving struct {
	Garden garden.Garden
	Bed    garden.Bed
	// Task has its planned day; Stands is its current day.
	Task   garden.Task
	Stands calendar.Placed
	To     quantity.Day
	// Trial has the rule that the day breaks and the nearest allowed days.
	Trial calendar.Trial
	// Others are tasks of the bed that would move with it.
	Others []Shift
	Batch  *garden.Batch
}

// Shift is a task moved by another's move.
type Shift struct {
	Task garden.Task
	// Batch is its batch, or nil.
	Batch *garden.Batch
	// Due is its planned day after the move.
	Due     quantity.Day
	Was, Is calendar.Placed
}

// MoveAhead is how far ahead a task may be moved.
const MoveAhead = 2 * calendar.Horizon

// Serves reports whether the task may be on the chosen day.
func (m *Moving) Serves() bool { return m.Trial.Why == calendar.Free && !m.Trial.Retest }

// Moving computes the outcome of moving a task to a day; 0 is its current day.
func (svc Service) Moving(ctx context.Context, task int64, to, today quantity.Day) (m Moving, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		t, err := garden.Get[garden.Task](r, task)
		if err != nil {
			return err
		}
		m, err = moving(r, t, to, today)
		return err
	})
	return m, err
}

func moving(r Reader, t garden.Task, to, today quantity.Day) (m Moving, err error) {
	if t.State != garden.Open {
		return m, garden.ErrStale
	}
	rec, err := bedstate.ReadBed(r, t.BedID, today, today)
	if err != nil {
		return m, err
	}
	if m.Garden, err = r.Garden(); err != nil {
		return m, err
	}
	batches, err := bedstate.BatchesByID(r)
	if err != nil {
		return m, err
	}
	m.Batch = garden.BatchIn(batches, t.BatchID)
	m.Bed, m.Task, m.To = rec.Bed, t, to
	if on, held := rec.Held[t.ID]; held {
		return m, garden.Faults{"to": "the reading that this rests on was deleted on " + text.DayYear(on) + "; plan the dose anew"}
	}
	// The calendar starts from the planned days.
	for i := range rec.Tasks {
		if x, ok := rec.Moved[rec.Tasks[i].ID]; ok {
			rec.Tasks[i].Due = x.From
		}
	}
	items, at := rec.State.Items(rec.Tasks, rec.Held)
	was := rec.State.Season.Schedule(items, today)
	for i := range items {
		if rec.Tasks[at[i]].ID == t.ID {
			m.Stands = was[i]
		}
	}
	if m.To == 0 {
		m.To = m.Stands.Lands
	}
	m.Trial = rec.State.Season.Try(items, t.ID, m.To, today)
	for i := range items {
		if own := &rec.Tasks[at[i]]; own.ID != t.ID && (m.Trial.Placed[i].Day != was[i].Day || m.Trial.Due[i] != own.Due) {
			m.Others = append(m.Others, Shift{*own, garden.BatchIn(batches, own.BatchID), m.Trial.Due[i], was[i], m.Trial.Placed[i]})
		}
	}
	return m, nil
}

// Move moves an open task to another day. A day that breaks a rule is refused, with the rule and
// the nearest allowed days.
func (svc Service) Move(ctx context.Context, a garden.Actor, task, version int64, to quantity.Day) (garden.Receipt, error) {
	if to.IsZero() {
		return garden.Receipt{}, garden.Faults{"to": "a day is needed"}
	}
	if to < a.Today {
		return garden.Receipt{}, garden.Faults{"to": "that day has gone by"}
	}
	if to > a.Today+MoveAhead {
		return garden.Receipt{}, garden.Faults{"to": "two years ahead is as far as work is dated"}
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		t, b, err := OpenTask(tx, task, version)
		if err != nil {
			return "", err
		}
		m, err := moving(tx, t, to, a.Today)
		if err != nil {
			return "", err
		}
		if !m.Serves() {
			return "", garden.Faults{"to": text.NotOn(to, m.Trial)}
		}
		says := fmt.Sprintf("Moved %s on %s to %s", taskName(t, m.Batch), b.Name, text.DayYear(to))
		if n := len(m.Others); n > 0 {
			says += ", and " + text.Count(n, "task that follows", "tasks that follow") + " from it"
		}
		return says, m.put(tx)
	})
}

// Wait moves applications to another day together, because of today's weather. Those that cannot
// move stay, with the reason; if none can, it is refused.
func (svc Service) Wait(ctx context.Context, a garden.Actor, tasks []garden.Task, to quantity.Day) (garden.Receipt, error) {
	if len(tasks) == 0 {
		return garden.Receipt{}, garden.ErrStale
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		moved, stay := 0, []string(nil)
		for _, x := range tasks {
			t, b, err := OpenTask(tx, x.ID, x.Version)
			if err != nil {
				return "", err
			}
			m, err := moving(tx, t, to, a.Today)
			if err != nil {
				return "", err
			}
			if !m.Serves() {
				stay = append(stay, b.Name+": "+text.NotOn(to, m.Trial))
				continue
			}
			if err := m.put(tx); err != nil {
				return "", err
			}
			moved++
		}
		if moved == 0 {
			return "", garden.Faults{"to": strings.Join(stay, "; ")}
		}
		says := fmt.Sprintf("Moved %s to %s, for the weather", text.Count(moved, "application", "applications"), text.DayYear(to))
		if len(stay) > 0 {
			says += "; left where they are: " + strings.Join(stay, "; ")
		}
		return says, nil
	})
}

// put saves the task's day, and moves later tasks of its dose behind it.
func (m *Moving) put(tx Tx) error {
	t := m.Task
	t.Due, t.Chosen = m.To, true
	if err := tx.Update(&t); err != nil {
		return err
	}
	for _, o := range m.Others {
		if o.Task.Due == o.Due {
			continue
		}
		o.Task.Due = o.Due
		if err := tx.Update(&o.Task); err != nil {
			return err
		}
	}
	return nil
}

// taskName returns a task's name for a line.
func taskName(t garden.Task, batch *garden.Batch) string {
	switch t.Kind {
	case garden.TaskApplication:
		return "an application of " + garden.Called(t.What, batch)
	case garden.TaskStep:
		return "“" + text.StepName(t.Step, t.Says) + "”"
	}
	return "the retest"
}
