package dose_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
)

// rated returns amounts by kind in the order of a request's materials.
func rated(r dose.Request, by map[material.Kind]quantity.Rate) []quantity.Rate {
	out := make([]quantity.Rate, len(r.Materials))
	for i, b := range r.Materials {
		out[i] = by[b.Kind]
	}
	return out
}

// The amounts of an option entered by hand reproduce the option.
func TestByHandReproducesOption(t *testing.T) {
	r := request()
	a, err := dose.For(r)
	require.NoError(t, err)
	for _, want := range a.Options {
		rates := make([]quantity.Rate, len(r.Materials))
		for _, p := range want.Parts {
			rates[p.Batch] = p.Rate
		}
		o, against, ok, err := dose.ByHand(r, rates)
		require.NoError(t, err)
		require.True(t, ok, "%v", against)
		assert.InDelta(t, float64(want.PH.Median), float64(o.PH.Median), 1e-9)
		assert.Equal(t, len(want.Applications), len(o.Applications))
	}
}

func TestByHandKeepsRules(t *testing.T) {
	lime, ash := material.CalciticLime, material.HardwoodAsh
	few := func(r *dose.Request) { r.Materials[1].OnHand = ptr(quantity.Mass(2000)) }
	coal := func(r *dose.Request) { r.Materials[1].Source = material.Coal }
	dusting := func(r *dose.Request) { r.Methods.Ash = material.Dusting }
	for name, c := range map[string]struct {
		change func(*dose.Request)
		by     map[material.Kind]quantity.Rate
		id     string
	}{
		"a gram under the band’s top":      {nil, map[material.Kind]quantity.Rate{lime: 430}, ""},
		"past the band’s top":              {nil, map[material.Kind]quantity.Rate{lime: 480}, "more-than"},
		"both together past the top":       {nil, map[material.Kind]quantity.Rate{lime: 300, ash: 400}, "more-than"},
		"too little to be worth spreading": {nil, map[material.Kind]quantity.Rate{lime: 33}, guard.TooLittle},
		"just worth spreading":             {nil, map[material.Kind]quantity.Rate{lime: 33.2}, ""},
		"more than there is":               {few, map[material.Kind]quantity.Rate{ash: 201}, "more-than"},
		"all there is":                     {few, map[material.Kind]quantity.Rate{ash: 200}, ""},
		"ash of coal":                      {coal, map[material.Kind]quantity.Rate{ash: 200}, "ash-source"},
		"nothing at all":                   {nil, nil, "-"},
		"a dusting, and more than one":     {dusting, map[material.Kind]quantity.Rate{ash: 130}, "more-than"},
	} {
		r := request()
		if c.change != nil {
			c.change(&r)
		}
		_, against, ok, err := dose.ByHand(r, rated(r, c.by))
		require.NoError(t, err, name)
		if c.id == "" {
			assert.True(t, ok, "%s: %v", name, against)
			continue
		}
		assert.False(t, ok, name)
		if c.id != "-" {
			require.NotEmpty(t, against, name)
			assert.Equal(t, c.id, against[0].Guards[0].ID, name)
		}
	}
}

// The amount that the refusal leaves is accepted, and a gram more is not.
func TestRefusalLeavesValidAmount(t *testing.T) {
	r := request()
	_, against, ok, err := dose.ByHand(r, rated(r, map[material.Kind]quantity.Rate{material.CalciticLime: 900}))
	require.NoError(t, err)
	require.False(t, ok)
	left := quantity.Rate(against[0].Guards[0].With.N("most"))
	o, _, ok, err := dose.ByHand(r, rated(r, map[material.Kind]quantity.Rate{material.CalciticLime: left}))
	require.NoError(t, err)
	require.True(t, ok)
	assert.InDelta(t, float64(o.PH.Median), 6.8, 0.02)
	_, _, ok, err = dose.ByHand(r, rated(r, map[material.Kind]quantity.Rate{material.CalciticLime: left + 1}))
	require.NoError(t, err)
	assert.False(t, ok)
}

