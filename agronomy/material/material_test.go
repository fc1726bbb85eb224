package material_test

import (
	"fmt"
	"math"
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

func TestTableIsConsistent(t *testing.T) {
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
			assert.True(t, m.MovesPH() || m.K2O.Typical > 0, m.Kind)
			assert.Positive(t, m.Retest, m.Kind)
			if m.MovesPH() {
				assert.Positive(t, m.Reacts.HalfLife, m.Kind)
			}
		}
	}
}

func TestWorth(t *testing.T) {
	ash := material.Batch{Material: find(t, material.HardwoodAsh), Condition: material.Dry}
	w := ash.Worth()
	assert.InDelta(t, 0.50, w.EffectiveCCE, 1e-12)
	assert.InDelta(t, 0.05, w.K2O, 1e-12)
	assert.True(t, w.Typical)
	ash.Condition = material.Wet
	wet := ash.Worth()
	assert.InDelta(t, 0.50*0.85, wet.EffectiveCCE, 1e-12)
	assert.InDelta(t, 0.05*0.3, wet.K2O, 1e-12)
	assert.InDelta(t, 2*w.LogSD, wet.LogSD, 1e-12)
	ash.Condition, ash.Measured, ash.Potash = material.Dry, pct(44), pct(6)
	assert.InDelta(t, 0.44, ash.Worth().EffectiveCCE, 1e-12)
	assert.InDelta(t, 0.15, ash.Worth().LogSD, 1e-12)
	assert.InDelta(t, 0.06, ash.Worth().K2O, 1e-12)
	bag := material.Batch{Material: find(t, material.CalciticLime), Measured: pct(97), Effective: pct(80)}
	assert.InDelta(t, 0.80, bag.Worth().EffectiveCCE, 1e-12, "a label’s effective figure is taken as it is")
	sulfur := material.Batch{Material: find(t, material.SulfurPowder)}
	assert.InDelta(t, -3.12*0.95, sulfur.Worth().EffectiveCCE, 1e-12)
	gypsum := material.Batch{Material: find(t, "gypsum")}
	assert.Zero(t, gypsum.Worth().EffectiveCCE)
	// The doubts: bought, tested, usual of its kind.
	assert.InDelta(t, 0.05, bag.Worth().LogSD, 1e-12)
	assert.InDelta(t, 0.30, w.LogSD, 1e-12)
}

func TestFinenessRelativeToTableStone(t *testing.T) {
	lime := material.Batch{Material: find(t, material.CalciticLime), Measured: pct(100)}
	// 0.25 × 0.2 + 0.25 × 0.6 + 0.5 = 0.70
	lime.Fineness = &[4]quantity.Percent{0, 25, 25, 50}
	assert.InDelta(t, 0.70, lime.Worth().EffectiveCCE, 1e-12, "beside pure lime by its own weight")
	assert.InDelta(t, 0.70/0.80, lime.WorthBeside(0.80).EffectiveCCE, 1e-12, "beside the table’s stone")
	lime.Fineness = &[4]quantity.Percent{0, 25, 25, 50}
	lime.Fineness = &[4]quantity.Percent{0, 0, 50, 50}
	assert.InDelta(t, 1, lime.WorthBeside(0.80).EffectiveCCE, 1e-12, "the table’s own stone, or finer, counts whole")
	shell := material.Batch{Material: find(t, material.ShellMeal), Crushed: true}
	assert.InDelta(t, 0.35, shell.Fine(), 1e-12)
	assert.InDelta(t, 0.92*0.35, shell.Worth().EffectiveCCE, 1e-12)
	shell.Crushed = false
	assert.InDelta(t, 0.92, shell.Worth().EffectiveCCE, 1e-12)
	assert.Greater(t, (&material.Batch{Material: shell.Material, Crushed: true}).Speed().HalfLife, shell.Speed().HalfLife)
}

