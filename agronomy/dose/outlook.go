package dose

import (
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/soil"
)

// onWay returns the bed's course with an option's applications, based on the bed's own forecast if
// there is one, else on the dose's course.
func (r *Request) onWay(course *forecast.Course, o *Option) forecast.Course {
	if r.Foretold != nil {
		course = r.Foretold
	}
	return r.with(*course, o)
}

// with returns a course with an option's applications.
func (r *Request) with(c forecast.Course, o *Option) forecast.Course {
	pools := make([]forecast.Pool, 0, len(c.Pools)+len(o.Applications))
	c.Pools = append(pools, c.Pools...)
	for i := range o.Applications {
		if x := &o.Applications[i]; x.CaCO3 != 0 {
			c.Pools = append(c.Pools, r.pool(o, x))
		}
	}
	return c
}

// Expect returns the bed's course with an option's applications.
func (a *Answer) Expect(o *Option) forecast.Course { return a.asked.onWay(&a.Course, o) }

// ExpectFrom returns another course of the bed with an option's applications.
func (a *Answer) ExpectFrom(c forecast.Course, o *Option) forecast.Course { return a.asked.with(c, o) }

// drift returns the bed's yearly drift by the guide, from its climate, crops and applications.
func (r *Request) drift(last soil.Reading) float64 {
	rec := forecast.Record{Ground: r.Worked(), Climate: r.Climate, Day: r.Date, Readings: []soil.Reading{last}, Grown: r.Grown}
	if r.Water != nil {
		rec.Water.Alkalinity = *r.Water
	}
	for _, x := range r.History {
		rec.Applied = append(rec.Applied, forecast.Application{Application: x})
	}
	sum, _ := forecast.Drift(rec.Pulls())
	return sum
}
