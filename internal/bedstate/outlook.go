package bedstate

import (
	"context"
	"slices"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// Outlook predicts a bed's pH on a day from what is reacting and what is planned; ok is false
// without a basis.
type Outlook interface {
	Expect(c Coming, day quantity.Day) (ph quantity.PH, ok bool)
}

// Coming is a bed with what is reacting in it and what is planned.
type Coming struct {
	State   State
	Garden  garden.Garden
	Library garden.Library
	noted   noted
	// Open are its open tasks, Moved those not on their planned day, Batches their batches.
	Open    []garden.Task
	Moved   map[int64]Move
	Batches map[int64]garden.Batch
	// Today is the day of the view.
	Today quantity.Day
}

// ForecastOutlook is the outlook by the median of the bed's own forecast: reactions, plans, learned
// buffering and drift.
type ForecastOutlook struct{}

// Expect implements Outlook.
func (ForecastOutlook) Expect(c Coming, day quantity.Day) (ph quantity.PH, ok bool) {
	course, ok := c.course()
	if !ok {
		return 0, false
	}
	return course.On(day).PH, true
}

// course returns the bed's course with planned applications; ok is false without a figure.
func (c Coming) course() (out forecast.Course, ok bool) {
	l := c.noted.lesson
	if c.State.Reading == nil || l == nil {
		return out, false
	}
	return l.With(c.Plan()), true
}

// Plan returns the bed's planned applications as input of a forecast.
func (c Coming) Plan() (plan []forecast.Application) {
	for _, t := range c.Open {
		if t.Kind != garden.TaskApplication || t.BedID != c.State.Bed.ID || c.Moved[t.ID].Shortfall {
			continue
		}
		// A late application keeps its own day and counts from today at the earliest.
		a := garden.Application{What: t.What, Rate: t.Rate, Date: max(t.Due, c.Today), BatchID: t.BatchID}
		if t.BatchID != nil {
			if x, ok := c.Batches[*t.BatchID]; ok {
				a.From(x)
			}
		}
		plan = AppendPut(plan, &a)
	}
	return plan
}

// CoursePoint is an expected pH on a day.
type CoursePoint struct {
	Day quantity.Day
	PH  quantity.PH
}

// Course returns the bed's expected pH from one day to another, in steps; none without a reading.
func (c Coming) Course(from, to, step quantity.Day) (out []CoursePoint) {
	course, ok := c.course()
	if !ok {
		return nil
	}
	for d := from; d < to; d += step {
		out = append(out, CoursePoint{d, course.On(d).PH})
	}
	return append(out, CoursePoint{to, course.On(to).PH})
}

// expectedOn is the cache key of a view with its outlook.
type expectedOn struct {
	today, day quantity.Day
	outlook    Outlook
}

// On returns the garden on any day: before today as last measured then, after today as the outlook
// expects. The outlook must be comparable.
func (svc Service) On(ctx context.Context, today, day quantity.Day, o Outlook) (v View, err error) {
	if day <= today {
		return svc.view(ctx, today, day)
	}
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		v, err = garden.Cached(r, views, expectedOn{today, day, o}, func() (View, error) { return svc.expected(r, today, day, o) })
		return err
	})
	return v, err
}

// expected returns the view of a day to come.
func (svc Service) expected(r Reader, today, day quantity.Day, o Outlook) (View, error) {
	v, err := svc.ViewIn(r, today, day)
	if err != nil {
		return v, err
	}
	v.Beds = slices.Clone(v.Beds) // the cached view is shared
	open := ByBed(v.ToDo(), func(t garden.Task) int64 { return t.BedID })
	for i := range v.Beds {
		p := &v.Beds[i]
		c := Coming{State: *p, Garden: v.Garden, Library: v.Library, noted: v.noted[p.Bed.ID], Open: open[p.Bed.ID], Batches: v.Batches,
			Moved: v.Moved, Today: today}
		if ph, ok := o.Expect(c, day); ok {
			p.Stand(ph)
		}
		if k, ok := c.Potassium(day); ok {
			p.K = k
		}
	}
	return v, nil
}

// BatchesByID returns the batches in stock, by number.
func BatchesByID(r Reader) (map[int64]garden.Batch, error) {
	all, err := garden.All[garden.Batch](r)
	out := make(map[int64]garden.Batch, len(all))
	for _, b := range all {
		out[b.ID] = b
	}
	return out, err
}
