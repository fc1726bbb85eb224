// Package schedule is the work of a day and the year around it: what is to be put on,
// ticking it, and what went on besides.
package schedule

import (
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Service keeps the year.
type Service struct {
	Store    garden.Store
	BedState bedstate.Service
}

// Reader and Tx are what the store is asked here.
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
