package site

import (
	"sync"
	"time"

	"zephyrfield/agronomy/quantity"
)

// RealClock is the machine's.
type RealClock struct{}

// Now is the moment.
func (RealClock) Now() time.Time { return time.Now() }

// Today is the day on the wall here.
func (RealClock) Today() quantity.Day { return quantity.DayOf(time.Now()) }

// DemoClock is a calendar of its own that stands still until it is moved on: the demo's, or a rehearsal's.
type DemoClock struct {
	mu  sync.Mutex
	day quantity.Day
	// keep keeps the day that it has come to; nil: nobody does.
	keep func(quantity.Day) error
}

// NewDemoClock starts the demo's calendar on a day.
func NewDemoClock(d quantity.Day) *DemoClock { return &DemoClock{day: d} }

// NewRehearsalClock is the calendar of a rehearsal that has come to a day; keep keeps each day that it comes to.
func NewRehearsalClock(d quantity.Day, keep func(quantity.Day) error) *DemoClock {
	return &DemoClock{day: d, keep: keep}
}

// Today is the demo's day.
func (c *DemoClock) Today() quantity.Day {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.day
}

// Now is ten in the morning of the demo's day.
func (c *DemoClock) Now() time.Time { return c.Today().Time().Add(10 * time.Hour) }

// MoveOn moves the calendar on by days and gives the new day; it stays where it is if that cannot be kept.
func (c *DemoClock) MoveOn(days quantity.Day) (quantity.Day, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.keep != nil {
		if err := c.keep(c.day + days); err != nil {
			return c.day, err
		}
	}
	c.day += days
	return c.day, nil
}
