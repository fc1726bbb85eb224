package allocate_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/agronomy/quantity"
)

func kg(x float64) *quantity.Mass {
	m := quantity.Mass(x) * quantity.Kilogram
	return &m
}

func ash(kilos float64, least quantity.Rate) allocate.Stock {
	return allocate.Stock{ID: "ash", Worth: 0.5, OnHand: kg(kilos), Least: least}
}

func lime(least quantity.Rate) allocate.Stock {
	return allocate.Stock{ID: "lime", Worth: 1, Price: 0.5, Least: least}
}

// bed returns a demand with a limit of ash and unlimited lime.
func bed(id string, area quantity.Area, need, most quantity.Rate) allocate.Demand {
	return allocate.Demand{ID: id, Area: area, Need: need, K2ORoom: -1, Most: []quantity.Rate{most, 1000}}
}

func plan(t *testing.T, stocks []allocate.Stock, beds []allocate.Demand) allocate.Plan {
	t.Helper()
	p, err := allocate.For(nil, stocks, beds)
	require.NoError(t, err)
	return p
}

func TestKnownAnswers(t *testing.T) {
	two := []allocate.Demand{bed("a", 10, 100, 250), bed("b", 10, 200, 250)}
	three := []allocate.Demand{bed("a", 4, 60, 125), bed("b", 12, 90, 125), bed("c", 6, 200, 250)}
	for _, c := range []struct {
		name   string
		stocks []allocate.Stock
		beds   []allocate.Demand
		cost   float64
	}{
		{"4.0 kg", []allocate.Stock{ash(4, 0), lime(0)}, two, 0.50},
		{"4.5 kg", []allocate.Stock{ash(4.5, 0), lime(0)}, two, 0.375},
		{"4.6 kg", []allocate.Stock{ash(4.6, 0), lime(0)}, two, 0.375},
		{"3.0 kg", []allocate.Stock{ash(3, 0), lime(0)}, two, 0.75},
		{"no least", []allocate.Stock{ash(99, 0), lime(0)}, []allocate.Demand{bed("a", 10, 100, 160)}, 0.10},
		{"lime from 50", []allocate.Stock{ash(99, 0), lime(50)}, []allocate.Demand{bed("a", 10, 100, 160)}, 0.25},
		{"none", []allocate.Stock{ash(0, 60), lime(40)}, three, 1.26},
		{"0.35 kg", []allocate.Stock{ash(0.35, 60), lime(40)}, three, 1.26},
		{"0.36 kg", []allocate.Stock{ash(0.36, 60), lime(40)}, three, 1.17},
		{"0.71 kg", []allocate.Stock{ash(0.71, 60), lime(40)}, three, 1.08250},
		{"0.72 kg", []allocate.Stock{ash(0.72, 60), lime(40)}, three, 1.08},
	} {
		p := plan(t, c.stocks, c.beds)
		assert.InDelta(t, c.cost, p.Cost, 1e-4, c.name)
		assert.Zero(t, p.Gap, c.name)
		u, uk := p.Total(c.beds)
		assert.InDelta(t, 0, float64(u), 1e-5, c.name)
		assert.InDelta(t, 0, float64(uk), 1e-5, c.name)
	}
}

