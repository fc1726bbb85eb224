package forecast_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// layered returns a bed that was read in two layers, limed, and read again.
func layered(t *testing.T, worked soil.Worked, top, below quantity.PH) forecast.Record {
	t.Helper()
	r := recorded(t)
	r.Ground.Worked, r.Ground.Depth = worked, 0.10
	first := r.Day - 800
	read := func(day quantity.Day, a, b quantity.PH) soil.Reading {
		return soil.Reading{Date: day, PH: (a + b) / 2, Method: soil.Lab, Cores: 12,
			Layers: []soil.Layer{{From: 0, To: 0.05, PH: a}, {From: 0.05, To: 0.10, PH: b}}}
	}
	r.Readings = []soil.Reading{read(first, 5.6, 5.6), read(r.Day-20, top, below)}
	r.Applied = []forecast.Application{putOn(t, material.CalciticLime, first+10, 150)}
	return r
}

// Not dug, lime moves the top 5 cm and leaves what is below; dug, it goes to each by its thickness.
func TestLayersShareApplications(t *testing.T) {
	for worked, want := range map[soil.Worked][2]float64{soil.Surface: {150 * 0.97, 0}, soil.Dug: {75 * 0.97, 75 * 0.97}} {
		r := layered(t, worked, 6.4, 5.6)
		layers, beds, err := r.Layers(soil.ByTable, false)
		require.NoError(t, err)
		require.Len(t, layers, 2)
		whole, err := r.Method(soil.ByTable)
		require.NoError(t, err)
		all := r.Model(whole, false)
		for i := range beds {
			assert.InDelta(t, want[i], beds[i].Additions[0].CaCO3, 4, worked)
			assert.InDelta(t, all.Drift/2, beds[i].Drift, 1e-9)
			assert.InDelta(t, float64(whole.Raise.Need(5.5, 6.5))/2, float64(beds[i].Curve.Need(5.5, 6.5)), 1e-6)
		}
	}
	r := layered(t, soil.Surface, 6.4, 5.6)
	_, beds, err := r.Layers(soil.ByTable, false)
	require.NoError(t, err)
	run := forecast.RunLayers(beds, r.Day.AddMonths(12))
	end := r.Day.AddMonths(12)
	assert.InDelta(t, 6.4, forecast.On(run[0].PH, end).Median, 0.2)
	assert.InDelta(t, 5.55, forecast.On(run[1].PH, end).Median, 0.15)
}

// Layers share the buffering that the ground has shown: a top that lime hardly moved makes the layer below hard to shift too.
func TestLayersShareBuffering(t *testing.T) {
	r := layered(t, soil.Surface, 5.75, 5.6)
	_, beds, err := r.Layers(soil.ByTable, false)
	require.NoError(t, err)
	run := forecast.RunLayers(beds, r.Day)
	assert.Greater(t, run[0].Learned.Buffering.Median, 1.15)
	assert.InDelta(t, run[0].Learned.Buffering.Median, run[1].Learned.Buffering.Median, 0.02)
	alone := forecast.Learn(&beds[1])
	assert.Less(t, alone.Buffering.Median, run[1].Learned.Buffering.Median-0.05, "by itself it says less")
}

// Readings of other layers are no series, and a bed without layers has none.
func TestDifferentLayersAreNoSeries(t *testing.T) {
	r := layered(t, soil.Dug, 6, 6)
	r.Readings[1].Layers = []soil.Layer{{From: 0, To: 0.03, PH: 6}, {From: 0.03, To: 0.10, PH: 6}}
	layers, _, err := r.Layers(soil.ByTable, false)
	require.NoError(t, err)
	assert.Empty(t, layers)
	plain := recorded(t)
	layers, _, err = plain.Layers(soil.ByTable, false)
	require.NoError(t, err)
	assert.Empty(t, layers)
}
