package allocate_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

var day = quantity.Date(2026, 11, 24)

func shelf(t *testing.T, id string, k material.Kind, kilos float64, change func(*material.Batch)) allocate.Shelf {
	m, ok := material.Find(k)
	require.True(t, ok, k)
	b := material.Batch{Material: m, Condition: material.Dry, Source: material.Clean}
	if kilos > 0 {
		b.OnHand = kg(kilos)
	}
	if change != nil {
		change(&b)
	}
	return allocate.Shelf{ID: id, Of: b}
}

// asks returns a bed's request: a loam of 10 m², dug, by the printed table.
func asks(t *testing.T, id string, ph quantity.PH, k quantity.Concentration) dose.Request {
	loam, ok := soil.FindTexture(soil.Loam)
	require.True(t, ok)
	climate, ok := soil.FindClimate("maritime", "north")
	require.True(t, ok)
	c, ok := crop.Find(id)
	require.True(t, ok, id)
	r := dose.Request{Methods: dose.Methods{}.Or(dose.Methods{Buffering: soil.ByTable, Ash: material.Equivalence, Act: crop.BelowRange,
		Pace: dose.AllAtOnce})}
	r.Date, r.Climate, r.Crop = day, climate, &c
	r.Ground = soil.Ground{Area: 10, Depth: 0.15, Texture: loam, Worked: soil.Dug, Use: soil.UseBed, FreeLime: soil.LimeNone}
	r.Reading = soil.Reading{Date: day - 10, PH: ph, Method: soil.Lab, Basis: soil.Water, Cores: 12}
	if k > 0 {
		r.Reading.Potassium = &k
	}
	return r
}

func share(t *testing.T, on []allocate.Shelf, requests ...dose.Request) allocate.Shared {
	t.Helper()
	var stocks []allocate.Stock
	for _, s := range on {
		stocks = append(stocks, allocate.StockOf(s, day))
	}
	var beds []allocate.Asked
	for i, r := range requests {
		b, err := allocate.DemandOf(string(rune('a'+i)), r, on)
		require.NoError(t, err)
		beds = append(beds, b)
	}
	s, err := allocate.Share(nil, stocks, beds)
	require.NoError(t, err)
	return s
}

// By the careful pace a bed asks for its first part; the rest is reported beside it, and nothing is shared out for it.
func TestCarefulDemandIsTheFirstPart(t *testing.T) {
	on := []allocate.Shelf{shelf(t, "oven", material.HardwoodAsh, 41, nil), shelf(t, "lime", "calcitic-lime", 0, price(0.35))}
	r := asks(t, "tomato", 5.5, 90)
	six := quantity.PH(6.5)
	r.Target, r.Methods.Pace = &six, dose.Careful
	bed, err := allocate.DemandOf("a", r, on)
	require.NoError(t, err)
	assert.InDelta(t, 321.5, float64(bed.Need+bed.Room.Rest), 0.05, "the first part and the rest are the need")
	assert.Positive(t, bed.Room.Rest)
	s := share(t, on, r)
	given := 0.0
	for m, x := range s.Given[0] {
		given += float64(x) * bed.Worth[m].CaCO3
	}
	assert.LessOrEqual(t, given, float64(bed.Need)+1e-6)
	first, _, ok, err := dose.OptionOf(withStock(r, on), s.Given[0])
	require.NoError(t, err)
	require.True(t, ok)
	assert.False(t, first.Waits(), "what is shared out of the first part has its days")
}

func withStock(r dose.Request, on []allocate.Shelf) dose.Request {
	for _, s := range on {
		r.Materials = append(r.Materials, s.Of)
	}
	return r
}

func price(x float64) func(*material.Batch) { return func(b *material.Batch) { b.Price = &x } }

