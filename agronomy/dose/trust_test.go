package dose_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
)

// noDig is a bed that is not dug, without a sowing ahead.
func noDig(r *dose.Request) {
	r.Ground.Worked, r.Ground.Depth, r.Sowing = soil.Surface, 0.10, 0
}

func TestNoAshNearSowing(t *testing.T) {
	for _, c := range []struct {
		name             string
		sowing, planted  string
		earliest, latest string
	}{
		{"sown today", "2026-10-01", "", "2026-11-12", ""},
		{"sown three weeks ago", "2026-09-10", "", "2026-10-22", ""},
		{"planted out today", "", "2026-10-01", "2026-10-22", ""},
	} {
		a := answer(t, request(noDig, func(r *dose.Request) {
			r.Crop, r.Target, r.Reading.PH = cropOf("cucumber"), nil, 5.5
			r.Climate.Normal = [12]quantity.Temperature{14, 14, 14, 14, 14, 14, 14, 14, 14, 14, 14, 14}
			if c.sowing != "" {
				r.Sowing = at(c.sowing)
			}
			if c.planted != "" {
				r.Planted = at(c.planted)
			}
		}))
		assert.Equal(t, c.earliest, of(t, a, material.HardwoodAsh).Applications[0].Date.String(), c.name)
	}
	lettuce := answer(t, request(noDig, func(r *dose.Request) { r.Crop, r.Target, r.Sowing = cropOf("lettuce"), nil, at("2026-10-01") }))
	for _, g := range of(t, lettuce, material.HardwoodAsh).Applications {
		assert.GreaterOrEqual(t, g.Date, at("2026-11-12"), "nothing on what was sown that day")
	}
}

func TestHydratedLimeRanksLast(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) {
		r.Materials = []material.Batch{batch("hydrated-lime"), batch(material.DolomiticLime)}
		r.Materials[0].Price, r.Materials[1].Price = ptr(0.01), ptr(9.0)
		r.Cleared = at("2026-09-20")
	}))
	require.Len(t, a.Options, 2)
	assert.Equal(t, material.DolomiticLime, a.Options[0].Parts[0].Kind)
}

func TestLayersAreJudgedInPlace(t *testing.T) {
	layers := func(r *dose.Request) {
		noDig(r)
		r.Target = nil
		r.Reading.Layers = []soil.Layer{{From: 0, To: 0.05, PH: 6.8}, {From: 0.05, To: 0.10, PH: 5.6}, {From: 0.10, To: 0.15, PH: 5.4},
			{From: 0.15, To: 0.20, PH: 6.8}}
	}
	a := answer(t, request(layers))
	assert.InDelta(t, 5.4, float64(a.PH), 1e-9, "sour, not in band")
	assert.Equal(t, crop.Act, a.Stand)
	assert.Positive(t, float64(a.Need.CaCO3))
	assert.Equal(t, dose.Refused, a.Direction, "nothing may land on a top that is at the band’s top")
	for _, r := range a.Refused {
		assert.Equal(t, "above-band-top", r.Guards[0].ID)
		assert.Contains(t, text.Guard(r.Guards[0]).Says, "top 5 cm read 6.8")
	}
	assert.True(t, found(a)["buried-acid"])
	// A hundredth under the range's top there is next to no room: still nothing.
	a = answer(t, request(layers, func(r *dose.Request) { r.Reading.Layers[0].PH = 6.79 }))
	assert.Equal(t, dose.Refused, a.Direction)
	assert.True(t, found(a)["nothing-to-give"])
}

func TestSurfaceApplicationStaysBelowRangeTop(t *testing.T) {
	a := answer(t, request(noDig))
	for _, o := range a.Options {
		for _, g := range o.Applications {
			assert.LessOrEqual(t, float64(g.TopAfter), 6.6+1e-9, "%s: 0.2 under the band’s top", g.Kind)
		}
	}
}

