package dose_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// mix finds the option of two kinds.
func mix(a dose.Answer, x, y material.Kind) *dose.Option {
	for i, o := range a.Options {
		if len(o.Parts) == 2 && o.Parts[0].Kind == x && o.Parts[1].Kind == y {
			return &a.Options[i]
		}
	}
	return nil
}

func TestAshIsMixedWithLime(t *testing.T) {
	a := answer(t, request())
	m := mix(a, material.HardwoodAsh, material.CalciticLime)
	require.NotNil(t, m)
	assert.InDelta(t, 500, float64(m.Parts[0].Rate), 1e-6, "ash up to its tightest limit")
	assert.InDelta(t, (321.5037-250)/0.97, float64(m.Parts[1].Rate), 0.001, "lime for the rest")
	assert.Zero(t, m.Shortfall)
	assert.InDelta(t, 6.5, float64(m.PH.Median), 1e-9)
	assert.InDelta(t, 6.5, float64(m.Applications[len(m.Applications)-1].PHAfter), 1e-9, "the goes add up in the order of their days")
	assert.InDelta(t, 25, float64(m.K2O), 1e-6)
	of(t, a, material.HardwoodAsh) // ash alone is also shown
	assert.Nil(t, mix(answer(t, request(func(r *dose.Request) { r.Reading.PH, r.Target = 6.2, ptr(quantity.PH(6.5)) })),
		material.HardwoodAsh, material.CalciticLime),
		"ash that meets the need wants no lime")
	low := answer(t, request(func(r *dose.Request) {
		r.Materials, r.Reading.Magnesium = nil, ptr(quantity.Concentration(40))
	}))
	assert.NotNil(t, mix(low, material.HardwoodAsh, material.DolomiticLime), "magnesium is low: dolomitic lime for the rest")
}

func TestCheaperRanksFirst(t *testing.T) {
	price := func(lime, pellets float64) material.Kind {
		a := answer(t, request(func(r *dose.Request) {
			r.Materials = []material.Batch{batch(material.CalciticLime), batch("pelleted-lime")}
			r.Materials[0].Price, r.Materials[1].Price = &lime, &pellets
		}))
		require.NotNil(t, a.Options[0].Cost)
		return a.Options[0].Parts[0].Kind
	}
	assert.Equal(t, material.CalciticLime, price(0.4, 0.9))
	assert.Equal(t, material.Kind("pelleted-lime"), price(0.9, 0.4))
	a := answer(t, request(func(r *dose.Request) { r.Materials[0].Price = ptr(0.5) }))
	assert.InDelta(t, 0.5*3.314, *of(t, a, material.CalciticLime).Cost, 0.001)
}

func TestLayers(t *testing.T) {
	layers := []soil.Layer{{From: 0, To: 0.05, PH: 7.0}, {From: 0.05, To: 0.10, PH: 5.5}, {From: 0.10, To: 0.15, PH: 5.0}}
	whole := float64(answer(t, request()).Need.CaCO3) // 5.5 to 6.5 over 15 cm
	dug := answer(t, request(func(r *dose.Request) { r.Reading.Layers = layers }))
	third := 224.17 * 0.15 / 0.1778 / 3
	sulfur := 150 * 0.112085 * 3.12 * 0.15 / 0.1778 / 3
	want := third*1.7 + third*(0.5*1.2+1.7) - sulfur
	assert.InDelta(t, want, float64(dug.Need.CaCO3), 0.01, "dug: the net sum")
	sweet := answer(t, request(func(r *dose.Request) { r.Reading.Layers, r.Ground.Worked, r.Sowing = layers, soil.Surface, 0 }))
	assert.InDelta(t, -sulfur, float64(sweet.Need.CaCO3), 0.01, "not dug, sweet above and sour below: the top decides")
	assert.InDelta(t, 7.0, float64(sweet.PH), 1e-9)
	layers[0].PH = 6.7
	left := answer(t, request(func(r *dose.Request) { r.Reading.Layers, r.Ground.Worked, r.Sowing = layers, soil.Surface, 0 }))
	assert.InDelta(t, want+sulfur, float64(left.Need.CaCO3), 0.01, "not dug: only what the layers lack")
	same := answer(t, request(func(r *dose.Request) { r.Reading.Layers = []soil.Layer{{From: 0, To: 0.15, PH: 5.5}} }))
	assert.InDelta(t, whole, float64(same.Need.CaCO3), 1e-6)
	o := of(t, dug, material.CalciticLime)
	assert.InDelta(t, 6.5, float64(o.PH.Median), 1e-6)
}

func TestSeveralCropsShareARange(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) {
		r.Crop, r.With, r.Target = cropOf("pea"), []crop.Crop{*cropOf("raspberry")}, nil
	}))
	assert.Equal(t, crop.Range{Low: 6.0, High: 6.5}, a.Crop.Range)
	assert.InDelta(t, 6.25, float64(a.Target), 1e-9)
	assert.True(t, found(a)["ash-unsuited-crop"], "raspberry forbids it for both")
	a = answer(t, request(func(r *dose.Request) { r.With = []crop.Crop{*cropOf("blueberry")} }))
	assert.Equal(t, dose.Refused, a.Direction)
	assert.Empty(t, a.Options)
}

