package dose_test

import (
	"crypto/sha256"
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

func at(s string) quantity.Day {
	d, err := quantity.ParseDay(s)
	if err != nil {
		panic(err)
	}
	return d
}

func ptr[T any](v T) *T { return &v }

func cropOf(id string) *crop.Crop {
	c, ok := crop.Find(id)
	if !ok {
		panic(id)
	}
	return &c
}

func stuff(k material.Kind) material.Material {
	m, ok := material.Find(k)
	if !ok {
		panic(k)
	}
	return m
}

func batch(k material.Kind) material.Batch {
	return material.Batch{Material: stuff(k), Condition: material.Dry, Source: material.Clean}
}

// request returns that of the contract's example: 10 m² of cool loam at 5.5, to be brought to 6.5
// for tomatoes.
func request(change ...func(*dose.Request)) dose.Request {
	loam, _ := soil.FindTexture(soil.Loam)
	maritime, _ := soil.FindClimate("maritime", soil.North)
	ash := batch(material.HardwoodAsh)
	ash.Measured, ash.Potash, ash.OnHand = ptr(quantity.Percent(50)), ptr(quantity.Percent(5)), ptr(quantity.Mass(41000))
	lime := batch(material.CalciticLime)
	lime.Measured, lime.Effective = ptr(quantity.Percent(97)), ptr(quantity.Percent(97))
	r := dose.Request{Record: bed.Record{
		Date: at("2026-10-01"), Climate: maritime,
		Ground: soil.Ground{Area: 10, Depth: 0.15, Texture: loam, Table: soil.CoolTable, Worked: soil.Dug, Use: soil.UseBed,
			CEC: ptr(quantity.CationExchangeCapacity(12)), FreeLime: soil.LimeNone},
		Reading: soil.Reading{Date: at("2026-09-20"), Method: soil.Lab, Basis: soil.Water, PH: 5.5, Cores: 12,
			Extractant: soil.AmmoniumAcetate, Potassium: ptr(quantity.Concentration(90)), Magnesium: ptr(quantity.Concentration(80))},
		Crop: cropOf("tomato"), Sowing: at("2027-04-03"),
	}, Target: ptr(quantity.PH(6.5)), Methods: dose.Methods{Pace: dose.AllAtOnce}.Or(dose.DefaultMethods),
		Materials: []material.Batch{lime, ash}}
	for _, f := range change {
		f(&r)
	}
	return r
}

func answer(t *testing.T, r dose.Request) dose.Answer {
	t.Helper()
	a, err := dose.For(r)
	require.NoError(t, err)
	return a
}

// of finds the option of a kind.
func of(t *testing.T, a dose.Answer, k material.Kind) dose.Option {
	t.Helper()
	for _, o := range a.Options {
		if len(o.Parts) == 1 && o.Parts[0].Kind == k {
			return o
		}
	}
	require.Fail(t, "no option", "%s; refused: %+v", k, a.Refused)
	return dose.Option{}
}

func TestDocumentedExample(t *testing.T) {
	a := answer(t, request())
	assert.Equal(t, dose.Raise, a.Direction)
	assert.InDelta(t, 321.5, float64(a.Need.CaCO3), 0.05)
	assert.Less(t, a.Need.Low, a.Need.CaCO3)
	assert.Less(t, a.Need.CaCO3, a.Need.High)
	ash := of(t, a, material.HardwoodAsh)
	assert.InDelta(t, 500, float64(ash.Parts[0].Rate), 1e-9)
	assert.InDelta(t, 5000, float64(ash.Parts[0].Total), 1e-9)
	assert.InDelta(t, 250, float64(ash.CaCO3), 1e-9)
	assert.InDelta(t, 71.5, float64(ash.Shortfall), 0.05)
	assert.InDelta(t, 25, float64(ash.K2O), 1e-9)
	assert.InDelta(t, 128.4, float64(*ash.KAfter), 0.05)
	require.Len(t, ash.Applications, 2)
	assert.InDelta(t, 5.89, float64(ash.Applications[0].PHAfter), 0.005)
	assert.InDelta(t, 6.28, float64(ash.Applications[1].PHAfter), 0.005)
	assert.Equal(t, ash.Applications[0].Date.AddWeeks(8), ash.Applications[1].Date)
	assert.Equal(t, "year-cap", ash.Limit)
	// In the ground from mid October (soil under 12 °C) to four weeks before
	// the sowing.
	assert.GreaterOrEqual(t, ash.Applications[0].Date, at("2026-10-16"))
	assert.LessOrEqual(t, ash.Applications[1].Date, at("2027-03-06"))
	lime := of(t, a, material.CalciticLime)
	assert.InDelta(t, 331.4, float64(lime.Parts[0].Rate), 0.05)
	assert.Zero(t, lime.Shortfall)
	assert.Equal(t, at("2027-09-20"), lime.Retest, "26 weeks on, then the season of the first reading")
}

func TestUsualKinds(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) { r.Materials = nil }))
	of(t, a, material.CalciticLime)
	of(t, a, material.HardwoodAsh)
	dolomite := of(t, a, material.DolomiticLime)
	assert.InDelta(t, 321.5/1.03, float64(dolomite.Parts[0].Rate), 0.05)
	a = answer(t, request(func(r *dose.Request) {
		r.Materials, r.Reading.PH, r.Target, r.Crop = nil, 7.2, nil, cropOf("raspberry")
	}))
	assert.Equal(t, dose.Lower, a.Direction)
	assert.Negative(t, float64(a.Need.CaCO3))
	sulfur := of(t, a, material.SulfurPowder)
	assert.GreaterOrEqual(t, sulfur.Applications[0].Date, at("2027-05-01"), "not on cold soil")
	assert.LessOrEqual(t, float64(sulfur.Parts[0].Rate), 150.0)
}

