package sampling_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
)

var day = quantity.Date(2026, 11, 24)

func texture(id soil.Texture) soil.TextureClass { t, _ := soil.FindTexture(id); return t }

func bed(name string, change ...func(*sampling.Site)) sampling.Site {
	c, _ := crop.Find("general-vegetables")
	ph := quantity.PH(6.2)
	b := sampling.Site{Name: name, Crop: c, PH: &ph,
		Ground: soil.Ground{Area: 20, Depth: 0.15, Texture: texture(soil.Loam), Worked: soil.Dug, Use: soil.UseBed,
			FreeLime: soil.LimeNone}}
	for _, f := range change {
		f(&b)
	}
	return b
}

func reads(ph float64) func(*sampling.Site) {
	return func(b *sampling.Site) { p := quantity.PH(ph); b.PH = &p }
}

func unread(b *sampling.Site) { b.PH = nil }

func grows(id string) func(*sampling.Site) {
	return func(b *sampling.Site) { b.Crop, _ = crop.Find(id) }
}

func got(kind material.Kind, ago quantity.Day, rate quantity.Rate) func(*sampling.Site) {
	return func(b *sampling.Site) {
		m, _ := material.Find(kind)
		if b.Treated == nil {
			b.Treated = map[material.Family]quantity.Rate{}
		}
		for f, r := range sampling.Treated(ledger.Ledger{{Date: day - ago, Material: m, Rate: rate}}, day) {
			b.Treated[f] += r
		}
	}
}

func on(change func(*soil.Ground)) func(*sampling.Site) {
	return func(b *sampling.Site) { change(&b.Ground) }
}

func TestApart(t *testing.T) {
	is := func(f ...func(*sampling.Site)) []func(*sampling.Site) { return f }
	for name, c := range map[string]struct {
		a, b []func(*sampling.Site)
		want sampling.ReasonID
	}{
		"alike":               {nil, nil, ""},
		"readings 0.3 apart":  {is(reads(6.0)), is(reads(6.3)), ""},
		"readings 0.31 apart": {is(reads(6.0)), is(reads(6.31)), sampling.OtherReading},
		"both never read":     {is(unread), is(unread), ""},
		"one never read":      {nil, is(unread), sampling.OneUnread},
		"loam and clay":       {nil, is(on(func(g *soil.Ground) { g.Texture = texture(soil.Clay) })), sampling.OtherSoil},
		"dug and no-dig":      {nil, is(on(func(g *soil.Ground) { g.Worked = soil.Surface })), sampling.OtherDepth},
		"no-dig and around plants": {is(on(func(g *soil.Ground) { g.Worked = soil.Surface })),
			is(on(func(g *soil.Ground) { g.Worked = soil.Established })), ""},
		"15 and 20 cm":                  {nil, is(on(func(g *soil.Ground) { g.Depth = 0.20 })), sampling.OtherDepth},
		"15 and 16 cm":                  {nil, is(on(func(g *soil.Ground) { g.Depth = 0.16 })), ""},
		"one fizzes":                    {nil, is(on(func(g *soil.Ground) { g.FreeLime = soil.LimeStrong })), sampling.OtherFreeLime},
		"free lime not tried and none":  {nil, is(on(func(g *soil.Ground) { g.FreeLime = soil.LimeUnknown })), ""},
		"bed and lawn":                  {nil, is(on(func(g *soil.Ground) { g.Use = soil.UseLawn })), sampling.OtherUse},
		"carrot and bean":               {is(grows("carrot")), is(grows("bean")), ""},
		"carrot and blueberry":          {is(grows("carrot")), is(grows("blueberry")), sampling.OtherCropGroup},
		"carrot and kale":               {is(grows("carrot")), is(grows("kale")), sampling.OtherCropGroup},
		"one was limed a year ago":      {is(got(material.CalciticLime, 365, 200)), nil, sampling.OtherTreatments},
		"one was limed 24 months ago":   {is(got(material.CalciticLime, 730, 200)), nil, ""},
		"and a day less":                {is(got(material.CalciticLime, 729, 200)), nil, sampling.OtherTreatments},
		"one was limed three years ago": {is(got(material.CalciticLime, 1095, 200)), nil, ""},
		"both limed about alike":        {is(got(material.CalciticLime, 300, 200)), is(got(material.DolomiticLime, 250, 180)), ""},
		"limed and ashed": {is(got(material.CalciticLime, 300, 100)), is(got(material.HardwoodAsh, 300, 100)),
			sampling.OtherTreatments},
		"one confirms a surprise": {is(func(b *sampling.Site) { b.Confirms = true }), nil, sampling.OwnSample},
		"one had compost":         {is(got("compost", 100, 3000)), nil, ""},
		"two goes of ash against one as much": {is(got(material.HardwoodAsh, 60, 100), got(material.HardwoodAsh, 300, 100)),
			is(got(material.HardwoodAsh, 200, 200)), ""},
	} {
		a, b := bed("a", c.a...), bed("b", c.b...)
		why := sampling.Apart(&a, &b)
		back := sampling.Apart(&b, &a)
		require.Equal(t, len(why), len(back), "%s: it holds both ways", name)
		if c.want == "" {
			assert.Empty(t, why, name)
			continue
		}
		require.NotEmpty(t, why, name)
		assert.Equal(t, c.want, why[0].ID, name)
	}
}