// Two bins of ash share the ceilings of ash: each alone may be applied, not both.
func TestTwoBinsShareAshLimits(t *testing.T) {
	r := request(func(r *dose.Request) { r.Reading.Potassium = ptr(quantity.Concentration(180)) })
	other := r.Materials[1]
	other.Kind, other.Name = "wood-ash-softwood", "softwood ash"
	r.Materials = append(r.Materials, other)
	a, err := dose.For(r)
	require.NoError(t, err)
	var most quantity.Rate
	for _, o := range a.Options {
		if len(o.Parts) == 1 && o.Parts[0].Kind == material.HardwoodAsh {
			most = o.Parts[0].Rate
		}
	}
	require.Greater(t, most, quantity.Rate(25))
	one := rated(r, map[material.Kind]quantity.Rate{material.HardwoodAsh: most})
	_, against, ok, err := dose.ByHand(r, one)
	require.NoError(t, err)
	require.True(t, ok, "%v", against)
	both := rated(r, map[material.Kind]quantity.Rate{material.HardwoodAsh: most, "wood-ash-softwood": 25})
	_, against, ok, err = dose.ByHand(r, both)
	require.NoError(t, err)
	assert.False(t, ok)
	assert.Equal(t, "more-than", against[0].Guards[0].ID)
}

// Comparisons equal the answers of each method on its own.
func TestComparisonsMatchEachMethod(t *testing.T) {
	om := quantity.Percent(3)
	r := request(func(r *dose.Request) { r.Ground.OrganicMatter, r.Target = &om, nil })
	sides, err := dose.CompareMethods(r)
	require.NoError(t, err)
	seen, chosen := map[string]int{}, map[string]int{}
	for _, x := range sides {
		seen[x.Question]++
		if x.Chosen {
			chosen[x.Question]++
		}
		q := r
		switch x.Question {
		case "buffering":
			q.Methods.Buffering = soil.LimeMethod(x.Method)
		case "ash":
			q.Methods.Ash = material.AshApproach(x.Method)
		default:
			continue
		}
		a, err := dose.For(q)
		require.NoError(t, err)
		if x.Question == "buffering" {
			assert.Equal(t, a.Need.CaCO3, x.CaCO3, x.Method)
			assert.Equal(t, a.Need.Low, x.Low, x.Method)
			continue
		}
		for _, o := range a.Options {
			if len(o.Parts) == 1 && o.Parts[0].Kind == material.HardwoodAsh {
				assert.Equal(t, o.Parts[0].Rate, x.Ash, x.Method)
			}
		}
	}
	assert.Equal(t, map[string]int{"buffering": 2, "ash": 3, "act": 3}, seen)
	assert.Equal(t, map[string]int{"buffering": 1, "ash": 1, "act": 1}, chosen)
	r.Reading.PH = 6.1 // in the tomatoes' range, under its middle: two methods wait
	r.Reading.Cores = 12
	sides, err = dose.CompareMethods(r)
	require.NoError(t, err)
	acts := map[string]bool{}
	for _, x := range sides {
		if x.Question == "act" {
			acts[x.Method] = x.CaCO3 > 0
		}
	}
	assert.Equal(t, map[string]bool{"below-band": false, "at-6": false, "middle": true}, acts)
	r.Target = ptr(quantity.PH(6.5))
	sides, err = dose.CompareMethods(r)
	require.NoError(t, err)
	for _, x := range sides {
		assert.NotEqual(t, "act", x.Question, "a typed target leaves nothing to act on")
	}
}

func bothLimes() []material.Batch {
	return []material.Batch{batch("dolomitic-lime"), batch("calcitic-lime")}
}

