package soil_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

func buffered(t *testing.T, s soil.LimeMethod, depth quantity.Depth, r soil.Reading, target quantity.PH) soil.Buffering {
	t.Helper()
	r.Method, r.Basis = soil.Lab, soil.Water
	b, err := soil.Buffer(s, ground(t, soil.Loam, soil.CoolTable, depth), r, target)
	require.NoError(t, err)
	return b
}

func refused(t *testing.T, s soil.LimeMethod, r soil.Reading, target quantity.PH) string {
	t.Helper()
	r.Method, r.Basis = soil.Lab, soil.Water
	_, err := soil.Buffer(s, ground(t, soil.Loam, soil.CoolTable, 0.15), r, target)
	var m *soil.MissingError
	require.ErrorAs(t, err, &m)
	require.NotEmpty(t, m.Why)
	return m.Field
}

// effective turns a printed rate in short tons an acre into effective g/m².
const effective = 0.75 * 224.17

func TestPublishedSMP(t *testing.T) {
	for _, c := range []struct {
		buffer, ph, target quantity.PH
		tons               float64
	}{
		{6.5, 5.4, 6.5, 60.4 - 0.87*65}, // 3.85
		{6.2, 5.0, 6.0, 49.3 - 0.71*62}, // 5.28
		{6.8, 5.9, 6.8, 71.4 - 1.03*68}, // 1.36
	} {
		for _, kind := range []soil.BufferKind{soil.SMP, soil.Sikora} {
			b := buffered(t, soil.BySMP, 0.2032, soil.Reading{PH: c.ph, Buffer: &soil.BufferPH{Kind: kind, PH: c.buffer}}, c.target)
			assert.InEpsilon(t, c.tons*effective, float64(b.Raise.Need(c.ph, c.target)), 1e-9, "buffer %.1f to %.1f", float64(c.buffer),
				float64(c.target))
		}
	}
	// Half the depth takes half; below 6.0 the way is shared out; between the
	// printed targets it is interpolated.
	b := buffered(t, soil.BySMP, 0.1016, soil.Reading{PH: 5.0, Buffer: &soil.BufferPH{Kind: soil.SMP, PH: 6.2}}, 5.6)
	assert.InEpsilon(t, 0.5*0.6*5.28*effective, float64(b.Raise.Need(5.0, 5.6)), 1e-9)
	assert.InEpsilon(t, 0.5*(5.28+(60.4-0.87*62))/2*effective, float64(b.Raise.Need(5.0, 6.25)), 1e-9)
	// Above buffer 6.87 the lines cross: never less for a higher target.
	b = buffered(t, soil.BySMP, 0.2032, soil.Reading{PH: 5.5, Buffer: &soil.BufferPH{Kind: soil.SMP, PH: 6.93}}, 7.0)
	last := quantity.Rate(-1)
	for p := quantity.PH(5.5); p < 7.5; p += 0.05 {
		need := b.Raise.Need(5.5, p)
		assert.GreaterOrEqual(t, float64(need), float64(last))
		last = need
	}
	none := buffered(t, soil.BySMP, 0.2032, soil.Reading{PH: 5.5, Buffer: &soil.BufferPH{Kind: soil.SMP, PH: 7.3}}, 6.5)
	assert.InDelta(t, 0, float64(none.Raise.Need(5.5, 6.5)), 0.01)
	assert.False(t, none.Gives, "a sand: the formula gives nothing though it is a unit off")
	past := buffered(t, soil.BySMP, 0.2032, soil.Reading{PH: 5.9, Buffer: &soil.BufferPH{Kind: soil.SMP, PH: 6.5}}, 7.0)
	assert.True(t, past.Beyond, "the lines end at 6.8; the last goes on")
	step := float64(past.Raise.Need(6.5, 6.8)) / 0.3
	assert.InEpsilon(t, step*0.2, float64(past.Raise.Need(6.8, 7.0)), 1e-9)
}