func TestFreeLimeAcidAtEveryPH(t *testing.T) {
	need := func(ph quantity.PH) float64 {
		return float64(answer(t, request(sweet(ph, soil.LimeFaint))).Need.CaCO3)
	}
	assert.InDelta(t, need(7.49), need(7.50), 25, "no jump at 7.5")
	// Half a per cent of 202.5 kg, 10 g a kg and per cent: 1012.5 g/m².
	assert.InDelta(t, -1012.5, need(7.5)-float64(answer(t, request(sweet(7.5, soil.LimeNone))).Need.CaCO3), 1e-6)
	// Acid spends it first: what a year may have cancels 445 g of 1012, moves nothing, and is refused.
	a := answer(t, request(sweet(7.5, soil.LimeFaint)))
	assert.Equal(t, dose.Refused, a.Direction)
	assert.True(t, found(a)[guard.AcidSpentID])
	assert.False(t, found(a)["nothing-to-give"])
}

func TestForecastIsBounded(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) {
		r.Reading.Method, r.Reading.Cores, r.Target = soil.Probe, 1, ptr(quantity.PH(7.8))
	}))
	for _, o := range a.Options {
		assert.LessOrEqual(t, float64(o.PH.P95), 8.3)
	}
	a = answer(t, request(func(r *dose.Request) { r.Reading.PH, r.Reading.Method = 4.0, soil.Probe }))
	for _, o := range a.Options {
		assert.GreaterOrEqual(t, float64(o.AtRetest.P05), 3.3)
	}
}

func TestRetestExpectsReactedPart(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	share := func(k material.Kind, dug bool, put, read string) float64 {
		b := batch(k)
		return 1 - forecast.Unreacted(b.Speed(), &climate, dug, at(put), at(read))
	}
	// The handbook's own figures, by the kinetics and the usual soil temperatures.
	assert.InDelta(t, 0.70, share(material.CalciticLime, true, "2026-11-01", "2027-05-02"), 0.05, "dug lime, 26 weeks")
	assert.InDelta(t, 0.37, share(material.CalciticLime, false, "2026-11-01", "2027-05-02"), 0.05, "no-dig lime, 26 weeks")
	assert.InDelta(t, 0.45, share(material.SulfurPowder, true, "2027-06-01", "2027-08-24"), 0.06, "dug sulfur, 12 warm weeks")

	a := answer(t, request(func(r *dose.Request) { r.Target = ptr(quantity.PH(6.4)) }))
	o := of(t, a, material.CalciticLime)
	lime := request().Materials[0]
	left := forecast.Unreacted(lime.Speed(), &climate, true, o.Applications[0].Date, o.Retest)
	assert.InDelta(t, 1-left, o.Reacted, 1e-9)
	// Less what rain and the usual crop pull in the meantime: 18 and 4 g a year, of the 321.5 that a pH takes here.
	drift := (18 + 0.4*10) * float64(o.Retest-at("2026-09-20")) / 365.25 / 321.5
	want := 5.5 + 0.9*(1-left) - drift
	assert.InDelta(t, want, float64(o.AtRetest.Median), 1e-3, "a straight piece of the curve: the share of the way")
	assert.Less(t, o.AtRetest.Median, o.PH.Median)
	// What was at work before is read too.
	b := answer(t, request(func(r *dose.Request) {
		r.Target = ptr(quantity.PH(6.4))
		put("2026-09-25", material.DolomiticLime, 100)(r)
	}))
	assert.Less(t, float64(of(t, b, material.CalciticLime).AtRetest.Median), float64(o.AtRetest.Median), "103 g of the way is slower stone")
}

func TestSulfurCreditByReaction(t *testing.T) {
	a := answer(t, request(sour(material.SulfurPowder, "raspberry"), func(r *dose.Request) {
		r.Date, r.Reading.Date, r.Sowing = at("2027-05-20"), at("2027-05-10"), 0
	}))
	o := a.Options[0]
	assert.Greater(t, float64(o.AtRetest.Median), float64(o.PH.Median)+0.02, "not all has acted: the retest reads higher than it settles")
}

