package site

import (
	"sync"
	"time"

	"zephyrfield/agronomy/quantity"
)

// RealClock is the machine's clock.
type RealClock struct{}

// Now implements Clock.
func (RealClock) Now() time.Time { return time.Now() }

// Today returns the local calendar day.
func (RealClock) Today() quantity.Day { return quantity.DayOf(time.Now()) }

// DemoClock is the clock of the demo or of a rehearsal: its day changes only by MoveOn.
type DemoClock struct {
	mu  sync.Mutex
	day quantity.Day
	// keep stores the day; may be nil.
	keep func(quantity.Day) error
}

// NewDemoClock starts the demo's clock on a day.
func NewDemoClock(d quantity.Day) *DemoClock { return &DemoClock{day: d} }

// NewRehearsalClock continues a rehearsal's clock on a day; keep stores each new day.
func NewRehearsalClock(d quantity.Day, keep func(quantity.Day) error) *DemoClock {
	return &DemoClock{day: d, keep: keep}
}

// Today implements Clock.
func (c *DemoClock) Today() quantity.Day {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.day
}

// Now is ten in the morning of its day.
func (c *DemoClock) Now() time.Time { return c.Today().Time().Add(10 * time.Hour) }

// MoveOn advances the clock by days and returns the new day; it stays where it is when the day cannot be stored.
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
