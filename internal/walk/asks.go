// Package walk plans a round of sampling and keeps what was taken on it.
package walk

import (
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
)

// Keeper keeps the rounds.
type Keeper struct {
	Store garden.Store
	Plots plots.Keeper
}

// Reader and Tx are what the store is asked here.
type (
	Reader interface {
		plots.Reader
		// SampleBedsOf and CoresOf are those of a round.
		SampleBedsOf(round int64) ([]garden.SampleBed, error)
		CoresOf(round int64) ([]garden.Core, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
