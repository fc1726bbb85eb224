package main

import (
	"context"
	"log/slog"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/layout"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/site"
)

type still struct{ day quantity.Day }

func (s still) Now() time.Time      { return s.day.Time() }
func (s still) Today() quantity.Day { return s.day }

// A station's table is taken in up to today; a simulated one is not, for it measures nothing.
func TestStationSoilTemperaturesAreImported(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	dir := t.TempDir()
	table := filepath.Join(dir, "soil.csv")
	require.NoError(t, os.WriteFile(table, []byte("date,soil_c\n2026-11-23,7.5\n2026-11-24,7.1\n2026-11-26,6\n"), 0o600))
	st, err := store.Open(ctx, filepath.Join(dir, "garden.db"))
	require.NoError(t, err)
	defer func() { _ = st.Close() }()
	k := layout.Service{Store: st}
	cfg := site.Config{Clock: still{quantity.Date(2026, 11, 24)}, Log: slog.New(slog.DiscardHandler), Weather: instrument.FakeWeather{Seed: 1}}
	takeSoil(ctx, k, cfg, time.Hour)
	x, err := k.Soil(ctx)
	require.NoError(t, err)
	require.Empty(t, x.Days)
	cfg.Weather = &instrument.FileWeather{Path: table}
	done := make(chan struct{})
	go func() { takeSoil(ctx, k, cfg, time.Millisecond); close(done) }()
	require.Eventually(t, func() bool { x, err = k.Soil(ctx); return err == nil && len(x.Days) == 2 }, 5*time.Second, 5*time.Millisecond)
	assert.EqualValues(t, 7.1, x.Days[0].Soil)
	// The station writes another day, and it comes in without a word.
	require.NoError(t, os.WriteFile(table, []byte("date,soil_c\n2026-11-22,8\n2026-11-23,7.5\n2026-11-24,7.1\n"), 0o600))
	require.Eventually(t, func() bool { x, err = k.Soil(ctx); return err == nil && len(x.Days) == 3 }, 5*time.Second, 5*time.Millisecond)
	cancel()
	<-done
}