// Two Adams–Evans examples worked by hand. H solves 2.27 H² − 5.55 H + (7.79 −
// pH) = 0.
func TestAdamsEvans(t *testing.T) {
	for _, c := range []struct {
		ph, buffer, target quantity.PH
		root1, root2       float64 // √(5.55² − 4 × 2.27 × (7.79 − pH))
		h1, h2             float64
		pounds, grams      float64
	}{
		// √(30.8025 − 9.08 × 2.59) = √7.2853; (5.55 − 2.69913) / 4.54
		// 8000 × 0.40 / 0.627945 × (0.627945 − 0.260103) × 1.5; × 0.75 × 0.112085
		{5.2, 7.6, 6.5, 2.69913, 4.36913, 0.627945, 0.260103, 2811.8, 236.37},
		// √(30.8025 − 9.08 × 1.99) = √12.7333
		// 8000 × 0.15 / 0.436480 × (0.436480 − 0.307022) × 1.5
		{5.8, 7.85, 6.3, 3.56838, 4.15612, 0.436480, 0.307022, 533.87, 44.879},
	} {
		root := func(p quantity.PH) float64 { return math.Sqrt(5.55*5.55 - 4*2.27*(7.79-float64(p))) }
		assert.InDelta(t, c.root1, root(c.ph), 1e-5)
		assert.InDelta(t, c.root2, root(c.target), 1e-5)
		assert.InDelta(t, c.h1, (5.55-c.root1)/4.54, 1e-5)
		assert.InDelta(t, c.h2, (5.55-c.root2)/4.54, 1e-5)
		assert.InEpsilon(t, c.pounds, 8000*(8-float64(c.buffer))/c.h1*(c.h1-c.h2)*1.5, 1e-4)
		r := soil.Reading{PH: c.ph, Buffer: &soil.BufferPH{Kind: soil.MooreSikora, PH: c.buffer}}
		b := buffered(t, soil.ByAdamsEvans, 0.1693, r, c.target)
		assert.InEpsilon(t, c.grams, float64(b.Raise.Need(c.ph, c.target)), 1e-4)
		step := b.Working(c.ph, c.target)[0]
		assert.InDelta(t, c.h1, step.From.N("h1"), 1e-5)
		assert.InDelta(t, c.h2, step.From.N("h2"), 1e-5)
		assert.InEpsilon(t, c.pounds, step.From.N("printed"), 1e-4)
	}
	buffer := &soil.BufferPH{Kind: soil.AdamsEvans, PH: 7.6}
	assert.Equal(t, "reading.ph", refused(t, soil.ByAdamsEvans, soil.Reading{PH: 4.3, Buffer: buffer}, 6.0), "no root below 4.41")
	assert.Equal(t, "reading.ph", refused(t, soil.ByAdamsEvans, soil.Reading{PH: 7.9, Buffer: buffer}, 8.2))
}

func TestMehlich(t *testing.T) {
	for _, c := range []struct {
		ph, buffer, target quantity.PH
		ac, tons           float64
	}{
		{5.2, 5.9, 6.4, 2.8, 2.4},  // (6.6 − 5.9) / 0.25 = 2.8; 2.8 × 1.2 / 1.4
		{5.6, 6.3, 6.2, 1.2, 0.72}, // 0.3 / 0.25 = 1.2; 1.2 × 0.6 / 1.0
	} {
		assert.InDelta(t, c.ac, (6.6-float64(c.buffer))/0.25, 1e-9)
		assert.InDelta(t, c.tons, c.ac*float64(c.target-c.ph)/(6.6-float64(c.ph)), 1e-9)
		b := buffered(t, soil.ByMehlich, 0.2032, soil.Reading{PH: c.ph, Buffer: &soil.BufferPH{Kind: soil.Mehlich, PH: c.buffer}}, c.target)
		assert.InEpsilon(t, c.tons*effective, float64(b.Raise.Need(c.ph, c.target)), 1e-9)
	}
	buffer := &soil.BufferPH{Kind: soil.Mehlich, PH: 6.0}
	assert.Equal(t, "target_ph", refused(t, soil.ByMehlich, soil.Reading{PH: 5.5, Buffer: buffer}, 6.6))
	assert.Equal(t, "reading.ph", refused(t, soil.ByMehlich, soil.Reading{PH: 6.7, Buffer: buffer}, 6.0))
	assert.Equal(t, "reading.buffer", refused(t, soil.ByMehlich, soil.Reading{PH: 5.5}, 6.0))
	assert.Equal(t, "reading.buffer.kind", refused(t, soil.BySMP, soil.Reading{PH: 5.5, Buffer: buffer}, 6.0))
}

func TestLabRateIsRescaled(t *testing.T) {
	lab := &soil.LabRate{Rate: 400, Depth: 0.20, CCE: 90, Target: 6.5}
	b := buffered(t, soil.ByLabRate, 0.15, soil.Reading{PH: 5.5, LabRate: lab}, 6.5)
	assert.InEpsilon(t, 400*0.9*0.75, float64(b.Raise.Need(5.5, 6.5)), 1e-9)
	// To another target along the texture's curve, which is straight here.
	assert.InEpsilon(t, 0.5*400*0.9*0.75, float64(b.Raise.Need(5.5, 6.0)), 1e-9)
	assert.Equal(t, "reading.lab_rate.target_ph", refused(t, soil.ByLabRate, soil.Reading{PH: 6.5, LabRate: lab}, 7))
	assert.Equal(t, "reading.lab_rate", refused(t, soil.ByLabRate, soil.Reading{PH: 6.5}, 7))
}

