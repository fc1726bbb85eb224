package forecast_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// truth is a garden as it really is, drawn from what the model takes for usual.
type truth struct {
	bed   forecast.Model
	ell   float64
	drift float64
	// strength is what each batch is really worth, of what it was computed as.
	strength [2]float64
	levels   map[quantity.Day]float64
}

var start = quantity.Date(2020, 10, 1)

const simulated = 6 // years

// student returns a draw of Student's t with four degrees of freedom and sd 1.
func student(r *rand.Rand) float64 {
	chi := 0.0
	for range 4 {
		x := r.NormFloat64()
		chi += x * x
	}
	return r.NormFloat64() / math.Sqrt(chi/4) / math.Sqrt2
}

// nature is what the truth is drawn from: the sd of how hard to shift gardens are, the share of readings that are 0.8
// off, how many times the drift is what it is taken for, and the sd of the season's swing.
type nature struct{ wide, wild, drifts, swing float64 }

// asTaken is what the model takes for usual.
var asTaken = nature{0.45, 0, 1, 0.08}

// movesOff is the variance of what a gram of lime does beside what it should, yearOff that of what nobody noted in a year: as the
// forecast doubts them.
const movesOff, yearOff = 8.0, 400.0

// common is what beds of one garden have in common: its share of how hard to shift they are, how far its laboratory reads off,
// and how strong its two batches are, in the logarithm, with the uncertainty of that.
type common struct {
	share, bias, doubt float64
	strength           [2]float64
}

// drawn makes a bed by itself: a sour loam, two applications of lime, read by a lab in spring and autumn.
func drawn(r *rand.Rand, n nature) truth {
	ell := r.NormFloat64() * n.wide
	return drawnOf(r, n, ell, common{0, 0.05 * r.NormFloat64(), 0.05, [2]float64{0.05 * r.NormFloat64(), 0.05 * r.NormFloat64()}})
}

// gardenOf makes beds of one garden that got their applications from the same two batches, whose strength is doubted so.
func gardenOf(r *rand.Rand, beds int, doubt float64) (out []truth) {
	c := common{r.NormFloat64(), 0.05 * r.NormFloat64(), doubt, [2]float64{doubt * r.NormFloat64(), doubt * r.NormFloat64()}}
	for range beds {
		out = append(out, drawnOf(r, asTaken, asTaken.wide*(0.8*c.share+0.6*r.NormFloat64()), c))
	}
	return out
}

func drawnOf(r *rand.Rand, n nature, ell float64, c common) truth {
	climate, _ := soil.FindClimate("maritime", soil.North)
	curve := soil.NewCurve([]float64{3.5, 4.5, 5.5, 6.5, 7.5}, []float64{227, 227, 321.5, 321.5})
	g := truth{levels: map[quantity.Day]float64{}}
	g.ell, g.strength = ell, [2]float64{math.Exp(c.strength[0]), math.Exp(c.strength[1])}
	mean := -26.0
	sd := 0.4*26 + 3
	g.drift = n.drifts * (mean + sd*r.NormFloat64())
	g.bed = forecast.Model{Curve: curve, Curved: 0.45, Warmth: &climate, Dug: true, Drift: mean, DriftSD: sd}
	lime, _ := material.Find(material.CalciticLime)
	reacts := lime.Reacts
	truly := reacts // it reacts faster or slower than the table has it
	truly.HalfLife *= math.Exp(0.3 * r.NormFloat64())
	real := []float64{}
	for i := range 2 {
		d := start.AddMonths(6 + 24*i + r.IntN(12))
		amount := 200 + 250*r.Float64()
		g.bed.Additions = append(g.bed.Additions, forecast.Addition{Date: d, CaCO3: amount, Reacts: reacts, Batch: string(rune('a' + i)),
			StrengthSD: c.doubt})
		real = append(real, amount*math.Exp(c.strength[i]))
	}
	a := curve.Amount(quantity.PH(5.2 + 0.9*r.Float64()))
	x, b := 0.1*r.NormFloat64(), n.swing*r.NormFloat64()
	hint, phi := 1, math.Exp(-1.0/12)
	for m := range simulated * 12 {
		d := start.AddMonths(m)
		level := math.Min(8.3, float64(curve.PHAt(a, &hint))) + x
		g.levels[d] = level
		if m%6 == 0 {
			e := 0.14 * student(r)
			if r.Float64() < n.wild {
				e += 0.8 * float64(1-2*r.IntN(2))
			}
			y := level + b*math.Cos(2*math.Pi*(float64(d.Month())-1)/12) + c.bias + e
			g.bed.Readings = append(g.bed.Readings, forecast.Read{Date: d, PH: quantity.PH(y), SD: 0.14, Method: soil.Lab})
		}
		next := start.AddMonths(m + 1)
		for i, go1 := range g.bed.Additions {
			if next > go1.Date {
				before := forecast.Unreacted(truly, &climate, true, go1.Date, max(d, go1.Date))
				acts := real[i] * (before - forecast.Unreacted(truly, &climate, true, go1.Date, next))
				// What moves it moves it by more here and by less there.
				a += math.Exp(-g.ell) * (acts + math.Sqrt(movesOff*math.Abs(acts))*r.NormFloat64())
			}
		}
		a += math.Exp(-g.ell) * (g.drift/12 + math.Sqrt(yearOff/12)*r.NormFloat64())
		x = phi*x + 0.1*math.Sqrt(1-phi*phi)*r.NormFloat64()
	}
	return g
}

