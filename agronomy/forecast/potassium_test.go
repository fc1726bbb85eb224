package forecast_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// The newest test is the figure of its day, whatever was forecast of it; before it there is none.
func TestPotassiumStartsAtNewestTest(t *testing.T) {
	d := quantity.Date(2024, 3, 15)
	b := forecast.PotassiumModel{Rise: 2, Leached: 0.03, Half: 50, Reads: []forecast.PotassiumReading{{Date: d, PPM: 120}, {Date: d + 365,
		PPM: 90}},
		Moves: []forecast.PotassiumMove{{Date: d + 30, K2O: 10}, {After: d + 400, Date: d + 500, K2O: -10}}}
	assert.Zero(t, b.Carry(d-1))
	assert.InDelta(t, 120, float64(b.Carry(d).Now), 1e-9)
	assert.InDelta(t, 90, float64(b.Carry(d+365).Now), 0.01)
	half := b.Carry(d + 450)
	assert.InDelta(t, 5, float64(half.Carried), 1e-9, "half of its days")
	assert.Zero(t, float64(half.Given), "what went on before the test is in it")
	assert.InDelta(t, 0.03*85/365.25*38, float64(half.Leached), 0.05)
	told := forecast.RunPotassium(&b, d+700)
	assert.Equal(t, 1, told[0].Date.DayOfMonth())
	b.Also = []quantity.Day{d + 450}
	also := forecast.RunPotassium(&b, d+700)
	assert.Len(t, also, len(told)+1, "a day that was asked for is told beside the firsts of months")
	assert.InDelta(t, float64(half.Now), forecast.On(also, d+450).Median, 1e-3, "the line is the figure")
}

// Ground that has given more potassium than the ledger knows of, six years running, is forecast to go on; what is put on brings no
// more for it.
func TestPotassiumReleaseContinues(t *testing.T) {
	d := quantity.Date(2020, 10, 1)
	bed := func(flat bool) forecast.PotassiumModel {
		b := forecast.PotassiumModel{Rise: 2, Half: 50}
		for y := range 7 {
			ppm := 160.0
			if !flat {
				ppm -= 20 * float64(y)
			}
			b.Reads = append(b.Reads, forecast.PotassiumReading{Date: d.AddMonths(12 * y), PPM: ppm})
		}
		for y := range 8 {
			b.Moves = append(b.Moves, forecast.PotassiumMove{Date: d.AddMonths(12*y + 6), K2O: -10})
		}
		return b
	}
	at := func(b forecast.PotassiumModel) float64 { return float64(b.Carry(d.AddMonths(12*7 - 1)).Now) }
	falls, flat := bed(false), bed(true)
	assert.InDelta(t, 40-20, at(falls), 4, "it falls as the ledger has it")
	assert.Greater(t, at(flat), 160-20+5.0, "it has held its own for six years")
	fed := bed(true)
	fed.Moves = append(fed.Moves, forecast.PotassiumMove{Date: d.AddMonths(12*6 + 7), K2O: 15})
	assert.InDelta(t, 30, at(fed)-at(flat), 0.5)
}

// Tests by another extractant are figures of another scale, and one figure lent to two readings is one test.
func TestPotassiumUsesOneExtractant(t *testing.T) {
	r := recorded(t)
	read := func(day quantity.Day, ppm quantity.Concentration, with soil.Extractant) soil.Reading {
		return soil.Reading{Date: day, Method: soil.Lab, PH: 6, Potassium: &ppm, Extractant: with}
	}
	first := r.Readings[0].Date
	reads := []soil.Reading{read(first+800, 105, soil.Mehlich3), read(first, 180, soil.AmmoniumAcetate), read(first+400, 110, soil.Mehlich3),
		{Date: first + 900, PH: 6}, read(first+800, 105, soil.Mehlich3)}
	before, _ := material.Find(material.HardwoodAsh)
	b := forecast.PotassiumModelOf(r.Ground, reads, []ledger.Application{{Date: first + 300, Material: before, Rate: 100},
		{Date: first + 500, Material: before, Rate: 100}}, nil, first+900, first+900)
	assert.Equal(t, []forecast.PotassiumReading{{Date: first + 400, PPM: 110}, {Date: first + 800, PPM: 105}}, b.Reads)
	assert.Len(t, b.Moves, 1, "what went on before the first that counts is in it")
	none := forecast.PotassiumModelOf(r.Ground, nil, nil, nil, first, first)
	assert.Empty(t, none.Reads)
	assert.Zero(t, none.Carry(first))
}

// The line goes through the tests, and between them as the bed moved: ash lifts it on its day, though the next test lies lower.
func TestPastPassesThroughTests(t *testing.T) {
	d := quantity.Date(2023, 10, 1)
	b := forecast.PotassiumModel{Rise: 2, Half: 50, Reads: []forecast.PotassiumReading{{Date: d, PPM: 140}, {Date: d.AddMonths(12), PPM: 138},
		{Date: d.AddMonths(24), PPM: 133}}}
	for y := range 2 {
		b.Moves = append(b.Moves, forecast.PotassiumMove{Date: d.AddMonths(12*y + 2), K2O: 5},
			forecast.PotassiumMove{After: d.AddMonths(12*y + 6), Date: d.AddMonths(12*y + 11), K2O: -15})
	}
	told := forecast.RunPotassium(&b, d.AddMonths(24))
	for _, r := range b.Reads {
		assert.InDelta(t, r.PPM, forecast.On(told, r.Date).Median, 0.1, "%v", r.Date)
	}
	before, after := forecast.On(told, d.AddMonths(1)).Median, forecast.On(told, d.AddMonths(3)).Median
	// Of the year's doubt, ppm squared, two months hold what the ground keeps of 10 ppm of ash and a sixth of what it wanders; the crop's
	// 30 ppm and the rest of the wander hold the others.
	kept, wander, taken := 0.30*0.30*10*10, 8.0*8.0, 0.25*0.25*30*30
	share := (kept + wander/6) / (kept + wander + taken)
	assert.InDelta(t, 10+18*share, after-before, 1, "10 ppm of ash, and its share of the 18 that were missed")
	middle := forecast.On(told, d.AddMonths(7))
	assert.Less(t, middle.P95-middle.P05, told[0].P95-told[0].P05, "two tests are surer than one")
}
