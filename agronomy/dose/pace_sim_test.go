package dose_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/simulate"
	"zephyrfield/agronomy/soil"
)

// tended is a simulated bed with its gardener: its doses and tests.
type tended struct {
	*simulate.Bed
	crop   *crop.Crop
	shelf  []material.Batch
	sds    []float64
	pace   dose.Pace
	learns bool
	// begun is set while a correction goes on, by a sign.
	begun        bool
	applications int
	// learned is how many doses followed what the bed had shown, held how many of those settled where nine in ten should.
	learned, held int
}

// request returns the dose that is asked for after a reading.
func (x *tended) request(last soil.Reading) dose.Request {
	r := dose.Request{Record: bed.Record{Date: x.Day(), Climate: x.Record.Climate, Ground: x.Record.Ground, Reading: last, Crop: x.crop},
		Methods: dose.Methods{Pace: x.pace}.Or(dose.DefaultMethods), Materials: x.shelf, Begun: x.begun}
	for _, p := range x.Record.Applied {
		if p.Date > x.Day()-1600 {
			r.History = append(r.History, p.Application)
		}
	}
	if !x.learns {
		return r
	}
	method, err := x.Record.Method(soil.ByTable)
	if err != nil {
		panic(err)
	}
	model := x.Record.Model(method, false)
	l := forecast.Learn(&model)
	if r.Ground.Learned = l.Beside(soil.ByTable); r.Ground.Learned != nil {
		r.Methods.Buffering = soil.ByLearned
	}
	return r
}

// round tests the bed, doses it and applies what has a day; it returns the day of the next test.
func (x *tended) round(t *testing.T) quantity.Day {
	t.Helper()
	last := x.Read(soil.Lab, 12)
	aim := x.crop.Aim
	if last.PH >= aim-dose.NearAim {
		x.begun = false
	}
	a, err := dose.For(x.request(last))
	require.NoError(t, err)
	year := x.Day().AddMonths(12)
	if a.Direction != dose.Raise || len(a.Options) == 0 {
		return year
	}
	o := a.Options[0]
	for _, g := range o.Applications {
		x.Until(g.Date)
		p := o.Parts[g.Part]
		x.Put(*p.Of, g.Rate, string(p.Kind), x.sds[p.Batch])
		x.applications++
	}
	x.begun = true
	if a.Buffering.Method == soil.ByLearned {
		x.learned++
		if at := x.Settles(0); at >= o.PH.P05 && at <= o.PH.P95 {
			x.held++
		}
	}
	if x.pace == dose.AllAtOnce || !o.Waits() {
		return max(o.Retest, x.Day()+84)
	}
	return o.Retest
}

// paceScore is how beds did at the end of the seasons.
type paceScore struct {
	inRange, over, err, applications float64
	// learned is how many doses followed what their bed had shown, held the share of those that settled within nine in ten.
	learned int
	held    float64
}

func (s paceScore) String() string {
	return fmt.Sprintf("in range %.0f %%, settled 0.2 over the top %.0f %%, mean error %.2f, %.1f applications a bed; of "+
		"%d doses by what the bed had shown %.0f %% settled within nine in ten", 100*s.inRange, 100*s.over, s.err, s.applications,
		s.learned, 100*s.held)
}

// tend simulates beds for four seasons under a pace.
func tend(t *testing.T, beds int, seed uint64, pace dose.Pace, of string, shelf []material.Batch, sds []float64) (s paceScore) {
	c, ok := crop.Find(of)
	require.True(t, ok)
	climate, _ := soil.FindClimate("maritime", soil.North)
	textures := []soil.Texture{soil.SandyLoam, soil.Loam, soil.SiltLoam, soil.ClayLoam}
	start := at("2022-10-10")
	for n := range beds {
		rng := rand.New(rand.NewPCG(seed, uint64(n)))
		texture, _ := soil.FindTexture(textures[rng.IntN(len(textures))])
		low := c.Range.Low
		x := tended{Bed: simulate.New(rng, simulate.Other, texture, climate, start, low-quantity.PH(0.3+1.0*rng.Float64())), crop: &c,
			shelf: shelf, sds: sds, pace: pace, learns: true}
		over := false
		for end := start.AddMonths(48); x.Day() < end; {
			next := x.round(t)
			over = over || x.Settles(0) >= c.Range.High+0.2
			x.Until(min(next, end))
		}
		settled := x.Settles(0)
		if settled >= c.Range.Low && settled <= c.Range.High {
			s.inRange++
		}
		if over {
			s.over++
		}
		s.err += math.Abs(float64(settled - c.Aim))
		s.applications += float64(x.applications)
		s.learned, s.held = s.learned+x.learned, s.held+float64(x.held)
	}
	n := float64(beds)
	return paceScore{s.inRange / n, s.over / n, s.err / n, s.applications / n, s.learned, s.held / max(1, float64(s.learned))}
}

func simulated() int {
	if n, err := strconv.Atoi(os.Getenv("BEDS")); err == nil {
		return n
	}
	return 60
}

// Compares the paces on beds simulated by another model: docs/pace.md.
func TestCarefulPaceOnSimulatedBeds(t *testing.T) {
	t.Parallel()
	lime := batch(material.CalciticLime)
	ash := batch(material.HardwoodAsh)
	for _, x := range []struct {
		crop  string
		shelf []material.Batch
		sds   []float64
		least paceScore
	}{
		{"general-vegetables", []material.Batch{lime}, []float64{0.05}, paceScore{inRange: 0.78, over: 0.09, err: 0.32, applications: 4.5}},
		{"cabbage", []material.Batch{lime, ash}, []float64{0.05, 0.30}, paceScore{inRange: 0.75, over: 0.11, err: 0.30, applications: 6}},
	} {
		n := simulated()
		careful := tend(t, n, 1, dose.Careful, x.crop, x.shelf, x.sds)
		all := tend(t, n, 1, dose.AllAtOnce, x.crop, x.shelf, x.sds)
		t.Logf("%s, careful: %s", x.crop, careful)
		t.Logf("%s, all at once: %s", x.crop, all)
		assert.Greater(t, careful.inRange, all.inRange-0.05)
		assert.Less(t, careful.over, all.over+0.02)
		if n >= 300 {
			assert.GreaterOrEqual(t, careful.inRange, x.least.inRange)
			assert.LessOrEqual(t, careful.over, x.least.over)
			assert.LessOrEqual(t, careful.err, x.least.err)
			assert.LessOrEqual(t, careful.applications, x.least.applications)
		}
	}
}
