package schedule

import (
	"context"
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Sheet is the work of a day, with the beds.
type Sheet struct {
	Garden garden.Garden
	Today  quantity.Day
	// Due are open and due, Coming open within the following fortnight, Settled done or skipped
	// today.
	Due, Coming, Settled []garden.Task
	// Next is the first open task after the fortnight, or nil.
	Next    *garden.Task
	Beds    map[int64]garden.Bed
	Batches map[int64]garden.Batch
	// States are the beds' states.
	States  map[int64]*bedstate.State
	Library garden.Library
	// Held are the held applications with the day on which their reading was struck out; Moved the
	// tasks not on their planned day.
	Held  map[int64]quantity.Day
	Moved map[int64]bedstate.Move
	// Overtaken are applications that a later reading may have changed.
	Overtaken map[int64]garden.Overtaken
	// Last are the last days of applications whose window closes soon; Missed those that missed
	// theirs. Empty on a past day.
	Last   map[int64]quantity.Day
	Missed []garden.Task
	// Rests are the rests that wait for tests; none on a past day.
	Rests []bedstate.Rest
	// Put are the recorded applications of settled tasks.
	Put map[int64]garden.Application
}

const fortnight quantity.Day = 14

// lookBack is how long before a past day overdue tasks are still listed.
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

// Sheet returns the work of a day.
func (svc Service) Sheet(ctx context.Context, today, day quantity.Day) (s Sheet, err error) {
	s.Today, s.Beds = day, map[int64]garden.Bed{}
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		v, err := svc.BedState.ViewIn(r, today, day)
		if err != nil {
			return err
		}
		// Past days show what was open then, days to come what is open now.
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

// walk sorts due tasks by a short route past the beds, from the plan's corner.
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

// DueCount returns the number of open due tasks; a preparation counts once, since its steps are
// sequential.
func (svc Service) DueCount(ctx context.Context, today quantity.Day) (n int, err error) {
	v, err := svc.BedState.View(ctx, today)
	var counted []int64
	for _, t := range v.Tasks {
		switch {
		case t.Due > today:
			continue
		case t.PreparationID != nil && slices.Contains(counted, *t.PreparationID):
			continue
		case t.PreparationID != nil:
			counted = append(counted, *t.PreparationID)
		}
		n++
	}
	return n, err
}
