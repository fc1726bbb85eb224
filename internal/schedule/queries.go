// Package schedule returns what is due on a day and through the year, and changes the plan: moves,
// skips, and feeds planned ahead.
package schedule

import (
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Service reads and changes the plan.
type Service struct {
	Store    garden.Store
	BedState bedstate.Service
}

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface {
		bedstate.Reader
		// TasksBetween returns the tasks due between two days, in order.
		TasksBetween(from, to string) ([]garden.Task, error)
		// DoneBetween returns the tasks done between two days, in order of that day.
		DoneBetween(from, to string) ([]garden.Task, error)
		// SettledSince returns those done or skipped from a day on.
		SettledSince(from string) ([]garden.Task, error)
		// SamplesBetween returns the samples taken between two days, in order.
		SamplesBetween(from, to string) ([]garden.Sample, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
