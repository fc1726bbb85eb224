package calendar

import (
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// sameSeason is how much later than its interval a retest may be put, to
// meet the season of the first reading.
const sameSeason quantity.Day = 182

// What was applied must have acted when a sample is taken: so long after ash, and
// after lime.
const (
	AfterAsh  quantity.Day = 56
	AfterLime quantity.Day = 84
)

// ActsBefore is how long something of a family must have acted before a sample is taken.
func ActsBefore(f material.Family) quantity.Day {
	if f == material.Ash {
		return AfterAsh
	}
	return AfterLime
}

// Testable is the first day from one on, on which what raises pH and was on by then has
// acted enough for a sample.
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

// Rhythm is the id of a method on how often a bed is tested again.
type Rhythm string

// Rhythms.
const (
	Yearly Rhythm = "yearly"
	Twice  Rhythm = "twice"
	Long   Rhythm = "long"
)

// Rhythms lists them, the default first.
var Rhythms = []Rhythm{Yearly, Twice, Long}

// LongMonths is how long after an application the long rhythm waits at least, MostMonths how
// long a bed that is left alone waits at most.
const (
	LongMonths = 24
	MostMonths = 36
)

// Retest is the day on which a test tells what an application did: the material's
// interval after it, moved on to the season of the first reading: yearly where
// that is within half a year, twice to it or to the season across the year,
// long to the first such season two years on. first may be no day.
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

// paceWeeks is how long after what acts slowest a test tells enough for the rest of a dose.
const paceWeeks = 26

// PaceTest is the day of the test that the rest of a dose waits for: 26 weeks after lime of any kind, 12 after ash, 12 warm weeks
// after sulfur, whatever the season.
func PaceTest(m *material.Material, w Weather, last quantity.Day) quantity.Day {
	of := *m
	of.Retest = min(of.Retest, paceWeeks)
	return Retest(&of, w, last, 0, Yearly)
}

// LapseMonths is how long what waits for a test waits, after what was applied last: after that what the reading said holds no more.
const LapseMonths = 24

// seasonAfter is the first day from due on that lies whole steps of months from
// first.
func seasonAfter(first, due quantity.Day, months int) quantity.Day {
	n := max(0, (due.Year()-first.Year()-1)*12/months)
	for first.AddMonths(n*months) < due {
		n++
	}
	return first.AddMonths(n * months)
}

// Look is when a bed that is left alone is tested again: after two years, one on
// sand, three on clay where the long rhythm was chosen.
func Look(t soil.Texture, last quantity.Day, rhythm Rhythm) quantity.Day {
	switch {
	case t == soil.Sand || t == soil.LoamySand:
		return last.AddMonths(12)
	case t == soil.Clay && rhythm == Long:
		return last.AddMonths(MostMonths)
	}
	return last.AddMonths(24)
}

// againWeeks is how long after an application about all of it has acted: lime up to 52 weeks, sulfur again
// at 52.
const againWeeks = 52

// Again is the day of a second test, for ground in which what was applied last still acts though it
// was read already: once about all of it has. No day where it was read later than that, or where
// the long rhythm was chosen.
func Again(last, read quantity.Day, rhythm Rhythm) quantity.Day {
	if again := last.AddWeeks(againWeeks); rhythm != Long && again > read {
		return again
	}
	return 0
}

// Window is a stretch of days that serves a family; Best marks its best part.
type Window struct {
	From, To quantity.Day
	Best     bool
	// Opens is the rule that kept it shut the day before, Closes the one that
	// shuts it the day after; Free where another stretch adjoins or the view ends.
	Opens, Closes Why
}

// Windows finds the stretches between two days in which a family may be applied.
// Best is, for lime, autumn: the soil falling from 15 to 8 °C.
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

// Spring is from where the soil rises past 8 °C to the end of the warmest
// month. Where it is never colder, spring begins with the coldest month's end.
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

// springSoil is where spring begins.
const springSoil quantity.Temperature = 8

// Autumn is the soil falling from 15 to 8 °C.
func (s *Conditions) Autumn(d quantity.Day) bool {
	t := s.Weather.Usual(d)
	return t <= 15 && t >= 8 && s.Weather.Usual(d+7) < t
}
