// Package rounds plans a round of sampling and keeps what was taken on it.
package rounds

import (
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Service keeps the rounds.
type Service struct {
	Store    garden.Store
	BedState bedstate.Service
}

// Reader and Tx are what the store is asked here.
type (
	Reader interface {
		bedstate.Reader
		// SampleBedsOf and CoresOf are those of a round.
		SampleBedsOf(round int64) ([]garden.SampleBed, error)
		CoresOf(round int64) ([]garden.Core, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
