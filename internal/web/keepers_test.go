package web_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/ground"
	"zephyrfield/internal/job"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/readings"
	"zephyrfield/internal/store"
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

// runner runs long work until the test ends.
func runner(t testing.TB, st *store.Store) *job.Runner {
	t.Helper()
	r, err := job.NewRunner(context.Background(), st, time.Now)
	require.NoError(t, err)
	t.Cleanup(r.Stop)
	return r
}
