package bedprep_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

func at(s string) quantity.Day { d, _ := quantity.ParseDay(s); return d }

func row(k material.Kind) material.Material { m, _ := material.Find(k); return m }

// steps returns a copy of a template's steps.
func steps(id bedprep.TemplateID) []bedprep.Step {
	t, ok := bedprep.Find(id)
	if !ok {
		panic(id)
	}
	return slices.Clone(t.Steps)
}

func on(all []bedprep.Step, days []quantity.Day, id bedprep.StepID) quantity.Day {
	return days[slices.IndexFunc(all, func(s bedprep.Step) bool { return s.ID == id })]
}

// Old sod for a planting on 17 May 2027: the sod is chopped in 60 days before or earlier, what lime
// does has its twelve weeks, a test two weeks to be answered, compost a fortnight's rest.
func TestStepsAreDatedBackFromPlanting(t *testing.T) {
	all := steps(bedprep.Sod)
	days := bedprep.Dates(all, at("2027-05-17"), at("2026-11-26"))
	for id, want := range map[bedprep.StepID]string{bedprep.Plant: "2027-05-17", bedprep.Check: "2027-05-15", bedprep.Organic: "2027-05-03",
		bedprep.Correct: "2027-02-22", bedprep.Test: "2027-02-08", bedprep.Loosen: "2027-02-08", bedprep.Strip: "2027-02-08"} {
		assert.Equal(t, at(want), on(all, days, id), id)
	}
}

// Where the time is short, lime's wish for twelve weeks gives way, and no distance does: sod chopped in
// today puts the planting off for its 60 days.
func TestShortTimeDelaysPlanting(t *testing.T) {
	all, today := steps(bedprep.Sod), at("2027-04-20")
	days := bedprep.Dates(all, at("2027-05-17"), today)
	assert.Equal(t, today, on(all, days, bedprep.Strip))
	assert.Equal(t, today+14, on(all, days, bedprep.Correct))
	assert.Equal(t, today+60, on(all, days, bedprep.Plant))
	// Ten weeks are enough for all of it but lime's wish.
	all = steps(bedprep.Vegetable)
	days = bedprep.Dates(all, at("2027-05-17"), at("2027-03-08"))
	assert.Equal(t, at("2027-05-17"), on(all, days, bedprep.Plant))
	assert.Equal(t, at("2027-03-22"), on(all, days, bedprep.Correct))
}

// Fresh manure rests 60 days and keeps 21 from the lime before it; rotted a fortnight.
func TestManureIntervals(t *testing.T) {
	all := steps(bedprep.Vegetable)
	bedprep.Gives(all, bedprep.Organic, row(material.Manure), 3000, flowers)
	days := bedprep.Dates(all, at("2027-06-01"), at("2026-11-26"))
	assert.Equal(t, at("2027-06-01")-60, on(all, days, bedprep.Organic))
	assert.GreaterOrEqual(t, on(all, days, bedprep.Organic)-on(all, days, bedprep.Correct), quantity.Day(21))
	// Where the time is short the 21 days hold, and the planting waits for its 60.
	short := bedprep.Dates(all, at("2027-03-01"), at("2027-02-01"))
	assert.Equal(t, on(all, short, bedprep.Correct)+21, on(all, short, bedprep.Organic))
	assert.Equal(t, on(all, short, bedprep.Organic)+60, on(all, short, bedprep.Plant))
	bedprep.Gives(all, bedprep.Organic, row("rotted-manure"), 3000, flowers)
	days = bedprep.Dates(all, at("2027-06-01"), at("2026-11-26"))
	assert.Equal(t, at("2027-06-01")-14, on(all, days, bedprep.Organic))
	own := steps(bedprep.Vegetable)
	assert.Equal(t, material.Compost, own[slices.IndexFunc(own, func(s bedprep.Step) bool { return s.ID == bedprep.Organic })].Material,
		"a template is not changed by who uses it")
}

// What is fresh keeps 120 days from the first harvest too: 75 before lettuce is planted, which is cut after 45; 60 are enough before
// sweet corn, which hangs clear of the soil and takes 75.
func TestFreshManureIntervalToHarvest(t *testing.T) {
	for id, before := range map[string]quantity.Day{"lettuce": 75, "cabbage": 60, "sweet-corn": 60, "carrot": 60, "chard": 65} {
		next, ok := crop.Find(id)
		require.True(t, ok)
		all := steps(bedprep.Vegetable)
		bedprep.Gives(all, bedprep.Organic, row(material.Manure), 3000, next)
		days := bedprep.Dates(all, at("2027-06-01"), at("2026-11-26"))
		assert.Equal(t, at("2027-06-01")-before, on(all, days, bedprep.Organic), id)
		l := ledger.Ledger{{Date: at("2027-05-01"), Material: row(material.Manure), Rate: 3000}}
		links := bedprep.Chain([]bedprep.Stage{{Step: bedprep.Step{ID: bedprep.Plant}, Item: 1}}, l, next)
		assert.Equal(t, at("2027-05-01")+before, links[0].NotBefore, id)
	}
}