func TestSpeedFollowsQ10(t *testing.T) {
	lime, sulfur := find(t, material.CalciticLime).Reacts, find(t, material.SulfurPowder).Reacts
	for _, c := range []struct {
		r    material.Reaction
		at   quantity.Temperature
		want float64
	}{{lime, 15, 1}, {lime, 5, 1 / 1.5}, {lime, 9.1, math.Pow(1.5, -0.59)}, {sulfur, 25, 1}, {sulfur, 15, 1.0 / 3}, {sulfur, 4.9,
		0}, {lime, -90, 0}} {
		assert.InDelta(t, c.want, c.r.RateAt(c.at), 2e-5, "%v", c.at)
	}
}

func TestCaps(t *testing.T) {
	loam, _ := soil.FindTexture(soil.Loam)
	clay, _ := soil.FindTexture(soil.Clay)
	sand, _ := soil.FindTexture(soil.Sand)
	loamySand, _ := soil.FindTexture(soil.LoamySand)
	ground := func(use soil.Use, worked soil.Worked, texture soil.TextureClass) soil.Ground {
		return soil.Ground{Use: use, Worked: worked, Texture: texture}
	}
	for _, c := range []struct {
		family material.Family
		ground soil.Ground
		want   material.Caps
	}{
		{material.Lime, ground(soil.UseBed, soil.Dug, loam), material.Caps{Once: 500, Year: 1000, Weeks: 12}},
		{material.Lime, ground(soil.UseBed, soil.Surface, loam), material.Caps{Once: 250, Year: 500, Weeks: 26}},
		{material.Lime, ground(soil.UseLawn, soil.Surface, loam), material.Caps{Once: 250, Year: 500, Weeks: 26}},
		{material.HydratedLime, ground(soil.UseBed, soil.Dug, loam), material.Caps{Once: 150, Year: 150, Weeks: 26}},
		{material.Ash, ground(soil.UseBed, soil.Dug, loam), material.Caps{Once: 250, Year: 500, Weeks: 8}},
		{material.Ash, ground(soil.UseTree, soil.Established, loam), material.Caps{Once: 125, Year: 500, Weeks: 12}},
		{material.Ash, ground(soil.UseLawn, soil.Surface, loam), material.Caps{Once: 50, Year: 100, Weeks: 12}},
		{material.Sulfur, ground(soil.UseBed, soil.Dug, loam), material.Caps{Once: 100, Year: 150, Weeks: 12}},
		{material.Sulfur, ground(soil.UseBed, soil.Dug, sand), material.Caps{Once: 50, Year: 150, Weeks: 12}},
		{material.Sulfur, ground(soil.UseBed, soil.Surface, loamySand), material.Caps{Once: 25, Year: 75, Weeks: 26}},
		{material.Sulfur, ground(soil.UseBed, soil.Dug, clay), material.Caps{Once: 100, Year: 200, Weeks: 12}},
		{material.Sulfur, ground(soil.UseBed, soil.Surface, clay), material.Caps{Once: 50, Year: 75, Weeks: 26}},
		{material.Sulfur, ground(soil.UseLawn, soil.Surface, loam), material.Caps{Once: 25, Year: 50, Weeks: 26}},
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
	b := material.Batch{Material: ash, Condition: material.Wet}
	w := b.Worth()
	fmt.Printf("%.3f g of lime and %.3f g of potash a gram\n", w.EffectiveCCE, w.K2O)
	// Output: 0.425 g of lime and 0.015 g of potash a gram
}

// All that holds ammonium or urea keeps away from lime and ash; nitrate of calcium holds none.
func TestGivesAmmonia(t *testing.T) {
	for kind, gives := range map[material.Kind]bool{material.AmmoniumSulfate: true, material.Urea: true, "ammonium-nitrate": true,
		"monoammonium-phosphate": true, material.Manure: true, "calcium-nitrate": false, "rotted-manure": false, "blood-meal": false} {
		assert.Equal(t, gives, find(t, kind).GivesAmmonia(), kind)
	}
}