func TestJarSeries(t *testing.T) {
	bent := []soil.Jar{{Lime: 0, PH: 5.0}, {Lime: 1, PH: 5.9}, {Lime: 2, PH: 6.5}, {Lime: 4, PH: 7.2}, {Lime: 8, PH: 7.7}}
	b := buffered(t, soil.ByMeasured, 0.15, soil.Reading{PH: 5.0, Jars: bent}, 6.5)
	assert.InDelta(t, 2*202.5, float64(b.Raise.Need(5.0, 6.5)), 1e-9, "2 g/kg × 202.5 kg, not the 980 of one straight line")
	assert.InDelta(t, 0.12, b.LogSD, 1e-12)
	// The need starts at the reading's own pH: 5.45 is half way to the second jar.
	assert.InDelta(t, 1.5*202.5, float64(b.Raise.Need(5.45, 6.5)), 1e-9)
	assert.Equal(t, "target_ph", refused(t, soil.ByMeasured, soil.Reading{PH: 5, Jars: bent}, 7.75),
		"past the last jar nothing was measured")
	// A jar that falls below the one before becomes one with it, at their means.
	fallen := []soil.Jar{{Lime: 0, PH: 5.0}, {Lime: 1, PH: 5.9}, {Lime: 2, PH: 5.7}, {Lime: 4, PH: 7.2}}
	fit, err := soil.FitJars(fallen)
	require.NoError(t, err)
	assert.Equal(t, []soil.Jar{{Lime: 0, PH: 5.0}, {Lime: 1.5, PH: 5.8}, {Lime: 4, PH: 7.2}}, round(fit.Points))
	assert.Equal(t, 1, fit.Merged)
	b = buffered(t, soil.ByMeasured, 0.15, soil.Reading{PH: 5.0, Jars: fallen}, 6.5)
	assert.InDelta(t, 0.20, b.LogSD, 1e-12)
	assert.InDelta(t, (1.5+2.5*0.7/1.4)*202.5, float64(b.Raise.Need(5.0, 6.5)), 1e-9)
	b = buffered(t, soil.ByMeasured, 0.15, soil.Reading{PH: 5.0, BufferCapacity: 1800}, 6.0)
	assert.InDelta(t, 1.8*202.5, float64(b.Raise.Need(5, 6)), 1e-9)
	for field, bad := range map[string][]soil.Jar{
		"reading.jars":               bent[:3],
		"reading.jars[2].caco3_g_kg": {{0, 5}, {1, 5.5}, {1, 6}, {3, 6.5}},
		"reading.jars[3].ph":         {{0, 5}, {1, 5.5}, {2, 6}, {3, 11}},
		"reading.jars ":              {{0, 6.5}, {1, 6}, {2, 5.5}, {3, 5}},
	} {
		got := refused(t, soil.ByMeasured, soil.Reading{PH: 5, Jars: bad}, 6)
		assert.Equal(t, field, got+map[bool]string{true: " "}[field == "reading.jars "], "%v", bad)
	}
}

// round takes the last digits of a mean away.
func round(jars []soil.Jar) []soil.Jar {
	for i := range jars {
		jars[i].PH = quantity.PH(quantity.Round(float64(jars[i].PH), 9))
	}
	return jars
}

func lab(ph quantity.PH) soil.Reading {
	return soil.Reading{Date: 10, Method: soil.Lab, Basis: soil.Water, PH: ph, Cores: 12}
}

func by(m soil.Method, ph quantity.PH) soil.Reading {
	r := lab(ph)
	r.Method = m
	return r
}