func TestEarlierApplicationsAreCredited(t *testing.T) {
	plain := answer(t, request())
	after := answer(t, request(func(r *dose.Request) {
		r.History = ledger.Ledger{{Date: at("2026-09-25"), Material: stuff(material.HardwoodAsh), Rate: 100}}
	}))
	assert.InDelta(t, 50, float64(plain.Need.CaCO3-after.Need.CaCO3), 1e-6, "100 g/m² of ash after the reading counts whole")
	before := answer(t, request(func(r *dose.Request) {
		r.History = ledger.Ledger{{Date: at("2026-08-30"), Material: stuff(material.HardwoodAsh), Rate: 100}}
	}))
	// Three weeks at 15.4 °C are just over one half-life of three weeks.
	credit := float64(plain.Need.CaCO3 - before.Need.CaCO3)
	assert.InDelta(t, 25, credit, 1.5)
	old := answer(t, request(func(r *dose.Request) {
		r.History = ledger.Ledger{{Date: at("2024-03-01"), Material: stuff(material.HardwoodAsh), Rate: 100}}
	}))
	assert.InDelta(t, float64(plain.Need.CaCO3), float64(old.Need.CaCO3), 1e-6)
	met := answer(t, request(func(r *dose.Request) {
		r.History = ledger.Ledger{{Date: at("2026-09-25"), Material: stuff(material.CalciticLime), Rate: 600}}
	}))
	assert.Equal(t, dose.Leave, met.Direction, "what is on its way meets the need, and does not turn it round")
}

func TestHistoryCountsInYearlyCap(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) {
		r.History = ledger.Ledger{{Date: at("2026-01-10"), Material: stuff(material.HardwoodAsh), Rate: 400}}
	}))
	ash := of(t, a, material.HardwoodAsh)
	history := ledger.Ledger{{Date: at("2026-01-10"), Material: stuff(material.HardwoodAsh), Rate: 400}}
	for _, g := range ash.Applications {
		history = append(history, ledger.Application{Date: g.Date, Material: stuff(g.Kind), Rate: g.Rate})
		assert.LessOrEqual(t, float64(history.InYear(material.Ash, g.Date)), 500.0+1e-6)
	}
	assert.Greater(t, ash.Applications[0].Date, at("2027-01-09"), "the date moves until the year has room")
}

