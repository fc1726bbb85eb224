package bedstate

import (
	"context"
	"slices"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// Years are all beds with their crops, year by year, and what else moves pH.
type Years struct {
	Garden  garden.Garden
	Library garden.Library
	Beds    []BedYears
	Batches map[int64]garden.Batch
}

// BedYears is a bed's crops in order of sowing, applications, plans, and liming hints.
type BedYears struct {
	State        State
	Crops        []garden.Planting
	Applications []garden.Application
	Tasks        []garden.Task
	Hints        []bedprep.Hint
}

// Years returns the crops of all beds from a day on, as of today.
func (svc Service) Years(ctx context.Context, today, since quantity.Day) (y Years, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		v, err := svc.ViewIn(r, today, today)
		if err != nil {
			return err
		}
		y.Garden, y.Library, y.Batches = v.Garden, v.Library, v.Batches
		ps, err := garden.All[garden.Planting](r)
		if err != nil {
			return err
		}
		as, err := r.ApplicationsSince(since.String())
		if err != nil {
			return err
		}
		crops := ByBed(ps, func(p garden.Planting) int64 { return p.BedID })
		put := ByBed(as, func(a garden.Application) int64 { return a.BedID })
		tasks := ByBed(v.ToDo(), func(t garden.Task) int64 { return t.BedID })
		for _, p := range v.Beds {
			if p.Bed.Kind == garden.KindHeap {
				continue
			}
			own := noted{plantings: crops[p.Bed.ID], preparations: p.Preparations}
			own.unplanted(today)
			own.replant(v.planted, today)
			b := BedYears{State: p, Applications: put[p.Bed.ID], Tasks: tasks[p.Bed.ID]}
			b.Crops = slices.DeleteFunc(slices.Clone(own.plantings), func(x garden.Planting) bool { return x.Cleared != 0 && x.Cleared <= since })
			b.Hints = bedprep.Hints(stands(b.Crops, v.Library), p.PH, today)
			y.Beds = append(y.Beds, b)
		}
		return nil
	})
	return y, err
}

// stands converts plantings for package bedprep.
func stands(ps []garden.Planting, l garden.Library) (out []bedprep.Stand) {
	for _, p := range ps {
		if c, ok := l.Find(p.Crop); ok {
			out = append(out, bedprep.Stand{Crop: c, From: p.Sown, To: p.Cleared})
		}
	}
	return out
}

// Off returns the known or usual day by which a crop is off the ground; 0 for perennials.
func (y *Years) Off(p garden.Planting) quantity.Day {
	c, ok := y.Library.Find(p.Crop)
	if p.Cleared == 0 && (!ok || c.Is(crop.Perennial)) {
		return 0
	}
	s := bedprep.Stand{Crop: c, From: p.Sown, To: p.Cleared}
	return s.Off()
}
