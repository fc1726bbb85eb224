// Package applications records what was applied beds: ticked tasks and what was noted besides
// them, with the log of all of it.
package applications

import (
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
)

// Service records applications and reads the log of them.
type Service struct{ Store garden.Store }

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface{ bedstate.Reader }
	Tx     interface{ schedule.Tx }
)