func TestPotassiumHasItsOwnDate(t *testing.T) {
	k := func(change func(*dose.Request)) soil.PotassiumNow { return answer(t, request(change)).K }
	old := answer(t, request(func(r *dose.Request) { r.Reading.PotassiumDate = at("2024-09-01") }))
	assert.True(t, old.K.Stale)
	assert.Equal(t, soil.Unknown, old.K.State)
	assert.Zero(t, old.Potassium.Need)
	// A stale figure of plenty still bars potassium.
	plenty := answer(t, request(func(r *dose.Request) {
		r.Reading.PotassiumDate, r.Reading.Potassium = at("2024-09-01"), ptr(quantity.Concentration(200))
	}))
	assert.Equal(t, soil.Plenty, plenty.K.State)
	assert.LessOrEqual(t, float64(of(t, plenty, material.HardwoodAsh).K2O), 10/(0.83*1000)*202.5/0.375+1e-6)
	// Carried forward: 100 g/m² of ash at 6 % since, a crop of 12 g grown.
	now := k(func(r *dose.Request) {
		r.Reading.PotassiumDate = at("2026-03-01")
		r.History = ledger.Ledger{{Date: at("2026-04-01"), Material: stuff(material.HardwoodAsh), Rate: 100,
			Potash: ptr(quantity.Percent(6))}}
		r.Grown = []ledger.Grown{{Crop: *cropOf("lettuce"), From: at("2026-05-01"), To: at("2026-08-01")}}
	})
	g := request().Ground
	assert.InDelta(t, 90+float64(soil.PotassiumRise(g, 6-12)), float64(*now.Now), 1e-9)
	// Half of the crop's days were before the test.
	half := k(func(r *dose.Request) {
		r.Reading.PotassiumDate = at("2026-06-16")
		r.Grown = []ledger.Grown{{Crop: *cropOf("lettuce"), From: at("2026-05-01"), To: at("2026-08-01")}}
	})
	assert.InDelta(t, 90-float64(soil.PotassiumRise(g, 6)), float64(*half.Now), 0.01)
}

func TestApplicationsKeepTheirStrength(t *testing.T) {
	need := func(p ledger.Application) float64 {
		p.Date, p.Material = at("2026-09-25"), stuff(material.HardwoodAsh)
		return float64(answer(t, request(func(r *dose.Request) { r.History = ledger.Ledger{p} })).Need.CaCO3)
	}
	none := need(ledger.Application{Rate: 0})
	assert.InDelta(t, 50, none-need(ledger.Application{Rate: 200, Measured: ptr(quantity.Percent(25))}), 1e-9, "200 g/m² at 25 %")
	assert.InDelta(t, 200*0.5*0.85, none-need(ledger.Application{Rate: 200, Condition: material.Wet}), 1e-9, "left out wet")
}

func TestPotassiumDose(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) { r.Materials = nil }))
	// From 90 to 135 ppm: 45 / 830 × 202.5 / 0.375.
	want := 45.0 / 830 * 202.5 / 0.375
	assert.Equal(t, soil.Short, a.K.State)
	assert.InDelta(t, want, float64(a.Potassium.Need), 1e-9)
	kinds := map[material.Kind]dose.Option{}
	for _, o := range a.Potassium.Options {
		kinds[o.Parts[0].Kind] = o
	}
	assert.InDelta(t, want/0.5, float64(kinds[material.PotassiumSulfate].Parts[0].Rate), 1e-9)
	assert.Len(t, kinds[material.PotassiumSulfate].Applications, 2, "30 g/m² at most in one go")
	assert.InDelta(t, want/0.005, float64(kinds[material.Compost].Parts[0].Rate+quantity.Rate(0)), want/0.005, "compost as far as its cap")
	ash := kinds[material.HardwoodAsh]
	assert.LessOrEqual(t, float64(ash.PH.Median), 6.6+1e-9, "ash for potassium keeps 0.2 under the band’s top")
	// Also when the pH is right.
	right := answer(t, request(func(r *dose.Request) { r.Materials, r.Reading.PH, r.Target = nil, 6.45, nil }))
	assert.Equal(t, dose.Leave, right.Direction)
	require.NotEmpty(t, right.Potassium.Options)
	for _, o := range right.Potassium.Options {
		assert.LessOrEqual(t, float64(o.PH.Median), 6.6+1e-9, o.Parts[0].Kind)
	}
	// At most twice what the crop carries off, less what the year has had.
	low := answer(t, request(func(r *dose.Request) { r.Crop, r.Target = cropOf("lawn"), nil; put("2026-08-01", "compost", 400)(r) }))
	assert.InDelta(t, 2*8-2, float64(low.Potassium.Need), 1e-9)
	// Named materials without any: potassium sulfate and compost are reported all the same.
	lime := answer(t, request(func(r *dose.Request) { r.Materials = r.Materials[:1] }))
	assert.NotEmpty(t, lime.Potassium.Options)
	assert.Empty(t, answer(t, request(func(r *dose.Request) { r.Reading.Potassium = ptr(quantity.Concentration(105)) })).Potassium.Options)
}

