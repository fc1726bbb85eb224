package dose

import (
	"math"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Outlook is a bed on its way from its reading, by the very course that a dose
// for it is reckoned on: what was put on, and what is planned.
type Outlook struct {
	forecast.Course
	// stone is the fineness weight of the limestone that the school is printed in.
	stone float64
}

// Expect gives the course of the bed of a request. ok is false where nothing can
// be said: no figure, or a school whose data are missing.
func Expect(r Request) (o Outlook, ok bool) {
	if r.check() != nil {
		return o, false
	}
	s := begin(&r)
	if s.PH == 0 || s.chooseSchool() != nil {
		return o, false
	}
	s.atWork(&Answer{})
	return Outlook{s.course, s.buffer.Stone}, true
}

// Moves is the course on a day; ok is false where next to nothing is at work by
// then.
func (o *Outlook) Moves(day quantity.Day) (s forecast.Stand, ok bool) {
	s = o.On(day)
	return s, math.Abs(float64(s.Put)) >= leastCredit
}

// Add puts something planned on the course.
func (o *Outlook) Add(b *material.Batch, day quantity.Day, rate quantity.Rate) {
	if w := b.WorthBeside(o.stone); w.EffectiveCCE != 0 {
		o.Pools = append(o.Pools, forecast.Pool{Date: day, CaCO3: quantity.Rate(float64(rate) * w.EffectiveCCE), Reacts: b.Speed()})
	}
}

// Expect is the course of an option of the answer: the bed's with the option's goes
// on it.
func (a *Answer) Expect(o *Option) Outlook {
	out := Outlook{a.Course, a.Buffering.Stone}
	out.Pools = append([]forecast.Pool(nil), a.Course.Pools...)
	for i := range o.Goes {
		if g := &o.Goes[i]; g.CaCO3 != 0 {
			out.Pools = append(out.Pools, o.pool(g))
		}
	}
	return out
}
