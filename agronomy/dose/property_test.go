package dose_test

import (
	"maps"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// pick takes one of a list.
func pick[T any](rng *rand.Rand, of ...T) T { return of[rng.IntN(len(of))] }

// random returns a random valid request; most of them have a need, read by a good method.
func random(rng *rand.Rand) dose.Request {
	r := request()
	r.Climate = pick(rng, soil.Climates...)
	r.Date = at("2026-01-01") + quantity.Day(rng.IntN(700))
	r.Crop = cropOf(pick(rng, crop.Library...).ID)
	randomGround(rng, &r)
	randomReading(rng, &r)
	r.Target = nil
	if rng.IntN(3) == 0 {
		r.Target = ptr(max(4.5, min(7.5, r.Crop.Aim+quantity.PH(rng.Float64()-0.5))))
	}
	r.Methods = dose.Methods{Buffering: pick(rng, soil.ByTable, soil.ByTable, soil.ByOrganicMatter, soil.BySMP, soil.ByLabRate,
		soil.ByMeasured), Ash: pick(rng, material.AshApproaches...),
		Act: pick(rng, crop.Triggers...), TomatoAsh: pick(rng, dose.AshOnTomatoes, dose.NoTomatoAsh), Water: pick(rng,
			dose.WaterCounts, dose.WaterIgnored), Retest: pick(rng, calendar.Rhythms...), Fizz: pick(rng, dose.FizzQuestion,
			dose.FizzDusting), Pace: pick(rng, dose.Careful, dose.AllAtOnce)}
	r.Begun = rng.IntN(4) == 0
	if rng.IntN(30) == 0 {
		r.Surprise = &forecast.Surprise{Read: forecast.Read{PH: 5}, Expected: 6, Test: r.Date + 21}
	}
	if rng.IntN(20) == 0 {
		r.Unlearned = ptr(rng.IntN(3))
	}
	if r.Methods.Buffering == soil.BySMP {
		row, _ := soil.FindBasis(r.Reading.Basis)
		r.Reading.PH, r.More = min(r.Reading.PH, 6.5-row.Shift), nil
	}
	r.Sowing = 0
	if rng.IntN(2) == 0 {
		r.Sowing = r.Date + quantity.Day(rng.IntN(300)-60)
	}
	randomMaterials(rng, &r)
	if rng.IntN(6) == 0 {
		r.With = []crop.Crop{pick(rng, crop.Library...)}
	}
	for range rng.IntN(4) {
		p := ledger.Application{Date: r.Date - quantity.Day(rng.IntN(1600)),
			Material: stuff(pick(rng, material.CalciticLime, material.HardwoodAsh, material.HardwoodAsh, material.SulfurPowder,
				material.Urea, material.Compost)),
			Rate: quantity.Rate(rng.Float64() * 500)}
		if p.Material.Family == material.Ash {
			p.Measured, p.Condition = ptr(quantity.Percent(20+40*rng.Float64())), pick(rng, material.Dry, material.Wet)
		}
		r.History = append(r.History, p)
	}
	return r
}

func randomGround(rng *rand.Rand, r *dose.Request) {
	g := &r.Ground
	g.Texture = pick(rng, soil.Textures...)
	g.Area = quantity.Area(0.5 + 400*rng.Float64())
	g.Depth = quantity.Depth(0.05 + 0.25*rng.Float64())
	g.Worked = pick(rng, soil.Dug, soil.Dug, soil.Surface, soil.Established)
	g.Use = pick(rng, soil.UseBed, soil.UseBed, soil.UseLawn, soil.UseTree)
	if rng.IntN(20) == 0 {
		g.Use = pick(rng, soil.UsePot, soil.UseHeap)
	}
	g.FreeLime = pick(rng, soil.LimeUnknown, soil.LimeNone, soil.LimeNone, soil.LimeFaint, soil.LimeStrong)
	g.OrganicMatter, g.CEC, g.Table = ptr(quantity.Percent(0.5+8*rng.Float64())), nil, soil.UsualTable(r.Climate.ID)
	if rng.IntN(20) == 0 {
		*g.OrganicMatter += 15
	}
	if rng.IntN(4) == 0 {
		g.Stones = quantity.Percent(40 * rng.Float64())
	}
	if rng.IntN(8) == 0 {
		g.State = pick(rng, soil.FrozenHard, soil.Waterlogged)
	}
	if rng.IntN(3) == 0 {
		r.Water = ptr(300 * rng.Float64())
	}
}

func randomReading(rng *rand.Rand, r *dose.Request) {
	x := &r.Reading
	x.Date = r.Date - quantity.Day(rng.IntN(800))
	x.Method = pick(rng, soil.Lab, soil.Lab, soil.Lab, soil.Meter, soil.Meter, soil.MeterStale, soil.Kit, soil.Probe)
	x.Basis = pick(rng, soil.Water, soil.Water, soil.CaCl2)
	x.Cores = 1 + rng.IntN(20)
	x.PH = r.Crop.Range.Low - 0.25 - quantity.PH(1.4*rng.Float64())
	if rng.IntN(4) == 0 {
		x.PH = min(8.8, r.Crop.Range.High+quantity.PH(2*rng.Float64()))
	}
	if row, _ := soil.FindBasis(x.Basis); true {
		x.PH -= row.Shift
	}
	x.PH = max(3.3, x.PH)
	x.Potassium, x.Magnesium = nil, nil
	if rng.IntN(3) > 0 {
		x.Potassium, x.Magnesium = ptr(quantity.Concentration(rng.Float64()*400)), ptr(quantity.Concentration(20+500*rng.Float64()))
		x.Extractant = pick(rng, soil.AmmoniumAcetate, soil.Mehlich3, soil.Olsen, soil.Morgan, "")
	}
	if rng.IntN(4) == 0 {
		x.Calcium = ptr(quantity.Concentration(200 + 3000*rng.Float64()))
	}
	x.Buffer = &soil.BufferPH{Kind: soil.SMP, PH: quantity.PH(5.5 + 2*rng.Float64())}
	x.BufferCapacity = 300 + 3000*rng.Float64()
	x.LabRate = &soil.LabRate{Rate: quantity.Rate(10 + 900*rng.Float64()), Depth: 0.2, CCE: 90, Target: x.Water() + 0.8}
	near := func() quantity.PH { return max(3.1, x.PH+quantity.PH(rng.Float64()-0.5)) }
	if rng.IntN(4) == 0 {
		x.Layers = []soil.Layer{{From: 0, To: 0.05, PH: near()}, {From: 0.05, To: 0.2, PH: near()}, {From: 0.3, To: 0.4, PH: near()}}
	}
	if rng.IntN(4) == 0 {
		more := soil.Reading{Date: x.Date, Method: pick(rng, soil.Kit, soil.Meter, soil.Lab), Basis: soil.Water, Cores: 6,
			PH: max(3.5, x.Water()+quantity.PH(rng.Float64()-0.4))}
		r.More = append(r.More, more)
		if rng.IntN(2) == 0 {
			more.PH -= 0.2
			r.More = append(r.More, more)
		}
	}
	if rng.IntN(10) == 0 {
		r.More = append(r.More, soil.Reading{Date: x.Date, Method: soil.Fizz, Cores: 3,
			Fizz: soil.FizzTest{Vinegar: pick(rng, soil.LimeNone, soil.LimeClear), Soda: pick(rng, soil.LimeNone, soil.LimeFaint)}})
	}
	if rng.IntN(30) == 0 {
		r.More, r.Reading = nil, soil.Reading{Date: x.Date, Method: soil.Fizz, Cores: 3,
			Fizz: soil.FizzTest{Vinegar: soil.LimeNone, Soda: pick(rng, soil.LimeClear, soil.LimeNone)}}
		r.Reading.Buffer, r.Methods.Buffering = nil, soil.ByTable
	}
}

func randomMaterials(rng *rand.Rand, r *dose.Request) {
	r.Materials = nil // not those of the example
	for _, k := range []material.Kind{material.CalciticLime, material.DolomiticLime, material.HardwoodAsh, "wood-ash-twigs", "leaf-ash",
		"hydrated-lime", "pelleted-lime",
		material.ShellMeal, material.SulfurPowder, "elemental-sulfur-pellets", "gypsum", "aluminium-sulfate", "iron-sulfate",
		material.AmmoniumSulfate, material.Urea, material.PotassiumSulfate, material.Manure, "poultry-manure", "mushroom-compost"} {
		if k != material.CalciticLime && k != material.SulfurPowder && rng.IntN(100) < 60 {
			continue
		}
		b := batch(k)
		if b.Family == material.Ash {
			b.Burnt, b.Walnut, b.Condition = r.Date-quantity.Day(rng.IntN(2000)), rng.IntN(6) == 0, pick(rng, material.Dry,
				material.Dry, material.Wet)
			b.Source = pick(rng, material.Clean, material.Clean, material.Clean, pick(rng, material.Sources...))
		}
		if b.Family == material.Lime && rng.IntN(3) == 0 {
			b.Fineness = &[4]quantity.Percent{0, 30, 30, 40}
		}
		if rng.IntN(2) == 0 {
			b.Price = ptr(rng.Float64())
		}
		r.Materials = append(r.Materials, b)
	}
	if len(r.Materials) == 0 {
		return
	}
	if rng.IntN(3) == 0 {
		r.Materials[0].OnHand = ptr(quantity.Mass(rng.Float64() * 30000))
	}
}

// cases is how many requests each property is tried on.
const cases = 5000

func TestDoseProperties(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(8, 17))
	rated, lowered := 0, 0
	fired := map[string]int{}
	rules := slices.Sorted(maps.Keys(guardCases))
	for n := range cases {
		r := random(rng)
		if n%3 == 0 {
			// Each rule occurs on some bed.
			area := min(10, r.Ground.Area) // the bin holds enough for that
			r = request(guardCases[rules[n/3%len(rules)]].fires)
			r.Ground.Area = area
		}
		a, err := dose.For(r)
		check(t, err == nil, n, "%v", err)
		if len(a.Options) > 0 {
			rated++
		}
		if a.Direction == dose.Lower {
			lowered++
		}
		for id := range everywhere(&r, a) {
			fired[id]++
		}
		for _, o := range a.Options {
			checkOption(t, r, a, o, n)
		}
		for _, o := range a.Potassium.Options {
			checkApplications(t, r, o, n)
			check(t, o.K2O <= a.Potassium.Need+1e-6, n, "%s brings more potash than is short", nameOf(o))
			check(t, o.CaCO3 == 0 || o.PH.Median <= a.Crop.Range.High-0.2+1e-6, n, "ash for potassium ends at %v", o.PH.Median)
		}
		again, err := dose.For(r)
		check(t, err == nil && same(a, again), n, "the same request gives another answer")
	}
	assert.GreaterOrEqual(t, rated, cases*11/20, "most requests get a rate")
	assert.Greater(t, lowered, cases/20)
	for _, rule := range guard.Rules {
		assert.GreaterOrEqual(t, fired[rule.ID], 20, "%s hardly ever fires", rule.ID)
	}
}

