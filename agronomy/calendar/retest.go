package calendar

import (
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// sameSeason is the most that a retest is delayed to match the season of the first reading.
const sameSeason quantity.Day = 182

// How long ash and lime must have acted before a sample is taken.
const (
	AfterAsh  quantity.Day = 56
	AfterLime quantity.Day = 84
)

// ActsBefore returns how long a family must have acted before a sample is taken.
func ActsBefore(f material.Family) quantity.Day {
	if f == material.Ash {
		return AfterAsh
	}
	return AfterLime
}

// Testable returns the first day from d on, on which every liming material applied by then has
// acted long enough for a sample.
func Testable(l ledger.Ledger, d quantity.Day) quantity.Day {
	for again := true; again; {
		again = false
		for i := range l {
			a := &l[i]
			wait := ActsBefore(a.Material.Family)
			if a.Rate > 0 && a.Material.Raises() && a.Date <= d && d < a.Date+wait {
				d, again = a.Date+wait, true
			}
		}
	}
	return d
}

// Rhythm is the id of a method for the interval of tests.
type Rhythm string

// Rhythms.
const (
	Yearly Rhythm = "yearly"
	Twice  Rhythm = "twice"
	Long   Rhythm = "long"
)

// Rhythms lists them, the default first.
var Rhythms = []Rhythm{Yearly, Twice, Long}

// LongMonths is the least interval from an application under the long rhythm, MostMonths the
// longest interval of a bed that is left alone.
const (
	LongMonths = 24
	MostMonths = 36
)

// Retest returns the day of the retest after an application: the material's interval, moved on to
// the season of the first reading: yearly if that is within half a year, twice to it or to the
// season opposite, long to the first such season after two years. first may be 0.
func Retest(m *material.Material, w Weather, last, first quantity.Day, rhythm Rhythm) quantity.Day {
	due := last.AddWeeks(m.Retest)
	if m.WarmWeeks {
		due = last
		for warm := 0; warm < 7*m.Retest && due < last+2*yearDays; due++ {
			if soil.Warm(w.At(due)) {
				warm++
			}
		}
	}
	if first == 0 {
		return due
	}
	switch rhythm {
	case Twice:
		return seasonAfter(first, due, 6)
	case Long:
		return seasonAfter(first, max(due, last.AddMonths(LongMonths)), 12)
	}
	if again := seasonAfter(first, due, 12); again-due <= sameSeason {
		return again
	}
	return due
}

// paceWeeks is after how many weeks a test of a slow material tells enough for the rest of a dose.
const paceWeeks = 26

// PaceTest returns the day of the test that the rest of a dose waits for: 26 weeks after any lime,
// 12 after ash, 12 warm weeks after sulfur, in any season.
func PaceTest(m *material.Material, w Weather, last quantity.Day) quantity.Day {
	of := *m
	of.Retest = min(of.Retest, paceWeeks)
	return Retest(&of, w, last, 0, Yearly)
}

// LapseMonths is how long after the last application the rest of a dose waits for a test; then its
// reading is out of date.
const LapseMonths = 24

// seasonAfter returns the first day from due on that is a whole multiple of a step of months from
// first.
func seasonAfter(first, due quantity.Day, months int) quantity.Day {
	n := max(0, (due.Year()-first.Year()-1)*12/months)
	for first.AddMonths(n*months) < due {
		n++
	}
	return first.AddMonths(n * months)
}

// Look returns the next test of a bed that is left alone: after two years, on sand one, on clay
// three under the long rhythm.
func Look(t soil.Texture, last quantity.Day, rhythm Rhythm) quantity.Day {
	switch {
	case t == soil.Sand || t == soil.LoamySand:
		return last.AddMonths(12)
	case t == soil.Clay && rhythm == Long:
		return last.AddMonths(MostMonths)
	}
	return last.AddMonths(24)
}

// againWeeks is when about all of an application has acted: lime up to 52 weeks, sulfur checked
// again at 52.
const againWeeks = 52

// Again returns the day of a second test, for ground read while the last application was still
// acting: once about all of it has. 0 when it was read later than that, or under the long rhythm.
func Again(last, read quantity.Day, rhythm Rhythm) quantity.Day {
	if again := last.AddWeeks(againWeeks); rhythm != Long && again > read {
		return again
	}
	return 0
}

// Window is a range of days that serves a family; Best marks its best part.
type Window struct {
	From, To quantity.Day
	Best     bool
	// Opens is the rule that blocked the day before, Closes the one that blocks the day after; Free
	// where another window adjoins or the view ends.
	Opens, Closes Why
}

// Windows returns the windows of a family between two days. Best is, for lime, autumn: soil falling
// from 15 to 8 °C.
func (s *Conditions) Windows(f material.Family, from, to quantity.Day) []Window {
	var out []Window
	rules := rulesOf[f]
	for d := from; d <= to; d++ {
		if s.blocked(rules, d) != Free {
			continue
		}
		best := has(limes, f) && s.Autumn(d)
		if n := len(out) - 1; n >= 0 && out[n].To == d-1 && out[n].Best == best {
			out[n].To = d
			continue
		}
		out = append(out, Window{From: d, To: d, Best: best})
	}
	return out
}

// Spring reports whether a day is in spring: from the soil rising past 8 °C to the end of the
// warmest month. Where it is never colder, spring begins at the end of the coldest month.
func (s *Conditions) Spring(d quantity.Day) bool {
	warmest, coldest := 0, 0
	usual := s.Weather.Months()
	for m, t := range usual {
		if t > usual[warmest] {
			warmest = m
		}
		if t < usual[coldest] {
			coldest = m
		}
	}
	t := d.Time()
	month := int(t.Month()) - 1
	span := (warmest - coldest + 12) % 12
	at := (month - coldest + 12) % 12
	return at > 0 && at <= span && s.Weather.At(d) >= springSoil
}

// springSoil is the temperature at which spring begins.
const springSoil quantity.Temperature = 8

// Autumn reports whether the soil is falling from 15 to 8 °C.
func (s *Conditions) Autumn(d quantity.Day) bool {
	t := s.Weather.Usual(d)
	return t <= 15 && t >= 8 && s.Weather.Usual(d+7) < t
}
