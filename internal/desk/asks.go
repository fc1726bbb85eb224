// Package desk works doses out and puts them in the year.
package desk

import (
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
)

// Keeper works at the desk.
type Keeper struct{ Store garden.Store }

// Reader and Tx are what the store is asked here.
type (
	Reader interface{ plots.Reader }
	Tx     interface {
		Reader
		garden.Writer
	}
)
