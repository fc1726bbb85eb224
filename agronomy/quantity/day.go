package quantity

import (
	"fmt"
	"time"
)

// Day is a calendar day: no clock, no zone. Its zero value means "no day";
// 1 is 1 January of year 1. Days subtract and compare as numbers.
type Day int32

// dayOne is the Unix day number of 0001-01-01 less one, so that Day 0 stays free.
const dayOne = -719163

const secondsPerDay = 86400

// Date makes a day; month and day overflow as in time.Date.
func Date(year int, month time.Month, day int) Day {
	return DayOf(time.Date(year, month, day, 0, 0, 0, 0, time.UTC))
}

// DayOf gives the calendar day that t shows in its own zone.
func DayOf(t time.Time) Day {
	y, m, d := t.Date()
	return Day(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Unix()/secondsPerDay - dayOne)
}

// ParseDay reads a day as YYYY-MM-DD. A day that does not exist is an error.
func ParseDay(s string) (Day, error) {
	t, err := time.Parse(time.DateOnly, s)
	if err != nil {
		return 0, fmt.Errorf("%q is not a day of the calendar; write it as 2026-11-24", s)
	}
	if t.Year() < 1 {
		return 0, fmt.Errorf("%q is before year 1", s)
	}
	return DayOf(t), nil
}

// Time gives midnight UTC of the day, for formatting.
func (d Day) Time() time.Time {
	return time.Unix((int64(d)+dayOne)*secondsPerDay, 0).UTC()
}

// IsZero tells whether d is no day at all.
func (d Day) IsZero() bool { return d == 0 }

// Year, Month and DayOfMonth take the day apart.
func (d Day) Year() int         { return d.Time().Year() }
func (d Day) Month() time.Month { return d.Time().Month() }
func (d Day) DayOfMonth() int   { return d.Time().Day() }

// YearDay counts from 0 on 1 January.
func (d Day) YearDay() int { return d.Time().YearDay() - 1 }

// AddWeeks moves by whole weeks.
func (d Day) AddWeeks(n int) Day { return d + Day(7*n) }

// AddMonths moves by months; a day past the month's end becomes its last day.
func (d Day) AddMonths(n int) Day {
	y, m, day := d.Time().Date()
	m += time.Month(n)
	last := time.Date(y, m+1, 0, 0, 0, 0, 0, time.UTC)
	return DayOf(last) - Day(max(0, last.Day()-day))
}

// String gives YYYY-MM-DD, or "" for no day.
func (d Day) String() string {
	if d == 0 {
		return ""
	}
	return d.Time().Format(time.DateOnly)
}

// MarshalText and UnmarshalText write and read YYYY-MM-DD; no day is empty.
func (d Day) MarshalText() ([]byte, error) { return []byte(d.String()), nil }

// UnmarshalText is the reverse of MarshalText.
func (d *Day) UnmarshalText(b []byte) error {
	if len(b) == 0 {
		*d = 0
		return nil
	}
	v, err := ParseDay(string(b))
	if err == nil {
		*d = v
	}
	return err
}

// Scan reads a day kept as text; nil is no day.
func (d *Day) Scan(src any) error {
	switch v := src.(type) {
	case nil:
		*d = 0
		return nil
	case string:
		return d.UnmarshalText([]byte(v))
	case []byte:
		return d.UnmarshalText(v)
	default:
		return fmt.Errorf("a day is kept as text, not as %T", src)
	}
}
