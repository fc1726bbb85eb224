package forecast_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// limed returns a loam that got lime in three autumns, and was tested by a laboratory a year after
// each: by the table it moves by a pH of 1 to 1.4 in all. at is where its balance really stands
// after the third.
func limed(r *rand.Rand) (b forecast.Model, ell, at float64) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	curve := soil.NewCurve([]float64{3.5, 4.5, 5.5, 6.5, 7.5}, []float64{227, 227, 321.5, 321.5})
	lime, _ := material.Find(material.CalciticLime)
	ell = 0.45 * r.NormFloat64()
	b = forecast.Model{Curve: curve, Curved: 0.45, Warmth: &climate, Dug: true, Drift: -26, DriftSD: 13.4}
	drift := -26 + 13.4*r.NormFloat64()
	at = curve.Amount(quantity.PH(4.8 + 0.4*r.Float64()))
	swing, bias, hint := 0.08*r.NormFloat64(), 0.05*r.NormFloat64(), 1
	read := func(d quantity.Day, wander float64) {
		y := float64(curve.PHAt(at, &hint)) + wander + swing*math.Cos(2*math.Pi*(float64(d.Month())-1)/12) + bias + 0.14*student(r)
		b.Readings = append(b.Readings, forecast.Read{Date: d, PH: quantity.PH(y), SD: 0.14, Method: soil.Lab})
	}
	total := curve.Need(5, quantity.PH(6+0.4*r.Float64()))
	strength := math.Exp(0.05 * r.NormFloat64())
	for i := range 4 {
		d := start.AddMonths(12 * i)
		read(d, 0.1*r.NormFloat64())
		if i == 3 {
			break
		}
		amount := float64(total) / 3
		b.Additions = append(b.Additions, forecast.Addition{Date: d + 7, CaCO3: amount, Reacts: lime.Reacts, Batch: "bag", StrengthSD: 0.05})
		for _, g := range b.Additions {
			from := forecast.Unreacted(g.Reacts, &climate, true, g.Date, max(d, g.Date))
			at += math.Exp(-ell) * strength * g.CaCO3 * (from - forecast.Unreacted(g.Reacts, &climate, true, g.Date, d.AddMonths(12)))
		}
		at += math.Exp(-ell) * drift
	}
	return b, ell, at
}

// What a bed has shown brings its next dose nearer to where it was meant to: three hundred gardens, each dosed by a pH of 1
// from its last reading, by the table and by what it shown (the buffering that it has shown, and where all its readings say that it
// stands).
func TestLearnedDoseIsMoreAccurate(t *testing.T) {
	r := rand.New(rand.NewPCG(13, 1))
	var table, learned, miss, prior float64
	sure, closer := 0, 0
	for range 300 {
		b, ell, at := limed(r)
		l := forecast.Learn(&b)
		miss, prior = miss+sq(math.Log(l.Buffering.Median)-ell), prior+sq(ell)
		last := b.Readings[len(b.Readings)-1].PH
		target, hint := last+1, 1
		need := float64(b.Curve.Need(last, target))
		run := forecast.Run(&b, b.Readings[len(b.Readings)-1].Date)
		lv := quantity.PH(run.PH[len(run.PH)-1].Median)
		needL := float64(b.Curve.Need(lv, target))
		lands := func(factor float64) float64 {
			return float64(b.Curve.PHAt(at+math.Exp(-ell)*need*factor, &hint) - target)
		}
		factor := 1.0
		if k := l.Beside(soil.ByTable); k != nil {
			factor = k.Factor
		}
		off := lands(1)
		need = needL
		on := lands(factor)
		table, learned = table+sq(off), learned+sq(on)
		if l.Counts && (l.Buffering.P05 > 1 || l.Buffering.P95 < 1) {
			sure++
			if math.Abs(on) < math.Abs(off) {
				closer++
			}
		}
	}
	t.Logf("error of stubbornness %.2f of the prior’s; miss %.3f by the table, %.3f by what was learned (%.2f); closer in %d of %d",
		math.Sqrt(miss/prior), math.Sqrt(table/300), math.Sqrt(learned/300), math.Sqrt(learned/table), closer, sure)
	assert.Less(t, math.Sqrt(miss/prior), 0.60)
	assert.Less(t, math.Sqrt(learned/table), 0.75)
	assert.GreaterOrEqual(t, share(closer, sure), 0.80)
	assert.Greater(t, sure, 30)
}
