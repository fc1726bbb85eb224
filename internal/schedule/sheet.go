package schedule

import (
	"context"
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
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
	// Last are the last days on which applications among them may be applied, where their window closes soon; Missed those that missed
	// theirs and
	// stand on a day to come. None on a past day.
	Last   map[int64]quantity.Day
	Missed []garden.Task
	// Rests are what waits for tests; none on a past day.
	Rests []bedstate.Rest
	// Put is what was applied, by its task, of the settled.
	Put map[int64]garden.Application
}

const fortnight quantity.Day = 14

// lookBack is how long before a past day what was due is still reported.
const lookBack quantity.Day = 90

// tasksAsOf returns the tasks that were open on a past day.
func tasksAsOf(r Reader, day quantity.Day) ([]garden.Task, error) {
	all, err := r.TasksBetween((day - lookBack).String(), (day + lookBack).String())
	open := all[:0]
	for _, t := range all {
		if t.Settled == 0 || t.Settled > day {
			open = append(open, t)
		}
	}
	return open, err
}

// Sheet reads the work of a day.
func (svc Service) Sheet(ctx context.Context, today, day quantity.Day) (s Sheet, err error) {
	s.Today, s.Beds = day, map[int64]garden.Bed{}
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		v, err := svc.BedState.ViewIn(r, today, day)
		if err != nil {
			return err
		}
		// Past days are reported as they stood then, days to come with all that is open
		// now.
		open := v.Tasks
		s.Moved, s.Last, s.Rests = v.Moved, v.Last, v.Rests
		if day < today {
			s.Moved, s.Last, s.Rests = nil, nil, nil
			if open, err = tasksAsOf(r, day); err != nil {
				return err
			}
		}
		s.Garden, s.Held, s.Library, s.Overtaken, s.Batches = v.Garden, v.Held, v.Library, v.Overtaken, v.Batches
		s.States = make(map[int64]*bedstate.State, len(v.Beds))
		for i := range v.Beds {
			s.States[v.Beds[i].Bed.ID] = &v.Beds[i]
		}
		for i, t := range open {
			if m, ok := s.Moved[t.ID]; ok && day == today && t.Kind == garden.TaskApplication && m.Missed(m.From, today) {
				s.Missed = append(s.Missed, t)
			}
			switch {
			case t.Due <= day:
				s.Due = append(s.Due, t)
			case t.Due <= day+fortnight:
				s.Coming = append(s.Coming, t)
			case s.Next == nil:
				s.Next = &open[i]
			}
		}
		if s.Settled, err = garden.Where[garden.Task](r, "settled", day.String()); err != nil {
			return err
		}
		put, err := r.ApplicationsSince(day.String())
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

// DueCount returns how many tasks are open and due, a bed that is turned over once: its steps come
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