// items are steps as the calendar dates them.
func items(stages []bedprep.Stage, days []quantity.Day, l ledger.Ledger, planting quantity.Day) (out []calendar.Item) {
	for i, x := range bedprep.Chain(stages, l, flowers) {
		if stages[i].Settled != 0 {
			continue
		}
		it := calendar.Item{ID: stages[i].Item, Due: days[i], Preparation: 1, For: planting, After: x.After, NotBefore: x.NotBefore,
			Step: stages[i].ID != bedprep.Test, Open: stages[i].ID.Opens(), Plants: stages[i].ID == bedprep.Plant}
		if m, ok := material.Find(stages[i].Material); ok {
			it.Step, it.Material, it.Rate = false, &m, stages[i].Rate
			it.Caps, _ = m.CapsOn(soil.Ground{Worked: soil.Dug})
		}
		out = append(out, it)
	}
	return out
}

// Manure that a bed got last week keeps lime off for 21 days and the planting for 60.
func TestLoggedManureCountsLikeAStep(t *testing.T) {
	all := steps(bedprep.AfterManure)
	var stages []bedprep.Stage
	for i, s := range all {
		stages = append(stages, bedprep.Stage{Step: s, Item: int64(i + 1)})
	}
	l := ledger.Ledger{{Date: at("2027-03-01"), Material: row(material.Manure), Rate: 3000}}
	for i, x := range bedprep.Chain(stages, l, flowers) {
		switch all[i].ID {
		case bedprep.Correct:
			assert.Equal(t, at("2027-03-22"), x.NotBefore)
		case bedprep.Plant:
			assert.Equal(t, at("2027-04-30"), x.NotBefore)
		}
	}
}

// A skipped step needs no interval, and the next step follows the one before.
func TestSkippedStepsImposeNoIntervals(t *testing.T) {
	all := steps(bedprep.GreenManure)
	var stages []bedprep.Stage
	for i, s := range all {
		stages = append(stages, bedprep.Stage{Step: s, Item: int64(i + 1)})
	}
	cut, chop, test := 0, 1, 2
	stages[cut].Settled = at("2027-03-01")
	links := bedprep.Chain(stages, nil, flowers)
	assert.Equal(t, at("2027-03-04"), links[chop].NotBefore, "it wilts for three days")
	stages[chop].Settled, stages[chop].Skipped = at("2027-03-02"), true
	links = bedprep.Chain(stages, nil, flowers)
	assert.Equal(t, at("2027-03-04"), links[test].NotBefore, "what follows it follows the cut")
	plant := links[len(links)-1]
	for _, a := range plant.After {
		assert.NotEqual(t, int64(chop+1), a.Item)
	}
	assert.Less(t, plant.NotBefore, at("2027-05-01"), "no sixty days for what was left out")
}

// flowers are not eaten: only their planting counts.
var flowers, _ = crop.Find("dahlia")

// garden is a random bed prepared late, with its open work and planned ash.
type garden struct {
	season          calendar.Conditions
	stages          []bedprep.Stage
	work            []calendar.Item
	today, planting quantity.Day
}

const ashGo = 99

func random(r *rand.Rand) (g garden) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	g.today = at("2026-01-01") + quantity.Day(r.IntN(700))
	all := steps(bedprep.Templates[r.IntN(len(bedprep.Templates))].ID)
	if r.IntN(2) == 0 {
		m := row(bedprep.Matter[r.IntN(len(bedprep.Matter))])
		caps, _ := m.CapsOn(soil.Ground{Worked: soil.Dug})
		bedprep.Gives(all, bedprep.Organic, m, caps.Once*quantity.Rate(0.2+0.8*r.Float64()), flowers)
	}
	g.planting = g.today + quantity.Day(r.IntN(300)-30)
	days := bedprep.Dates(all, g.planting, g.today-quantity.Day(r.IntN(200)))
	settled, done := days[0], r.IntN(len(all))
	for i, s := range all {
		x := bedprep.Stage{Step: s, Item: int64(i + 1)}
		if i < done && s.ID != bedprep.Plant && settled <= g.today {
			x.Settled, x.Skipped = settled, r.IntN(4) == 0
			settled += s.Wait + quantity.Day(r.IntN(9))
		}
		g.stages = append(g.stages, x)
	}
	g.season = calendar.Conditions{Weather: &climate, Dug: true, SowingGap: 28, Starts: []calendar.Start{{Day: g.planting, Planted: true}}}
	g.work = items(g.stages, days, nil, g.planting)
	ash := row(material.HardwoodAsh)
	caps, _ := material.CapsFor(material.Ash, soil.Ground{Worked: soil.Dug})
	g.work = append(g.work, calendar.Item{ID: ashGo, Due: g.today + quantity.Day(r.IntN(300)), Material: &ash, Rate: 100, Caps: caps})
	return g
}

