package web_test

import (
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/ground"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/readings"
	"zephyrfield/internal/walk"
	"zephyrfield/internal/year"
)

// keepers do the work on one garden.
type keepers struct {
	garden.Keeper
	Plots    plots.Keeper
	Desk     desk.Keeper
	Year     year.Keeper
	Readings readings.Keeper
	Walk     walk.Keeper
	Ground   ground.Keeper
}

func keepersOf(s garden.Store) keepers {
	p := plots.Keeper{Store: s}
	return keepers{garden.Keeper{Store: s}, p, desk.Keeper{Store: s}, year.Keeper{Store: s, Plots: p}, readings.Keeper{Store: s},
		walk.Keeper{Store: s, Plots: p}, ground.Keeper{Store: s}}
}
