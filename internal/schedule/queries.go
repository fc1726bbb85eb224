// Package schedule answers what is due on a day and through the year, and changes the plan:
// tasks moved by hand, skipped, and feeds planned for a day to come.
package schedule

import (
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Service answers what is due and changes what is planned.
type Service struct {
	Store    garden.Store
	BedState bedstate.Service
}

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface {
		bedstate.Reader
		// TasksBetween are those due in the stretch, in the order of their days.
		TasksBetween(from, to string) ([]garden.Task, error)
		// SettledSince are those done or skipped from a day on.
		SettledSince(from string) ([]garden.Task, error)
		// SamplesBetween are those taken in the stretch, in the order of their days.
		SamplesBetween(from, to string) ([]garden.Sample, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
