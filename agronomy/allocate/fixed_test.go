package allocate_test

import (
	"errors"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/agronomy/quantity"
)

// asked returns beds of bare figures to Share.
func asked(beds []allocate.Demand) []allocate.Asked {
	out := make([]allocate.Asked, len(beds))
	for i := range beds {
		out[i] = allocate.Asked{Demand: beds[i]}
	}
	return out
}

// The guide's two beds, 4 kg of ash: the cheapest plan costs 0.50. Ash by hand on the first
// bed leaves less for the second, and lime makes it up.
func TestFixedAmountsAreKept(t *testing.T) {
	stocks := []allocate.Stock{{ID: "ash", Worth: 0.5, OnHand: kg(4), Family: "ash", Least: 20},
		{ID: "lime", Worth: 1, Price: 0.5, Family: "lime", Least: 25}}
	beds := asked([]allocate.Demand{{ID: "a", Area: 10, Need: 100, Most: []quantity.Rate{250, 500}, K2ORoom: -1},
		{ID: "b", Area: 10, Need: 200, Most: []quantity.Rate{250, 500}, K2ORoom: -1}})
	free, err := allocate.ShareFixed(nil, stocks, beds, nil)
	require.NoError(t, err)
	assert.InDelta(t, 0.50, free.Cost, 1e-6)
	// No ash on the first: it takes 100 g/m² of lime (0.50); the second has 250 of ash and 75
	// of lime (0.375).
	s, err := allocate.ShareFixed(nil, stocks, beds, []allocate.Fixed{{0, 0, 0}})
	require.NoError(t, err)
	assert.InDelta(t, 0.875, s.Cost, 1e-6)
	assert.Zero(t, s.Given[0][0])
	// 100 of ash on the first, 50 of lime with it (0.25); the second as before.
	s, err = allocate.ShareFixed(nil, stocks, beds, []allocate.Fixed{{0, 0, 100}})
	require.NoError(t, err)
	assert.InDelta(t, 0.625, s.Cost, 1e-6)
	assert.InDelta(t, 100, float64(s.Given[0][0]), 1e-6)
	assert.InDelta(t, 50, float64(s.Given[0][1]), 1e-6)
	assert.InDelta(t, 0.5, float64(*s.Left[0]/quantity.Kilogram), 1e-6)
	// Without ash, what was fixed of ash is lime: 300 g/m² over 10 m².
	assert.InDelta(t, 1.5, s.WithoutAsh.Cost, 1e-6)
	for name, f := range map[string]allocate.Fixed{
		"more than the bed may have":       {1, 0, 251},
		"more than there is":               {1, 0, 401},
		"too little to be worth spreading": {0, 0, 19},
		"more than the bed needs":          {0, 1, 101},
		"past its need, of ash":            {0, 0, 201},
	} {
		_, err := allocate.ShareFixed(nil, stocks, beds, []allocate.Fixed{f})
		var wrong *allocate.InputError
		require.True(t, errors.As(err, &wrong), name)
		assert.Equal(t, "fixed[0]", wrong.Field)
	}
	_, err = allocate.ShareFixed(nil, stocks, beds, []allocate.Fixed{{0, 1, 100}})
	assert.NoError(t, err, "all that it needs, by hand")
}

// Fixing what the free plan gives changes nothing; fixing anything else never costs less.
func TestFixedPlansNeverBeatTheOptimum(t *testing.T) {
	draw := rand.New(rand.NewPCG(11, 4))
	tried := 0
	for range 1500 {
		stocks, plain := mixed(draw, 2+draw.IntN(3), 2+draw.IntN(3))
		beds := asked(plain)
		free, err := allocate.ShareFixed(nil, stocks, beds, nil)
		require.NoError(t, err)
		var same []allocate.Fixed
		for b := range beds {
			for m := range stocks {
				if x := free.Given[b][m]; x > 0 {
					same = append(same, allocate.Fixed{b, m, x})
				}
			}
		}
		again, err := allocate.ShareFixed(nil, stocks, beds, same)
		require.NoError(t, err)
		require.InDelta(t, free.Cost, again.Cost, 1e-3*(1+free.Cost))
		b, m := draw.IntN(len(beds)), draw.IntN(len(stocks))
		one := allocate.Fixed{b, m, quantity.Rate(draw.IntN(60))}
		hand, err := allocate.ShareFixed(nil, stocks, beds, []allocate.Fixed{one})
		if err != nil {
			continue
		}
		tried++
		was, wasK := free.Total(plain)
		is, isK := hand.Total(plain)
		require.GreaterOrEqual(t, float64(is), float64(was)*0.999-0.5)
		if float64(is) < float64(was)+0.01 && float64(isK) < float64(wasK)+0.01 {
			require.GreaterOrEqual(t, hand.Cost, free.Cost*0.999-1e-3)
		}
		require.Empty(t, broken(stocks, plain, hand.Plan))
		require.InDelta(t, float64(one.Rate), float64(hand.Given[b][m]), 1e-6)
	}
	assert.Greater(t, tried, 50)
}
