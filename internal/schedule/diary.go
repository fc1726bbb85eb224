package schedule

import (
	"context"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Diary is the content of a calendar feed: open tasks on their current days, and settled ones.
type Diary struct {
	Garden garden.Garden
	Beds   map[int64]string
	// Batches are the tasks' batches.
	Batches map[int64]garden.Batch
	// Tasks are open and settled ones; done applications tell what went on.
	Tasks []garden.Task
	// Held are the held applications, Moved why tasks are not on their planned day.
	Held  map[int64]quantity.Day
	Moved map[int64]bedstate.Move
	// Rests are the rests that wait for the tests among them.
	Rests []bedstate.Rest
}

// diaryMonths is how far back settled tasks are included.
const diaryMonths = 12

// Diary returns the content of the calendar feed.
func (svc Service) Diary(ctx context.Context, today quantity.Day) (d Diary, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		v, err := svc.BedState.ViewIn(r, today, today)
		if err != nil {
			return err
		}
		d.Garden, d.Batches, d.Held, d.Moved, d.Beds = v.Garden, v.Batches, v.Held, v.Moved, map[int64]string{}
		d.Rests = v.Rests
		for _, b := range v.AllBeds() {
			d.Beds[b.ID] = b.Name
		}
		since := today.AddMonths(-diaryMonths).String()
		if d.Tasks, err = r.SettledSince(since); err != nil {
			return err
		}
		put, err := r.ApplicationsSince(since)
		if err != nil {
			return err
		}
		for i := range d.Tasks {
			d.Tasks[i] = d.Tasks[i].AsPut(put)
		}
		d.Tasks = append(d.Tasks, v.Tasks...)
		return nil
	})
	return d, err
}