// random returns a random small garden; on the grid its limits are multiples of 5 g/m².
func random(rng *rand.Rand, beds, stocks int) ([]allocate.Stock, []allocate.Demand) {
	step := func(low, high int) float64 { return float64(5 * (low/5 + rng.IntN((high-low)/5+1))) }
	var ss []allocate.Stock
	for m := range stocks {
		s := allocate.Stock{ID: fmt.Sprint("s", m), Worth: []float64{0.4, 0.5, 1, 0.95, 0}[rng.IntN(5)],
			Price: []float64{0, 0.3, 0.5, 1}[rng.IntN(4)], Least: quantity.Rate([]float64{0, 20, 25, 40}[rng.IntN(4)])}
		if s.Worth < 0.6 {
			s.K2O = []float64{0.03, 0.05, 0.5}[rng.IntN(3)]
		}
		if rng.IntN(2) == 0 {
			s.OnHand = kg(step(0, 300) * 10 / 1000)
		}
		ss = append(ss, s)
	}
	var bs []allocate.Demand
	for b := range beds {
		x := allocate.Demand{ID: fmt.Sprint("b", b), Area: quantity.Area(1 + rng.IntN(10)), Need: quantity.Rate(step(0, 60)), K2ORoom: -1,
			Tested: quantity.Day(rng.IntN(900))}
		if rng.IntN(2) == 0 {
			x.K2ORoom = quantity.Rate(float64(rng.IntN(8)))
		}
		if rng.IntN(3) == 0 && x.K2ORoom != 0 {
			x.K2ONeed = quantity.Rate(1 + rng.IntN(3))
			x.Room = quantity.Rate(step(0, 20))
		}
		for range ss {
			x.Most = append(x.Most, quantity.Rate(step(0, 100)))
		}
		bs = append(bs, x)
	}
	return ss, bs
}

// broken returns the limit that a plan breaks, or "".
func broken(ss []allocate.Stock, bs []allocate.Demand, p allocate.Plan) string {
	const eps = 1e-6
	for m, s := range ss {
		if s.OnHand != nil && float64(p.Used(bs, m)) > float64(*s.OnHand)+1e-3 {
			return fmt.Sprintf("stock %s: %v of %v", s.ID, p.Used(bs, m), *s.OnHand)
		}
	}
	for b, x := range bs {
		lime, k := 0.0, 0.0
		family := map[string]float64{}
		for m, s := range ss {
			g := float64(p.Given[b][m])
			lime, k = lime+g*s.Worth, k+g*s.K2O
			family[s.Family] += g
			if g < 0 || g > eps && (g < float64(s.Least)-eps || g > float64(x.Most[m])+eps) {
				return fmt.Sprintf("bed %s: %v of %s, from %v to %v", x.ID, g, s.ID, s.Least, x.Most[m])
			}
		}
		need, sign := float64(x.Need), 1.0
		if need < 0 {
			sign = -1
		}
		if sign*lime < -eps || sign*lime > sign*need+float64(x.Room)+eps {
			return fmt.Sprintf("bed %s: brought %v of %v", x.ID, lime, need)
		}
		if x.K2ORoom >= 0 && k > float64(x.K2ORoom)+eps {
			return fmt.Sprintf("bed %s: %v of K2O, %v at most", x.ID, k, x.K2ORoom)
		}
		for f, most := range x.Family {
			if family[f] > float64(most)+eps {
				return fmt.Sprintf("bed %s: %v of %s, %v at most", x.ID, family[f], f, most)
			}
		}
		if u := max(0, sign*(need-lime)); math.Abs(u-float64(p.Shortfall[b])) > 1e-4 {
			return fmt.Sprintf("bed %s leaves %v, not %v", x.ID, u, p.Shortfall[b])
		}
	}
	return ""
}