func TestTriggerMethods(t *testing.T) {
	for _, c := range []struct {
		method crop.Trigger
		ph     quantity.PH
		want   dose.Direction
	}{
		{crop.BelowRange, 6.05, dose.Raise}, {crop.BelowRange, 6.07, dose.Leave}, {crop.BelowRange, 6.2, dose.Leave}, {crop.BelowRange, 6.4,
			dose.Leave},
		{crop.At6, 6.15, dose.Leave}, {crop.At6, 6.0, dose.Raise}, {crop.ToMiddle, 6.3, dose.Raise}, {crop.ToMiddle, 6.5, dose.Leave},
	} {
		a := answer(t, request(func(r *dose.Request) { r.Target, r.Reading.PH, r.Methods.Act = nil, c.ph, c.method }))
		assert.Equal(t, c.want, a.Direction, "%s at %.2f", c.method, float64(c.ph))
	}
	a := answer(t, request(func(r *dose.Request) { r.Target, r.Reading.PH, r.Crop = nil, 6.2, cropOf("cabbage") }))
	assert.InDelta(t, 7.2, float64(a.Target), 1e-9, "clubroot")
}

func TestAshMethods(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) { r.Methods.Ash = material.Dusting }))
	ash := of(t, a, material.HardwoodAsh)
	assert.InDelta(t, 75, float64(ash.Parts[0].Rate), 1e-9)
	assert.Len(t, ash.Applications, 1)
	a = answer(t, request(func(r *dose.Request) {
		r.Methods.Ash = material.MeasuredOnly
		r.Materials = append(r.Materials, batch("wood-ash-twigs"))
	}))
	of(t, a, material.HardwoodAsh)
	require.Len(t, a.Refused, 1)
	assert.Equal(t, "ash-not-measured", a.Refused[0].Guards[0].ID)
}

func TestPotassiumLimitsAsh(t *testing.T) {
	ashRate := func(k *quantity.Concentration) float64 {
		a := answer(t, request(func(r *dose.Request) { r.Reading.Potassium = k }))
		return float64(of(t, a, material.HardwoodAsh).Parts[0].Rate)
	}
	assert.InDelta(t, 500, ashRate(ptr(quantity.Concentration(90))), 1e-6, "short: the year’s cap")
	assert.InDelta(t, 500, ashRate(nil), 1e-6, "unknown: what the crop carries off, 25 / 0.05 = 500")
	// At 200 ppm only 10 ppm are left to the ceiling of 210: 6.506 g K₂O.
	assert.InDelta(t, 10/(0.83*1000)*202.5/0.375/0.05, ashRate(ptr(quantity.Concentration(200))), 1e-6)
	a := answer(t, request(func(r *dose.Request) { r.Crop, r.Reading.Potassium = cropOf("lawn"), ptr(quantity.Concentration(110)) }))
	assert.InDelta(t, 2*8/0.05, float64(of(t, a, material.HardwoodAsh).Parts[0].Rate), 1e-6, "not short: twice what the crop carries off")
}

func TestWeakReadingGivesHalf(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) { r.Reading.Method = soil.Kit }))
	ash := of(t, a, material.HardwoodAsh)
	require.GreaterOrEqual(t, len(ash.Applications), 2)
	assert.InDelta(t, 250, float64(ash.Applications[0].Rate), 1e-9)
	assert.True(t, ash.Applications[1].RetestFirst)
	assert.GreaterOrEqual(t, ash.Applications[1].Date, ash.Applications[0].Date.AddWeeks(12), "the retest stands before the rest")
}

func TestSurfaceApplicationsSpareTopLayer(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) {
		r.Ground.Worked, r.Ground.Depth, r.Sowing = soil.Surface, 0.10, 0
	}))
	for _, o := range a.Options {
		for i, g := range o.Applications {
			assert.LessOrEqual(t, float64(g.TopAfter), 6.8+1e-9, "%s: the top 5 cm stay within the band", g.Kind)
			if i > 0 {
				gap := quantity.Day(26 * 7)
				if g.Kind == material.HardwoodAsh {
					gap = 12 * 7
				}
				assert.GreaterOrEqual(t, g.Date-o.Applications[i-1].Date, gap)
			}
		}
	}
}

func TestLawnsAndAcidLoversGetLess(t *testing.T) {
	a := answer(t, request(func(r *dose.Request) {
		r.Ground.Use, r.Ground.Worked, r.Ground.Depth, r.Crop, r.Sowing = soil.UseLawn, soil.Surface, 0.10, cropOf("lawn"), 0
	}))
	for _, g := range of(t, a, material.HardwoodAsh).Applications {
		assert.LessOrEqual(t, float64(g.Rate), 50.0)
	}
	a = answer(t, request(func(r *dose.Request) { r.Crop, r.Reading.PH, r.Target = cropOf("blueberry"), 4.1, nil }))
	assert.LessOrEqual(t, float64(of(t, a, material.CalciticLime).Parts[0].Rate), 100.0)
}