func TestBatchStrength(t *testing.T) {
	rate := func(change func(*material.Batch)) float64 {
		b := batch(material.CalciticLime)
		change(&b)
		a := answer(t, request(func(r *dose.Request) { r.Materials = []material.Batch{b} }))
		return float64(a.Options[0].Parts[0].Rate)
	}
	assert.InDelta(t, 321.5037/0.97, rate(func(*material.Batch) {}), 0.001)
	// 0.1 × 0 + 0.2 × 0.2 + 0.3 × 0.6 + 0.4 × 1 = 0.62, beside the 0.80 of the
	// table's own stone.
	assert.InDelta(t, 321.5037/0.97/(0.62/0.80), rate(func(b *material.Batch) { b.Fineness = &[4]quantity.Percent{10, 20, 30, 40} }), 0.001)
	assert.InDelta(t, 321.5037/0.97/0.9, rate(func(b *material.Batch) { b.Moisture = 10 }), 0.001)
	assert.InDelta(t, 321.5037/0.8, rate(func(b *material.Batch) { b.Effective, b.Moisture = ptr(quantity.Percent(80)), 10 }), 0.001,
		"a label’s figure is taken as it is")
	v := material.VinegarTest{MilliLitres: 120, Strength: 5}
	assert.InDelta(t, 120*0.417, float64(v.CCE()), 1e-9)
	v.Strength = 9
	assert.InDelta(t, 120*0.417*1.8, float64(v.CCE()), 1e-9)
	ash := batch(material.HardwoodAsh)
	ash.Charcoal = 20
	assert.InDelta(t, 0.4, ash.Worth().EffectiveCCE, 1e-12)
	assert.InDelta(t, 0.04, ash.Worth().K2O, 1e-12)
	coarse := batch(material.CalciticLime)
	coarse.Fineness = &[4]quantity.Percent{0, 0, 100, 0}
	assert.InDelta(t, 9.0/2.5, coarse.Speed().HalfLife/coarse.Reacts.HalfLife, 1e-9)
}

func TestSlowAcidifiersWaitForSpring(t *testing.T) {
	sandy := func(r *dose.Request) { r.Ground.Texture, _ = soil.FindTexture(soil.Sand) }
	for _, k := range []material.Kind{"iron-sulfate", material.AmmoniumSulfate, material.Urea} {
		// On loam a year's urea moves pH by less than 0.1, and is not worth it.
		a := answer(t, request(sour(k, "raspberry"), sandy))
		require.NotEmpty(t, a.Options, k)
		o := a.Options[0]
		caps, _ := material.CapsFor(stuff(k).Family, soil.Ground{Worked: soil.Dug})
		for _, g := range o.Applications {
			m := g.Date.Month()
			assert.True(t, m >= 3 && m <= 8, "%s on %s", k, g.Date)
			assert.LessOrEqual(t, float64(g.Rate), float64(caps.Once)+1e-9)
		}
		assert.Equal(t, k == material.AmmoniumSulfate || k == material.Urea, o.N > 0)
	}
	assert.True(t, found(answer(t, request(sour(material.Urea, "raspberry"))))["nothing-to-give"])
	a := answer(t, request(sour("aluminium-sulfate", "azalea")))
	assert.Equal(t, material.Kind("aluminium-sulfate"), a.Options[0].Parts[0].Kind)
}

func TestFreeLimeFromVinegarJar(t *testing.T) {
	a := answer(t, request(sour(material.SulfurPowder, "raspberry"), func(r *dose.Request) {
		r.Ground.FreeLime = soil.LimeUnknown
		r.More = []soil.Reading{{Date: r.Reading.Date, Method: soil.Fizz, Cores: 3,
			Fizz: soil.FizzTest{Vinegar: soil.LimeClear, Soda: soil.LimeNone}}}
	}))
	assert.Equal(t, dose.Refused, a.Direction)
	assert.True(t, found(a)["sulfur-free-lime"])
}

// Faint free lime takes its acid before the pH can move: half a percent of the soil, and the working says so.
func TestWorkingShowsFreeLimeAcid(t *testing.T) {
	steps := func(lime soil.FreeLime) (out []working.Step) {
		for _, s := range answer(t, request(sweet(7.6, lime))).Need.Working {
			if s.ID == "free-lime" {
				out = append(out, s)
			}
		}
		return out
	}
	assert.Empty(t, steps(soil.LimeNone))
	faint := steps(soil.LimeFaint)
	require.Len(t, faint, 1)
	acid := faint[0].From.N("acid")
	assert.InDelta(t, faint[0].From.N("share")*faint[0].From.N("per")*faint[0].From.N("soil"), acid, acid*1e-6)
	assert.Positive(t, acid)
	assert.Less(t, faint[0].Result.N, -acid, "on top of what the pH wants")
}

func TestUnplannedApplicationMakesReadingStale(t *testing.T) {
	put := func(planned bool) map[string]bool {
		return found(answer(t, request(func(r *dose.Request) {
			r.History = ledger.Ledger{{Date: at("2026-09-25"), Material: stuff(material.HardwoodAsh), Rate: 100, Planned: planned}}
		})))
	}
	assert.True(t, put(false)["stale-reading"])
	assert.False(t, put(true)["stale-reading"])
}

func TestAssumptionsAreStated(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) { r.Ground.CEC = nil }))
	assert.Equal(t, "assumed", a.Need.Working[0].ID)
	assert.InDelta(t, 12, a.Need.Working[0].From.N("cec"), 1e-9)
	for _, s := range answer(t, request()).Need.Working {
		assert.NotEqual(t, "assumed", s.ID)
	}
}

func TestLabPotassiumRangeOverridesTable(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) { r.Reading.KRange = &soil.KRange{From: 60, To: 95} }))
	assert.Equal(t, soil.PotassiumScale{Critical: 60, EnoughTo: 95, Ceiling: 120}, a.K.Scale)
	assert.LessOrEqual(t, float64(*of(t, a, material.HardwoodAsh).KAfter), 120.0+1e-6)
}