func TestJoin(t *testing.T) {
	one := soil.Join([]soil.Reading{lab(5.6)}, nil)
	assert.Equal(t, lab(5.6), one.Reading)
	assert.Equal(t, 1, one.N)
	two := soil.Join([]soil.Reading{lab(5.6), lab(5.8)}, nil)
	assert.InDelta(t, 5.7, float64(two.PH), 1e-9)
	assert.Less(t, two.SD(), one.SD(), "two are surer than one")
	three := soil.Join([]soil.Reading{lab(5.6), lab(5.7), lab(6.4)}, nil)
	assert.InDelta(t, 5.7, float64(three.PH), 1e-9, "the median, not the mean")
	assert.Equal(t, 1, three.Outliers)
	for _, c := range []struct {
		a, b                soil.Reading
		disagree, outranked bool
	}{
		{lab(5.6), by(soil.Meter, 6.1), false, false},
		{lab(5.6), by(soil.Meter, 6.2), true, false},
		{lab(5.6), by(soil.Kit, 6.2), false, true},
		{by(soil.Meter, 6.2), by(soil.MeterStale, 5.5), false, true},
		{by(soil.Kit, 6.5), by(soil.Probe, 5.9), true, false},
		{by(soil.Kit, 6.5), by(soil.Probe, 6.1), false, false},
	} {
		j := soil.Join([]soil.Reading{c.a, c.b}, nil)
		assert.Equal(t, c.disagree, j.Disagree, "%s and %s", c.a.Method, c.b.Method)
		assert.Equal(t, c.outranked, j.Outranked, "%s and %s", c.a.Method, c.b.Method)
	}
	// Outranked readings do not count; others count by how sure they are.
	j := soil.Join([]soil.Reading{lab(5.6), by(soil.Kit, 6.2)}, nil)
	assert.InDelta(t, 5.6, float64(j.PH), 1e-9)
	j = soil.Join([]soil.Reading{lab(5.6), by(soil.Kit, 6.0)}, nil)
	wl, wk := 1/(0.1*0.1+0.1*0.1), 1/(0.35*0.35+0.1*0.1)
	assert.InDelta(t, (5.6*wl+6.0*wk)/(wl+wk), float64(j.PH), 1e-9)
	k := quantity.Concentration(91)
	with := by(soil.Kit, 5.8)
	with.Potassium = &k
	assert.Equal(t, &k, soil.Join([]soil.Reading{lab(5.6), with}, nil).Potassium, "what the one lacks the other gives")
	fizz := soil.Reading{Method: soil.Fizz, Cores: 3, Fizz: soil.FizzTest{Vinegar: soil.LimeStrong, Soda: soil.LimeNone}}
	j = soil.Join([]soil.Reading{lab(5.6), fizz}, nil)
	assert.True(t, j.Doubted)
	assert.Equal(t, soil.LimeStrong, j.FreeLime)
	assert.Equal(t, soil.Fizz, soil.Join([]soil.Reading{fizz, fizz}, nil).Method)
}

func TestSameSoil(t *testing.T) {
	early, late := lab(5.6), lab(6.0)
	early.Date, late.Date = 100, 142
	j := soil.Join([]soil.Reading{early, late}, nil)
	assert.Equal(t, 2, j.N, "42 days apart")
	assert.Equal(t, quantity.Day(142), j.Date)
	late.Date = 143
	j = soil.Join([]soil.Reading{early, late}, nil)
	assert.Equal(t, 1, j.N, "a day more")
	assert.Equal(t, 1, j.Left)
	assert.InDelta(t, 6.0, float64(j.PH), 1e-12, "the newest counts")
	late.Date = 120
	j = soil.Join([]soil.Reading{early, late}, []quantity.Day{110})
	assert.InDelta(t, 6.0, float64(j.PH), 1e-12, "none from before a go that came between")
	assert.Equal(t, 1, j.Left)
	assert.Equal(t, 2, soil.Join([]soil.Reading{early, late}, []quantity.Day{99}).N, "a go before both is no matter")
	// What a fizz says stands beside them and makes nothing young.
	fizz := soil.Reading{Date: 400, Method: soil.Fizz, Cores: 3, Fizz: soil.FizzTest{Vinegar: soil.LimeFaint, Soda: soil.LimeNone}}
	j = soil.Join([]soil.Reading{early, fizz}, nil)
	assert.Equal(t, quantity.Day(100), j.Date)
	assert.Equal(t, soil.LimeFaint, j.FreeLime)
	// Potassium keeps its own day, and the newest figure goes.
	k := quantity.Concentration(80)
	early.Potassium = &k
	late.Date = 300
	j = soil.Join([]soil.Reading{late, early}, nil)
	assert.Equal(t, &k, j.Potassium)
	assert.Equal(t, quantity.Day(100), j.KDate())
}

