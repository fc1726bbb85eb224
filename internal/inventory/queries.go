// Package inventory manages bags and bins: stock, movements, planned use, and purchases.
package inventory

import "zephyrfield/internal/garden"

// Service manages the stock.
type Service struct{ Store garden.Store }

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface {
		garden.Reader
		// Used reports whether a batch was ever applied, planned or moved.
		Used(batch int64) (bool, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
