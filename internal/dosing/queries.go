// Package dosing computes the doses of beds from their records and plans them as tasks.
package dosing

import (
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Service computes and plans doses.
type Service struct{ Store garden.Store }

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface{ bedstate.Reader }
	Tx     interface {
		Reader
		garden.Writer
	}
)
