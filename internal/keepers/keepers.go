// Package keepers puts those together who do the work on one garden.
package keepers

import (
	"zephyrfield/internal/begin"
	"zephyrfield/internal/bucket"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/ground"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/readings"
	"zephyrfield/internal/seasons"
	"zephyrfield/internal/seen"
	"zephyrfield/internal/shelf"
	"zephyrfield/internal/turning"
	"zephyrfield/internal/walk"
	"zephyrfield/internal/year"
)

// All do the work on one garden.
type All struct {
	garden.Keeper
	Plots    plots.Keeper
	Desk     desk.Keeper
	Year     year.Keeper
	Readings readings.Keeper
	Walk     walk.Keeper
	Ground   ground.Keeper
	Shelf    shelf.Keeper
	Bucket   bucket.Keeper
	Turning  turning.Keeper
	Seasons  seasons.Keeper
	Begin    begin.Keeper
	Seen     seen.Keeper
}

// Of gives the keepers of a garden.
func Of(s garden.Store) All {
	p := plots.Keeper{Store: s}
	return All{garden.Keeper{Store: s}, p, desk.Keeper{Store: s},
		year.Keeper{Store: s, Plots: p}, readings.Keeper{Store: s}, walk.Keeper{Store: s, Plots: p}, ground.Keeper{Store: s},
		shelf.Keeper{Store: s}, bucket.Keeper{Store: s}, turning.Keeper{Store: s}, seasons.Keeper{Store: s, Work: &seasons.Work{Store: s}},
		begin.Keeper{Store: s}, seen.Keeper{Store: s}}
}
