package schedule

import (
	"context"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Diary is what a calendar shows: what is to do, on the days on which it stands, and what
// was done or skipped.
type Diary struct {
	Garden garden.Garden
	Beds   map[int64]string
	// Batches are what tasks are of.
	Batches map[int64]garden.Batch
	Tasks   []garden.Task
	// Held are the applications that must not go on, Moved why a task stands on another day than
	// it was planned for.
	Held  map[int64]quantity.Day
	Moved map[int64]bedstate.Move
	// Rests are what waits for the tests among them.
	Rests []bedstate.Rest
}

// diaryMonths is how far back a diary tells what was done.
const diaryMonths = 12

// Diary reads it.
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
		if d.Tasks, err = r.SettledSince(today.AddMonths(-diaryMonths).String()); err != nil {
			return err
		}
		d.Tasks = append(d.Tasks, v.Tasks...)
		return nil
	})
	return d, err
}
