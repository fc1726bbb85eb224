// Package year is the work of a day and the year around it: what is to be put on,
// ticking it, and what went on besides.
package year

import (
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
)

// Keeper keeps the year.
type Keeper struct {
	Store garden.Store
	Plots plots.Keeper
}

// Reader and Tx are what the store is asked here.
type (
	Reader interface {
		plots.Reader
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