// score sums up how forecasts did.
type score struct {
	in90, in50, months  int
	ell90, gardens      int
	ellMiss, ellPrior   float64
	innovations, square float64
	// ranks are how often the truth lies below the 5 %, between that and the 25 %, the middle, the 75 %, the 95 %, and above.
	ranks [6]int
}

// rank returns where a truth lies among a spread's quantiles.
func rank(p forecast.Spread, truth float64) (n int) {
	for _, q := range []float64{p.P05, p.P25, p.Median, p.P75, p.P95} {
		if truth > q {
			n++
		}
	}
	return n
}

// drawnRanks draws a rank histogram: each share, and of what was wanted.
func drawnRanks(ranks [6]int) (out string) {
	all := 0
	for _, n := range ranks {
		all += n
	}
	for i, wanted := range []float64{0.05, 0.20, 0.25, 0.25, 0.20, 0.05} {
		x := share(ranks[i], all)
		out += fmt.Sprintf(" %.1f%% %s", 100*x, strings.Repeat("#", int(math.Round(10*x/wanted))))
	}
	return out
}

func (s *score) add(g truth, r forecast.Result) {
	for _, p := range r.PH {
		level, ok := g.levels[p.Date]
		if !ok {
			continue
		}
		s.months++
		s.ranks[rank(p, level)]++
		if level >= p.P05 && level <= p.P95 {
			s.in90++
		}
		if level >= p.P25 && level <= p.P75 {
			s.in50++
		}
	}
	s.gardens++
	k := r.Learned.Buffering
	if e := math.Exp(g.ell); e >= k.P05 && e <= k.P95 {
		s.ell90++
	}
	s.ellMiss += sq(math.Log(k.Median) - g.ell)
	s.ellPrior += sq(g.ell)
	for _, x := range r.Innovations[1:] {
		s.innovations++
		s.square += x * x
	}
}

func sq(x float64) float64 { return x * x }

func scored(n int, seed uint64, as nature) (s score) {
	r := rand.New(rand.NewPCG(9, seed))
	for range n {
		g := drawn(r, as)
		s.add(g, forecast.Run(&g.bed, start.AddMonths(12*simulated)))
	}
	return s
}

func share(n, of int) float64 { return float64(n) / float64(of) }

// Two hundred gardens whose truth is drawn from the model's own prior.
func TestIntervalCoverage(t *testing.T) {
	s := scored(200, 1, asTaken)
	t.Logf("90 %%: %.3f, 50 %%: %.3f, stubbornness %.3f, its error %.2f of the prior’s, innovations %.3f",
		share(s.in90, s.months), share(s.in50, s.months), share(s.ell90, s.gardens), math.Sqrt(s.ellMiss/s.ellPrior),
		math.Sqrt(s.square/s.innovations))
	assert.InDelta(t, 0.90, share(s.in90, s.months), 0.05)
	assert.InDelta(t, 0.50, share(s.in50, s.months), 0.08)
	assert.InDelta(t, 0.90, share(s.ell90, s.gardens), 0.06)
	assert.Less(t, math.Sqrt(s.ellMiss/s.ellPrior), 0.60)
	assert.InDelta(t, 1.0, math.Sqrt(s.square/s.innovations), 0.15)
}

// One go that has all reacted, 321 g/m², +1.0 promised, +0.7 read, a method within 0.3 in the logarithm:
// this bed takes 0.79 of what the method says, give or take 0.17, in what it moves for a gram.
func TestGuideLearningExample(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	line := soil.NewCurve([]float64{3, 9}, []float64{321})
	atOnce := material.Reaction{HalfLife: 0.01, Reference: 15, Q10: 1.5, Floor: -50}
	d := quantity.Date(2025, 4, 1)
	b := forecast.Model{Curve: line, Curved: 0.3, Warmth: &climate, Dug: true, DriftSD: 1e-6,
		Additions: []forecast.Addition{{Date: d + 1, CaCO3: 321, Reacts: atOnce, Batch: "a", StrengthSD: 1e-6}},
		Readings:  []forecast.Read{{Date: d, PH: 5.5, SD: 0.14, Method: soil.Lab}, {Date: d + 14, PH: 6.2, SD: 0.14, Method: soil.Lab}}}
	r := forecast.Run(&b, d+30)
	moves := 1 / r.Learned.Buffering.Median
	assert.InDelta(t, 0.80, moves, 0.03)
	low, high := 1/r.Learned.Buffering.P95, 1/r.Learned.Buffering.P05
	assert.InDelta(t, 0.15, (math.Log(high)-math.Log(low))/2/1.645*moves, 0.04)
	assert.Equal(t, 1, r.Learned.Tests)
}