// A tomato bed at 5.5 needs 321.5 g/m² of pure lime (a dose of the printed table): half a
// kilo of ash a square metre is the year's cap, and lime meets the rest.
func TestDemandMatchesDose(t *testing.T) {
	on := []allocate.Shelf{shelf(t, "oven", material.HardwoodAsh, 41, nil), shelf(t, "lime", "calcitic-lime", 0, price(0.35))}
	cce := quantity.Percent(100)
	on[1].Of.Effective = &cce
	s := share(t, on, asks(t, "tomato", 5.5, 0))
	assert.LessOrEqual(t, float64(s.Given[0][0]), 500+1e-6)
	r := asks(t, "tomato", 5.5, 90)
	six := quantity.PH(6.5)
	r.Target = &six
	s = share(t, on, r)
	assert.InDelta(t, 500, float64(s.Given[0][0]), 1e-6)
	a, err := dose.For(r)
	require.NoError(t, err)
	assert.InDelta(t, float64(a.Need.CaCO3), 500*0.5+float64(s.Given[0][1]), 1e-3, "all of the need, no more")
	require.NotEmpty(t, s.Held[0])
	assert.Equal(t, "year-cap", s.Held[0][0].Limit)
	assert.Greater(t, s.WithoutAsh.Cost, s.Cost)
}

// A guard against a material on a bed also applies here, whatever is in stock.
func TestGuardsHold(t *testing.T) {
	lime := shelf(t, "lime", "calcitic-lime", 0, price(0.35))
	for name, c := range map[string]struct {
		on     func(*material.Batch)
		change func(*dose.Request)
		crop   string
	}{
		"driftwood":    {on: func(b *material.Batch) { b.Source = material.Driftwood }},
		"embers":       {on: func(b *material.Batch) { b.Embers = true }},
		"a lover":      {crop: "blueberry"},
		"no ash":       {crop: "raspberry"},
		"a full year":  {change: func(r *dose.Request) { r.History = put(500, 30) }},
		"much potash":  {change: func(r *dose.Request) { k := quantity.Concentration(400); r.Reading.Potassium = &k }},
		"only dusting": {change: func(r *dose.Request) { r.Methods.Ash = material.Dusting; r.History = put(10, 100) }},
	} {
		id, ph := "tomato", quantity.PH(5.5)
		if c.crop != "" {
			id, ph = c.crop, 4.0
		}
		r := asks(t, id, ph, 0)
		if c.change != nil {
			c.change(&r)
		}
		s := share(t, []allocate.Shelf{shelf(t, "ash", material.HardwoodAsh, 41, c.on), lime}, r)
		assert.Zero(t, s.Given[0][0], name)
	}
}

func put(rate quantity.Rate, ago quantity.Day) ledger.Ledger {
	m, _ := material.Find(material.HardwoodAsh)
	return ledger.Ledger{{Date: day - ago, Material: m, Rate: rate}}
}

// A bed short of potassium that wants nothing for pH is fed within its room; two bins of
// ash share the cap of a year.
func TestPotassiumWithTwoBins(t *testing.T) {
	on := []allocate.Shelf{shelf(t, "oven", material.HardwoodAsh, 3, nil), shelf(t, "stove", "wood-ash-softwood", 3, nil),
		shelf(t, "lime", "calcitic-lime", 0, price(0.35)), shelf(t, "potash", material.PotassiumSulfate, 0, price(2))}
	s := share(t, on, asks(t, "tomato", 5.5, 90))
	assert.LessOrEqual(t, float64(s.Given[0][0]+s.Given[0][1]), 500+1e-6)
	r := asks(t, "tomato", 6.4, 95)
	room, err := allocate.DemandOf("a", r, on)
	require.NoError(t, err)
	assert.Zero(t, room.Need)
	assert.Positive(t, room.K2ONeed)
	a, err := dose.For(r)
	require.NoError(t, err)
	assert.InDelta(t, float64(a.Buffering.Raise.Need(6.4, 6.6)), float64(room.Demand.Room), 1e-6, "to 0.2 under the band’s top of 6.8")
	s = share(t, on, r)
	assert.InDelta(t, 0, float64(s.ShortfallK2O[0]), 1e-6)
	brought := 0.0
	for m, w := range room.Worth {
		brought += w.CaCO3 * float64(s.Given[0][m])
	}
	assert.LessOrEqual(t, brought, float64(room.Demand.Room)+1e-6, "pH stays 0.2 under the band’s top")
}

