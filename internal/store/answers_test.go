package store

import (
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/ground"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/readings"
	"zephyrfield/internal/shelf"
	"zephyrfield/internal/walk"
	"zephyrfield/internal/year"
)

// The store answers what each piece of work asks: garden.Ask and garden.Do find out
// only when they are asked, this when it is built.
var (
	_ garden.Reader   = reader{}
	_ plots.Reader    = reader{}
	_ desk.Reader     = reader{}
	_ year.Reader     = reader{}
	_ readings.Reader = reader{}
	_ walk.Reader     = reader{}
	_ ground.Reader   = reader{}
	_ shelf.Reader    = reader{}
	_ desk.Tx         = (*tx)(nil)
	_ year.Tx         = (*tx)(nil)
	_ readings.Tx     = (*tx)(nil)
	_ walk.Tx         = (*tx)(nil)
	_ ground.Tx       = (*tx)(nil)
	_ shelf.Tx        = (*tx)(nil)
)
