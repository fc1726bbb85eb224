package dose_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// A bed's expected course equals the course of its dose: with reacting applications, with and
// without free lime.
func TestOutlookMatchesDoseCourse(t *testing.T) {
	put := func(k material.Kind) func(*dose.Request) {
		return func(r *dose.Request) {
			r.History = ledger.Ledger{{Date: at("2026-09-25"), Material: batch(k).Material, Rate: 120}}
		}
	}
	for _, c := range []struct {
		name    string
		request dose.Request
	}{
		{"nothing at work", request()},
		{"ash at work", request(put(material.HardwoodAsh))},
		{"on ground that is not dug", request(put(material.CalciticLime), func(r *dose.Request) { r.Ground.Worked = soil.Surface })},
		{"sulfur at work, no free lime", request(sweet(7.4, soil.LimeNone), put(material.SulfurPowder))},
		{"sulfur at work, a faint fizz", request(sweet(7.4, soil.LimeFaint), put(material.SulfurPowder))},
		{"sulfur at work, a strong fizz", request(sweet(7.8, soil.LimeStrong), put(material.SulfurPowder))},
	} {
		a := answer(t, c.request)
		require.Len(t, a.Course.Pools, len(c.request.History), c.name)
		assert.Equal(t, c.request.Ground.FreeLimeAcid(c.request.Ground.FreeLime.Share()), a.Course.FreeLime, c.name)
		for i := range a.Options {
			o := &a.Options[i]
			course := a.Expect(o)
			assert.InDelta(t, float64(course.On(o.Retest).PH), float64(o.AtRetest.Median), 1e-9, c.name)
			assert.Less(t, o.AtRetest.P05, o.AtRetest.P95, c.name)
		}
	}
}

// The promise is the bed's own forecast, with its buffering and proven strengths.
func TestPromiseMatchesForecast(t *testing.T) {
	r := request()
	plain := answer(t, r)
	course := plain.Course
	course.Curve, course.From, course.Drift = course.Curve.Scaled(2), course.From-0.1, -40
	r.Foretold = &course
	for range max(1, len(r.Materials)) {
		r.Proved = append(r.Proved, 0.5)
	}
	told := answer(t, r)
	for i := range told.Options {
		o, p := &told.Options[i], &plain.Options[i]
		assert.Equal(t, p.CaCO3, o.CaCO3, "the dose itself is what it was")
		way := told.Expect(o)
		assert.InDelta(t, float64(way.End()), float64(o.PH.Median), 1e-9)
		assert.InDelta(t, float64(p.PH.P95-p.PH.P05), float64(o.PH.P95-o.PH.P05), 1e-9, "its spread is the dose's")
		assert.Equal(t, o.PH.Median, o.Applications[len(o.Applications)-1].PHAfter, "the last application ends there")
		assert.InDelta(t, float64(p.PH.Median), float64(p.Applications[len(p.Applications)-1].PHAfter), 1e-9)
		assert.Less(t, float64(o.AtRetest.Median), float64(p.AtRetest.Median)-0.2)
	}
}

// Where the bed's own forecast lies nearer to the end of the range, the chance of going past it is the forecast's; where it lies
// farther, the dose's.
func TestChanceOfGoingPastTakesNearerForecast(t *testing.T) {
	for name, x := range map[string]struct {
		of     func(*dose.Request)
		nearer quantity.PH
	}{
		"raised":  {func(*dose.Request) {}, 0.4},
		"lowered": {sweet(7.4, soil.LimeNone), -0.4},
	} {
		over := func(by quantity.PH) float64 {
			r := request(x.of)
			course := answer(t, r).Course
			course.From += by
			r.Foretold = &course
			return answer(t, r).Options[0].Over
		}
		plain := answer(t, request(x.of)).Options[0].Over
		assert.Greater(t, over(x.nearer), plain, name)
		assert.InDelta(t, plain, over(-x.nearer), 1e-12, name)
	}
}

// Reacting applications may meet the need, never reverse it: too much sulfur does not call for
// lime, nor the reverse.
func TestCreditNeverReversesNeed(t *testing.T) {
	put := func(k material.Kind, rate quantity.Rate) func(*dose.Request) {
		return func(r *dose.Request) {
			r.History = ledger.Ledger{{Date: at("2026-09-25"), Material: batch(k).Material, Rate: rate}}
		}
	}
	for name, r := range map[string]dose.Request{
		"sulfur": request(sweet(7.4, soil.LimeNone), put(material.SulfurPowder, 900)),
		"lime":   request(put(material.CalciticLime, 2000)),
	} {
		a := answer(t, r)
		assert.NotZero(t, a.OnWay, name)
		assert.Zero(t, a.Need.CaCO3, name)
		assert.Equal(t, dose.Leave, a.Direction, name)
		assert.Empty(t, a.Options, name)
	}
}
