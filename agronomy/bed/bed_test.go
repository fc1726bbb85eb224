package bed_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

var today = quantity.Date(2026, 11, 24)

func ptr[T any](v T) *T { return &v }

// record returns a cool loam, dug, read by a lab at 5.8 with 90 ppm of potassium.
func record(crops ...string) bed.Record {
	loam, _ := soil.FindTexture(soil.Loam)
	climate, _ := soil.FindClimate("maritime", soil.North)
	r := bed.Record{Date: today, Climate: climate,
		Ground: soil.Ground{Area: 10, Depth: 0.15, Texture: loam, Table: soil.CoolTable, Worked: soil.Dug, Use: soil.UseBed,
			FreeLime: soil.LimeUnknown},
		Reading: soil.Reading{Date: today - 12, Method: soil.Lab, Basis: soil.Water, PH: 5.8, Cores: 12,
			Potassium: ptr(quantity.Concentration(90)), Extractant: soil.AmmoniumAcetate}}
	for i, id := range crops {
		c, ok := crop.Find(id)
		if !ok {
			panic(id)
		}
		if i == 0 {
			r.Crop = &c
			continue
		}
		r.With = append(r.With, c)
	}
	return r
}

func put(ago quantity.Day, k material.Kind, rate quantity.Rate) ledger.Application {
	m, _ := material.Find(k)
	return ledger.Application{Date: today - ago, Material: m, Rate: rate}
}

func TestVerdicts(t *testing.T) {
	r := record("tomato")
	s := bed.Judge(&r)
	assert.Equal(t, bed.Sour, s.Standing)
	assert.InDelta(t, 0.4, float64(s.Off), 1e-9, "tomato wants 6.2")
	assert.InDelta(t, 0.14, s.SD, 0.005)
	assert.Equal(t, s.SD, s.Single())
	assert.True(t, s.Tomatoes)
	r.Reading.PH = 6.2
	assert.Equal(t, bed.InRange, bed.Judge(&r).Standing, "the edge is in the band")
	r.Reading.PH = 6.8
	s = bed.Judge(&r)
	assert.Equal(t, bed.InRange, s.Standing, "so is the other edge")
	assert.Zero(t, s.Off)
	r.Reading.PH = 6.81
	assert.Equal(t, bed.TooSweet, bed.Judge(&r).Standing)
	r.Reading = soil.Reading{}
	s = bed.Judge(&r)
	assert.Equal(t, bed.Untested, s.Standing)
	assert.Equal(t, soil.Unknown, s.K.State)
}

// Muck has an aim of its own; what wants it sour keeps its own there.
func TestMuckAndAcidLovers(t *testing.T) {
	muck, ok := soil.FindTexture(soil.Muck)
	require.True(t, ok)
	for id, want := range map[string]bool{"tomato": true, "blueberry": false} {
		r := record(id)
		s := bed.Judge(&r)
		assert.False(t, s.Muck(), "%s on loam", id)
		r.Ground.Texture = muck
		s = bed.Judge(&r)
		assert.Equal(t, want, s.Muck(), "%s on muck", id)
	}
}

func TestReadingsAreCombinedOnce(t *testing.T) {
	r := record("tomato")
	other := r.Reading
	other.PH, other.Date = 6.2, today-20
	r.More = []soil.Reading{other}
	s := bed.Judge(&r)
	assert.InDelta(t, 6.0, float64(s.PH), 1e-9)
	assert.Zero(t, s.Single())
	r.History = ledger.Ledger{put(15, material.CalciticLime, 100)}
	s = bed.Judge(&r)
	assert.InDelta(t, 5.8, float64(s.PH), 1e-9, "lime went on between the two")
	assert.Equal(t, quantity.Day(3), s.SinceLime)
	assert.Equal(t, quantity.Day(-1), s.SinceAsh)
	assert.False(t, s.UsedAfter)
	r.History[0].Date = today - 12
	assert.False(t, bed.Judge(&r).UsedAfter, "on the day of the reading")
	r.History[0].Date = today - 11
	assert.True(t, bed.Judge(&r).UsedAfter, "a day after it")
}

func TestFreeLimeFromJars(t *testing.T) {
	r := record("lavender")
	r.More = []soil.Reading{{Date: today - 12, Method: soil.Fizz, Fizz: soil.FizzTest{Vinegar: soil.LimeStrong, Soda: soil.LimeNone}}}
	assert.Equal(t, soil.LimeStrong, bed.Judge(&r).Ground.FreeLime)
	r.Ground.FreeLime = soil.LimeNone
	assert.Equal(t, soil.LimeNone, bed.Judge(&r).Ground.FreeLime, "what was seen on the bed goes first")
}