// same reports whether two answers agree to the last digit, workings and all.
func same(a, b dose.Answer) bool {
	for _, pair := range [][2][]dose.Option{{a.Options, b.Options}, {a.Potassium.Options, b.Potassium.Options}} {
		if len(pair[0]) != len(pair[1]) {
			return false
		}
		for i := range pair[0] {
			x, y := pair[0][i], pair[1][i]
			if !reflect.DeepEqual(x, y) || !reflect.DeepEqual(a.Working(&x), b.Working(&y)) {
				return false
			}
		}
	}
	return reflect.DeepEqual(a, b)
}

// check fails without testify's reflection, since this runs a million times.
func check(t *testing.T, ok bool, n int, format string, args ...any) {
	t.Helper()
	if !ok {
		t.Fatalf("case %d: "+format, append([]any{n}, args...)...)
	}
}

// checkApplications holds the applications of an option against the caps, the year and the
// calendar.
func checkApplications(t *testing.T, r dose.Request, o dose.Option, n int) {
	t.Helper()
	sums := make([]quantity.Rate, len(o.Parts))
	put := append(ledger.Ledger(nil), r.History...)
	for i, g := range o.Applications {
		check(t, i == 0 || g.Date >= o.Applications[i-1].Date, n, "goes out of order")
		family := stuff(g.Kind).Family
		m := stuff(g.Kind)
		caps, ok := m.CapsOn(asFound(r))
		check(t, ok, n, "no caps for %s", g.Kind)
		sums[g.Part] += g.Rate
		check(t, g.Rate <= caps.Once+1e-6, n, "%s: a go of %v over its cap", g.Kind, g.Rate)
		put = append(put, ledger.Application{Date: g.Date, Material: stuff(g.Kind), Rate: g.Rate})
		check(t, put.CountedInYear(&caps, family, g.Date) <= caps.Year+1e-6, n, "%s over the year’s cap", g.Kind)
		check(t, !soil.Frozen(r.Climate.At(g.Date)), n, "%s on frozen ground, %s", g.Kind, g.Date)
		check(t, g.Date >= r.Date && g.Date <= r.Date+calendar.Horizon, n, "%s dated %s", g.Kind, g.Date)
	}
	for _, g := range o.Applications {
		check(t, !g.RetestFirst || o.Retest < g.Date, n, "%s: the retest of %s does not stand before the go of %s", nameOf(o), o.Retest,
			g.Date)
	}
	check(t, o.Retest > o.Applications[0].Date, n, "%s: a retest on %s, before the first go", nameOf(o), o.Retest)
	for i, p := range o.Parts {
		check(t, math.Abs(float64(p.Rate-sums[i])) < 1e-6, n, "goes of %s sum to %v, not %v", p.Kind, sums[i], p.Rate)
		check(t, !math.IsNaN(float64(p.Total)) && p.Total > 0, n, "%s in all %v", p.Kind, p.Total)
	}
}

