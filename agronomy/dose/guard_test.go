package dose_test

import (
	"slices"
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

// found gathers the ids of all guards of an answer, wherever they stand.
func found(a dose.Answer) map[string]bool {
	ids := map[string]bool{}
	add := func(fs []guard.Finding) {
		for _, f := range fs {
			ids[f.ID] = true
		}
	}
	add(a.Guards)
	for _, o := range a.Options {
		add(o.Guards)
	}
	for _, r := range append(slices.Clone(a.Refused), a.Potassium.Refused...) {
		add(r.Guards)
	}
	return ids
}

// everywhere adds the findings against each material from any use case.
func everywhere(r *dose.Request, a dose.Answer) map[string]bool {
	ids, state := found(a), bed.Judge(&r.Record)
	for i := range r.Materials {
		for _, f := range guard.Against(&state, &r.Materials[i]) {
			ids[f.ID] = true
		}
	}
	return ids
}

func fire(c string, ph quantity.PH) func(*dose.Request) {
	return func(r *dose.Request) { r.Crop, r.Reading.PH, r.Target = cropOf(c), ph, nil }
}

func with(change func(*material.Batch)) func(*dose.Request) {
	return func(r *dose.Request) { change(&r.Materials[1]) }
}

// fed names one more material on ground of a use, for a crop.
func fed(k material.Kind, c string, use soil.Use) func(*dose.Request) {
	return func(r *dose.Request) {
		r.Crop, r.Target, r.Ground.Use = cropOf(c), ptr(quantity.PH(6.5)), use
		r.Materials = append(r.Materials, batch(k))
	}
}

func put(date string, k material.Kind, rate quantity.Rate) func(*dose.Request) {
	return func(r *dose.Request) {
		r.History = append(r.History, ledger.Application{Date: at(date), Material: stuff(k), Rate: rate})
	}
}

// sweet asks for lowering with sulfur, from a pH, with a class of free lime.
func sweet(ph quantity.PH, lime soil.FreeLime) func(*dose.Request) {
	return func(r *dose.Request) {
		r.Reading.PH, r.Target, r.Ground.FreeLime = ph, nil, lime
		r.Materials = []material.Batch{batch(material.SulfurPowder), batch(material.CalciticLime)}
	}
}

// more adds a reading by a method.
func more(m soil.Method, ph quantity.PH) func(*dose.Request) {
	return func(r *dose.Request) {
		r.More = append(r.More, soil.Reading{Date: r.Reading.Date, Method: m, Basis: soil.Water, PH: ph, Cores: 12})
	}
}

func fizz(vinegar, soda soil.FreeLime) func(*dose.Request) {
	return func(r *dose.Request) {
		r.More = []soil.Reading{{Date: r.Reading.Date, Method: soil.Fizz, Cores: 3, Fizz: soil.FizzTest{Vinegar: vinegar, Soda: soda}}}
	}
}

// sour asks for lowering from 7.2 with a material.
func sour(k material.Kind, c string) func(*dose.Request) {
	return func(r *dose.Request) {
		r.Crop, r.Reading.PH, r.Target, r.Materials = cropOf(c), 7.2, nil, []material.Batch{batch(k)}
	}
}

// jars are two that say sour, and nothing else; the method says what they carry.
func jars(s dose.FizzApproach) func(*dose.Request) {
	return func(r *dose.Request) {
		r.Methods.Fizz, r.Target = s, nil
		r.Reading = soil.Reading{Date: r.Reading.Date, Method: soil.Fizz, Cores: 3,
			Fizz: soil.FizzTest{Vinegar: soil.LimeNone, Soda: soil.LimeClear}}
	}
}

// tested returns the potassium a day of its own.
func tested(day string) func(*dose.Request) {
	return func(r *dose.Request) { r.Reading.PotassiumDate = at(day) }
}

func muck(r *dose.Request) {
	r.Ground.Texture, _ = soil.FindTexture(soil.Muck)
	r.Ground.CEC, r.Reading.PH, r.Target = nil, 4.9, nil
}

func smp(buffer, target quantity.PH) func(*dose.Request) {
	return func(r *dose.Request) {
		r.Methods.Buffering, r.Reading.Buffer, r.Target = soil.BySMP, &soil.BufferPH{Kind: soil.SMP, PH: buffer}, ptr(target)
	}
}

func om(share quantity.Percent) func(*dose.Request) {
	return func(r *dose.Request) { r.Ground.OrganicMatter, r.Reading.PH, r.Target = ptr(share), 4.9, nil }
}

// plain is a request on which almost no rule holds.
func plain(r *dose.Request) { r.Reading.PH, r.Target = 6.0, ptr(quantity.PH(6.3)) }

// guardCases has for each rule a request on which it fires and one on which it does not.
var guardCases = map[string]struct{ fires, quiet func(*dose.Request) }{
	"fizz-only": {func(r *dose.Request) {
		r.Reading.Method, r.Reading.PH, r.Reading.Fizz = soil.Fizz, 0, soil.FizzTest{Vinegar: soil.LimeNone, Soda: soil.LimeFaint}
	}, plain},
	"above-band-top": {func(r *dose.Request) { r.Reading.PH, r.Target = 6.8, ptr(quantity.PH(7.2)) },
		func(r *dose.Request) { r.Reading.PH, r.Target = 6.7, ptr(quantity.PH(7.2)) }},
	"ash-acid-lover":    {fire("blueberry", 4.2), fire("tomato", 5.5)},
	"potato-year":       {fire("potato", 4.6), fire("tomato", 5.5)},
	"ash-unsuited-crop": {fire("raspberry", 5.2), fire("parsley", 5.2)},
	"sulfides":          {fire("tomato", 3.9), fire("tomato", 3.91)},
	"sodium":            {sweet(8.5, soil.LimeNone), sweet(8.49, soil.LimeNone)},
	"ash-tomato": {func(r *dose.Request) { r.Methods.TomatoAsh = dose.NoTomatoAsh },
		func(r *dose.Request) { r.Methods.TomatoAsh, r.Crop = dose.NoTomatoAsh, cropOf("pepper") }},
	"hydrated-acid-lover": {func(r *dose.Request) { fire("blueberry", 4.2)(r); r.Materials[0] = batch("hydrated-lime") },
		func(r *dose.Request) { fire("raspberry", 5.2)(r); r.Materials[0] = batch("hydrated-lime") }},
	"fizz-dusting":    {jars(dose.FizzDusting), jars(dose.FizzQuestion)},
	"potassium-stale": {tested("2024-09-30"), tested("2024-10-01")},
	"potassium-muck": {muck, func(r *dose.Request) {
		muck(r)
		r.Reading.KRange = &soil.KRange{From: 100, To: 200}
	}},
	"smp-range":            {smp(6.5, 6.81), smp(6.5, 6.8)},
	"buffer-gives-nothing": {smp(7.3, 6.0), smp(7.3, 5.99)},
	"layers-differ": {func(r *dose.Request) {
		r.Reading.Layers = []soil.Layer{{From: 0, To: 0.05, PH: 6.4}, {From: 0.05, To: 0.15, PH: 5.2}}
	}, func(r *dose.Request) {
		r.Reading.Layers = []soil.Layer{{From: 0, To: 0.05, PH: 6.1}, {From: 0.05, To: 0.15, PH: 5.2}}
	}},
	"free-lime-trace": {sweet(7.4, soil.LimeNone), sweet(7.39, soil.LimeNone)},
	"undershoot": {func(r *dose.Request) {
		sweet(7.3, soil.LimeNone)(r)
		r.Target = ptr(quantity.PH(6.0))
	}, sweet(7.3, soil.LimeNone)},
	"dolomite-magnesium": {func(r *dose.Request) {
		r.Materials, r.Reading.Magnesium = nil, ptr(quantity.Concentration(181))
	}, func(r *dose.Request) { r.Materials, r.Reading.Magnesium = nil, ptr(quantity.Concentration(180)) }},
	"ash-years": {func(r *dose.Request) {
		put("2022-10-03", material.HardwoodAsh, 300)(r)
		put("2024-01-01", material.HardwoodAsh, 201)(r)
	}, func(r *dose.Request) {
		put("2021-10-01", material.HardwoodAsh, 300)(r)
		put("2024-01-01", material.HardwoodAsh, 201)(r)
	}},
	"too-close-to-tell":      {fire("tomato", 6.06), fire("tomato", 6.05)},
	"drifts-down":            {fire("tomato", 7.29), fire("tomato", 7.3)},
	"potato-lock-out":        {fire("potato", 4.79), fire("potato", 4.8)},
	"muck-by-organic-matter": {om(20.1), om(20)},
	"lime-late": {func(r *dose.Request) { r.Sowing = at("2026-12-23") },
		func(r *dose.Request) { r.Sowing = at("2026-12-24") }},
	"ash-at-6.5": {func(r *dose.Request) { r.Reading.PH, r.Target = 6.5, ptr(quantity.PH(6.7)) },
		func(r *dose.Request) { r.Reading.PH, r.Target = 6.4, ptr(quantity.PH(6.7)) }},
	"ash-source": {with(func(b *material.Batch) { b.Source = material.Painted }), plain},
	"ash-not-measured": {func(r *dose.Request) { r.Methods.Ash, r.Materials[1].Measured = material.MeasuredOnly, nil },
		func(r *dose.Request) { r.Methods.Ash = material.MeasuredOnly }},
	"potassium-ceiling": {func(r *dose.Request) { r.Reading.Potassium = ptr(quantity.Concentration(210)) },
		func(r *dose.Request) { r.Reading.Potassium = ptr(quantity.Concentration(209)) }},
	"sulfur-free-lime": {sweet(7.4, soil.LimeUnknown), sweet(7.4, soil.LimeNone)},
	"surprising-test": {func(r *dose.Request) {
		r.Surprise = &forecast.Surprise{Read: forecast.Read{Date: r.Reading.Date, PH: 5.1}, Expected: 6.2, Test: r.Reading.Date + 21}
	}, func(r *dose.Request) { r.Surprise = nil }},
	"not-learned-yet": {func(r *dose.Request) { r.Unlearned = ptr(1) }, func(r *dose.Request) { r.Unlearned = nil }},
	"weak-method":     {func(r *dose.Request) { r.Reading.Method = soil.Probe }, func(r *dose.Request) { r.Reading.Method = soil.Meter }},
	"stale-reading": {func(r *dose.Request) { r.Reading.Date = at("2024-09-30") },
		func(r *dose.Request) { r.Reading.Date = at("2024-10-01") }},
	"sampled-too-soon":    {put("2026-07-27", material.HardwoodAsh, 50), put("2026-07-26", material.HardwoodAsh, 50)},
	"large-change":        {func(r *dose.Request) { r.Target = ptr(quantity.PH(6.6)) }, plain},
	"target-outside-band": {func(r *dose.Request) { r.Target = ptr(quantity.PH(6.9)) }, plain},
	"magnesium-low": {func(r *dose.Request) { r.Reading.Magnesium = ptr(quantity.Concentration(59)) },
		func(r *dose.Request) { r.Reading.Magnesium = ptr(quantity.Concentration(60)) }},
	"overshoot": {func(r *dose.Request) {}, func(r *dose.Request) { r.Reading.PH, r.Target = 6.1, ptr(quantity.PH(6.3)) }},
	"ash-over-common-advice": {func(r *dose.Request) {}, func(r *dose.Request) {
		r.Reading.PH, r.Target = 6.1, ptr(quantity.PH(6.4))
	}},
	"potassium-unknown": {func(r *dose.Request) { r.Reading.Potassium = nil }, plain},
	"potassium-magnesium": {func(r *dose.Request) {
		r.Reading.Potassium, r.Reading.Magnesium = ptr(quantity.Concentration(170)), ptr(quantity.Concentration(70))
	}, plain},
	"seed-crop": {fire("lettuce", 5.5), fire("tomato", 5.5)},
	"ash-wet": {with(func(b *material.Batch) { b.Condition, b.Potash = material.Wet, nil }),
		with(func(b *material.Batch) { b.Condition = material.Wet })},
	"hydrated-lime":      {func(r *dose.Request) { r.Materials[0] = batch("hydrated-lime") }, plain},
	"lime-acid-lover":    {fire("blueberry", 4.0), fire("tomato", 5.5)},
	"surface-slow":       {func(r *dose.Request) { r.Ground.Worked = soil.Surface }, plain},
	"established-shrubs": {func(r *dose.Request) { r.Ground.Worked, r.Crop = soil.Established, cropOf("rose") }, plain},
	// Sulfur left on top wants 26 weeks between applications, and warm soil: one goes.
	"days-left-out": {func(r *dose.Request) {
		sweet(7.2, soil.LimeNone)(r)
		r.Ground.Worked, r.Crop, r.Sowing = soil.Surface, cropOf("raspberry"), 0
	}, plain},
	"sulfur-after-lime": {func(r *dose.Request) { sweet(7.35, soil.LimeNone)(r); put("2025-10-01", material.CalciticLime, 200)(r) },
		sweet(7.35, soil.LimeNone)},
	"potassium-beside-magnesium": {func(r *dose.Request) {
		r.Reading.Potassium, r.Reading.Magnesium = ptr(quantity.Concentration(151)), ptr(quantity.Concentration(100))
	}, func(r *dose.Request) {
		r.Reading.Potassium, r.Reading.Magnesium = ptr(quantity.Concentration(150)), ptr(quantity.Concentration(100))
	}},
	"calcium-low": {func(r *dose.Request) { r.Reading.Calcium = ptr(quantity.Concentration(960)) }, // 40 % of 12 cmol is 962
		func(r *dose.Request) { r.Reading.Calcium = ptr(quantity.Concentration(963)) }},
	"manure-pots":          {fed("manure", "tomato", soil.UsePot), fed("manure", "tomato", soil.UseBed)},
	"manure-seed-bed":      {fed("poultry-pellets", "carrot", soil.UseBed), fed("rotted-manure", "carrot", soil.UseBed)},
	"chalky-acid-lover":    {fed("mushroom-compost", "blueberry", soil.UseBed), fed("leaf-mould", "blueberry", soil.UseBed)},
	"heap-no-dose":         {func(r *dose.Request) { r.Ground.Use = soil.UseHeap }, plain},
	"pots-by-recipe":       {func(r *dose.Request) { r.Ground.Use = soil.UsePot }, plain},
	"no-ph-change":         {func(r *dose.Request) { r.Materials = append(r.Materials, batch("gypsum")) }, plain},
	"wrong-way":            {func(r *dose.Request) { r.Materials = append(r.Materials, batch(material.SulfurPowder)) }, plain},
	"typical-strength":     {with(func(b *material.Batch) { b.Measured = nil }), plain},
	"target-overrides":     {func(r *dose.Request) { r.Reading.PH, r.Target = 6.3, ptr(quantity.PH(6.6)) }, plain},
	"lowering-impractical": {sweet(7.51, soil.LimeFaint), sweet(7.5, soil.LimeFaint)},
	"methods-disagree":     {more(soil.Meter, 6.2), more(soil.Meter, 6.0)},
	"crops-conflict": {func(r *dose.Request) { r.With = []crop.Crop{*cropOf("blueberry")} },
		func(r *dose.Request) { r.With = []crop.Crop{*cropOf("carrot")} }},
	"ash-hot": {with(func(b *material.Batch) { b.Burnt = at("2026-09-25") }),
		with(func(b *material.Batch) { b.Burnt = at("2026-09-24") })},
	"aluminium-food": {sour("aluminium-sulfate", "raspberry"), sour("aluminium-sulfate", "azalea")},
	"aluminium-sour": {func(r *dose.Request) {
		sour("aluminium-sulfate", "heather")(r)
		r.Reading.PH, r.Target = 4.9, ptr(quantity.PH(4.6))
	}, sour("aluminium-sulfate", "azalea")},
	"outranked": {more(soil.Kit, 6.5), more(soil.Kit, 5.9)},
	"outlier": {func(r *dose.Request) { more(soil.Lab, 5.6)(r); more(soil.Lab, 6.2)(r) },
		func(r *dose.Request) { more(soil.Lab, 5.6)(r); more(soil.Lab, 5.7)(r) }},
	"fizz-doubts": {fizz(soil.LimeClear, soil.LimeNone), fizz(soil.LimeNone, soil.LimeClear)},
	"buried-acid": {func(r *dose.Request) { r.Reading.Layers = []soil.Layer{{From: 0.15, To: 0.20, PH: 4.8}} },
		func(r *dose.Request) { r.Reading.Layers = []soil.Layer{{From: 0.15, To: 0.20, PH: 6.4}} }},
	"potassium-too-much": {func(r *dose.Request) { r.Reading.Potassium = ptr(quantity.Concentration(211)) },
		func(r *dose.Request) { r.Reading.Potassium = ptr(quantity.Concentration(210)) }},
	"potassium-extractant": {func(r *dose.Request) { r.Reading.Extractant = soil.OtherExtractant },
		func(r *dose.Request) {
			r.Reading.Extractant, r.Reading.KRange = "", &soil.KRange{From: 120, To: 180}
		}},
	"hard-water": {func(r *dose.Request) { r.Water = ptr(150.0) },
		func(r *dose.Request) { r.Water, r.Methods.Water = ptr(350.0), dose.WaterIgnored }},
	"adams-evans-range": {func(r *dose.Request) {
		r.Methods.Buffering, r.Reading.Buffer = soil.ByAdamsEvans, &soil.BufferPH{Kind: soil.AdamsEvans, PH: 7.7}
	}, func(r *dose.Request) {
		r.Methods.Buffering, r.Reading.Buffer, r.Ground.CEC = soil.ByAdamsEvans, &soil.BufferPH{Kind: soil.AdamsEvans,
			PH: 7.7}, ptr(quantity.CationExchangeCapacity(8))
	}},
	"ash-old": {with(func(b *material.Batch) { b.Burnt = at("2025-09-30") }),
		with(func(b *material.Batch) { b.Burnt = at("2025-10-01") })},
	"black-walnut": {with(func(b *material.Batch) { b.Walnut = true }), plain},
	"salt-seedlings": {func(r *dose.Request) { sour(material.AmmoniumSulfate, "lettuce")(r); r.Reading.PH = 7.6 },
		sour(material.AmmoniumSulfate, "raspberry")},
	"feeds-nitrogen": {sour(material.AmmoniumSulfate, "raspberry"), plain},
	"yellow-leaves":  {sour(material.SulfurPowder, "blueberry"), sour(material.SulfurPowder, "raspberry")},
	"lock-up-high":   {sweet(7.35, soil.LimeNone), sweet(7.3, soil.LimeNone)},
	"lock-up-low":    {fire("tomato", 5.45), fire("tomato", 5.5)},
	"aluminium-low":  {fire("tomato", 4.9), fire("tomato", 5.0)},
}

func TestEveryGuardFiresOnlyWhenItShould(t *testing.T) {
	for _, rule := range guard.Rules {
		c, ok := guardCases[rule.ID]
		if !assert.True(t, ok, "no cases for %s", rule.ID) {
			continue
		}
		fires, quiet := request(c.fires), request(c.quiet)
		assert.True(t, everywhere(&fires, answer(t, fires))[rule.ID], "%s does not fire", rule.ID)
		assert.False(t, everywhere(&quiet, answer(t, quiet))[rule.ID], "%s fires where it should not", rule.ID)
	}
	assert.Len(t, guardCases, len(guard.Rules), "a case for a rule that is gone")
}

// dayCases has for each day rule a request that it moves and one that it does not.
var dayCases = map[string]struct{ fires, quiet func(*dose.Request) }{
	"frozen":          {func(r *dose.Request) { r.Climate.Normal[9], r.Climate.Normal[8] = -3, -3 }, plain},
	"ground-shut":     {func(r *dose.Request) { r.Ground.State = soil.Waterlogged }, func(r *dose.Request) { r.Ground.State = soil.Open }},
	"ash-near-sowing": {func(r *dose.Request) { r.Sowing = at("2026-10-20") }, func(r *dose.Request) { r.Sowing = at("2026-11-20") }},
	"in-growth":       {plain, func(r *dose.Request) { r.Cleared = at("2026-09-25") }},
	"bed-occupied":    {func(r *dose.Request) { r.Cleared = at("2026-10-10") }, func(r *dose.Request) { r.Cleared = at("2026-09-30") }},
	"sulfur-cold-soil": {sour(material.SulfurPowder, "raspberry"), func(r *dose.Request) {
		sour(material.SulfurPowder, "raspberry")(r)
		r.Date, r.Reading.Date, r.Sowing = at("2026-06-01"), at("2026-05-20"), 0
	}},
	"nitrogen-21-days":    {put("2026-09-12", material.Urea, 5), put("2026-09-10", material.Urea, 5)},
	"lime-sulfur-season":  {put("2026-05-01", material.SulfurPowder, 20), put("2026-03-20", material.SulfurPowder, 20)},
	"too-soon-after-last": {put("2026-07-15", material.CalciticLime, 50), put("2026-07-01", material.CalciticLime, 50)},
	"year-cap":            {put("2026-01-10", material.CalciticLime, 900), put("2026-01-10", material.CalciticLime, 300)},
	"spring-to-midsummer": {sour("iron-sulfate", "raspberry"), func(r *dose.Request) {
		sour("iron-sulfate", "raspberry")(r)
		r.Date, r.Reading.Date, r.Sowing = at("2026-06-01"), at("2026-05-20"), 0
	}},
	"lime-21-days": {func(r *dose.Request) {
		sour(material.Urea, "raspberry")(r)
		r.Date, r.Reading.Date, r.Sowing = at("2026-06-01"), at("2026-05-30"), 0
		put("2026-05-20", material.CalciticLime, 5)(r)
	}, func(r *dose.Request) {
		sour(material.Urea, "raspberry")(r)
		r.Date, r.Reading.Date, r.Sowing = at("2026-06-01"), at("2026-05-30"), 0
		put("2026-05-10", material.CalciticLime, 5)(r)
	}},
	"past-52-weeks": {func(r *dose.Request) {
		r.Reading.Method, r.Materials, r.Cleared = soil.Kit, []material.Batch{batch(material.DolomiticLime)}, at("2026-10-10")
	}, plain},
}

func TestEveryDayRuleMovesOnlyItsFamilies(t *testing.T) {
	for id, c := range dayCases {
		a := answer(t, request(c.fires))
		ids := found(a)
		for _, o := range a.Options {
			ids[o.Limit] = true
			for _, p := range a.Working(&o) {
				ids[p.From.Text("limit")] = true
			}
		}
		assert.True(t, ids[id], "%s does not fire", id)
		assert.False(t, found(answer(t, request(c.quiet)))[id], "%s fires where it should not", id)
		for _, o := range a.Options {
			for _, g := range o.Guards {
				if g.ID == id {
					assert.Equal(t, guard.Note, g.Level, "%s passes with time", id)
					assert.Contains(t, text.Guard(g).Says, "Not before", id)
				}
			}
		}
	}
}

func TestGuardsOutsideTheTable(t *testing.T) {
	// Nitrogen feed moves the date by just 21 days, sulfur by just 26 weeks.
	a := answer(t, request(put("2026-09-28", material.AmmoniumSulfate, 20), func(r *dose.Request) { r.Reading.Date = at("2026-09-29") }))
	assert.Equal(t, at("2026-09-28")+21, of(t, a, material.CalciticLime).Applications[0].Date)
	a = answer(t, request(put("2026-06-01", material.SulfurPowder, 20)))
	assert.Equal(t, at("2026-06-01")+182, of(t, a, material.CalciticLime).Applications[0].Date)
	// Ground that is frozen all year serves on no day.
	a = answer(t, request(func(r *dose.Request) {
		for m := range r.Climate.Normal {
			r.Climate.Normal[m] = -5
		}
	}))
	assert.Equal(t, dose.Refused, a.Direction)
	require.NotEmpty(t, a.Refused)
	assert.Equal(t, guard.Stop, a.Refused[0].Guards[0].Level)
	assert.Contains(t, text.Guard(a.Refused[0].Guards[0]).Says, "No day in the next 52 weeks")
	// Hydrated lime is not given on the surface.
	a = answer(t, request(func(r *dose.Request) { r.Ground.Worked, r.Materials[0] = soil.Surface, batch("hydrated-lime") }))
	assert.True(t, found(a)["not-offered-here"])
	// An empty bin gives nothing.
	a = answer(t, request(with(func(b *material.Batch) { b.OnHand = ptr(quantity.Mass(0)) })))
	assert.True(t, found(a)["nothing-to-give"])
	// Ash of more than four years is computed at the most potash it can hold.
	a = answer(t, request(with(func(b *material.Batch) { b.Potash, b.Burnt = nil, at("2022-01-01") })))
	assert.InDelta(t, 0.08, float64(of(t, a, material.HardwoodAsh).K2O/of(t, a, material.HardwoodAsh).Parts[0].Rate), 1e-9)
}

func TestEveryGuardAndStepHasText(t *testing.T) {
	ids := []string{"not-offered-here", "nothing-to-give", guard.TooLittle}
	for id := range dayCases {
		ids = append(ids, id)
	}
	for _, id := range ids {
		assert.True(t, text.HasGuard(id), id)
	}
	for name, c := range guardCases {
		a := answer(t, request(c.fires))
		lines := text.Steps(a.Need.Working)
		for _, o := range a.Options {
			lines = append(lines, text.Steps(a.Working(&o))...)
			for _, g := range text.Guards(o.Guards) {
				assert.NotEmpty(t, g.Says, g.ID)
				assert.NotContains(t, g.Says, "%!", g.ID)
			}
		}
		for _, g := range text.Guards(a.Guards) {
			assert.NotEmpty(t, g.Says, g.ID)
		}
		for _, l := range lines {
			assert.True(t, text.HasStep(l.ID), "%s: step %s", name, l.ID)
			assert.NotEmpty(t, l.Source, "%s: step %s has no source", name, l.ID)
			assert.NotContains(t, l.How, "%!", l.ID)
			assert.NotContains(t, l.How, "NaN", l.ID)
		}
	}
	require.False(t, text.HasGuard("no such rule"))
}

// Lime wants twelve weeks before a sample tells of it: a day less is too soon.
func TestSampleTooSoonAfterLime(t *testing.T) {
	for date, soon := range map[string]bool{"2026-06-29": true, "2026-06-28": false} {
		a := answer(t, request(put(date, material.CalciticLime, 50)))
		assert.Equal(t, soon, slices.ContainsFunc(a.Guards, func(f guard.Finding) bool { return f.ID == "sampled-too-soon" }), date)
	}
}