func TestConflictingCrops(t *testing.T) {
	r := record("kale", "blueberry")
	s := bed.Judge(&r)
	assert.True(t, s.Conflict)
	assert.ElementsMatch(t, []string{"kale", "blueberry"}, []string{s.First.ID, s.Second.ID})
	assert.Equal(t, r.Crop.Range, s.Crop.Range, "what is shown meanwhile is the first one’s")
	r = record("kale", "carrot")
	s = bed.Judge(&r)
	assert.False(t, s.Conflict)
	assert.Equal(t, crop.Range{Low: 6.5, High: 6.8}, s.Crop.Range)
}

func TestPotassiumIsCarriedForward(t *testing.T) {
	r := record("tomato")
	r.Reading.PotassiumDate = today - 200
	r.History = ledger.Ledger{put(100, material.HardwoodAsh, 100), put(300, material.HardwoodAsh, 100)}
	s := bed.Judge(&r)
	assert.InDelta(t, 90+float64(soil.PotassiumRise(s.Ground, 5)), float64(*s.K.Now), 1e-9, "100 g of ash at 5 % since, none from before")
	assert.Equal(t, soil.Short, s.K.State, "critical at 12 cmol/kg is 105")
}

func TestOneSeason(t *testing.T) {
	r := record("sweet-corn")
	r.Sowing, r.Sown = today+140, []calendar.Start{{Day: today + 200, Planted: true}}
	s := bed.Judge(&r)
	assert.Len(t, s.Season.Starts, 2)
	assert.Equal(t, quantity.Day(28), s.Season.SowingGap)
	assert.False(t, s.Season.SideDress, "dug in is no side dressing")
	assert.Zero(t, s.Season.ShutUntil)
	r.Ground.Worked, r.Ground.State = soil.Surface, soil.Waterlogged
	s = bed.Judge(&r)
	assert.Equal(t, today+calendar.LookAgain, s.Season.ShutUntil)
	assert.True(t, s.OnTop())
	assert.True(t, s.Season.SideDress, "short of potassium")
	r.Reading.Potassium = ptr(quantity.Concentration(150))
	assert.False(t, bed.Judge(&r).Season.SideDress, "not short, and sweet corn does not ask for ash")
	r.Reading.Potassium, r.Reading.PH = ptr(quantity.Concentration(90)), 6.5
	assert.False(t, bed.Judge(&r).Season.SideDress, "sweet enough")
}

// What stands for years makes a bed established once it is planted: nothing is dug in among its roots, unless the gardener says that it
// is. What was applied before it was planted was dug in.
func TestStandingPerennialsMakeBedEstablished(t *testing.T) {
	for name, c := range map[string]struct {
		crop    string
		change  func(*bed.Record)
		worked  soil.Worked
		dugOnce bool
	}{
		"asparagus that stands":          {"asparagus", func(*bed.Record) {}, soil.Established, false},
		"since last spring":              {"asparagus", func(r *bed.Record) { r.Since = today - 200 }, soil.Established, true},
		"planted on the day":             {"rhododendron", func(r *bed.Record) { r.Planted = today }, soil.Established, true},
		"planted tomorrow":               {"rhododendron", func(r *bed.Record) { r.Planted = today + 1 }, soil.Dug, true},
		"still to come by the record":    {"blueberry", func(r *bed.Record) { r.Ahead = true }, soil.Dug, true},
		"tomatoes":                       {"tomato", func(*bed.Record) {}, soil.Dug, true},
		"dug all the same":               {"asparagus", func(r *bed.Record) { r.Ground.Worked = soil.DugAmong }, soil.Dug, true},
		"no-dig stays no-dig":            {"asparagus", func(r *bed.Record) { r.Ground.Worked = soil.Surface }, soil.Surface, false},
		"plums in their rings":           {"plum", func(r *bed.Record) { r.Ground.Use = soil.UseTree }, soil.Established, false},
		"a lawn is worked as a lawn":     {"lawn", func(r *bed.Record) { r.Ground.Use = soil.UseLawn }, soil.Dug, true},
		"dug among is dug for all crops": {"tomato", func(r *bed.Record) { r.Ground.Worked = soil.DugAmong }, soil.Dug, true},
	} {
		r := record(c.crop)
		c.change(&r)
		s := bed.Judge(&r)
		assert.Equal(t, c.worked, s.Ground.Worked, name)
		assert.Equal(t, s.Ground, r.Worked(), "%s: the forecast has it alike", name)
		assert.Equal(t, c.dugOnce, s.Ground.DugOn(today-300), name)
		assert.Equal(t, c.worked == soil.Dug && r.Ground.Use == soil.UseBed, s.Spread() == soil.Dug, name)
		assert.Equal(t, s.Spread() != soil.Dug, s.OnTop(), name)
	}
}