func TestMagnesiumRanksLimestone(t *testing.T) {
	first := func(mg quantity.Concentration) material.Kind {
		a := answer(t, request(func(r *dose.Request) {
			r.Materials, r.Reading.Magnesium = nil, &mg
		}))
		return a.Options[0].Parts[0].Kind
	}
	assert.Equal(t, material.DolomiticLime, first(59))
	assert.Equal(t, material.CalciticLime, first(60))
	assert.Equal(t, material.CalciticLime, first(450))
}

func TestStonesAndOrganicMatter(t *testing.T) {
	plain := answer(t, request())
	stony := answer(t, request(func(r *dose.Request) { r.Ground.Stones = 20 }))
	assert.InDelta(t, 0.8*float64(plain.Need.CaCO3), float64(stony.Need.CaCO3), 1e-9, "every school’s rate")
	g := request().Ground
	for om, want := range map[quantity.Percent]float64{2: 1350, 3: 1350, 6: 1184, 8: 1094} {
		g.OrganicMatter = ptr(om)
		assert.InDelta(t, want, float64(g.Density()), 1, "%v %%", om)
	}
	g.Stones = 20
	assert.InDelta(t, float64(g.Density())*0.15*0.8, g.SoilMass(), 1e-9)
}

func TestJarsAllowDusting(t *testing.T) {
	a := answer(t, request(jars(dose.FizzDusting), func(r *dose.Request) { r.Materials = nil }))
	require.Len(t, a.Options, 1)
	assert.InDelta(t, 75, float64(a.Options[0].Parts[0].Rate), 1e-9)
	assert.Len(t, a.Options[0].Applications, 1)
	assert.False(t, found(a)["large-change"], "jars tell no pH that a change could be large from")
	again := answer(t, request(jars(dose.FizzDusting), put("2026-02-01", material.HardwoodAsh, 20)))
	assert.Equal(t, dose.Refused, again.Direction, "once a year")
	// Never against a figure that speaks otherwise.
	figure := answer(t, request(jars(dose.FizzDusting), func(r *dose.Request) {
		r.More = []soil.Reading{{Date: at("2025-10-01"), Method: soil.Kit, Basis: soil.Water, PH: 6.9, Cores: 6}}
	}))
	assert.NotEqual(t, dose.Raise, figure.Direction)
	sweetJars := answer(t, request(jars(dose.FizzDusting),
		func(r *dose.Request) { r.Reading.Fizz = soil.FizzTest{Vinegar: soil.LimeFaint, Soda: soil.LimeNone} }))
	assert.Equal(t, dose.Refused, sweetJars.Direction)
}

func TestJarTestKeepsHistory(t *testing.T) {
	limed := func(r *dose.Request) { put("2026-09-25", material.CalciticLime, 200)(r) }
	plain := answer(t, request(limed))
	with := answer(t, request(limed, func(r *dose.Request) {
		r.More = []soil.Reading{{Date: at("2026-09-30"), Method: soil.Fizz, Cores: 3,
			Fizz: soil.FizzTest{Vinegar: soil.LimeNone, Soda: soil.LimeFaint}}}
	}))
	assert.InDelta(t, float64(plain.Need.CaCO3), float64(with.Need.CaCO3), 1e-9)
}

func TestPotatoesBelowLockOut(t *testing.T) {
	a := answer(t, request(fire("potato", 4.6)))
	assert.Equal(t, dose.Raise, a.Direction)
	assert.InDelta(t, 5.2, float64(a.Target), 1e-9)
	for _, o := range a.Options {
		assert.Len(t, o.Parts, 1)
		assert.NotEqual(t, material.Ash, stuff(o.Parts[0].Kind).Family)
	}
	typed := answer(t, request(fire("potato", 4.6), func(r *dose.Request) { r.Target = ptr(quantity.PH(6.0)) }))
	assert.InDelta(t, 5.2, float64(typed.Target), 1e-9, "no further, typed or not")
}

