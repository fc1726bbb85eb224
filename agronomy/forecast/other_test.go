package forecast_test

import (
	"math/rand/v2"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/simulate"
	"zephyrfield/agronomy/soil"
)

// lived returns a bed of another truth that was read twice a year for some years, by a lab in
// autumn and by a meter in spring, and limed or given ash in most autumns.
func lived(t testing.TB, r *rand.Rand, years int) *simulate.Bed {
	climate, _ := soil.FindClimate("maritime", soil.North)
	textures := []soil.Texture{soil.SandyLoam, soil.Loam, soil.SiltLoam, soil.ClayLoam}
	texture, ok := soil.FindTexture(textures[r.IntN(len(textures))])
	require.True(t, ok)
	b := simulate.New(r, simulate.Other, texture, climate, start, quantity.PH(4.9+0.9*r.Float64()))
	lime, _ := material.Find(material.CalciticLime)
	ash, _ := material.Find(material.HardwoodAsh)
	for range years {
		b.Read(soil.Lab, 12)
		b.Until(b.Day() + 14)
		switch n := r.IntN(4); {
		case n < 2:
			b.Put(material.Batch{Material: lime}, quantity.Rate(120+200*r.Float64()), "bag", 0.05)
		case n == 2:
			b.Put(material.Batch{Material: ash, Condition: material.Dry, Source: material.Clean}, quantity.Rate(80+120*r.Float64()), "bin", 0.30)
		}
		b.Until(b.Day() + 168)
		b.Read(soil.Meter, 8)
		b.Until(b.Day() + 183)
	}
	b.Read(soil.Lab, 12)
	return b
}

// ahead are the months after the last reading at which the ranges are held against the truth.
var ahead = []int{0, 6, 12, 24}

// otherScored returns how often the ranges of pH hold a truth of another make, by ahead.
func otherScored(t testing.TB, n int, seed uint64) (in90, in50 []float64) {
	r := rand.New(rand.NewPCG(12, seed))
	in90, in50 = make([]float64, len(ahead)), make([]float64, len(ahead))
	for range n {
		b := lived(t, r, 3)
		now := b.Day()
		method, err := b.Record.Method(soil.ByTable)
		require.NoError(t, err)
		model := b.Record.Model(method, false)
		run := forecast.Run(&model, now.AddMonths(25))
		for i, m := range ahead {
			b.Until(now.AddMonths(m))
			p, ph := forecast.On(run.PH, b.Day()), float64(b.Level())
			if m == 0 {
				l := forecast.Learn(&model)
				p = l.Level
			}
			if ph >= p.P05 && ph <= p.P95 {
				in90[i] += 1 / float64(n)
			}
			if ph >= p.P25 && ph <= p.P75 {
				in50[i] += 1 / float64(n)
			}
		}
	}
	return in90, in50
}

func TestIntervalCoverageOnSimulatedBeds(t *testing.T) {
	n := 150
	if x, err := strconv.Atoi(os.Getenv("GARDENS")); err == nil {
		n = x
	}
	in90, in50 := otherScored(t, n, 1)
	t.Logf("now, 6, 12, 24 months: 90 %% %.3f, 50 %% %.3f", in90, in50)
	for i := range ahead {
		assert.InDelta(t, 0.90, in90[i], 0.06, "%d months", ahead[i])
	}
}