// The next kilogram is worth what the known answers give, and nothing if it would be left over.
func TestNextKilogram(t *testing.T) {
	beds := []allocate.Asked{{Demand: bed("a", 10, 100, 250)}, {Demand: bed("b", 10, 200, 250)}}
	for kilos, want := range map[float64]float64{3: 0.25, 4: 0.125, 4.5: 0, 4.6: 0, 9: 0} {
		s, err := allocate.Share(nil, []allocate.Stock{ash(kilos, 0), lime(0)}, beds)
		require.NoError(t, err)
		assert.InDelta(t, want, s.Next[0].Worth, 1e-4, kilos)
		if want == 0 {
			assert.Negative(t, s.Next[0].Bed)
		}
	}
	none := []allocate.Asked{{Demand: allocate.Demand{ID: "a", Area: 10, Need: 100, K2ORoom: -1, Most: []quantity.Rate{250}}}}
	s, err := allocate.Share(nil, []allocate.Stock{ash(1, 0)}, none)
	require.NoError(t, err)
	assert.InDelta(t, 500, float64(s.Next[0].Meets), 1e-3, "it would meet what nothing meets now")
	assert.Equal(t, "supply", s.Held[0][0].Limit)
}

// No random garden of dosed beds is given what its dose refuses, or more of a family than its
// yearly cap.
func TestRandomDosedBeds(t *testing.T) {
	rng := rand.New(rand.NewPCG(6, 28))
	crops := []string{"tomato", "blueberry", "raspberry", "carrot", "cabbage", "potato", "lawn"}
	for range 300 {
		on := []allocate.Shelf{shelf(t, "oven", material.HardwoodAsh, 0.1+20*rng.Float64(), nil),
			shelf(t, "pit", material.HardwoodAsh, 9, func(b *material.Batch) { b.Source = material.Coal }),
			shelf(t, "lime", "calcitic-lime", 0, price(0.35)), shelf(t, "sulfur", material.SulfurPowder, 0, price(3))}
		var rs []dose.Request
		for range 1 + rng.IntN(4) {
			r := asks(t, crops[rng.IntN(len(crops))], quantity.PH(4.2+3.2*rng.Float64()), quantity.Concentration(40+200*rng.Float64()))
			r.Ground.Area = quantity.Area(1 + 20*rng.Float64())
			if rng.IntN(3) == 0 {
				r.History = put(quantity.Rate(300*rng.Float64()), quantity.Day(rng.IntN(400)))
			}
			rs = append(rs, r)
		}
		s := share(t, on, rs...)
		for b, r := range rs {
			assert.Zero(t, s.Given[b][1], "a barred bin goes nowhere")
			assert.LessOrEqual(t, float64(s.Given[b][0]+r.History.InYear(material.Ash, day)), 500+1e-6)
			assert.False(t, s.Given[b][3] > 0 && s.Given[b][0]+s.Given[b][2] > 0, "never both ways")
			for m := range on {
				if s.Given[b][m] <= 0 {
					continue
				}
				of := on[m].Of
				of.OnHand = nil // too little ash for a dose of its own; with lime it serves
				r.Materials = []material.Batch{of, on[2].Of}
				a, err := dose.For(r)
				require.NoError(t, err)
				assert.True(t, slices.ContainsFunc(append(a.Options, a.Potassium.Options...), func(o dose.Option) bool {
					return slices.ContainsFunc(o.Parts, func(p dose.Part) bool { return p.Batch == 0 })
				}), "its dose offers it: %s: %v", on[m].ID, a.Refused)
			}
		}
	}
}

// On a weak reading the shelf's ash is held to what is common in a share as it is in a dose.
func TestWeakReadingLimitsAsh(t *testing.T) {
	for method, most := range map[soil.Method]float64{soil.Kit: 250, soil.Lab: 500} {
		r := asks(t, "tomato", 4.8, 40)
		r.Reading.Method, r.Methods.Pace = method, dose.Careful
		b, err := allocate.DemandOf("a", r, []allocate.Shelf{shelf(t, "oven", material.HardwoodAsh, 41, nil)})
		require.NoError(t, err)
		assert.InDelta(t, most, float64(b.Most[0]), 1e-6, method)
	}
}