func checkOption(t *testing.T, r dose.Request, a dose.Answer, o dose.Option, n int) {
	t.Helper()
	checkApplications(t, r, o, n)
	if len(a.Guards) > 0 && found(a)["fizz-dusting"] {
		check(t, o.Parts[0].Rate <= material.DustingCap+1e-9, n, "more than a dusting on two jars")
		return // no need stands behind it
	}
	for _, x := range []dose.Spread{o.PH, o.AtRetest} {
		check(t, x.P05 <= x.Median+1e-6 && x.Median <= x.P95+1e-6, n, "%s: %v is not in order", nameOf(o), x)
		check(t, x.P95 <= soil.MostPH+1e-9 && x.P05 >= soil.LeastPH-1e-9, n, "%s: %v past what a soil can come to", nameOf(o), x)
	}
	rest := quantity.Rate(0)
	for _, p := range o.Parts {
		rest += quantity.Rate(float64(p.Rest) * p.Worth.EffectiveCCE)
		check(t, p.Rest == 0 || r.Methods.Pace == dose.Careful && o.Retest >= o.Applications[len(o.Applications)-1].Date+7*12, n,
			"%s: the rest does not wait for a test after what goes on: %s, %v", nameOf(o), o.Retest, o.Applications)
		check(t, p.Rate+p.Rest <= p.Allowed+1e-6, n, "%s: more than its limits allow", nameOf(o))
	}
	careful := r.Methods.Pace == dose.Careful
	check(t, !careful || !slices.ContainsFunc(o.Applications, func(g dose.Application) bool { return g.RetestFirst }), n,
		"%s: what waits for a test has a day", nameOf(o))
	check(t, math.Abs(float64(a.Need.CaCO3-o.CaCO3-o.Shortfall-rest)) < 0.06, n, "%s: what it brings and leaves is not the need", nameOf(o))
	check(t, float64(o.Shortfall*a.Need.CaCO3) >= -1e-6, n, "%s brings more than the need", nameOf(o))
	stops, _ := guard.Worst(o.Guards)
	check(t, stops == 0, n, "%s is offered in spite of a stop", nameOf(o))
	if o.KAfter != nil && o.K2O > 0 {
		check(t, *o.KAfter <= a.K.Scale.Ceiling+1e-6, n, "%s breaks the potassium ceiling", nameOf(o))
	}
	for _, x := range []float64{float64(o.PH.Median), float64(o.PH.P05), float64(o.PH.P95), o.Acts} {
		check(t, !math.IsNaN(x) && !math.IsInf(x, 0), n, "%s gives %v", nameOf(o), x)
	}
}