func TestShareCoversEachBedOnce(t *testing.T) {
	beds := []sampling.Site{bed("1"), bed("2", grows("blueberry")), bed("3"), bed("4", reads(5.0)), bed("5", grows("blueberry"))}
	s := sampling.Share(beds)
	require.Len(t, s, 3)
	assert.Equal(t, []int{0, 2}, s[0].Beds)
	assert.Equal(t, []int{1, 4}, s[1].Beds)
	assert.Equal(t, []int{3}, s[2].Beds)
	// No sample stands for more ground than one may.
	big := on(func(g *soil.Ground) { g.Area = 180 })
	assert.Len(t, sampling.Share([]sampling.Site{bed("1", big), bed("2", big)}), 2)
}

func TestSamplesObeySharingRules(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 8))
	crops := []string{"carrot", "kale", "blueberry", "potato"}
	for range 2000 {
		beds := make([]sampling.Site, 1+rng.IntN(15))
		for i := range beds {
			beds[i] = bed(fmt.Sprint(i), grows(crops[rng.IntN(4)]), reads(5+2*rng.Float64()),
				on(func(g *soil.Ground) { g.Area = quantity.Area(1 + 200*rng.Float64()) }))
			if rng.IntN(3) == 0 {
				got(material.CalciticLime, quantity.Day(rng.IntN(900)), quantity.Rate(300*rng.Float64()))(&beds[i])
			}
		}
		seen := map[int]bool{}
		for _, s := range sampling.Share(beds) {
			for n, i := range s.Beds {
				require.False(t, seen[i], "a bed is in one sample")
				seen[i] = true
				for _, j := range s.Beds[:n] {
					require.Empty(t, sampling.Apart(&beds[i], &beds[j]))
				}
			}
			if len(s.Beds) > 1 {
				require.LessOrEqual(t, float64(s.Area), 300.0)
			}
		}
		require.Len(t, seen, len(beds), "every bed is in one")
	}
}

func TestCoresByArea(t *testing.T) {
	for _, c := range []struct {
		area          quantity.Area
		cores, pieces int
	}{{4, 6, 1}, {10, 6, 1}, {10.1, 12, 1}, {100, 12, 1}, {101, 18, 1}, {300, 18, 1}, {301, 18, 2}, {900, 18, 3}} {
		cores, pieces := sampling.CoresFor(c.area)
		assert.Equal(t, [2]int{c.cores, c.pieces}, [2]int{cores, pieces}, "%v m²", c.area)
	}
}

func TestCorerGrams(t *testing.T) {
	c := sampling.Corer{Diameter: 0.019, Wanted: 500}
	// π/4 × 1.9² × 15 = 42.53 cm³; × 1.35 = 57.4 g.
	assert.InDelta(t, 57.4, float64(c.Grams(0.15, texture(soil.Loam))), 0.05)
	assert.Equal(t, 9, c.Enough(0.15, texture(soil.Loam)), "a 19 mm corer at 15 cm in loam")
	assert.Equal(t, 14, c.Enough(0.10, texture(soil.Loam)))
	assert.Equal(t, 1, sampling.Corer{Diameter: 0.1, Wanted: 500}.Enough(0.15, texture(soil.Loam)))
	// More from the corer than the ground alone wants.
	small := bed("small", on(func(g *soil.Ground) { g.Area = 6 }))
	s := sampling.Spread([]sampling.Site{small}, sampling.Sample{Beds: []int{0}, Area: 6}, c, 0.15)
	assert.Equal(t, []int{9}, s.Cores)
	// A layer of 5 cm gives a third of that: 19.1 g a core.
	s = sampling.Spread([]sampling.Site{small}, sampling.Sample{Beds: []int{0}, Area: 6}, c, 0.05)
	assert.Equal(t, []int{28}, s.Cores)
	assert.Equal(t, []int{7}, s.Stops, "four close together at each, and no fewer places than the ground wants")
	lone := c
	lone.Lone = true
	s = sampling.Spread([]sampling.Site{small}, sampling.Sample{Beds: []int{0}, Area: 6}, lone, 0.05)
	assert.Equal(t, [][]int{{27}, {27}}, [][]int{s.Cores, s.Stops})
	// Two at a stop would leave fewer places than the ground wants, so 11 cores are 11 places, and 12 are 6.
	for mass, want := range map[quantity.Mass][]int{11 * 57.4: {11, 11}, 11.9 * 57.4: {12, 6}, 13 * 57.4: {14, 7}} {
		s = sampling.Spread([]sampling.Site{small}, sampling.Sample{Beds: []int{0}, Area: 6}, sampling.Corer{Diameter: 0.019, Wanted: mass}, 0.15)
		assert.Equal(t, want, []int{s.Cores[0], s.Stops[0]}, "%v g", mass)
	}
	// 19 mm × √(500 / 57.4 / 6) = 22.9: six cores of a corer so wide.
	assert.InDelta(t, 0.023, float64(c.Across(6, 0.15, texture(soil.Loam))), 1e-9)
	assert.Equal(t, 6, sampling.Corer{Diameter: 0.023, Wanted: 500}.Enough(0.15, texture(soil.Loam)))
	// Two beds give by their area, two each at the least.
	two := []sampling.Site{bed("a", on(func(g *soil.Ground) { g.Area = 38 })), bed("b", on(func(g *soil.Ground) { g.Area = 2 }))}
	s = sampling.Spread(two, sampling.Sample{Beds: []int{0, 1}, Area: 40}, c, 0.15)
	assert.Equal(t, []int{12, 2}, s.Cores)
}