// grid tries every plan on steps of 5 g/m² and returns the least shortfall CaCO₃, then K₂O, then cost.
func grid(ss []allocate.Stock, bs []allocate.Demand) [3]float64 {
	type way struct{ x, obj [3]float64 }
	left := [3]float64{}
	for m, s := range ss {
		left[m] = math.Inf(1)
		if s.OnHand != nil {
			left[m] = float64(*s.OnHand)
		}
	}
	ways := make([][]way, len(bs))
	for b, x := range bs {
		var next func(m int, w way, lime, k float64)
		next = func(m int, w way, lime, k float64) {
			if lime > float64(x.Need+x.Room)+1e-9 || x.K2ORoom >= 0 && k > float64(x.K2ORoom)+1e-9 {
				return
			}
			if m == len(ss) {
				w.obj[0] = max(0, float64(x.Need)-lime) * float64(x.Area)
				w.obj[1] = max(0, float64(x.K2ONeed)-k) * float64(x.Area)
				ways[b] = append(ways[b], w)
				return
			}
			for g := 0.0; g <= float64(x.Most[m]); g += 5 {
				if g > 0 && g < float64(ss[m].Least) {
					continue
				}
				v := w
				v.x[m], v.obj[2] = g*float64(x.Area), w.obj[2]+g*float64(x.Area)/1000*ss[m].Price
				next(m+1, v, lime+g*ss[m].Worth, k+g*ss[m].K2O)
			}
		}
		next(0, way{}, 0, 0)
	}
	best := [3]float64{math.Inf(1), math.Inf(1), math.Inf(1)}
	var go_ func(b int, left, obj [3]float64)
	go_ = func(b int, left, obj [3]float64) {
		if !less(obj, best) {
			return
		}
		if b == len(bs) {
			best = obj
			return
		}
		for _, w := range ways[b] {
			l, o, ok := left, obj, true
			for m := range ss {
				l[m] -= w.x[m]
				ok = ok && l[m] >= -1e-9
			}
			for i := range o {
				o[i] += w.obj[i]
			}
			if ok {
				go_(b+1, l, o)
			}
		}
	}
	go_(0, left, [3]float64{})
	return best
}

func less(a, b [3]float64) bool {
	for i := range a {
		if math.Abs(a[i]-b[i]) > 1e-9 {
			return a[i] < b[i]
		}
	}
	return false
}

// Compares with every plan on a grid of 5 g/m²: at least as good, stage by stage.
func TestPlanIsOptimalOnGrid(t *testing.T) {
	rng := rand.New(rand.NewPCG(14, 5))
	for n := range 200 {
		ss, bs := random(rng, 2+rng.IntN(2), 2+rng.IntN(2))
		p := plan(t, ss, bs)
		require.Empty(t, broken(ss, bs, p), n)
		want := grid(ss, bs)
		u, uk := p.Total(bs)
		got := [3]float64{float64(u), float64(uk), p.Cost}
		for i := range got {
			require.LessOrEqual(t, got[i], want[i]*1.001+1e-4, "garden %d, stage %d: %v, on the grid %v\n%+v\n%+v", n, i, got, want,
				ss, bs)
			if got[i] < want[i]-1e-4 {
				break // better in this stage: the next may cost more
			}
		}
		require.LessOrEqual(t, p.Gap, 0.001)
	}
}

// mixed is random with beds to be lowered among them, sulfur, and stocks of one family.
func mixed(rng *rand.Rand, beds, stocks int) ([]allocate.Stock, []allocate.Demand) {
	ss, bs := random(rng, beds, stocks)
	for m := range ss {
		if rng.IntN(4) == 0 {
			ss[m].Worth, ss[m].K2O = -3, 0
		} else if ss[m].K2O > 0 {
			ss[m].Family = "ash"
		}
	}
	for b := range bs {
		if rng.IntN(4) == 0 {
			bs[b].Need = -bs[b].Need
		}
		if rng.IntN(2) == 0 {
			bs[b].Family = map[string]quantity.Rate{"ash": quantity.Rate(rng.IntN(120))}
		}
	}
	return ss, bs
}

func TestPlansRespectLimits(t *testing.T) {
	rng := rand.New(rand.NewPCG(5000, 1))
	for n := range 5000 {
		ss, bs := mixed(rng, 1+rng.IntN(6), 1+rng.IntN(5))
		p := plan(t, ss, bs)
		require.Empty(t, broken(ss, bs, p), "garden %d\n%+v\n%+v", n, ss, bs)
		require.LessOrEqual(t, p.Gap, 0.001, n)
		require.LessOrEqual(t, p.ShortfallGap, 0.001, n)
		require.LessOrEqual(t, p.K2OGap, 0.001, n)
	}
}