func TestWorkingLinesAddUp(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) { r.Reading.KRange, r.Ground.Stones = &soil.KRange{From: 60, To: 95}, 10 }))
	o := of(t, a, material.HardwoodAsh)
	seen := map[string]int{}
	for _, s := range a.Working(&o) {
		if s.ID != "potassium-room" {
			continue
		}
		seen[s.ID]++
		v := s.From
		got := (v.N("ceiling") - v.N("k")) / 830 * v.N("soil") / v.N("held") / (v.N("k2o") / 100)
		assert.InDelta(t, s.Result.N, got, 1e-6, "the lab’s own range too")
	}
	for _, s := range a.Need.Working {
		if s.ID == "depth" {
			seen[s.ID]++
			v := s.From
			assert.InDelta(t, s.Result.N, v.N("need")*v.N("depth")/v.N("table_depth")*(1-v.N("stones")/100), 1e-6)
		}
	}
	assert.Equal(t, map[string]int{"potassium-room": 1, "depth": 1}, seen, "both lines stand in the working")
	assert.False(t, math.IsNaN(o.Acts))
}

func TestPerennialsTakeAshWhileDormant(t *testing.T) {
	dressed := func(c string, use soil.Use, k quantity.Concentration) bool {
		r := request(noDig, func(r *dose.Request) {
			r.Crop, r.Target, r.Ground.Use, r.Reading.PH, r.Reading.Potassium = cropOf(c), nil, use, 6.1, ptr(k)
		})
		return bed.Judge(&r.Record).Season.SideDress
	}
	assert.True(t, dressed("dahlia", soil.UseBed, 60), "short of potassium")
	assert.False(t, dressed("dahlia", soil.UseBed, 200))
	assert.True(t, dressed("asparagus", soil.UseBed, 200), "it welcomes ash")
	require.True(t, cropOf("strawberry").Is(crop.Perennial))
	assert.False(t, dressed("strawberry", soil.UseBed, 60), "short of potassium, but it stands for years")
	assert.False(t, dressed("lawn", soil.UseLawn, 60), "a lawn from early winter to spring")
	assert.False(t, dressed("apple", soil.UseTree, 60))
}

func TestReactingLimeIsTheReasonToWait(t *testing.T) {
	why := func(put quantity.Rate) (ids []string) {
		a := answer(t, request(func(r *dose.Request) {
			r.Crop, r.Target, r.Reading.PH, r.Methods.Act = cropOf("dahlia"), nil, 6.1, crop.At6
			if put > 0 {
				r.History = ledger.Ledger{{Date: r.Reading.Date - 3, Material: stuff(material.CalciticLime), Rate: put}}
			}
		}))
		assert.Equal(t, dose.Leave, a.Direction)
		for _, s := range a.Need.Working {
			ids = append(ids, s.ID)
		}
		return ids
	}
	assert.Contains(t, why(0), "left-alone")
	assert.Contains(t, why(200), "at-work")
	assert.NotContains(t, why(200), "left-alone")
	assert.Contains(t, why(5), "left-alone", "what moves less than can be told does no work")
	assert.NotContains(t, why(5), "at-work")
}

func TestOnlyCleanWoodAsh(t *testing.T) {
	for _, source := range material.Sources {
		a := answer(t, request(with(func(b *material.Batch) { b.Source = source })))
		barred := false
		for _, r := range a.Refused {
			if r.Kind == material.HardwoodAsh {
				barred = r.Guards[0].ID == "ash-source" && r.Guards[0].Level == guard.Stop
			}
		}
		assert.Equal(t, source != material.Clean, barred, source)
	}
}

func TestYearlyPotashLimit(t *testing.T) {
	// Enough potassium: in a year no more than twice what tomatoes carry off, 50 g.
	k2o := func(changes ...func(*dose.Request)) float64 {
		r := request(append(changes, func(r *dose.Request) {
			r.Reading.Potassium, r.Reading.PH = ptr(quantity.Concentration(120)), 5.0
			r.Materials = r.Materials[1:]
		})...)
		return float64(of(t, answer(t, r), material.HardwoodAsh).K2O)
	}
	had := func(ago quantity.Day) func(*dose.Request) {
		return func(r *dose.Request) {
			r.History = ledger.Ledger{{Date: r.Date - ago, Material: stuff(material.PotassiumSulfate), Rate: 80}} // 40 g of potash
		}
	}
	require.Greater(t, k2o(), 20.0)
	assert.InDelta(t, 10, k2o(had(364)), 1e-6, "50 less the 40 of this year")
	assert.Greater(t, k2o(had(365)), 20.0, "365 days ago is another year")
	untested := func(r *dose.Request) { r.Reading.Potassium = nil }
	last := request(had(100), untested, func(r *dose.Request) { r.Materials = r.Materials[1:] })
	for _, r := range answer(t, last).Refused {
		if r.Kind == material.HardwoodAsh {
			assert.Equal(t, "potassium-untested", r.Guards[0].With.Text("limit"), "25 a crop carries off, 40 were given")
			return
		}
	}
	assert.Fail(t, "ash is held to what the crop carries off")
}

