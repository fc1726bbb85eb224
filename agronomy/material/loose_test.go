package material_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

func TestPublishedMeasures(t *testing.T) {
	for _, c := range []struct {
		kind material.Kind
		n    float64
		by   material.Measure
		want quantity.Mass
	}{
		{material.HardwoodAsh, 3, material.Handfuls, 180}, {material.CalciticLime, 2, material.Handfuls, 200},
		{material.CalciticLime, 1, material.Buckets, 12_000}, {"pelleted-lime", 1, material.Buckets, 10_000},
		{material.SulfurPowder, 1, material.Cups, 144}, {"gypsum", 2, material.Litres, 1800},
		{material.HardwoodAsh, 1, material.HandfulsM2, 600}, {material.CalciticLime, 250, material.GramsM2, 2500},
		{material.Manure, 3, material.Barrows, 168_000},
	} {
		m := find(t, c.kind)
		g, ok := m.Weigh(c.n, c.by, 10)
		require.True(t, ok)
		assert.InDelta(t, float64(c.want), float64(g), 1e-6, "%v %s of %s", c.n, c.by, c.kind)
	}
	for _, m := range material.Table {
		l := m.Loose()
		assert.Greater(t, l.Litre, quantity.Mass(0), m.Kind)
		assert.Less(t, l.Handful, l.Litre/3, "a handful is far less than a litre: %s", m.Kind)
		_, ok := m.Weigh(1, "sacks", 10)
		assert.False(t, ok)
	}
	assert.Len(t, material.Measures, 7)
}
