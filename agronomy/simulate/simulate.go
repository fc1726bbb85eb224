// Package simulate simulates beds by a model other than the forecast's, so that tests can hold
// forecasts and doses against an independent truth.
//
// A bed has its own curve, made from a lime method's with each piece steeper or flatter and stiffer
// over 7.2; its own buffering, speed of reaction, drift and season; readings with outliers; and
// unrecorded ash. It moves in steps of a week at most. Randomness comes in as an argument: the same
// draws give the same bed.
package simulate

import (
	"math"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Rand is the source of randomness.
type Rand interface {
	Float64() float64
	NormFloat64() float64
}

// Nature is how the truth differs from the model's defaults. Standard deviations are of logarithms,
// except for Drift's.
type Nature struct {
	// Buffering is the sd of a bed's buffering relative to the method, Pieces that of each half unit
	// of the curve, Stiff the factor over 7.2.
	Buffering, Pieces, Stiff float64
	// HalfLife is the sd of the speed of reaction; Q10Low and Q10High bound the Q10 of lime and
	// ash.
	HalfLife, Q10Low, Q10High float64
	// Wild is the share of outliers among readings, WildSD their additional sd, pH.
	Wild, WildSD float64
	// Unnoted is the share of years with unrecorded ash, of UnnotedRate CaCO₃.
	Unnoted     float64
	UnnotedRate quantity.Rate
}

// Other is a truth that differs from the model in every respect.
var Other = Nature{Buffering: 0.5, Pieces: 0.2, Stiff: 2, HalfLife: 0.3, Q10Low: 1.5, Q10High: 2, Wild: 0.04, WildSD: 0.8,
	Unnoted: 0.10, UnnotedRate: 50}

// Bed is a simulated bed with its record.
type Bed struct {
	// Record is what was recorded: ground, readings, applications.
	Record forecast.Record

	rand   Rand
	nature Nature
	day    quantity.Day
	// curve is the bed's true curve, at its position on it.
	curve soil.Curve
	a     float64
	// speed and q10 are the true speed of reaction, drift the true drift, g CaCO₃/m² a year.
	speed, q10, drift float64
	wander, swing     float64
	bias              map[soil.Method]float64
	strength          map[string]float64
	pools             []pool
}

// pool is an application that has yet to react.
type pool struct {
	left   float64
	reacts material.Reaction
}

const (
	yearDays  = 365.25
	step      = quantity.Day(7)
	stiffFrom = 7.2
	wanderSD  = 0.10
	swingSD   = 0.08
)

// New returns a bed of a texture at a true pH on a day, in a climate; its drift varies around the
// guide's.
func New(r Rand, n Nature, texture soil.TextureClass, climate soil.Climate, start quantity.Day, ph quantity.PH) *Bed {
	b := &Bed{rand: r, nature: n, day: start, bias: map[soil.Method]float64{}, strength: map[string]float64{}}
	b.Record.Ground = soil.Ground{Area: 10, Depth: 0.15, Texture: texture, Table: soil.CoolTable, Worked: soil.Dug, Use: soil.UseBed,
		FreeLime: soil.LimeNone}
	b.Record.Climate, b.Record.Day = climate, start
	b.curve = b.own()
	b.a = b.curve.Amount(ph)
	b.speed = math.Exp(n.HalfLife * r.NormFloat64())
	b.q10 = n.Q10Low + (n.Q10High-n.Q10Low)*r.Float64()
	b.wander, b.swing = wanderSD*r.NormFloat64(), swingSD*r.NormFloat64()
	sum, sd := forecast.Drift([]forecast.Pull{{ID: forecast.PullRain, Rate: -18},
		{ID: forecast.PullCrop, Rate: forecast.RemovalPull(crop.Unnamed.Removal)}})
	b.drift = sum + sd*r.NormFloat64()
	return b
}

// own returns the bed's own curve.
func (b *Bed) own() soil.Curve {
	at := soil.Reading{PH: 6, Basis: soil.Water, Method: soil.Lab}
	table, err := soil.Buffer(soil.ByTable, b.Record.Ground, at, 6.5)
	if err != nil {
		panic(err) // the table needs only a texture
	}
	buffering := math.Exp(b.nature.Buffering * b.rand.NormFloat64())
	var ph, slopes []float64
	for p := 3.0; p <= 9; p += 0.5 {
		ph = append(ph, p)
		if p == 9 {
			break
		}
		slope := float64(table.Raise.Need(quantity.PH(p), quantity.PH(p+0.5))) / 0.5 * buffering * math.Exp(b.nature.Pieces*b.rand.NormFloat64())
		if p+0.5 > stiffFrom {
			slope *= b.nature.Stiff
		}
		slopes = append(slopes, slope)
	}
	return soil.NewCurve(ph, slopes)
}

// Day returns the simulated day.
func (b *Bed) Day() quantity.Day { return b.day }

// Until advances the simulation to a day.
func (b *Bed) Until(day quantity.Day) {
	for b.day < day {
		next := min(day, b.day+step)
		years := float64(next-b.day) / yearDays
		for i := range b.pools {
			p := &b.pools[i]
			acts := p.left * (1 - forecast.Unreacted(p.reacts, &b.Record.Climate, true, b.day, next))
			p.left -= acts
			b.a += acts
		}
		b.a += b.drift * years
		phi := math.Exp(-years)
		b.wander = b.wander*phi + wanderSD*math.Sqrt(1-phi*phi)*b.rand.NormFloat64()
		if n := b.nature; b.rand.Float64() < n.Unnoted*years {
			ash, _ := material.Find(material.HardwoodAsh)
			b.pools = append(b.pools, pool{float64(n.UnnotedRate), b.reacts(ash.Reacts)})
		}
		b.day = next
	}
	b.Record.Day = b.day
}

// reacts returns the true reaction of a material.
func (b *Bed) reacts(r material.Reaction) material.Reaction {
	r.HalfLife *= b.speed
	if r.Reference == 15 { // the Q10 of lime and ash is disputed
		r.Q10 = b.q10
	}
	return r
}

// Put applies a batch today; the logarithm of its strength is off with a standard deviation of sd.
func (b *Bed) Put(of material.Batch, rate quantity.Rate, batch string, sd float64) {
	x, known := b.strength[batch]
	if !known {
		x = math.Exp(sd * b.rand.NormFloat64())
		b.strength[batch] = x
	}
	a := ledger.Application{Date: b.day, Material: of.Material, Rate: rate, Measured: of.Measured, Potash: of.Potash, Planned: true}
	b.Record.Applied = append(b.Record.Applied, forecast.Application{Application: a, Batch: batch})
	b.pools = append(b.pools, pool{float64(rate) * of.Worth().EffectiveCCE * x, b.reacts(of.Speed())})
}

// Level returns the year's level of pH today.
func (b *Bed) Level() quantity.PH { return b.ph(b.a) }

func (b *Bed) ph(a float64) quantity.PH {
	hint := 1
	return max(soil.LeastPH, min(soil.MostPH, b.curve.PHAt(a, &hint)+quantity.PH(b.wander)))
}

// Settles returns the pH after all that was applied, and more CaCO₃, has reacted.
func (b *Bed) Settles(more quantity.Rate) quantity.PH {
	sum := float64(more)
	for i := range b.pools {
		sum += b.pools[i].left
	}
	return b.ph(b.a + sum)
}

// Read takes a reading today and records it.
func (b *Bed) Read(m soil.Method, cores int) soil.Reading {
	row, _ := soil.FindMethod(m)
	bias, known := b.bias[m]
	if !known {
		bias = forecast.MethodBias(m) * b.rand.NormFloat64()
		b.bias[m] = bias
	}
	sd := math.Hypot(row.SD, soil.SamplingSD(cores))
	off := bias + sd*b.rand.NormFloat64() + b.swing*math.Cos(2*math.Pi*(float64(b.day.Month())-1)/12)
	if b.rand.Float64() < b.nature.Wild {
		off += b.nature.WildSD * b.rand.NormFloat64()
	}
	ph := max(soil.LeastPH, min(9.5, b.Level()+quantity.PH(off)))
	x := soil.Reading{Date: b.day, Method: m, Basis: soil.Water, PH: quantity.PH(quantity.Round(float64(ph), 2)), Cores: cores}
	b.Record.Readings = append(b.Record.Readings, x)
	return x
}
