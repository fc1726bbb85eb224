package dose_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// The handbook's uncertainties, written independently of the code under test.
var (
	methodSD = map[soil.Method]float64{soil.Lab: 0.10, soil.Meter: 0.15, soil.MeterStale: 0.35, soil.Kit: 0.35, soil.Probe: 0.50}
	limeSD   = map[soil.LimeMethod]float64{soil.ByTable: 0.45, soil.ByOrganicMatter: 0.30, soil.BySMP: 0.20, soil.ByMeasured: 0.12}
	limePc   = map[soil.FreeLime][2]float64{soil.LimeFaint: {0, 1}, soil.LimeClear: {1, 5}, soil.LimeStrong: {5, 12}}
)

func coreSD(cores int) float64 {
	switch {
	case cores >= 10:
		return 0.10
	case cores >= 5:
		return 0.20
	}
	return 0.30
}

func strengthSD(b material.Batch) float64 {
	sd := 0.05
	if b.Family == material.Ash {
		if sd = 0.30; b.Measured != nil {
			sd = 0.15
		}
		if b.Condition == material.Wet {
			sd *= 2
		}
	}
	return sd
}

// draws is how many gardens are drawn for each dose.
const draws = 20000

// drawn is what came of them, in shares of 1.
type drawn struct{ need, end, over float64 }

// draw simulates a dose in gardens that vary as the handbook says.
func draw(t *testing.T, rng *rand.Rand, r dose.Request, a dose.Answer, o dose.Option) (d drawn) {
	t.Helper()
	buffer, err := soil.Buffer(r.Methods.Buffering, r.Ground, r.Reading, a.Target)
	require.NoError(t, err)
	curve := buffer.Curve(a.PH, a.Target)
	sd := math.Hypot(methodSD[r.Reading.Method], coreSD(r.Reading.Cores))
	mass := float64(r.Ground.SoilMass())
	limes := limePc[r.Ground.FreeLime]
	span := a.Crop.Range
	for range draws {
		ph := a.PH + quantity.PH(sd*rng.NormFloat64())
		resists := math.Exp(limeSD[r.Methods.Buffering] * rng.NormFloat64())
		lime := 0.0
		if a.Direction == dose.Lower {
			lime = 10 * mass * (limes[0] + (limes[1]-limes[0])*rng.Float64())
		}
		if need := resists*float64(curve.Need(ph, a.Target)) - lime; need >= math.Min(float64(a.Need.Low), float64(a.Need.High)) &&
			need <= math.Max(float64(a.Need.Low), float64(a.Need.High)) {
			d.need++
		}
		put := 0.0
		for _, p := range o.Parts {
			b := r.Materials[p.Batch]
			put += float64(p.Rate) * b.WorthBeside(buffer.Stone).EffectiveCCE * math.Exp(strengthSD(b)*rng.NormFloat64())
		}
		if a.Direction == dose.Lower {
			put = math.Min(0, put+lime)
		}
		end := float64(curve.Move(ph, quantity.Rate(put/resists)))
		end = math.Max(3.3, math.Min(8.3, end))
		if end >= float64(o.PH.P05) && end <= float64(o.PH.P95) {
			d.end++
		}
		if a.Direction == dose.Raise && end >= float64(span.High)+0.2 || a.Direction == dose.Lower && end <= float64(span.Low)-0.2 {
			d.over++
		}
	}
	return drawn{d.need / draws, d.end / draws, d.over / draws}
}

func TestIntervalsMatchSimulation(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(20, 26))
	tried := map[dose.Direction]int{}
	for tried[dose.Raise] < 40 || tried[dose.Lower] < 25 {
		r := random(rng)
		r.History, r.More, r.Reading.Layers, r.Reading.Basis = nil, nil, nil, soil.Water
		if r.Reading.Method == soil.Fizz || r.Methods.Buffering == soil.ByLabRate {
			continue
		}
		if *r.Ground.OrganicMatter > 20 {
			continue
		}
		a := answer(t, r)
		if len(a.Options) == 0 || tried[a.Direction] >= 40 {
			continue
		}
		o := a.Options[rng.IntN(len(a.Options))]
		tried[a.Direction]++
		got := draw(t, rng, r, a, o)
		name := string(a.Direction) + " " + nameOf(o) + " " + string(r.Methods.Buffering) + " " + string(r.Reading.Method) + " " +
			string(r.Ground.FreeLime)
		assert.InDelta(t, 2.0/3, got.need, 0.02, "%s: two in three of the need, %v at %.2f", name, a.Need.CaCO3, float64(a.PH))
		if o.PH.P95 < soil.MostPH-0.01 && o.PH.P05 > soil.LeastPH+0.01 {
			assert.InDelta(t, 0.90, got.end, 0.02, "%s: nine in ten, %v", name, o.PH)
		}
		if !slices.ContainsFunc(o.Applications,
			func(g dose.Application) bool { return g.RetestFirst }) { // else the chance is that of the first application
			assert.InDelta(t, o.Over, got.over, 0.02, "%s: the chance of going past the band", name)
		}
	}
}

func TestGivenStrengthCountsAsTested(t *testing.T) {
	spread := func(measured bool) quantity.PH {
		a := answer(t, request(func(r *dose.Request) {
			r.Methods.Buffering, r.Reading.BufferCapacity = soil.ByMeasured, 1600
			if !measured {
				r.Materials[1].Measured = nil
			}
		}))
		o := of(t, a, material.HardwoodAsh)
		return o.PH.P95 - o.PH.P05
	}
	assert.Less(t, spread(true), spread(false))
}