// Nothing on and nothing that drifts is flat; what is applied comes to what the method says, and the balance closes.
func TestEmptyRecordIsFlatAndBalanceCloses(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	line := soil.NewCurve([]float64{3, 9}, []float64{321})
	d := quantity.Date(2025, 4, 1)
	b := forecast.Model{Curve: line, Curved: 0.45, Warmth: &climate, Dug: true, DriftSD: 1e-6,
		Readings: []forecast.Read{{Date: d, PH: 5.5, SD: 0.1, Method: soil.Lab}}}
	r := forecast.Run(&b, d.AddMonths(60))
	require.Len(t, r.PH, 61)
	for _, p := range r.PH {
		assert.InDelta(t, 5.5, p.Median, 0.02, p.Date)
	}
	lime, _ := material.Find(material.CalciticLime)
	b.Additions = []forecast.Addition{{Date: d + 10, CaCO3: 321, Reacts: lime.Reacts, Batch: "bag", StrengthSD: 0.05}}
	b.Drift, b.DriftSD = -20, 5
	r = forecast.Run(&b, d.AddMonths(60))
	x := r.Balance
	assert.InDelta(t, 0, x.Brought+x.Drift-x.Change-x.Unreacted-x.LeftOver, 1e-6)
	assert.InDelta(t, 321, x.Brought, 1e-9)
	assert.Less(t, x.Unreacted, 1.0)
	// The same figures for the same bed, always.
	assert.Equal(t, r, forecast.Run(&b, d.AddMonths(60)))
}

func BenchmarkRun(b *testing.B) {
	g := drawn(rand.New(rand.NewPCG(9, 5)), asTaken)
	b.ResetTimer()
	for range b.N {
		forecast.Run(&g.bed, start.AddMonths(12*9))
	}
}

// BenchmarkLoop is the bare loop over the same steps and grid: what a forecast is put beside.
func BenchmarkLoop(b *testing.B) {
	var state [61][64]float64
	for range b.N {
		for range 9*12 + 12 {
			for i := range state {
				for j := range state[i] {
					state[i][j] = 0.99*state[i][j] + 0.01
				}
			}
		}
	}
	if state[0][0] < 0 {
		b.Fatal()
	}
}

// A batch that has acted gives its place in the state up to the next, and what is read of the next says nothing of it: the past
// is reported as it is where each has a place of its own.
func TestReusedPlaceIsIndependent(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	d := quantity.Date(2020, 4, 1)
	quick := material.Reaction{HalfLife: 1, Reference: 15, Q10: 1.5, Floor: -50}
	slow := material.Reaction{HalfLife: 1e5, Reference: 15, Q10: 1.5, Floor: -50}
	b := forecast.Model{Curve: soil.NewCurve([]float64{3, 9}, []float64{321}), Curved: 0.2, Warmth: &climate, Dug: true, DriftSD: 2,
		Additions: []forecast.Addition{{Date: d + 100, CaCO3: 200, Reacts: quick, Batch: "first", StrengthSD: 0.3},
			{Date: d + 900, CaCO3: 200, Reacts: quick, Batch: "next", StrengthSD: 0.3}}}
	for i, ph := range []quantity.PH{5.2, 5.2, 5.8, 5.8, 5.8, 6.1, 6.1, 6.1} {
		b.Readings = append(b.Readings, forecast.Read{Date: d + quantity.Day(200*i), PH: ph, SD: 0.14, Method: soil.Lab})
	}
	// One that hardly is, between them, takes the place that the first gave up.
	apart := b
	apart.Additions = append(append([]forecast.Addition{}, b.Additions...), forecast.Addition{Date: d + 700, CaCO3: 1e-3, Reacts: slow,
		Batch:      "none",
		StrengthSD: 0.05})
	until := d + 1400
	one, other := forecast.Run(&b, until), forecast.Run(&apart, until)
	require.Len(t, other.PH, len(one.PH))
	for i := range one.PH {
		assert.InDelta(t, other.PH[i].Median, one.PH[i].Median, 2e-3, one.PH[i].Date)
		assert.InDelta(t, other.PH[i].P95, one.PH[i].P95, 4e-3, one.PH[i].Date)
	}
}