func TestSlices(t *testing.T) {
	r := lab(6.0)
	r.Layers = []soil.Layer{{From: 0, To: 0.05, PH: 6.8}, {From: 0.10, To: 0.15, PH: 5.2}, {From: 0.15, To: 0.20, PH: 4.9},
		{From: 0.20, To: 0.3, PH: 5.5}}
	in := r.Slices(0.15)
	require.Len(t, in, 3)
	assert.Equal(t, soil.Slice{From: 0, To: 0.05, PH: 6.8, Read: true}, in[0])
	assert.InDelta(t, 6.0, float64(in[1].PH), 0, "what has no layer takes the one pH")
	assert.InDelta(t, 0.05, float64(in[2].Thick()), 1e-12)
	p := soil.ProfileOf(ground(t, soil.Loam, soil.CoolTable, 0.15), r)
	assert.InDelta(t, 4.9, float64(p.Below), 1e-12)
	// Layers are in the reading's own basis.
	r.Basis = soil.CaCl2
	assert.InDelta(t, 7.4, float64(r.Slices(0.15)[0].PH), 1e-9)
	assert.InDelta(t, 6.6, float64(r.Slices(0.15)[1].PH), 1e-9)
}

func TestProfileJudge(t *testing.T) {
	r := lab(6.0)
	r.Layers = []soil.Layer{{From: 0, To: 0.05, PH: 6.8}, {From: 0.05, To: 0.10, PH: 5.6}, {From: 0.10, To: 0.15, PH: 5.4},
		{From: 0.15, To: 0.20, PH: 6.8}}
	g := ground(t, soil.Loam, soil.CoolTable, 0.10)
	p := soil.ProfileOf(g, r)
	assert.InDelta(t, 5.4, float64(p.Judge(soil.Surface, 6.0, 7.0)), 1e-9, "as sour as its sourest layer")
	assert.InDelta(t, 6.8, float64(p.Lands(soil.Surface)), 1e-9, "what is left on top lands on 6.8")
	assert.InDelta(t, 6.8, float64(p.Judge(soil.Surface, 5.0, 6.5)), 1e-9, "as sweet as its sweetest")
	assert.InDelta(t, 6.8, float64(p.Judge(soil.Surface, 5.5, 6.5)), 1e-9, "sour and sweet: the top decides")
	// Dug, the two inside the depth come to what they come to: 1.7 a unit from 5.5
	// up in a cool loam, so their mean.
	assert.InDelta(t, 6.2, float64(p.Judge(soil.Dug, 6.0, 7.0)), 1e-9)
	assert.True(t, p.Apart(6.2, 6.0, 7.0), "one of them is sour by itself")
}

func TestTextureByJar(t *testing.T) {
	for _, c := range []struct {
		sand, silt, clay float64
		usda             string
		class            soil.Texture
	}{
		{92, 5, 3, "sand", soil.Sand}, {82, 12, 6, "loamy sand", soil.LoamySand}, {65, 25, 10, "sandy loam", soil.SandyLoam},
		{40, 40, 20, "loam", soil.Loam}, {20, 65, 15, "silt loam", soil.SiltLoam}, {5, 88, 7, "silt", soil.SiltLoam},
		{60, 13, 27, "sandy clay loam", soil.ClayLoam}, {33, 34, 33, "clay loam", soil.ClayLoam}, {10, 56, 34, "silty clay loam",
			soil.ClayLoam},
		{52, 6, 42, "sandy clay", soil.Clay}, {7, 46, 47, "silty clay", soil.Clay}, {20, 20, 60, "clay", soil.Clay},
	} {
		usda, class, clay, ok := soil.JarTest{Sand: c.sand / 4, Silt: c.silt / 4, Clay: c.clay / 4}.Class()
		require.True(t, ok)
		assert.Equal(t, c.usda, usda)
		assert.Equal(t, c.class, class.ID, usda)
		assert.InDelta(t, c.clay, float64(clay), 1e-9)
	}
	_, _, _, ok := soil.JarTest{}.Class()
	assert.False(t, ok)
	_, _, _, ok = soil.JarTest{Sand: -1, Silt: 3}.Class()
	assert.False(t, ok)
}

func TestTextureByFeel(t *testing.T) {
	for want, f := range map[soil.Texture]soil.Feel{
		soil.Sand: {}, soil.LoamySand: {Ball: true, Gritty: true}, soil.SandyLoam: {Ball: true, Ribbon: 0.02,
			Gritty: true}, soil.Loam: {Ball: true, Ribbon: 0.02},
		soil.SiltLoam: {Ball: true, Ribbon: 0.015, Smooth: true}, soil.ClayLoam: {Ball: true, Ribbon: 0.03}, soil.Clay: {Ball: true,
			Ribbon: 0.07, Smooth: true},
	} {
		assert.Equal(t, want, f.Class().ID)
	}
}
