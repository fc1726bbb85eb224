// Package shelf keeps what is on hand: bags and bins of ash, what came and went of
// them, what is planned from them, and what is to be bought.
package shelf

import "zephyrfield/internal/garden"

// Keeper keeps the shelf.
type Keeper struct{ Store garden.Store }

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
