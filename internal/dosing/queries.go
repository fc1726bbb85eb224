// Package dosing works doses out and puts them in the year.
package dosing

import (
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Service works at the desk.
type Service struct{ Store garden.Store }

// Reader and Tx are what the store is asked here.
type (
	Reader interface{ bedstate.Reader }
	Tx     interface {
		Reader
		garden.Writer
	}
)
