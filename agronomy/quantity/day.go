package quantity

import (
	"fmt"
	"time"
)

// Day is a calendar day without clock or time zone. The zero value means "no day"; 1 is 1 January
// of year 1. Days subtract and compare as numbers.
type Day int32

// dayOne is the Unix day number of 0001-01-01 less one, so that Day 0 stays free.
const dayOne = -719163

const secondsPerDay = 86400

// Date makes a day; month and day overflow as in time.Date.
func Date(year int, month time.Month, day int) Day {
	return DayOf(time.Date(year, month, day, 0, 0, 0, 0, time.UTC))
}

// DayOf returns the calendar day that t shows in its own zone.
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

// Time returns midnight UTC of the day, for formatting.
func (d Day) Time() time.Time {
	return time.Unix((int64(d)+dayOne)*secondsPerDay, 0).UTC()
}

// IsZero reports whether d is unset.
func (d Day) IsZero() bool { return d == 0 }

// Year, Month and DayOfMonth return the parts of the date.
func (d Day) Year() int         { return d.Time().Year() }
func (d Day) Month() time.Month { return d.Time().Month() }
func (d Day) DayOfMonth() int   { return d.Time().Day() }

// YearDay counts from 0 on 1 January.
func (d Day) YearDay() int { return d.Time().YearDay() - 1 }

// AddWeeks returns the day n weeks later.
func (d Day) AddWeeks(n int) Day { return d + Day(7*n) }

// AddMonths returns the day n months later; a day past the end of that month becomes its last day.
func (d Day) AddMonths(n int) Day {
	y, m, day := d.Time().Date()
	at := y*12 + int(m) - 1 + n
	y, m = at/12, time.Month(at%12+1)
	return firstOf(y, m) + Day(min(day, daysIn(y, m))-1)
}

// daysIn returns how many days a month has.
func daysIn(year int, m time.Month) int {
	switch m {
	case time.April, time.June, time.September, time.November:
		return 30
	case time.February:
		if year%4 == 0 && (year%100 != 0 || year%400 == 0) {
			return 29
		}
		return 28
	}
	return 31
}

// beforeMonth is the number of days of a common year before each month.
var beforeMonth = [13]int{0, 0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334}

// firstOf returns the first day of a month, by the Gregorian rule from year 1 on.
func firstOf(year int, m time.Month) Day {
	p := year - 1
	days := p*365 + p/4 - p/100 + p/400 + beforeMonth[m]
	if m > time.February && daysIn(year, time.February) == 29 {
		days++
	}
	return Day(days + 1)
}

// String returns YYYY-MM-DD, or "" for no day.
func (d Day) String() string {
	if d == 0 {
		return ""
	}
	return d.Time().Format(time.DateOnly)
}

// MarshalText writes YYYY-MM-DD, and "" for the zero day.
func (d Day) MarshalText() ([]byte, error) { return []byte(d.String()), nil }

// UnmarshalText returns the reverse of MarshalText.
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

// Scan reads a day stored as text; NULL is the zero day.
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
		return fmt.Errorf("cannot scan %T into a day", src)
	}
}
