package store

import (
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/inventory"
	"zephyrfield/internal/layout"
	"zephyrfield/internal/readings"
	"zephyrfield/internal/rounds"
	"zephyrfield/internal/schedule"
)

// The store answers what each piece of work asks: garden.Ask and garden.Do find out
// only when they are asked, this when it is built.
var (
	_ garden.Reader    = reader{}
	_ bedstate.Reader  = reader{}
	_ dosing.Reader    = reader{}
	_ schedule.Reader  = reader{}
	_ readings.Reader  = reader{}
	_ rounds.Reader    = reader{}
	_ layout.Reader    = reader{}
	_ inventory.Reader = reader{}
	_ dosing.Tx        = (*tx)(nil)
	_ schedule.Tx      = (*tx)(nil)
	_ readings.Tx      = (*tx)(nil)
	_ rounds.Tx        = (*tx)(nil)
	_ layout.Tx        = (*tx)(nil)
	_ inventory.Tx     = (*tx)(nil)
)
