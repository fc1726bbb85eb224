// Package layout changes the garden's settings, its beds with their crops, the crop library,
// and the marks on the plan.
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
		// CropUsed is how many plantings call a crop by its code.
		CropUsed(code string) (int, error)
	}
	Tx interface {
		Reader
		garden.Writer
	}
)
