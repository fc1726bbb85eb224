package soil_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/soil"
)

// A bed that has shown itself 1.4 times as hard to shift wants 1.4 times what its method says, as sure as its retests made
// it; sulfur follows the method.
func TestLearnedScalesMethod(t *testing.T) {
	loam, _ := soil.FindTexture(soil.Loam)
	g := soil.Ground{Texture: loam, Depth: 0.15, Worked: soil.Dug}
	r := soil.Reading{PH: 5.5, Method: soil.Lab, Cores: 12}
	_, err := soil.Buffer(soil.ByLearned, g, r, 6.5)
	require.Error(t, err)
	table, err := soil.Buffer(soil.ByTable, g, r, 6.5)
	require.NoError(t, err)
	g.Learned = &soil.Learned{Beside: soil.ByTable, Factor: 1.4, LogSD: 0.12, Tests: 3}
	b, err := soil.Buffer(soil.ByLearned, g, r, 6.5)
	require.NoError(t, err)
	assert.InDelta(t, 1.4*321.5, float64(b.Raise.Need(5.5, 6.5)), 0.5)
	assert.InDelta(t, float64(table.Lower.Need(7, 6)), float64(b.Lower.Need(7, 6)), 1e-9)
	assert.Equal(t, table.Stone, b.Stone)
	assert.InDelta(t, 0.12, b.LogSD, 1e-12)
	steps := b.Working(5.5, 6.5)
	last := steps[len(steps)-1]
	assert.Equal(t, "learned", last.ID)
	assert.InDelta(t, 1.4*321.5, last.Result.N, 0.5)
	assert.InDelta(t, 321.5, steps[len(steps)-2].Result.N, 0.5)
	down := b.Working(7, 6)
	assert.NotEqual(t, "learned", down[len(down)-1].ID)
	lowers, err := soil.Buffer(soil.ByLearned, g, r, 5)
	require.NoError(t, err)
	assert.InDelta(t, table.LogSD, lowers.LogSD, 1e-12, "what lime taught makes no sulfur surer")
	// On offer only once something was learned.
	offered := func(g soil.Ground) (yes bool) {
		for _, o := range soil.OnOffer(g, r, 6.5, soil.ByTable) {
			yes = yes || o.Method == soil.ByLearned
		}
		return yes
	}
	assert.True(t, offered(g))
	g.Learned = nil
	assert.False(t, offered(g))
}
