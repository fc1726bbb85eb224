package store

import (
	"zephyrfield/internal/applications"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/inventory"
	"zephyrfield/internal/layout"
	"zephyrfield/internal/observation"
	"zephyrfield/internal/onboarding"
	"zephyrfield/internal/outlook"
	"zephyrfield/internal/preparation"
	"zephyrfield/internal/readings"
	"zephyrfield/internal/rounds"
	"zephyrfield/internal/schedule"
	"zephyrfield/internal/spreading"
)

// The store implements the queries of every use case. garden.Ask and garden.Do assert that at run
// time; these assertions fail when the test is compiled.
var (
	_ garden.Reader       = reader{}
	_ bedstate.Reader     = reader{}
	_ dosing.Reader       = reader{}
	_ schedule.Reader     = reader{}
	_ applications.Reader = reader{}
	_ readings.Reader     = reader{}
	_ rounds.Reader       = reader{}
	_ layout.Reader       = reader{}
	_ inventory.Reader    = reader{}
	_ spreading.Reader    = reader{}
	_ outlook.Reader      = reader{}
	_ observation.Reader  = reader{}
	_ spreading.Tx        = (*tx)(nil)
	_ preparation.Tx      = (*tx)(nil)
	_ onboarding.Tx       = (*tx)(nil)
	_ observation.Tx      = (*tx)(nil)
	_ dosing.Tx           = (*tx)(nil)
	_ schedule.Tx         = (*tx)(nil)
	_ applications.Tx     = (*tx)(nil)
	_ readings.Tx         = (*tx)(nil)
	_ rounds.Tx           = (*tx)(nil)
	_ layout.Tx           = (*tx)(nil)
	_ inventory.Tx        = (*tx)(nil)
)