func TestLayersOfUndugGround(t *testing.T) {
	g := bed("a").Ground
	assert.Equal(t, []sampling.Stretch{{From: 0, To: 0.15}}, sampling.Layers(g))
	g.Worked, g.Depth = soil.Established, 0.20
	l := sampling.Layers(g)
	require.Len(t, l, 4)
	assert.InDelta(t, 0.15, float64(l[3].From), 1e-9)
	g.Worked, g.Depth = soil.Surface, 0.10
	assert.Len(t, sampling.Layers(g), 2)
	g.Depth = 0.12
	l = sampling.Layers(g)
	assert.InDelta(t, 0.12, float64(l[2].To), 1e-9)
}

func TestDueOn(t *testing.T) {
	for _, c := range []struct {
		trusted, last, retest quantity.Day
		want                  sampling.Due
	}{
		{0, 0, 0, sampling.NeverRead},
		{day - 100, day - 100, 0, ""},
		{day - 100, day - 100, day - 1, sampling.RetestDue},
		{day - 100, day - 100, day + 30, ""},
		{day - 800, day - 800, 0, sampling.LookDue},
		{day - 800, day - 100, 0, sampling.WeakMethod},
		{0, day - 100, 0, sampling.WeakMethod},
	} {
		assert.Equal(t, c.want, sampling.DueOn(soil.Loam, calendar.Yearly, c.trusted, c.last, c.retest, day))
	}
	assert.Empty(t, sampling.DueOn(soil.Clay, calendar.Long, day-800, day-800, 0, day),
		"clay is looked at every three years in the long rhythm")
}

func TestWalk(t *testing.T) {
	order, metres := sampling.Walk(sampling.Point{}, nil)
	assert.Empty(t, order)
	assert.Zero(t, metres)
	row := []sampling.Point{{X: 9}, {X: 3}, {X: 6}, {X: 1}}
	order, metres = sampling.Walk(sampling.Point{}, row)
	assert.Equal(t, []int{3, 1, 2, 0}, order)
	assert.InDelta(t, 9, metres, 1e-9)
	rng := rand.New(rand.NewPCG(3, 4))
	for range 300 {
		ps := make([]sampling.Point, 1+rng.IntN(8))
		for i := range ps {
			ps[i] = sampling.Point{X: 30 * rng.Float64(), Y: 20 * rng.Float64()}
		}
		order, metres := sampling.Walk(sampling.Point{}, ps)
		seen := map[int]bool{}
		for _, i := range order {
			seen[i] = true
		}
		require.Len(t, seen, len(ps), "every place once")
		best := shortest(sampling.Point{}, ps, 0, math.Inf(1))
		require.LessOrEqual(t, metres, 1.35*best+1e-9)
	}
}

// shortest tries every order.
func shortest(at sampling.Point, left []sampling.Point, walked, best float64) float64 {
	if len(left) == 0 {
		return math.Min(best, walked)
	}
	for i, p := range left {
		d := walked + math.Hypot(p.X-at.X, p.Y-at.Y)
		if d < best {
			rest := append(append([]sampling.Point(nil), left[:i]...), left[i+1:]...)
			best = shortest(p, rest, d, best)
		}
	}
	return best
}

func Example() {
	c := sampling.Corer{Diameter: sampling.UsualCorer, Wanted: sampling.UsualWanted}
	loam, _ := soil.FindTexture(soil.Loam)
	cores, pieces := sampling.CoresFor(9.6)
	fmt.Println(cores, pieces, c.Enough(0.15, loam))
	// Output: 6 1 9
}
