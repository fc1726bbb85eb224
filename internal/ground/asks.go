// Package ground changes the place, its beds with their crops, the library, and what
// is drawn on the plan.
package ground

import (
	"zephyrfield/internal/garden"
)

// Keeper changes the ground.
type Keeper struct{ Store garden.Store }

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
