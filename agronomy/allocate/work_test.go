package allocate_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/agronomy/quantity"
)

// tangled returns a garden whose beds may be given any mixture of stocks that all lime, feed and bind each other.
func tangled(rng *rand.Rand, beds, stocks int) ([]allocate.Stock, []allocate.Demand) {
	families := []string{"ash", "lime", "potash"}
	var ss []allocate.Stock
	for m := range stocks {
		s := allocate.Stock{ID: fmt.Sprintf("s%02d", m), Worth: 0.3 + 0.7*rng.Float64(), Price: rng.Float64(),
			Least: quantity.Rate(20 + 20*rng.Float64()), Family: families[m%3]}
		switch m % 3 {
		case 0:
			s.K2O = 0.02 + 0.05*rng.Float64()
		case 2:
			s.Worth, s.K2O = 0.1, 0.3
		}
		if m%2 == 0 {
			s.OnHand = kg(float64(beds) * rng.Float64())
		}
		ss = append(ss, s)
	}
	var bs []allocate.Demand
	for i := range beds {
		b := allocate.Demand{ID: fmt.Sprintf("%03d", i), Area: quantity.Area(2 + 18*rng.Float64()), Need: quantity.Rate(400 * rng.Float64()),
			Room: 50, K2ONeed: quantity.Rate(20 * rng.Float64()), K2ORoom: quantity.Rate(30 + 30*rng.Float64()),
			Family: map[string]quantity.Rate{"ash": 500, "lime": 400, "potash": 50}, Tested: quantity.Day(rng.IntN(900))}
		for range ss {
			b.Most = append(b.Most, quantity.Rate(200+300*rng.Float64()))
		}
		bs = append(bs, b)
	}
	return ss, bs
}

func limited(t *testing.T, steps int, ss []allocate.Stock, bs []allocate.Demand) allocate.Plan {
	t.Helper()
	p, err := allocate.For(allocate.NewWork(t.Context(), steps), ss, bs)
	require.NoError(t, err)
	require.Empty(t, broken(ss, bs, p), "%d steps", steps)
	return p
}

// What a search with few steps proves holds for the plan that one without an end finds.
func TestGapOfALimitedSearchHolds(t *testing.T) {
	rng := rand.New(rand.NewPCG(36, 2))
	partly, costs := 0, 0
	for range 60 {
		ss, bs := tangled(rng, 1+rng.IntN(4), 4+rng.IntN(2))
		best := plan(t, ss, bs)
		least, leastK := best.Total(bs)
		for _, steps := range []int{0, 500, 5000, 50_000} {
			p := limited(t, steps, ss, bs)
			if p.Partly {
				partly++
			}
			short, shortK := p.Total(bs)
			require.GreaterOrEqual(t, float64(least)*(1+best.ShortfallGap)+0.01, float64(short)*(1-p.ShortfallGap))
			if short > least+0.01 {
				continue // the later objectives are not of the same plan
			}
			require.GreaterOrEqual(t, float64(leastK)+0.01, float64(shortK)*(1-p.K2OGap))
			if shortK > leastK+0.01 {
				continue
			}
			costs++
			require.GreaterOrEqual(t, best.Cost+1e-4, p.Cost*(1-p.Gap), "%d steps", steps)
		}
	}
	assert.Greater(t, partly, 60)
	assert.Greater(t, costs, 60, "enough of them come so far")
}

func TestManyTangledStocksEnd(t *testing.T) {
	ss, bs := tangled(rand.New(rand.NewPCG(1, 5)), 40, allocate.MostStocks)
	p := limited(t, allocate.UsualSteps, ss, bs)
	assert.True(t, p.Partly)
	assert.Less(t, p.Gap, 0.05)
	assert.Greater(t, p.Gap, 0.0, "it is not proved to be the least")
	u, uk := p.Total(bs)
	assert.InDelta(t, 0, float64(u), 0.01)
	assert.InDelta(t, 0, float64(uk), 0.01)
	turned, back := slices.Clone(bs), slices.Clone(ss)
	slices.Reverse(turned)
	q := limited(t, allocate.UsualSteps, back, turned)
	slices.Reverse(q.Given)
	assert.Equal(t, p.Given, q.Given, "the same garden gives the same answer, in any order")
	asked := make([]allocate.Asked, len(bs))
	for i := range bs {
		asked[i].Demand = bs[i]
	}
	w := allocate.NewWork(t.Context(), allocate.UsualSteps)
	shared, err := allocate.Share(w, ss, asked)
	require.NoError(t, err)
	assert.Empty(t, broken(ss, bs, shared.Plan))
	for m, n := range shared.Next {
		if n.Bed >= 0 && n.Meets == 0 {
			assert.Greater(t, n.Worth, shared.Gap*shared.Cost, "stock %d is told above the gap only", m)
		}
	}
}

func TestSearchStopsWithItsContext(t *testing.T) {
	ss, bs := tangled(rand.New(rand.NewPCG(1, 5)), 40, allocate.MostStocks)
	gone, leave := context.WithCancel(t.Context())
	leave()
	_, err := allocate.For(allocate.NewWork(gone, allocate.UsualSteps), ss, bs)
	require.ErrorIs(t, err, context.Canceled)
	w := &stopping{Context: t.Context(), after: 3}
	_, err = allocate.For(allocate.NewWork(w, allocate.UsualSteps), ss, bs)
	require.ErrorIs(t, err, context.Canceled)
	assert.Less(t, w.asked, 6, "it is not gone on with")
}

// stopping is a context that ends after it was asked a few times.
type stopping struct {
	context.Context
	asked, after int
}

func (s *stopping) Err() error {
	if s.asked++; s.asked > s.after {
		return context.Canceled
	}
	return nil
}

func BenchmarkTangled(b *testing.B) {
	ss, bs := tangled(rand.New(rand.NewPCG(1, 5)), 40, allocate.MostStocks)
	asked := make([]allocate.Asked, len(bs))
	for i := range bs {
		asked[i].Demand = bs[i]
	}
	for b.Loop() {
		if _, err := allocate.Share(allocate.NewWork(b.Context(), allocate.UsualSteps), ss, asked); err != nil {
			b.Fatal(err)
		}
	}
}
