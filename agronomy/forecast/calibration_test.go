package forecast_test

import (
	"math"
	"math/rand/v2"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
)

// kTruth returns a bed's potassium as it really went, with what was known of it.
func kTruth(r *rand.Rand) (b forecast.PotassiumModel, levels map[quantity.Day]float64) {
	b = forecast.PotassiumModel{Rise: 2.1, Leached: 0.03, Half: 52}
	k := 90 + 60*r.Float64()
	kept := 1 + 0.30*r.NormFloat64() // of what is brought, by this ground
	levels = map[quantity.Day]float64{}
	fed := [12]float64{}
	for m := range simulated * 12 {
		d := start.AddMonths(m)
		levels[d] = k
		if m%12 == 0 {
			b.Reads = append(b.Reads, forecast.PotassiumReading{Date: d, PPM: k * (1 + 0.10*r.NormFloat64())})
			fed = [12]float64{}
			fed[3] = 10 + 15*r.Float64() // ash in January
			for i := range 5 {
				fed[6+i] -= 4 // a crop from April to August
			}
		}
		if m%12 == 0 {
			// The year's ash holds more or less than its kind, and the crop carries off more or less.
			ash, removal := kept*(1+0.30*r.NormFloat64()), 1+0.25*r.NormFloat64()
			b.Moves = append(b.Moves, forecast.PotassiumMove{Date: start.AddMonths(m + 4), K2O: fed[3]},
				forecast.PotassiumMove{After: start.AddMonths(m + 6), Date: start.AddMonths(m + 11), K2O: -20})
			for i := range fed {
				if fed[i] > 0 {
					fed[i] *= max(0, ash)
				} else {
					fed[i] *= removal
				}
			}
		}
		k = max(0, k+fed[m%12]*b.Rise+8*math.Sqrt(1.0/12)*r.NormFloat64()) // the ground itself gives and takes
		if k > b.Half {
			k -= b.Leached / 12 * (k - b.Half)
		}
	}
	return b, levels
}

// kScored returns how often the ranges of potassium hold the truth, and how its innovations spread.
func kScored(n int, seed uint64) (in90, in50, spread float64, ranks [6]int) {
	r := rand.New(rand.NewPCG(10, seed))
	months, hit90, hit50, count, square := 0, 0, 0, 0, 0.0
	for range n {
		b, levels := kTruth(r)
		told := forecast.RunPotassium(&b, start.AddMonths(12*simulated))
		for _, p := range told {
			if k, ok := levels[p.Date]; ok {
				months++
				ranks[rank(p, k)]++
				if k >= p.P05 && k <= p.P95 {
					hit90++
				}
				if k >= p.P25 && k <= p.P75 {
					hit50++
				}
			}
		}
		for _, x := range b.Innovations() {
			count++
			square += x * x
		}
	}
	return share(hit90, months), share(hit50, months), math.Sqrt(square / float64(count)), ranks
}

func TestPotassiumIntervalCoverage(t *testing.T) {
	in90, in50, spread, _ := kScored(200, 1)
	t.Logf("90 %%: %.3f, 50 %%: %.3f, innovations %.3f", in90, in50, spread)
	assert.InDelta(t, 0.90, in90, 0.05)
	assert.InDelta(t, 0.50, in50, 0.08)
}

func TestPotassiumCarriedForward(t *testing.T) {
	d := quantity.Date(2025, 1, 1)
	b := forecast.PotassiumModel{Rise: 2, Leached: 0, Half: 50, Reads: []forecast.PotassiumReading{{Date: d, PPM: 100}},
		Moves: []forecast.PotassiumMove{{Date: d + 40, K2O: 10}, {Date: d + 100, K2O: -4}}}
	told := forecast.RunPotassium(&b, d.AddMonths(6))
	assert.InDelta(t, 100+20-8, told[len(told)-1].Median, 0.2)
	none := forecast.RunPotassium(&forecast.PotassiumModel{}, d)
	assert.Empty(t, none)
}

// TestCalibration writes the figures of docs/forecast.md; GARDENS says of how many gardens.
func TestCalibration(t *testing.T) {
	n, err := strconv.Atoi(os.Getenv("GARDENS"))
	if err != nil {
		t.Skip("GARDENS says of how many gardens")
	}
	for _, x := range []struct {
		name string
		as   nature
	}{{"as the model takes for usual", asTaken}, {"stubbornness with sd 0.6", nature{0.6, 0, 1, 0.08}},
		{"5 % of readings 0.8 off", nature{0.45, 0.05, 1, 0.08}}, {"drift half", nature{0.45, 0, 0.5, 0.08}},
		{"drift double", nature{0.45, 0, 2, 0.08}}, {"no swing of the season", nature{0.45, 0, 1, 0}}} {
		s := scored(n, 2, x.as)
		t.Logf("%s: 90 %% %.3f, 50 %% %.3f, stubbornness %.3f, error %.2f of the prior’s, innovations %.3f", x.name,
			share(s.in90, s.months), share(s.in50, s.months), share(s.ell90, s.gardens), math.Sqrt(s.ellMiss/s.ellPrior),
			math.Sqrt(s.square/s.innovations))
		t.Logf("ranks:%s", drawnRanks(s.ranks))
	}
	for _, doubt := range []float64{0.05, 0.15, 0.30} {
		s := shownScored(n/5, 5, doubt, 2)
		t.Logf("five beds of a garden, batches doubted by %.2f: %s", doubt, s.String())
	}
	in90, in50, spread, ranks := kScored(n, 2)
	t.Logf("potassium’s ranks:%s", drawnRanks(ranks))
	t.Logf("potassium: 90 %% %.3f, 50 %% %.3f, innovations %.3f", in90, in50, spread)
}