func TestNeedIsMonotonicInTarget(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(3, 4))
	for n := range cases {
		r := random(rng)
		r.Ground.FreeLime = soil.LimeNone
		lo, hi := 4.5+3*rng.Float64(), 4.5+3*rng.Float64()
		if lo > hi {
			lo, hi = hi, lo
		}
		r.Target = ptr(quantity.PH(lo))
		a, err := dose.For(r)
		check(t, err == nil, n, "%v", err)
		r.Target = ptr(quantity.PH(hi))
		b, err := dose.For(r)
		check(t, err == nil, n, "%v", err)
		check(t, b.Need.CaCO3 >= a.Need.CaCO3-1e-9, n, "%.2f to %.2f", lo, hi)
	}
}

func TestTotalIsProportionalToArea(t *testing.T) {
	t.Parallel()
	rng := rand.New(rand.NewPCG(5, 6))
	for n := range cases {
		r := random(rng)
		for i := range r.Materials {
			r.Materials[i].OnHand = nil
		}
		a, err := dose.For(r)
		check(t, err == nil, n, "%v", err)
		r.Ground.Area *= 2
		b, err := dose.For(r)
		check(t, err == nil, n, "%v", err)
		check(t, len(b.Options) == len(a.Options), n, "%d options, then %d", len(a.Options), len(b.Options))
		for i := range a.Options {
			for j, x := range a.Options[i].Parts {
				y := b.Options[i].Parts[j]
				check(t, math.Abs(float64(y.Rate/x.Rate)-1) < 1e-12, n, "the rate is %v, then %v", x.Rate, y.Rate)
				check(t, math.Abs(float64(y.Total/x.Total)-2) < 1e-12, n, "the total is %v, then %v", x.Total, y.Total)
			}
		}
	}
}

// nameOf names an option by its materials.
func nameOf(o dose.Option) string {
	kinds := make([]string, len(o.Parts))
	for i, p := range o.Parts {
		kinds[i] = string(p.Kind)
	}
	return strings.Join(kinds, " and ")
}