func TestPlanDoesNotDependOnOrder(t *testing.T) {
	rng := rand.New(rand.NewPCG(8, 8))
	for n := range 300 {
		ss, bs := mixed(rng, 2+rng.IntN(6), 2+rng.IntN(3))
		p := plan(t, ss, bs)
		stock, beds := rng.Perm(len(ss)), rng.Perm(len(bs))
		s2, b2 := make([]allocate.Stock, len(ss)), make([]allocate.Demand, len(bs))
		for to, from := range stock {
			s2[to] = ss[from]
		}
		for to, from := range beds {
			b2[to] = bs[from]
			b2[to].Most = make([]quantity.Rate, len(ss))
			for m, was := range stock {
				b2[to].Most[m] = bs[from].Most[was]
			}
		}
		again := plan(t, s2, b2)
		require.InDelta(t, p.Cost, again.Cost, 0)
		for to, from := range beds {
			for m, was := range stock {
				require.InDelta(t, float64(p.Given[from][was]), float64(again.Given[to][m]), 0, n)
			}
		}
	}
}

// Among plans that cost the same, one with fewer stocks on a bed, and the bed first that
// was longest untested.
func TestTies(t *testing.T) {
	a := allocate.Stock{ID: "a", Worth: 0.5, OnHand: kg(2)}
	b := allocate.Stock{ID: "b", Worth: 0.5, OnHand: kg(2)}
	beds := []allocate.Demand{{ID: "1", Area: 10, Need: 100, K2ORoom: -1, Most: []quantity.Rate{500, 500}},
		{ID: "2", Area: 10, Need: 100, K2ORoom: -1, Most: []quantity.Rate{500, 500}}}
	p := plan(t, []allocate.Stock{a, b}, beds)
	for i := range beds {
		assert.InDelta(t, 200, math.Max(float64(p.Given[i][0]), float64(p.Given[i][1])), 1e-6, "one bin for each bed")
	}
	beds[0].Tested, beds[1].Tested = 900, 100
	for i := range beds {
		beds[i].Most = []quantity.Rate{500, 500}
	}
	p = plan(t, []allocate.Stock{a, lime(0)}, beds)
	assert.InDelta(t, 200, float64(p.Given[1][0]), 1e-6)
	assert.InDelta(t, 0, float64(p.Given[0][0]), 1e-6)
}

func TestMoreBedsThanStockCanServe(t *testing.T) {
	beds := []allocate.Demand{bed("a", 10, 100, 250), bed("b", 10, 200, 250)}
	for i := range beds {
		beds[i].Most = beds[i].Most[:1]
	}
	p := plan(t, []allocate.Stock{ash(4, 20)}, beds)
	u, _ := p.Total(beds)
	assert.InDelta(t, 3000-2000, float64(u), 1e-4, "all of it goes on, and what is short is told")
	assert.InDelta(t, 4000, float64(p.Used(beds, 0)), 1e-4)
}

func TestInvalidInputNamesField(t *testing.T) {
	for field, change := range map[string]func(*allocate.Stock, *allocate.Demand){
		"stock[0].price_kg": func(s *allocate.Stock, _ *allocate.Demand) { s.Price = -1 },
		"stock[0].kg":       func(s *allocate.Stock, _ *allocate.Demand) { s.OnHand = kg(-1) },
		"stock[0].min_g_m2": func(s *allocate.Stock, _ *allocate.Demand) { s.Least = -1 },
		"stock[0]":          func(s *allocate.Stock, _ *allocate.Demand) { s.Worth = math.NaN() },
		"beds[0].area_m2":   func(_ *allocate.Stock, b *allocate.Demand) { b.Area = 0 },
		"beds[0]":           func(_ *allocate.Stock, b *allocate.Demand) { b.Need = quantity.Rate(math.Inf(1)) },
		"beds[0].max_g_m2":  func(_ *allocate.Stock, b *allocate.Demand) { b.Most = nil },
	} {
		s, b := ash(4, 0), allocate.Demand{ID: "a", Area: 1, Need: 1, Most: []quantity.Rate{1}}
		change(&s, &b)
		_, err := allocate.For(nil, []allocate.Stock{s}, []allocate.Demand{b})
		var in *allocate.InputError
		require.ErrorAs(t, err, &in, field)
		assert.Equal(t, field, in.Field)
	}
	p := plan(t, nil, nil)
	assert.Zero(t, p.Cost)
}

