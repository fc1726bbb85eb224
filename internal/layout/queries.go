// Package layout changes the garden's settings, beds, crops, crop library, and marks on the plan.
package layout

import (
	"zephyrfield/internal/garden"
)

// Service changes the layout of the garden.
type Service struct{ Store garden.Store }

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface {
		garden.Reader
		// CropUsed returns the number of plantings of a crop.
		CropUsed(code string) (int, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
