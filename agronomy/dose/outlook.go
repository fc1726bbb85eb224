package dose

import (
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/soil"
)

// onWay is the bed's course with an option's applications: that of the bed's own forecast where there is one, else the one that the
// dose is computed on.
func (r *Request) onWay(reckoned *forecast.Course, o *Option) forecast.Course {
	c := *reckoned
	if r.Foretold != nil {
		c = *r.Foretold
	}
	pools := make([]forecast.Pool, 0, len(c.Pools)+len(o.Applications))
	c.Pools = append(pools, c.Pools...)
	for i := range o.Applications {
		if x := &o.Applications[i]; x.CaCO3 != 0 {
			c.Pools = append(c.Pools, r.pool(o, x))
		}
	}
	return c
}

// Expect is the course of an option of the answer: the bed's with the option's applications on it.
func (a *Answer) Expect(o *Option) forecast.Course { return a.asked.onWay(&a.Course, o) }

// drift is what moves the bed by itself from year to year, by the field guide: what the request knows of its climate, its crops and
// what it was given.
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