func TestSouthernSeasonsAreSixMonthsLater(t *testing.T) {
	south, _ := soil.FindClimate("maritime", soil.South)
	a := answer(t, request(func(r *dose.Request) { r.Climate, r.Sowing, r.Crop = south, 0, cropOf("carrot") }))
	ash := of(t, a, material.HardwoodAsh)
	assert.Equal(t, at("2026-10-01"), ash.Applications[0].Date, "southern spring: soil still under 12 °C")
	assert.Greater(t, ash.Applications[1].Date, at("2027-03-31"), "and then not before the southern autumn")
}

// impossible is what no request may be, by the field that is reported.
var impossible = map[string]func(*dose.Request){
	"date":           func(r *dose.Request) { r.Date = 0 },
	"bed.area_m2":    func(r *dose.Request) { r.Ground.Area = 0 },
	"bed.depth_cm":   func(r *dose.Request) { r.Ground.Depth = 0 },
	"bed.texture":    func(r *dose.Request) { r.Ground.Texture = soil.TextureClass{} },
	"bed.cec":        func(r *dose.Request) { r.Ground.CEC = ptr(quantity.CationExchangeCapacity(-1)) },
	"reading.ph":     func(r *dose.Request) { r.Reading.PH = quantity.PH(math.NaN()) },
	"reading.date":   func(r *dose.Request) { r.Reading.Date = at("2026-10-02") },
	"reading.cores":  func(r *dose.Request) { r.Reading.Cores = 0 },
	"reading.method": func(r *dose.Request) { r.Reading.Method = "guess" },
	"reading.k_ppm":  func(r *dose.Request) { r.Reading.Potassium = ptr(quantity.Concentration(-3)) },
	"crop":           func(r *dose.Request) { r.Crop, r.Target = nil, nil },
	"target_ph":      func(r *dose.Request) { r.Target = ptr(quantity.PH(7.81)) },
	" target_ph":     func(r *dose.Request) { r.Target = ptr(quantity.PH(3.99)) },
	"bed.stones_pct": func(r *dose.Request) { r.Ground.Stones = 81 },
	"planted":        func(r *dose.Request) { r.Cleared, r.Planted, r.Sowing = at("2026-12-01"), at("2026-11-01"), 0 },
	"grown[0].from":  func(r *dose.Request) { r.Grown = []ledger.Grown{{Crop: *cropOf("pea"), From: at("2026-10-02")}} },
	"grown[0].to": func(r *dose.Request) {
		r.Grown = []ledger.Grown{{Crop: *cropOf("pea"), From: at("2026-05-02"), To: at("2026-05-01")}}
	},
	"history[0].cce_pct": func(r *dose.Request) {
		r.History = ledger.Ledger{{Date: at("2026-01-01"), Measured: ptr(quantity.Percent(0))}}
	},
	"reading.layers[0]": func(r *dose.Request) { // it begins where it ends
		r.Reading.Layers = []soil.Layer{{From: 0.1, To: 0.1, PH: 5}, {From: 0.1, To: 0.2, PH: 5}}
	},
	"reading.layers[1]": func(r *dose.Request) {
		r.Reading.Layers = []soil.Layer{{From: 0, To: 0.1, PH: 5}, {From: 0.09, To: 0.2, PH: 5}}
	},
	"readings[0].ph": func(r *dose.Request) {
		r.More = []soil.Reading{{Date: r.Reading.Date, Method: soil.Kit, Basis: soil.Water, Cores: 3, PH: 12}}
	},
	"reading.k_range":  func(r *dose.Request) { r.Reading.KRange = &soil.KRange{From: 90, To: 40} },
	"reading.buffer":   func(r *dose.Request) { r.Methods.Buffering = soil.BySMP },
	"reading.lab_rate": func(r *dose.Request) { r.Methods.Buffering = soil.ByLabRate },
	"reading.jars":     func(r *dose.Request) { r.Methods.Buffering = soil.ByMeasured },
	"reading.buffer.kind": func(r *dose.Request) {
		r.Methods.Buffering, r.Reading.Buffer = soil.ByMehlich, &soil.BufferPH{Kind: soil.SMP, PH: 6.4}
	},
	"target_ph ": func(r *dose.Request) {
		r.Methods.Buffering, r.Reading.Buffer, r.Target = soil.ByMehlich, &soil.BufferPH{Kind: soil.Mehlich,
			PH: 6.1}, ptr(quantity.PH(6.7))
	},
	"reading.ph ": func(r *dose.Request) {
		r.Methods.Buffering, r.Reading.Buffer, r.Reading.PH = soil.ByAdamsEvans, &soil.BufferPH{Kind: soil.AdamsEvans, PH: 7.6}, 4.2
	},
	"materials[0].fineness_pct": func(r *dose.Request) { r.Materials[0].Fineness = &[4]quantity.Percent{10, 20, 30, 30} },
	"materials[1].vinegar_ml": func(r *dose.Request) {
		r.Materials[1].Vinegar = &material.VinegarTest{MilliLitres: 120,
			Strength: 5}
	},
	"materials[1].kg":      func(r *dose.Request) { r.Materials[1].OnHand = ptr(quantity.Mass(-1)) },
	"history[0].g_m2":      func(r *dose.Request) { r.History = ledger.Ledger{{Date: at("2026-01-01"), Rate: -1}} },
	"history[0].date":      func(r *dose.Request) { r.History = ledger.Ledger{{Date: at("2027-01-01"), Rate: 1}} },
	"sowing":               func(r *dose.Request) { r.Cleared, r.Sowing = at("2026-12-01"), at("2026-11-01") },
	"school.buffering":     func(r *dose.Request) { r.Methods.Buffering = "hunch" },
	"materials[1].k2o_pct": func(r *dose.Request) { r.Materials[1].Potash = ptr(quantity.Percent(90)) },
}

