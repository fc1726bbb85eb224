// Package inventory manages bags and bins: what is on hand, what came and went, what is
// planned from them, and what is to be bought.
package inventory

import "zephyrfield/internal/garden"

// Service manages the stock.
type Service struct{ Store garden.Store }

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface {
		garden.Reader
		// Used reports whether a batch was ever put on, planned or moved.
		Used(batch int64) (bool, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