// many returns a garden of many beds that five stocks do not quite serve.
func many(rng *rand.Rand, beds int) ([]allocate.Stock, []allocate.Demand) {
	ss := []allocate.Stock{
		{ID: "oven", Worth: 0.5, K2O: 0.05, OnHand: kg(float64(beds) * 0.6), Least: 20, Family: "ash"},
		{ID: "stove", Worth: 0.42, K2O: 0.03, OnHand: kg(float64(beds) * 0.3), Least: 20, Family: "ash"},
		{ID: "lime", Worth: 0.97, Price: 0.35, Least: 25},
		{ID: "dolomite", Worth: 1.03, Price: 0.45, OnHand: kg(float64(beds) * 0.2), Least: 25},
		{ID: "sulfur", Worth: -2.96, Price: 3.2, OnHand: kg(10), Least: 5},
	}
	var bs []allocate.Demand
	for i := range beds {
		b := allocate.Demand{ID: fmt.Sprintf("%03d", i), Area: quantity.Area(2 + 18*rng.Float64()), Need: quantity.Rate(400*rng.Float64() - 40),
			K2ORoom: quantity.Rate(30 * rng.Float64()), Family: map[string]quantity.Rate{"ash": 500}, Tested: quantity.Day(rng.IntN(900))}
		for m := range ss {
			most := quantity.Rate(500)
			if m < 2 && rng.IntN(4) == 0 {
				most = 0
			}
			if m == 4 {
				most = 150
			}
			b.Most = append(b.Most, most)
		}
		bs = append(bs, b)
	}
	return ss, bs
}

func TestManyBeds(t *testing.T) {
	for _, n := range []int{50, 200, 400} {
		ss, bs := many(rand.New(rand.NewPCG(200, 5)), n)
		p := plan(t, ss, bs)
		require.Empty(t, broken(ss, bs, p))
		assert.LessOrEqual(t, p.Gap, 0.001, n)
		assert.LessOrEqual(t, p.ShortfallGap, 0.001, n)
		t.Log(n, p.Gap, p.ShortfallGap, p.K2OGap, p.Nodes, p.Cost)
	}
}

func BenchmarkTwoHundredBeds(b *testing.B) {
	ss, bs := many(rand.New(rand.NewPCG(200, 5)), 200)
	for b.Loop() {
		if _, err := allocate.For(nil, ss, bs); err != nil {
			b.Fatal(err)
		}
	}
}

// Among plans that cost the same, what stands on the shelf goes before what is to be bought.
func TestStockOnHandIsUsedFirst(t *testing.T) {
	free := lime(0)
	free.Price, free.Bought = 0, true
	beds := []allocate.Demand{bed("a", 10, 100, 250), bed("b", 10, 200, 250)}
	p := plan(t, []allocate.Stock{ash(4, 0), free}, beds)
	assert.InDelta(t, 4000, float64(p.Used(beds, 0)), 1e-3, "all of the ash")
	assert.InDelta(t, 1000, float64(p.Used(beds, 1)), 1e-3, "lime for what is lacking")
	// Two limes at the same price: the one in stock goes first.
	there, other := lime(0), lime(0)
	there.ID, other.ID, other.Bought = "there", "other", true
	for _, stocks := range [][]allocate.Stock{{there, other}, {other, there}} {
		for i := range beds {
			beds[i].Most = []quantity.Rate{1000, 1000}
		}
		p = plan(t, stocks, beds)
		for m, s := range stocks {
			assert.Equal(t, s.Bought, p.Used(beds, m) == 0, s.ID)
		}
	}
}
