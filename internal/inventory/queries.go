// Package inventory keeps what is on hand: bags and bins of ash, what came and went of
// them, what is planned from them, and what is to be bought.
package inventory

import "zephyrfield/internal/garden"

// Service keeps the shelf.
type Service struct{ Store garden.Store }

// Reader and Tx are what the store is asked here.
type (
	Reader interface {
		garden.Reader
		// Used tells whether a batch was ever put on, planned or moved.
		Used(batch int64) (bool, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
