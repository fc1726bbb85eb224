package outlook

import (
	"context"
	"slices"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// Outline is a short form of a bed's forecast.
type Outline struct {
	State bedstate.State
	// Back and Ahead are its level by half years, Back up to today, and Ahead, the median alone,
	// from today on; none without readings.
	Back, Ahead []forecast.Spread
	// Leaves is the month in which the median leaves the range; 0 if it stays inside, or is outside
	// already.
	Leaves quantity.Day
}

// outlineYears is its length in each direction.
const outlineYears = 3

// Outlines returns those of all beds on the plan, in order.
func (svc Service) Outlines(ctx context.Context, today quantity.Day) (out []Outline, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		out, err = garden.Cached(r, outlineLists, today, func() ([]Outline, error) { return svc.outlines(r, today) })
		return err
	})
	return out, err
}

// outlineLists caches all beds' outlines on a day, pastLines their past parts.
var (
	outlineLists = cache.Kind{Name: "outlines", Room: 2}
	pastLines    = cache.Kind{Name: "past lines", Room: 1000}
)

func (svc Service) outlines(r Reader, today quantity.Day) (out []Outline, err error) {
	records, g, err := bedstate.ReadBeds(r, today)
	if err != nil {
		return nil, err
	}
	batches, err := bedstate.BatchesByID(r)
	if err != nil {
		return nil, err
	}
	records = slices.DeleteFunc(records, func(rec bedstate.Record) bool { return rec.Bed.Kind == garden.KindHeap })
	out = make([]Outline, len(records))
	forecast.Each(len(records), func(i int) {
		out[i].State = records[i].State
		if records[i].Lesson != nil {
			s := Forecast{Record: records[i], Garden: g, Today: today, Batches: batches}
			out[i].compute(&s)
		}
		svc.Work.one()
	})
	return out, nil
}

// compute fills the outline: its past filtered by the readings known at each time, cached by what
// it depends on; its future from the median.
func (o *Outline) compute(s *Forecast) {
	model := s.Record.Lesson.Model()
	var days []quantity.Day
	for m := -12 * outlineYears; m <= 0; m += 6 {
		days = append(days, s.Today.AddMonths(m))
	}
	o.Back = bedstate.OfLesson(s.Record.Lesson, pastLines, s.Today, func() []forecast.Spread { return forecast.Levels(model, days) })
	course := s.Record.Lesson.With(s.plan())
	if n := len(o.Back); n > 0 { // both parts meet today; the cached part is shared
		o.Back = append(slices.Clone(o.Back[:n-1]), course.About(o.Back[n-1]))
	}
	var months []forecast.Spread
	for m := 0; m <= 12*outlineYears; m++ {
		d := s.Today.AddMonths(m)
		months = append(months, forecast.Spread{Date: d, Median: float64(course.On(d).PH)})
		if m%6 == 0 {
			o.Ahead = append(o.Ahead, months[m])
		}
	}
	// A bed that is judged outside its range is not said to leave it.
	span := o.State.Crop.Range
	if o.State.Standing == bed.InRange && span.Holds(quantity.PH(months[0].Median)) {
		o.Leaves, _ = forecast.Leaves(months, s.Today, span.Low, span.High)
	}
}
