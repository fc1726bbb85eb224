// Package applications records applications, ticked or logged, and reads their log.
package applications

import (
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
)

// Service records applications and reads the log.
type Service struct{ Store garden.Store }

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface{ bedstate.Reader }
	Tx     interface{ schedule.Tx }
)
