// Package layout changes the place, its beds with their crops, the library, and what
// is drawn on the plan.
package layout

import (
	"zephyrfield/internal/garden"
)

// Service changes the ground.
type Service struct{ Store garden.Store }

// Reader and Tx are what the store is asked here.
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
