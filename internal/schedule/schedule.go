package schedule

import (
	"context"
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Year is the content of the year ribbon.
type Year struct {
	From, To quantity.Day
	Windows  []bedstate.YearWindow
	// Tasks are those done between the days and the open ones, on the days that they are put on, in
	// order of day.
	Tasks []garden.Task
	// Held are the held applications among the tasks, Moved those not on their planned day.
	Held    map[int64]quantity.Day
	Moved   map[int64]bedstate.Move
	Garden  garden.Garden
	Samples []garden.Sample
}

// Year returns, for each family, the days on which at least one bed of a view can take it, and the
// tasks.
func (svc Service) Year(ctx context.Context, v bedstate.View, from, to quantity.Day) (y Year, err error) {
	y.From, y.To, y.Garden, y.Moved = from, to, v.Garden, v.Moved
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if y.Tasks, err = r.DoneBetween(from.String(), to.String()); err != nil {
			return err
		}
		for _, t := range v.Tasks {
			if t.Due >= from && t.Due <= to {
				y.Tasks = append(y.Tasks, t)
			}
		}
		slices.SortStableFunc(y.Tasks, func(a, b garden.Task) int { return int(a.On() - b.On()) })
		held, err := r.Held()
		if err != nil {
			return err
		}
		y.Held = bedstate.HeldBackOn(held, v.Today)
		y.Samples, err = r.SamplesBetween(from.String(), to.String())
		return err
	})
	y.Windows = v.Windows(from, to)
	return y, err
}
