package allocate_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/optimize/convex/lp"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/agronomy/quantity"
)

// simplex returns the least cost of a garden without smallest amounts whose needs can all be met,
// by another's dense simplex; it gives up on some.
func simplex(ss []allocate.Stock, bs []allocate.Demand) (cost float64, err error) {
	ns, nb := len(ss), len(bs)
	// A variable for each stock on each bed, then what is left of its cap, then what is
	// left of each stock.
	n := 2*ns*nb + ns
	c := make([]float64, n)
	a := mat.NewDense(nb+ns*nb+ns, n, nil)
	b := make([]float64, nb+ns*nb+ns)
	for i, x := range bs {
		b[i] = float64(x.Need)
		for m, s := range ss {
			v := i*ns + m
			c[v] = float64(x.Area) / 1000 * s.Price
			a.Set(i, v, s.Worth)
			cap := nb + v
			a.Set(cap, v, 1)
			a.Set(cap, ns*nb+v, 1)
			b[cap] = float64(x.Most[m])
			a.Set(nb+ns*nb+m, v, float64(x.Area)/1000)
		}
	}
	for m, s := range ss {
		a.Set(nb+ns*nb+m, 2*ns*nb+m, 1)
		b[nb+ns*nb+m] = float64(*s.OnHand) / 1000
	}
	cost, _, err = lp.Simplex(c, a, b, 1e-10, nil)
	return cost, err
}

// Where no smallest amount binds the problem is a plain linear one: a general simplex
// finds the same cost.
func TestCostMatchesSimplex(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 14))
	solved := 0
	for range 200 {
		ss := []allocate.Stock{{ID: "ash", Worth: 0.5, Price: 0.01 * rng.Float64(), OnHand: kg(0.2 + 4*rng.Float64())},
			{ID: "stove", Worth: 0.42, Price: 0.02 * rng.Float64(), OnHand: kg(0.2 + 4*rng.Float64())},
			{ID: "lime", Worth: 0.97, Price: 0.3 + rng.Float64(), OnHand: kg(1e4)}}
		var bs []allocate.Demand
		for i := range 2 + rng.IntN(4) {
			bs = append(bs, allocate.Demand{ID: string(rune('a' + i)), Area: quantity.Area(1 + 9*rng.Float64()),
				Need: quantity.Rate(20 + 200*rng.Float64()), K2ORoom: -1,
				Most: []quantity.Rate{quantity.Rate(250 * rng.Float64()), quantity.Rate(250 * rng.Float64()), 900}})
		}
		want, err := simplex(ss, bs)
		if err != nil {
			continue
		}
		solved++
		p := plan(t, ss, bs)
		require.InDelta(t, want, p.Cost, 1e-5)
	}
	assert.Greater(t, solved, 150, "enough of them are solved to tell")
}
