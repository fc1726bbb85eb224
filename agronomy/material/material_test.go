package material_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

func find(t *testing.T, k material.Kind) material.Material {
	t.Helper()
	m, ok := material.Find(k)
	require.True(t, ok, k)
	return m
}

func pct(p quantity.Percent) *quantity.Percent { return &p }

func TestTheTableHoldsTogether(t *testing.T) {
	seen := map[material.Kind]bool{}
	for _, m := range material.Table {
		assert.False(t, seen[m.Kind], m.Kind)
		seen[m.Kind] = true
		assert.NotEmpty(t, m.Name)
		assert.False(t, m.Raises() && m.Lowers(), m.Kind)
		for _, r := range []material.Range{m.CCE, m.Purity, m.K2O} {
			assert.True(t, r.Low <= r.Typical && r.Typical <= r.High, "%s: %v", m.Kind, r)
		}
		if material.Dosed(m.Family) {
			assert.True(t, m.Raises() || m.Lowers() || m.Family == material.Potash, m.Kind)
			if m.Family != material.Potash {
				assert.Positive(t, m.Retest, m.Kind)
				assert.Positive(t, m.Reacts.HalfLife, m.Kind)
			}
		}
	}
	assert.Len(t, material.Table, 24)
}

func TestWorth(t *testing.T) {
	ash := material.Batch{Material: find(t, material.HardwoodAsh), Condition: material.Dry}
	w := ash.Worth()
	assert.InDelta(t, 0.50, w.Strength, 1e-12)
	assert.InDelta(t, 0.05, w.K2O, 1e-12)
	assert.True(t, w.Typical)
	ash.Condition = material.Wet
	wet := ash.Worth()
	assert.InDelta(t, 0.50*0.85, wet.Strength, 1e-12)
	assert.InDelta(t, 0.05*0.3, wet.K2O, 1e-12)
	assert.InDelta(t, 2*w.RelativeSD, wet.RelativeSD, 1e-12)
	ash.Condition, ash.Measured, ash.Potash = material.Dry, pct(44), pct(6)
	assert.InDelta(t, 0.44, ash.Worth().Strength, 1e-12)
	assert.InDelta(t, 0.15, ash.Worth().RelativeSD, 1e-12)
	assert.InDelta(t, 0.06, ash.Worth().K2O, 1e-12)
	bag := material.Batch{Material: find(t, material.CalciticLime), Measured: pct(97), Effective: pct(80)}
	assert.InDelta(t, 0.80, bag.Worth().Strength, 1e-12, "a label's effective figure is taken as it is")
	sulfur := material.Batch{Material: find(t, material.SulfurPowder)}
	assert.InDelta(t, -3.12*0.95, sulfur.Worth().Strength, 1e-12)
	assert.Zero(t, material.Batch{Material: find(t, "gypsum")}.Worth().Strength)
}

func TestCapsOfTheTable(t *testing.T) {
	loam, _ := soil.FindTexture(soil.Loam)
	clay, _ := soil.FindTexture(soil.Clay)
	ground := func(use soil.Use, worked soil.Worked, texture soil.TextureClass) soil.Ground {
		return soil.Ground{Use: use, Worked: worked, Texture: texture}
	}
	for _, c := range []struct {
		family material.Family
		ground soil.Ground
		want   material.Caps
	}{
		{material.Lime, ground(soil.UseBed, soil.Dug, loam), material.Caps{Go: 500, Year: 1000, Weeks: 12}},
		{material.Lime, ground(soil.UseBed, soil.Surface, loam), material.Caps{Go: 250, Year: 500, Weeks: 26}},
		{material.Lime, ground(soil.UseLawn, soil.Surface, loam), material.Caps{Go: 250, Year: 500, Weeks: 26}},
		{material.HydratedLime, ground(soil.UseBed, soil.Dug, loam), material.Caps{Go: 150, Year: 150, Weeks: 26}},
		{material.Ash, ground(soil.UseBed, soil.Dug, loam), material.Caps{Go: 250, Year: 500, Weeks: 8}},
		{material.Ash, ground(soil.UseTree, soil.Established, loam), material.Caps{Go: 125, Year: 500, Weeks: 12}},
		{material.Ash, ground(soil.UseLawn, soil.Surface, loam), material.Caps{Go: 50, Year: 100, Weeks: 12}},
		{material.Sulfur, ground(soil.UseBed, soil.Dug, loam), material.Caps{Go: 100, Year: 150, Weeks: 12}},
		{material.Sulfur, ground(soil.UseBed, soil.Dug, clay), material.Caps{Go: 100, Year: 200, Weeks: 12}},
		{material.Sulfur, ground(soil.UseBed, soil.Surface, clay), material.Caps{Go: 50, Year: 75, Weeks: 26}},
		{material.Sulfur, ground(soil.UseLawn, soil.Surface, loam), material.Caps{Go: 25, Year: 50, Weeks: 26}},
	} {
		got, ok := material.CapsFor(c.family, c.ground)
		assert.True(t, ok)
		assert.Equal(t, c.want, got, "%s on %s, %s", c.family, c.ground.Use, c.ground.Worked)
	}
	caps, _ := material.CapsFor(material.HydratedLime, ground(soil.UseBed, soil.Surface, loam))
	assert.False(t, caps.Offered())
	_, ok := material.CapsFor(material.Inert, ground(soil.UseBed, soil.Dug, loam))
	assert.False(t, ok)
}

func ExampleBatch_Worth() {
	ash, _ := material.Find(material.HardwoodAsh)
	w := material.Batch{Material: ash, Condition: material.Wet}.Worth()
	fmt.Printf("%.3f g of lime and %.3f g of potash a gram\n", w.Strength, w.K2O)
	// Output: 0.425 g of lime and 0.015 g of potash a gram
}