// The reason for the first place is what separates the first two options. Stock on hand ranks first
// among options that do the work: ash up to common advice, more only by a good reading; never an
// option that falls short, nor dolomite that no magnesium calls for.
func TestStockOnHandRanksFirst(t *testing.T) {
	kg := func(n float64) *quantity.Mass { return ptr(quantity.Mass(n * 1000)) }
	first := func(change ...func(*dose.Request)) material.Kind {
		a := answer(t, request(change...))
		require.NotEmpty(t, a.Options)
		return a.Options[0].Parts[0].Kind
	}
	little := func(r *dose.Request) { r.Target = ptr(quantity.PH(5.8)) } // 193 g/m² of ash
	more := func(r *dose.Request) { r.Target = ptr(quantity.PH(5.95)) }  // 289 g/m²
	kit := func(r *dose.Request) { r.Reading.Method = soil.MeterStale }
	assert.Equal(t, material.HardwoodAsh, first(little), "a bucket of ash on hand, lime to buy")
	assert.Equal(t, material.HardwoodAsh, first(little, kit))
	assert.Equal(t, material.HardwoodAsh, first(more), "a lab shows the need")
	assert.Equal(t, material.CalciticLime, first(more, kit), "more than is common on a weak reading, all at once")
	assert.Equal(t, material.HardwoodAsh, first(more, kit, careful), "by the careful pace as much as is common")
	held := answer(t, request(more, kit, careful)).Options[0]
	assert.InDelta(t, 250, float64(held.Parts[0].Rate+held.Parts[0].Rest), 1e-6, "and no more on a weak reading")
	assert.Equal(t, "ash-advice", held.Limit)
	assert.Greater(t, float64(answer(t, request(more)).Options[0].Parts[0].Rate), 250.0, "a lab shows the need of more")
	assert.Equal(t, material.CalciticLime, first(little, func(r *dose.Request) { r.Materials[1].OnHand = kg(1.9) }), "too little ash")
	bags := func(mg *quantity.Concentration) material.Kind {
		return first(func(r *dose.Request) {
			r.Materials, r.Reading.Magnesium = bothLimes(), mg
			for i := range r.Materials {
				if r.Materials[i].Kind == material.DolomiticLime {
					r.Materials[i].Held = kg(50)
				}
			}
		})
	}
	assert.Equal(t, material.CalciticLime, bags(nil), "dolomite for an untested magnesium")
	assert.Equal(t, material.DolomiticLime, bags(ptr(quantity.Concentration(40))))
	// A lime that only its year holds still does the work: dolomite is not put first for that.
	capped := answer(t, request(func(r *dose.Request) {
		r.Materials, r.Reading.Magnesium, r.Reading.PH = bothLimes(), nil, 3.95 // 992 g/m² of pure lime
		r.Ground.Texture, _ = soil.FindTexture(soil.Clay)
	}))
	require.Len(t, capped.Options, 2)
	assert.Equal(t, material.CalciticLime, capped.Options[0].Parts[0].Kind)
	assert.Equal(t, "year-cap", capped.Options[0].Limit)
	assert.Zero(t, capped.Options[1].Shortfall, "a kilo of dolomite does it all")
}

func TestFirstOptionHasReason(t *testing.T) {
	// Alike but for the price, then for what is short, then for what there is to mind.
	two := func(price float64) func(*dose.Request) {
		return func(r *dose.Request) {
			a, b := r.Materials[0], r.Materials[0]
			a.Price, b.Price = ptr(0.5), ptr(price)
			r.Materials = []material.Batch{a, b}
		}
	}
	for name, c := range map[string]struct {
		change func(*dose.Request)
		want   dose.Reason
	}{
		"cost":  {two(0.6), dose.Cheapest},
		"level": {two(0.5), dose.Level},
		"alone": {func(r *dose.Request) { r.Materials = r.Materials[:1] }, dose.Alone},
		"hydrated lime is last": {func(r *dose.Request) {
			r.Materials = []material.Batch{batch("hydrated-lime"), r.Materials[0]}
		}, dose.Gentle},
		"the whole of it": {func(r *dose.Request) {
			few := r.Materials[1]
			few.OnHand = ptr(quantity.Mass(1000))
			r.Materials, r.Target = []material.Batch{few, r.Materials[1]}, ptr(quantity.PH(6))
		}, dose.Meets},
		"magnesium is low": {func(r *dose.Request) {
			r.Materials, r.Reading.Magnesium = bothLimes(), ptr(quantity.Concentration(40))
		}, dose.ByMagnesium},
		"magnesium is not low": {func(r *dose.Request) {
			r.Materials, r.Reading.Magnesium = bothLimes(), ptr(quantity.Concentration(90))
		}, dose.ByMagnesium},
		"no magnesium was read": {func(r *dose.Request) { r.Materials, r.Reading.Magnesium = bothLimes(), nil }, dose.NoMagnesium},
		"potassium is short": {func(r *dose.Request) {
			r.Reading.Potassium, r.Target = ptr(quantity.Concentration(70)), ptr(quantity.PH(5.8))
			r.Materials[1].Price, r.Materials[0].Price = ptr(0.9), ptr(0.1)
			r.Materials[0].Held = ptr(quantity.Mass(50000))
		}, dose.FeedsPotassium},
		"it stands on the shelf": {func(r *dose.Request) {
			r.Materials[0].Held, r.Materials[1].Price = ptr(quantity.Mass(50000)), ptr(9.0)
			r.Materials = []material.Batch{r.Materials[0], batch("pelleted-lime")}
		}, dose.OnShelf},
	} {
		a, err := dose.For(request(c.change))
		require.NoError(t, err, name)
		require.NotEmpty(t, a.Options, name)
		assert.Equal(t, c.want, a.First, name)
		assert.NotEmpty(t, text.First(a.First), name)
		if c.want == dose.FeedsPotassium {
			assert.Equal(t, material.HardwoodAsh, a.Options[0].Parts[0].Kind)
		}
	}
}