func TestSandReadingIsStaleAfterAYear(t *testing.T) {
	sand, _ := soil.FindTexture(soil.Sand)
	stale := func(texture soil.TextureClass, read string) bool {
		return found(answer(t, request(func(r *dose.Request) { r.Ground.Texture, r.Reading.Date = texture, at(read) })))["stale-reading"]
	}
	loam, _ := soil.FindTexture(soil.Loam)
	assert.False(t, stale(sand, "2025-10-01"), "twelve months to the day")
	assert.True(t, stale(sand, "2025-09-30"))
	assert.False(t, stale(loam, "2024-10-01"), "twenty-four on other soil")
	assert.True(t, stale(loam, "2024-09-30"))
}

func TestSurfaceMixLimeWaitsForAsh(t *testing.T) {
	r := request(noDig, func(r *dose.Request) { r.Reading.PH, r.Materials[1].OnHand = 5.0, ptr(quantity.Mass(600)) })
	seen := false
	for _, o := range answer(t, r).Options {
		if len(o.Parts) < 2 {
			continue
		}
		seen = true
		lastAsh, firstLime := quantity.Day(0), quantity.Day(0)
		for _, g := range o.Applications {
			switch {
			case o.Parts[g.Part].Of.Family == material.Ash:
				lastAsh = max(lastAsh, g.Date)
			case firstLime == 0 || g.Date < firstLime:
				firstLime = g.Date
			}
		}
		assert.GreaterOrEqual(t, firstLime, lastAsh.AddWeeks(o.Parts[1].Caps.Weeks), "both work in the same top 5 cm")
	}
	assert.True(t, seen, "no mix to look at")
}

// Repeated doses on one weak reading apply at most half before the next test.
func TestWeakReadingHalfIsAppliedOnce(t *testing.T) {
	kit := func(change ...func(*dose.Request)) dose.Answer {
		return answer(t, request(append([]func(*dose.Request){func(r *dose.Request) {
			r.Reading.Method, r.Materials = soil.Kit, r.Materials[:1]
		}}, change...)...))
	}
	goes := func(a dose.Answer) float64 {
		if len(a.Options) == 0 {
			return 0
		}
		return float64(a.Options[0].Applications[0].CaCO3)
	}
	whole := kit()
	half := goes(whole)
	assert.InDelta(t, float64(whole.Need.CaCO3)/2, half, 0.5)
	put := func(caco3 float64, day string) func(*dose.Request) {
		return func(r *dose.Request) {
			rate := quantity.Rate(caco3 / float64(whole.Options[0].Parts[0].Worth.EffectiveCCE))
			r.History = append(r.History, ledger.Application{Date: at(day), Material: whole.Options[0].Parts[0].Of.Material,
				Rate: rate, Planned: true})
		}
	}
	read := whole.Reading.Date.String()
	again := kit(put(half, read))
	assert.Zero(t, goes(again), "half went on, on the very day of the reading")
	require.NotEmpty(t, again.Refused)
	assert.Equal(t, "half-gone", again.Refused[0].Guards[0].ID)
	assert.Zero(t, goes(kit(put(half/2, read), put(half/2, read))), "in two ticks")
	assert.InDelta(t, half/2, goes(kit(put(half/2, read))), 1, "a quarter is left of the half")
	assert.InDelta(t, half, goes(kit(put(half, "2024-09-01"))), half/5, "what went on long before the reading is in it")
	lab := kit(put(half, read), func(r *dose.Request) { r.Reading.Method = soil.Lab })
	assert.Positive(t, goes(lab), "a lab carries the rest")
}
