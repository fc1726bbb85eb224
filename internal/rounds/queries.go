// Package rounds plans sampling rounds and records the cores that were taken.
package rounds

import (
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Service plans and records rounds.
type Service struct {
	Store    garden.Store
	BedState bedstate.Service
}

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface {
		bedstate.Reader
		// SampleBedsOf and CoresOf return those of a round.
		SampleBedsOf(round int64) ([]garden.SampleBed, error)
		CoresOf(round int64) ([]garden.Core, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