// In ten thousand random preparations no step precedes what it follows, no interval is broken, the
// planting waits for all steps, and planned ash keeps its interval to the planting's final day.
func TestStepIntervalsAlwaysHold(t *testing.T) {
	r := rand.New(rand.NewPCG(26, 11))
	put, off := 0, 0
	for range 10_000 {
		g := random(r)
		lands := map[int64]quantity.Day{}
		for i, p := range g.season.Schedule(g.work, g.today) {
			if !p.Shortfall {
				lands[g.work[i].ID] = p.Lands
			}
		}
		plant := lands[int64(len(g.stages))]
		require.NotZero(t, plant)
		var prev quantity.Day
		for _, x := range g.stages {
			d, open := lands[x.Item]
			if x.Settled != 0 {
				d = x.Settled
			}
			if x.Skipped || !open && x.Settled == 0 {
				continue
			}
			require.GreaterOrEqual(t, d, prev, "%s comes in its order", x.ID)
			if x.ID != bedprep.Plant {
				require.GreaterOrEqual(t, plant-d, x.Before, "%s before the planting", x.ID)
			}
			if prev = d + x.Wait; x.ID == bedprep.Test && x.Settled != 0 {
				prev = d
			}
		}
		if plant > g.planting {
			off++
		}
		if d, ok := lands[ashGo]; ok {
			put++
			require.False(t, d > plant-28 && d < plant+21, "ash on %s, planted %s", d, plant)
		}
	}
	assert.Greater(t, put, 5000)
	assert.Greater(t, off, 1000)
}

// A step moved to an allowed day stays there, and never precedes those that it follows.
func TestMovedStepKeepsOrder(t *testing.T) {
	r := rand.New(rand.NewPCG(26, 12))
	broke := 0
	for range 200 {
		g := random(r)
		it := g.work[r.IntN(len(g.work)-1)]
		to := g.today + quantity.Day(r.IntN(200))
		x := g.season.Try(g.work, it.ID, to, g.today)
		n := slices.IndexFunc(g.work, func(w calendar.Item) bool { return w.ID == it.ID })
		if x.Why == calendar.Free && !x.Retest {
			require.Equal(t, to, x.Placed[n].Lands, "%s serves", to)
		} else if x.Why == calendar.StepOrder {
			broke++
			require.Greater(t, x.Placed[n].Lands, to)
		}
	}
	assert.Greater(t, broke, 10)
}

// On the prairie the ground is frozen from December to March: no soil is loosened then, water may be carried.
func TestSoilWorkWaitsForOpenGround(t *testing.T) {
	climate, _ := soil.FindClimate("prairie", soil.North)
	s := calendar.Conditions{Weather: &climate}
	d := at("2027-01-10")
	placed := s.Schedule([]calendar.Item{{ID: 1, Due: d, Step: true, Open: bedprep.Loosen.Opens()},
		{ID: 2, Due: d, Step: true, Open: bedprep.Water.Opens()}}, at("2026-12-01"))
	assert.Equal(t, calendar.FrozenGround, placed[0].Why)
	assert.Greater(t, placed[0].Day, at("2027-02-20"))
	assert.False(t, soil.Frozen(climate.At(placed[0].Day)))
	assert.True(t, soil.Frozen(climate.At(placed[0].Day-1)), "the first such day")
	assert.Equal(t, d, placed[1].Day)
	x := s.Try([]calendar.Item{{ID: 1, Due: d, Step: true, Open: true}}, 1, d, at("2026-12-01"))
	assert.Equal(t, calendar.FrozenGround, x.Why)
}

func TestSoilCheck(t *testing.T) {
	for _, x := range []struct {
		signs []bedprep.Sign
		wait  quantity.Day
	}{
		{[]bedprep.Sign{bedprep.Crumbles, bedprep.Earthy, bedprep.Moist}, 0}, {[]bedprep.Sign{bedprep.Breaks, bedprep.NoSmell, bedprep.Moist}, 0},
		{[]bedprep.Sign{bedprep.Smears, bedprep.Earthy, bedprep.Soaked}, 7},
		{[]bedprep.Sign{bedprep.Crumbles, bedprep.Ammonia, bedprep.Moist}, 14},
		{[]bedprep.Sign{bedprep.Smears, bedprep.Rotten, bedprep.Soaked}, 14},
		{[]bedprep.Sign{bedprep.Crumbles, bedprep.Earthy, bedprep.Dusty}, 1},
	} {
		assert.True(t, bedprep.Complete(x.signs))
		wait, against := bedprep.Ready(x.signs)
		assert.Equal(t, x.wait, wait, x.signs)
		assert.Equal(t, x.wait == 0, len(against) == 0)
	}
	assert.False(t, bedprep.Complete([]bedprep.Sign{bedprep.Crumbles, bedprep.Breaks, bedprep.Moist}), "the smell was not told")
	assert.False(t, bedprep.Complete([]bedprep.Sign{bedprep.Crumbles, bedprep.Earthy}))
}