func TestImpossibleRequestsNameTheField(t *testing.T) {
	for field, change := range impossible {
		_, err := dose.For(request(change))
		var in *dose.InputError
		if assert.ErrorAs(t, err, &in, field) {
			assert.Equal(t, strings.TrimSpace(field), in.Field)
			assert.NotEmpty(t, in.Why)
		}
	}
}

func ExampleFor() {
	loam, _ := soil.FindTexture(soil.Loam)
	maritime, _ := soil.FindClimate("maritime", soil.North)
	tomato, _ := crop.Find("tomato")
	a, err := dose.For(dose.Request{Methods: dose.DefaultMethods, Record: bed.Record{
		Date: quantity.Date(2026, 10, 1), Climate: maritime, Crop: &tomato,
		Ground:  soil.Ground{Area: 10, Depth: 0.15, Texture: loam, Table: soil.CoolTable, Worked: soil.Dug, Use: soil.UseBed},
		Reading: soil.Reading{Date: quantity.Date(2026, 9, 20), Method: soil.Lab, Basis: soil.Water, PH: 5.5, Cores: 12},
	}})
	if err != nil {
		fmt.Println(err)
		return
	}
	best := a.Options[0]
	fmt.Printf("%s %.0f g/m²: %s, %.0f g on %s\n", a.Direction, float64(a.Need.CaCO3), best.Parts[0].Kind,
		float64(best.Applications[0].Total),
		best.Applications[0].Date)
	// Output: raise 322 g/m²: calcitic-lime, 1823 g on 2026-10-01
}

// BenchmarkBaseline is work of a fixed size, so that figures of other machines
// and of busy hours can be compared.
func BenchmarkBaseline(b *testing.B) {
	block := make([]byte, 16<<10)
	for b.Loop() {
		block[0] = sha256.Sum256(block)[0]
	}
}

func BenchmarkFor(b *testing.B) {
	r := request(func(r *dose.Request) { r.Materials = nil })
	b.ReportAllocs()
	for b.Loop() {
		if _, err := dose.For(r); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkWorking is the same with the working of every option laid out.
func BenchmarkWorking(b *testing.B) {
	r := request(func(r *dose.Request) { r.Materials = nil })
	b.ReportAllocs()
	for b.Loop() {
		a, err := dose.For(r)
		if err != nil {
			b.Fatal(err)
		}
		for i := range a.Options {
			if len(a.Working(&a.Options[i])) == 0 {
				b.Fatal("no working")
			}
		}
	}
}
