package dose_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

func withAshAndLime(r *dose.Request) {
	r.Materials = []material.Batch{batch(material.HardwoodAsh), batch(material.CalciticLime)}
}

// An option's own amounts, laid again, are the option.
func TestLaidReproducesOption(t *testing.T) {
	r := request(withAshAndLime)
	a, err := dose.For(r)
	require.NoError(t, err)
	require.NotEmpty(t, a.Options)
	for _, o := range a.Options {
		rates := make([]quantity.Rate, len(r.Materials))
		for _, p := range o.Parts {
			rates[p.Batch] = p.Rate
		}
		again, _, ok, err := dose.OptionOf(r, rates)
		require.NoError(t, err)
		require.True(t, ok)
		assert.InDelta(t, float64(o.CaCO3), float64(again.CaCO3), 1e-6)
		assert.InDelta(t, float64(o.PH.Median), float64(again.PH.Median), 1e-6)
		assert.Len(t, again.Applications, len(o.Applications))
		for i := range o.Applications {
			assert.Equal(t, o.Applications[i].Date, again.Applications[i].Date)
		}
		assert.Equal(t, o.Retest, again.Retest)
	}
}

// Two bins of ash on one bed keep the distance that one bin's applications keep; what is refused
// is not laid.
func TestLaidKeepsRules(t *testing.T) {
	r := request(withAshAndLime)
	stove, _ := material.Find("wood-ash-softwood")
	r.Materials = append(r.Materials, material.Batch{Material: stove, Condition: material.Dry, Source: material.Clean})
	ash := -1
	for i, b := range r.Materials {
		if b.Kind == material.HardwoodAsh {
			ash = i
		}
	}
	require.GreaterOrEqual(t, ash, 0)
	rates := make([]quantity.Rate, len(r.Materials))
	rates[ash], rates[len(rates)-1] = 120, 100
	o, _, ok, err := dose.OptionOf(r, rates)
	require.NoError(t, err)
	require.True(t, ok)
	require.Len(t, o.Applications, 2)
	assert.GreaterOrEqual(t, int(o.Applications[1].Date-o.Applications[0].Date), 8*7)
	r.Materials[ash].Source = material.Coal
	_, against, ok, err := dose.OptionOf(r, rates)
	require.NoError(t, err)
	assert.False(t, ok)
	require.Len(t, against, 1)
	assert.NotEmpty(t, against[0].Guards, "the reason is named")
	_, _, ok, err = dose.OptionOf(r, nil)
	require.NoError(t, err)
	assert.False(t, ok, "nothing is no option")
	_, _, _, err = dose.OptionOf(dose.Request{}, rates)
	assert.Error(t, err)
}
