package soil_test

import (
	"fmt"
	"math"
	"testing"
	"testing/quick"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

func ground(t testing.TB, texture soil.Texture, table soil.TableClimate, depth quantity.Depth) soil.Ground {
	t.Helper()
	row, ok := soil.FindTexture(texture)
	require.True(t, ok, texture)
	return soil.Ground{Area: 10, Depth: depth, Texture: row, Table: table, Worked: soil.Dug, Use: soil.UseBed}
}

// printed is the texture table as it is printed, short tons an acre for 7 in;
// 0 stands for a dash, which takes the next step's value.
var printed = []struct {
	table soil.TableClimate
	of    []soil.Texture
	steps [3]float64
}{
	{soil.WarmTable, []soil.Texture{soil.Sand, soil.LoamySand}, [3]float64{0.3, 0.3, 0.4}},
	{soil.WarmTable, []soil.Texture{soil.SandyLoam}, [3]float64{0, 0.5, 0.7}},
	{soil.WarmTable, []soil.Texture{soil.Loam}, [3]float64{0, 0.8, 1.0}},
	{soil.WarmTable, []soil.Texture{soil.SiltLoam}, [3]float64{0, 1.2, 1.4}},
	{soil.WarmTable, []soil.Texture{soil.ClayLoam, soil.Clay}, [3]float64{0, 1.5, 2.0}},
	{soil.WarmTable, []soil.Texture{soil.Muck}, [3]float64{2.5, 3.3, 3.8}},
	{soil.CoolTable, []soil.Texture{soil.Sand, soil.LoamySand}, [3]float64{0.4, 0.5, 0.6}},
	{soil.CoolTable, []soil.Texture{soil.SandyLoam}, [3]float64{0, 0.8, 1.3}},
	{soil.CoolTable, []soil.Texture{soil.Loam}, [3]float64{0, 1.2, 1.7}},
	{soil.CoolTable, []soil.Texture{soil.SiltLoam}, [3]float64{0, 1.5, 2.0}},
	{soil.CoolTable, []soil.Texture{soil.ClayLoam, soil.Clay}, [3]float64{0, 1.9, 2.3}},
	{soil.CoolTable, []soil.Texture{soil.Muck}, [3]float64{2.9, 3.8, 4.3}},
}

func TestTextureTableEveryCell(t *testing.T) {
	// 224.17 g/m² to the short ton an acre; 15 cm of a 17.78 cm layer.
	const ton, deep = 224.17, 0.15 / 0.1778
	for _, row := range printed {
		for _, texture := range row.of {
			b, err := soil.Buffer(soil.ByTable, ground(t, texture, row.table, 0.15), soil.Reading{}, 6.5)
			require.NoError(t, err)
			assert.InDelta(t, 0.45, b.LogSD, 1e-12)
			for i, from := range []quantity.PH{3.5, 4.5, 5.5} {
				tons := row.steps[i]
				if tons == 0 {
					tons = row.steps[i+1]
				}
				name := fmt.Sprintf("%s %s %.1f to %.1f", row.table, texture, float64(from), float64(from+1))
				assert.InEpsilon(t, tons*ton*deep, float64(b.Raise.Need(from, from+1)), 1e-9, name)
			}
			s := row.steps
			if s[0] == 0 {
				s[0] = s[1]
			}
			crossing := (0.5*s[0] + 1*s[1] + 0.4*s[2]) * ton * deep
			assert.InEpsilon(t, crossing, float64(b.Raise.Need(4.0, 5.9)), 1e-9, "4.0 to 5.9 crosses 4.5 and 5.5 in %s", texture)
			assert.InEpsilon(t, s[2]*ton*deep*0.5, float64(b.Raise.Need(6.5, 7.0)), 1e-9, "above 6.5 the third rate goes on")
			assert.InEpsilon(t, s[0]*ton*deep*0.5, float64(b.Raise.Need(3.0, 3.5)), 1e-9, "below 3.5 the first rate goes on")
		}
	}
}

func TestCoolLoamFrom55To65Over15cm(t *testing.T) {
	b, err := soil.Buffer(soil.ByTable, ground(t, soil.Loam, soil.CoolTable, 0.15), soil.Reading{}, 6.5)
	require.NoError(t, err)
	assert.InDelta(t, 321.5, float64(b.Raise.Need(5.5, 6.5)), 0.05)
	// 0.3 of the second step and 0.9 of the third.
	want := (0.3*1.2 + 0.9*1.7) * 224.17 * 0.15 / 0.1778
	assert.InDelta(t, want, float64(b.Raise.Need(5.2, 6.4)), 1e-6)
}

func TestSulfurTableDownTo65(t *testing.T) {
	for texture, lb := range map[soil.Texture][4]float64{
		soil.Sand: {100, 500, 1200, 2000}, soil.LoamySand: {100, 500, 1200, 2000},
		soil.SandyLoam: {125, 650, 1350, 2250}, soil.Loam: {150, 800, 1500, 2500}, soil.SiltLoam: {150, 800, 1500, 2500},
		soil.ClayLoam: {225, 900, 1750, 2750}, soil.Clay: {300, 1000, 2000, 3000},
	} {
		b, err := soil.Buffer(soil.ByTable, ground(t, texture, soil.WarmTable, quantity.SevenInches), soil.Reading{}, 6.5)
		require.NoError(t, err)
		for i, from := range []quantity.PH{7.0, 7.5, 8.0, 8.5} {
			want := -lb[i] * 0.112085 * 3.12
			assert.InEpsilon(t, want, float64(b.Lower.Need(from, 6.5)), 1e-9, "%s from %.1f", texture, float64(from))
		}
	}
}

// The printed table for berries is the check on the cool curve below 6.5.
func TestBerryTableWithinAThird(t *testing.T) {
	for texture, lb := range map[soil.Texture]map[quantity.PH]float64{
		soil.Sand: {5.5: 350, 6.5: 660}, soil.Loam: {5.5: 1050, 6.5: 2020}, soil.Clay: {5.5: 1600, 6.5: 3030},
	} {
		b, err := soil.Buffer(soil.ByTable, ground(t, texture, soil.CoolTable, quantity.SevenInches), soil.Reading{}, 4.5)
		require.NoError(t, err)
		for from, sulfur := range lb {
			got := -float64(b.Lower.Need(from, 4.5)) / 3.12 / 0.112085
			ratio := got / sulfur
			assert.True(t, ratio > 1-1.0/3 && ratio < 1+1.0/3, "%s from %.1f: %.0f against %.0f, ratio %.2f", texture, float64(from),
				got, sulfur, ratio)
		}
	}
}

func TestOrganicMatterMethod(t *testing.T) {
	om := quantity.Percent(3.1)
	g := ground(t, soil.Loam, soil.CoolTable, 0.15)
	g.OrganicMatter = &om
	b, err := soil.Buffer(soil.ByOrganicMatter, g, soil.Reading{}, 6.5)
	require.NoError(t, err)
	// 0.555 × 3.1 + 0.011 × 20 = 1.9405 g/kg, times the soil mass.
	assert.InDelta(t, 1.9405, b.Working(5.5, 6.5)[0].Result.N, 1e-9)
	assert.InDelta(t, 1.9405*g.SoilMass(), float64(b.Raise.Need(5.5, 6.5)), 0.001)
	assert.InDelta(t, 0.30, b.LogSD, 1e-12)

	g.OrganicMatter = nil
	_, err = soil.Buffer(soil.ByOrganicMatter, g, soil.Reading{}, 6.5)
	var missing *soil.MissingError
	require.ErrorAs(t, err, &missing)
	assert.Equal(t, "bed.organic_matter_pct", missing.Field)
}

func TestCurveProperties(t *testing.T) {
	b, err := soil.Buffer(soil.ByTable, ground(t, soil.ClayLoam, soil.CoolTable, 0.2), soil.Reading{}, 6.5)
	require.NoError(t, err)
	ph := func(x uint16) quantity.PH { return 3 + quantity.PH(x)/65535*6.5 }
	for name, c := range map[string]soil.Curve{"raise": b.Raise, "lower": b.Lower} {
		cfg := &quick.Config{MaxCount: 10000}
		assert.NoError(t, quick.Check(func(a, m, z uint16) bool {
			lo, mid, hi := ph(a), ph(m), ph(z)
			if mid < lo {
				lo, mid = mid, lo
			}
			sum := c.Need(lo, mid) + c.Need(mid, hi)
			return math.Abs(float64(sum-c.Need(lo, hi))) < 1e-6 && (mid == lo || c.Need(lo, mid) > 0)
		}, cfg), "%s: needs add up and rise with the target", name)
		assert.NoError(t, quick.Check(func(a, z uint16) bool {
			from, to := ph(a), ph(z)
			return math.Abs(float64(c.Move(from, c.Need(from, to))-to)) < 1e-9
		}, cfg), "%s: Move undoes Need", name)
	}
}

func TestReadingSD(t *testing.T) {
	lab := soil.Reading{Method: soil.Lab, Basis: soil.Water, PH: 5.5, Cores: 12}
	assert.InDelta(t, math.Hypot(0.10, 0.10), lab.SD(), 1e-12)
	lab.Cores = 6
	assert.InDelta(t, math.Hypot(0.10, 0.20), lab.SD(), 1e-12)
	lab.Cores, lab.Basis = 3, soil.CaCl2
	assert.InDelta(t, math.Hypot(0.20, 0.30), lab.SD(), 1e-12)
	assert.InDelta(t, 6.1, float64(lab.Water()), 1e-12)
	lab.Basis = soil.KCl
	assert.InDelta(t, 6.4, float64(lab.Water()), 1e-12)
	assert.InDelta(t, math.Hypot(0.50, 0.10), soil.Reading{Method: soil.Probe, Basis: soil.Water, Cores: 10}.SD(), 1e-12)
}

func TestFizzLogic(t *testing.T) {
	for _, c := range []struct {
		v, s soil.FreeLime
		want soil.Reaction
		weak bool
	}{
		{soil.LimeStrong, soil.LimeNone, soil.Alkaline, false},
		{soil.LimeNone, soil.LimeFaint, soil.Acid, false},
		{soil.LimeNone, soil.LimeNone, soil.NearNeutral, false},
		{soil.LimeClear, soil.LimeClear, soil.NearNeutral, true},
	} {
		got, weak := soil.FizzTest{Vinegar: c.v, Soda: c.s}.Judge()
		assert.Equal(t, c.want, got, "%s/%s", c.v, c.s)
		assert.Equal(t, c.weak, weak, "%s/%s", c.v, c.s)
	}
}

func TestPotassiumRangesAndRise(t *testing.T) {
	g := ground(t, soil.Loam, soil.CoolTable, 0.15)
	s, sure := soil.PotassiumRanges(g, soil.AmmoniumAcetate, nil)
	assert.True(t, sure)
	assert.Equal(t, soil.PotassiumScale{Critical: 105, EnoughTo: 165, Ceiling: 210}, s)
	for k, want := range map[quantity.Concentration]soil.Supply{104: soil.Short, 105: soil.Enough, 165: soil.Enough, 166: soil.Plenty,
		210: soil.Plenty, 211: soil.TooMuch} {
		assert.Equal(t, want, s.Judge(&k), "%v", k)
	}
	assert.Equal(t, soil.Unknown, s.Judge(nil))
	// 25 × 830 / 202.5 × 0.375 = 38.43
	assert.InDelta(t, 38.426, float64(soil.PotassiumRise(g, 25)), 0.001)
	assert.InDelta(t, 25, float64(soil.PotashFor(g, soil.PotassiumRise(g, 25))), 1e-9)
	muck, sure := soil.PotassiumRanges(ground(t, soil.Muck, soil.CoolTable, 0.15), soil.AmmoniumAcetate, nil)
	assert.InDelta(t, 150, float64(muck.Critical), 1e-9, "CEC counts to 30")
	assert.False(t, sure, "on muck it goes by volume")
}

// Extractants draw out different amounts: each has its own figure where one is
// published.
func TestCriticalPotassiumByExtractant(t *testing.T) {
	for _, c := range []struct {
		extractant soil.Extractant
		cec        quantity.CationExchangeCapacity
		critical   float64
		sure       bool
	}{
		{soil.Mehlich3, 4.9, 100, true},
		{soil.Mehlich3, 5, 120, true},
		{soil.Olsen, 5, 110, true},
		{soil.Olsen, 30, 110, true},
		{soil.Morgan, 5, 60, true},
		{soil.Morgan, 30, 60, true},
		{soil.AmmoniumAcetate, 12, 105, true},
		{soil.AmmoniumAcetate, 30, 150, true},
		{soil.AmmoniumAcetate, 31, 150, true},
		{soil.OtherExtractant, 12, 105, false},
		{"", 12, 105, false},
	} {
		g := ground(t, soil.Loam, soil.CoolTable, 0.15)
		g.CEC = &c.cec
		s, sure := soil.PotassiumRanges(g, c.extractant, nil)
		assert.Equal(t, c.sure, sure, "%v", c)
		assert.InDelta(t, c.critical, float64(s.Critical), 1e-9, "%v", c)
		assert.InDelta(t, c.critical+60, float64(s.EnoughTo), 1e-9, "%v", c)
		assert.InDelta(t, c.critical*2, float64(s.Ceiling), 1e-9, "%v", c)
	}
	assert.Equal(t, []soil.Extractant{soil.Mehlich3, soil.AmmoniumAcetate, soil.Olsen, soil.Morgan, soil.OtherExtractant},
		soil.Extractants, "in the order in which they are offered")
}

func TestClimateMonthsAndHemispheres(t *testing.T) {
	north, ok := soil.FindClimate("maritime", soil.North)
	require.True(t, ok)
	south, _ := soil.FindClimate("maritime", soil.South)
	assert.InDelta(t, 17, float64(north.At(quantity.Date(2026, 7, 16))), 0.1)
	assert.InDelta(t, 5, float64(south.At(quantity.Date(2026, 7, 16))), 0.1)
	_, ok = soil.FindClimate("moon", soil.North)
	assert.False(t, ok)
}

// A cool loam, from 5.5 to 6.5 over 15 cm, by the texture table.
func ExampleBuffer() {
	loam, _ := soil.FindTexture(soil.Loam)
	b, err := soil.Buffer(soil.ByTable, soil.Ground{Texture: loam, Table: soil.CoolTable, Depth: 0.15}, soil.Reading{}, 6.5)
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%.1f g/m² of pure lime, give or take a factor of %.2f\n", float64(b.Raise.Need(5.5, 6.5)), math.Exp(b.LogSD))
	// Output: 321.5 g/m² of pure lime, give or take a factor of 1.57
}

// Of two jar tests of one day the one that fizzed counts, whichever was noted first; of two days the later.
func TestFizzingJarOverridesSameDay(t *testing.T) {
	d := quantity.Date(2026, 10, 1)
	fizz := func(day quantity.Day, vinegar, soda soil.FreeLime) soil.Reading {
		return soil.Reading{Date: day, Method: soil.Fizz, Cores: 3, Fizz: soil.FizzTest{Vinegar: vinegar, Soda: soda}}
	}
	sour, limy := fizz(d, soil.LimeNone, soil.LimeClear), fizz(d, soil.LimeClear, soil.LimeNone)
	for _, rs := range [][]soil.Reading{{sour, limy}, {limy, sour}} {
		assert.Equal(t, soil.LimeClear, soil.Join(rs, nil).FreeLime)
	}
	assert.Equal(t, soil.LimeNone, soil.Join([]soil.Reading{limy, fizz(d+1, soil.LimeNone, soil.LimeClear)}, nil).FreeLime)
}
