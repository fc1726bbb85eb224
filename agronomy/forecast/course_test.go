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

// A course is near the median of the filter, over a hundred gardens with a planned application, for
// three years; a forecast's medians are the course's.
func TestCourseMatchesFilterMedian(t *testing.T) {
	r := rand.New(rand.NewPCG(14, 1))
	lime, _ := material.Find(material.CalciticLime)
	square, n, near := 0.0, 0, 0
	for range 100 {
		b := drawn(r, asTaken).bed
		last := b.Readings[len(b.Readings)-1].Date
		b.Additions = append(b.Additions, forecast.Addition{Date: last + 40, CaCO3: 300 * r.Float64(), Reacts: lime.Reacts, Batch: "next",
			StrengthSD: 0.05})
		run := forecast.Run(&b, last.AddMonths(36))
		c := forecast.CourseOf(&b, &run.Learned)
		var days []quantity.Day
		for _, m := range []int{2, 6, 12, 24, 36} {
			days = append(days, last.AddMonths(m))
		}
		for _, p := range run.PH {
			if p.Date >= last {
				assert.InDelta(t, float64(c.On(p.Date).PH), p.Median, 1e-9)
			}
		}
		for _, p := range forecast.Levels(&b, days) {
			off := float64(c.On(p.Date).PH) - p.Median
			if square, n = square+sq(off), n+1; math.Abs(off) < 0.1 {
				near++
			}
		}
	}
	t.Logf("root mean square %.3f, within a tenth %.3f", math.Sqrt(square/float64(n)), share(near, n))
	assert.Less(t, math.Sqrt(square/float64(n)), 0.04)
	assert.Greater(t, share(near, n), 0.97)
}

// Acid that free lime has eaten is gone from it; what it has left takes the next.
func TestCourseTracksFreeLime(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	atOnce := material.Reaction{HalfLife: 0.01, Reference: 15, Q10: 1.5, Floor: -50}
	d := quantity.Date(2025, 4, 1)
	b := forecast.Model{Curve: soil.NewCurve([]float64{3, 9}, []float64{321}), Curved: 0.45, Warmth: &climate, Dug: true, DriftSD: 1,
		FreeLime: 300,
		Additions: []forecast.Addition{{Date: d + 1, CaCO3: -200, Reacts: atOnce, Batch: "a", StrengthSD: 0.05},
			{Date: d + 100, CaCO3: -200, Reacts: atOnce, Batch: "b", StrengthSD: 0.05}},
		Readings: []forecast.Read{{Date: d, PH: 7.6, SD: 0.14, Method: soil.Lab}, {Date: d + 50, PH: 7.6, SD: 0.14, Method: soil.Lab}}}
	l := forecast.Learn(&b)
	c := forecast.CourseOf(&b, &l)
	assert.InDelta(t, 100, float64(c.FreeLime), 1)
	moved := 100 / (321 * l.Buffering.Median)
	assert.InDelta(t, l.Level.Median-moved, float64(c.On(d+150).PH), 0.05)
	assert.InDelta(t, forecast.Levels(&b, []quantity.Day{d + 150})[0].Median, float64(c.On(d+150).PH), 0.06)
}

// Nothing on and no drift is flat; a drift alone moves it by itself; before its day it stands where it begins.
func TestCourseDrift(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	d := quantity.Date(2025, 4, 1)
	c := forecast.Course{Warmth: &climate, Dug: true, Curve: soil.NewCurve([]float64{3, 9}, []float64{321}), From: 6, Day: d}
	assert.InDelta(t, 6, float64(c.On(d.AddMonths(36)).PH), 1e-9)
	c.Drift = -32.1
	assert.InDelta(t, 5.7, float64(c.On(d.AddMonths(36)).PH), 1e-2)
	assert.InDelta(t, 6, float64(c.On(d-10).PH), 1e-9)
	// Free lime pulls to 7.9 with a time constant of 48 months, against the drift.
	c.Pulls, c.Drift = true, 0
	assert.InDelta(t, 7.9-1.9/math.E, float64(c.On(d.AddMonths(48)).PH), 0.01)
	c.Drift = -32.1
	assert.InDelta(t, 7.9-1.9/math.E-0.1*4*(1-1/math.E), float64(c.On(d.AddMonths(48)).PH), 0.01)
}

// On ground with free lime the course goes the way of the filter.
func TestCourseMatchesFilterOnFreeLime(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	d := quantity.Date(2025, 4, 1)
	b := forecast.Model{Curve: soil.NewCurve([]float64{3, 9}, []float64{321}), Curved: 0.45, Warmth: &climate, Dug: true, Drift: -30,
		DriftSD: 1, Pulls: true, Readings: []forecast.Read{{Date: d, PH: 7.6, SD: 0.14, Method: soil.Lab}}}
	l := forecast.Learn(&b)
	c := forecast.CourseOf(&b, &l)
	for _, p := range forecast.Levels(&b, []quantity.Day{d + 365, d.AddMonths(60)}) {
		assert.InDelta(t, p.Median, float64(c.On(p.Date).PH), 0.03, p.Date)
	}
}

// Ground under a perennial was dug before: earlier applications react as dug in.
func TestDugInBeforeEstablishmentReactsAsDug(t *testing.T) {
	lime, _ := material.Find(material.CalciticLime)
	r := rand.New(rand.NewPCG(8, 2))
	b := drawn(r, asTaken).bed
	last := b.Readings[len(b.Readings)-1].Date
	b.Additions = []forecast.Addition{{Date: last - 10, CaCO3: 300, Reacts: lime.Reacts, Batch: "bag", StrengthSD: 0.05}}
	at := func(dug bool, until quantity.Day) quantity.PH {
		b.Dug, b.DugUntil = dug, until
		run := forecast.Run(&b, last.AddMonths(12))
		c := forecast.CourseOf(&b, &run.Learned)
		return c.On(last + 180).PH
	}
	dug := at(true, 0)
	assert.Equal(t, dug, at(false, last), "it went on before")
	assert.Less(t, at(false, last-10), dug, "on the day itself it stays on top")
	assert.Less(t, at(false, 0), dug)
}
