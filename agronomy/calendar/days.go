package calendar

import (
	"slices"
	"time"

	"zephyrfield/agronomy/quantity"
)

// Stretch is a range of days, both ends included.
type Stretch struct {
	From quantity.Day `json:"from"`
	To   quantity.Day `json:"to"`
}

// Holds reports whether a day lies in the stretch.
func (x Stretch) Holds(d quantity.Day) bool { return d >= x.From && d <= x.To }

// Days are the gardener's working days. The zero value is all days.
type Days struct {
	// Week marks weekdays, Sunday first; none marked is all.
	Week [7]bool
	// Away are stretches without work.
	Away []Stretch
}

// Every reports whether all days are working days.
func (x *Days) Every() bool { return x.Week == [7]bool{} && len(x.Away) == 0 }

// Free reports whether the gardener works on a day.
func (x *Days) Free(d quantity.Day) bool {
	if x.Week != [7]bool{} && !x.Week[Weekday(d)] {
		return false
	}
	return !slices.ContainsFunc(x.Away, func(s Stretch) bool { return s.Holds(d) })
}

// Weekday returns a day's weekday. Day 1, 1 January of year 1, was a Monday.
func Weekday(d quantity.Day) time.Weekday { return time.Weekday((int(d)%7 + 7) % 7) }
