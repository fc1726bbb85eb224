package schedule

import (
	"context"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Year is the content of the year ribbon.
type Year struct {
	From, To quantity.Day
	Windows  []bedstate.YearWindow
	Tasks    []garden.Task
	// Held are the held applications among the tasks.
	Held    map[int64]quantity.Day
	Samples []garden.Sample
	Climate soil.Climate
	Weather soil.Weather
}

// Year returns, for each family, the days on which at least one bed of a view can take it, and the
// tasks.
func (svc Service) Year(ctx context.Context, v bedstate.View, from, to quantity.Day) (y Year, err error) {
	y.From, y.To = from, to
	y.Climate, y.Weather = v.Garden.Warmth(), v.Garden.Weather()
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if y.Tasks, err = r.TasksBetween(from.String(), to.String()); err != nil {
			return err
		}
		held, err := r.Held()
		if err != nil {
			return err
		}
		y.Held = bedstate.HeldBackOn(held, v.Today)
		v.OnDays(y.Tasks)
		y.Samples, err = r.SamplesBetween(from.String(), to.String())
		return err
	})
	y.Windows = v.Windows(from, to)
	return y, err
}
