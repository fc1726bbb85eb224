package calendar_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
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

func climate(id, side string) *soil.Climate {
	c, ok := soil.FindClimate(id, side)
	if !ok {
		panic(id)
	}
	return &c
}

func sown(s string) []calendar.Start { return []calendar.Start{{Day: at(s)}} }

func planted(s string) []calendar.Start { return []calendar.Start{{Day: at(s), Planted: true}} }

func row(k material.Kind) *material.Material { m := stuff(k); return &m }

func stuff(k material.Kind) material.Material {
	m, _ := material.Find(k)
	return m
}

// dayRule is a day on which a material may or may not go on.
type dayRule struct {
	name   string
	season calendar.Conditions
	family material.Family
	day    string
	want   calendar.Why
}

// with returns the season of the day rules, changed.
func with(change func(*calendar.Conditions)) calendar.Conditions {
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Starts: sown("2027-04-03"), Cleared: at("2026-10-20"),
		SowingGap: 28, Dug: true}
	change(&s)
	return s
}

func asIs(*calendar.Conditions) {}

func hold(t *testing.T, rules []dayRule) {
	t.Helper()
	for _, c := range rules {
		assert.Equal(t, c.want, c.season.Blocked(c.family, at(c.day)), c.name)
	}
}

func TestSowingIntervals(t *testing.T) {
	base := with(asIs)
	dressing := func(starts []calendar.Start) calendar.Conditions {
		return with(func(s *calendar.Conditions) { s.SideDress, s.Dug, s.Starts = true, false, starts })
	}
	cold := with(func(s *calendar.Conditions) {
		var even soil.Climate
		for m := range even.Normal {
			even.Normal[m] = 6
		}
		s.Weather = &even
	})
	summer := with(func(s *calendar.Conditions) { s.Starts = sown("2027-07-03") })
	hold(t, []dayRule{
		{"ash while the crop stands", base, material.Ash, "2026-10-19", calendar.InGrowth},
		{"ash once it is cleared", base, material.Ash, "2026-10-20", calendar.Free},
		{"ash four weeks before sowing", base, material.Ash, "2027-03-06", calendar.Free},
		{"ash a day later", base, material.Ash, "2027-03-07", calendar.NearSowing},
		{"ash six weeks before tender seed", with(func(s *calendar.Conditions) { s.SowingGap = 42 }), material.Ash, "2027-02-21",
			calendar.NearSowing},
		{"ash on the day of sowing", dressing(sown("2027-04-03")), material.Ash, "2027-04-03", calendar.NearSowing},
		{"ash on seedlings", dressing(sown("2027-04-03")), material.Ash, "2027-05-14", calendar.NearSowing},
		{"ash once they stand, 42 days after", dressing(sown("2027-04-03")), material.Ash, "2027-05-15", calendar.Free},
		{"ash on what was planted out", dressing(planted("2027-04-03")), material.Ash, "2027-04-23", calendar.NearSowing},
		{"ash once that stands, 21 days after", dressing(planted("2027-04-03")), material.Ash, "2027-04-24", calendar.Free},
		{"ash once they stand, but no side dressing", base, material.Ash, "2027-05-15", calendar.InGrowth},
		{"hydrated lime four weeks before", cold, material.HydratedLime, "2027-03-06", calendar.Free},
		{"hydrated lime a day later", cold, material.HydratedLime, "2027-03-07", calendar.HydratedNear},
		{"hydrated lime 41 days after", cold, material.HydratedLime, "2027-05-14", calendar.HydratedNear},
		{"hydrated lime never beside a growing crop", base, material.HydratedLime, "2027-06-20", calendar.InGrowth},
		{"fresh manure 60 days before planting", summer, material.FreshManure, "2027-05-04", calendar.Free},
		{"fresh manure 59 days before planting", summer, material.FreshManure, "2027-05-05", calendar.ManureNear},
	})
}

func TestSoilAndHistoryRules(t *testing.T) {
	base := with(asIs)
	summer := with(func(s *calendar.Conditions) { s.Starts = sown("2027-07-03") })
	potatoes := with(func(s *calendar.Conditions) {
		s.Dug, s.Cleared = false, 0
		s.Starts = []calendar.Start{{Day: at("2027-04-03"), Planted: true, Scab: true}}
	})
	hold(t, []dayRule{
		{"ash in growth", base, material.Ash, "2027-06-01", calendar.InGrowth},
		{"ash as a side dressing", with(func(s *calendar.Conditions) { s.SideDress, s.Dug = true, false }), material.Ash, "2027-06-01",
			calendar.Free},
		{"lime dug in needs the bed clear", base, material.Lime, "2027-06-01", calendar.Occupied},
		{"lime near sowing is no matter", base, material.Lime, "2027-04-01", calendar.Free},
		{"lime among dormant trees", with(func(s *calendar.Conditions) { s.Perennial, s.Dug = true, false }), material.Lime, "2027-01-10",
			calendar.Free},
		{"lime among trees in leaf", with(func(s *calendar.Conditions) { s.Perennial, s.Dug = true, false }), material.Lime, "2027-07-10",
			calendar.Occupied},
		{"sulfur on cold soil", base, material.Sulfur, "2027-03-01", calendar.ColdSoil},
		{"sulfur with eight warm weeks ahead", base, material.Sulfur, "2027-06-01", calendar.Free},
		{"sulfur too late in summer", base, material.Sulfur, "2027-09-01", calendar.ColdSoil},
		{"anything on frozen ground", with(func(s *calendar.Conditions) { s.Weather = climate("prairie", soil.North) }), material.Lime,
			"2027-01-15", calendar.FrozenGround},
		{"lime 20 days after urea", with(func(s *calendar.Conditions) {
			s.History = ledger.Ledger{{Date: at("2026-11-01"), Material: stuff(material.Urea)}}
		}), material.Lime, "2026-11-21", calendar.NearNitrogen},
		{"lime 21 days after urea", with(func(s *calendar.Conditions) {
			s.History = ledger.Ledger{{Date: at("2026-11-01"), Material: stuff(material.Urea)}}
		}), material.Lime, "2026-11-22", calendar.Free},
		{"ash after fresh manure", with(func(s *calendar.Conditions) {
			s.History = ledger.Ledger{{Date: at("2026-11-14"), Material: stuff(material.Manure)}}
		}), material.Ash, "2026-11-24", calendar.NearNitrogen},
		{"rotted manure 14 days before planting", summer, material.RottedManure, "2027-06-19", calendar.Free},
		{"rotted manure 13 days before planting", summer, material.RottedManure, "2027-06-20", calendar.RottedNear},
		{"lime before the potatoes' year", potatoes, material.Lime, "2026-07-04", calendar.Free},
		{"lime in the potatoes' year", potatoes, material.Lime, "2026-07-05", calendar.PotatoYear},
		{"lime while potatoes stand", potatoes, material.Lime, "2027-10-01", calendar.PotatoYear},
		{"lime half a year after potatoes", potatoes, material.Lime, "2027-10-02", calendar.Free},
		{"sulfur in a season with lime", with(func(s *calendar.Conditions) {
			s.History = ledger.Ledger{{Date: at("2027-02-01"), Material: stuff(material.CalciticLime)}}
		}), material.Sulfur, "2027-06-01", calendar.LimeSulfur},
	})
}

func TestNextIsNeverBeforeFirst(t *testing.T) {
	s := with(asIs)
	day, why := s.Next(material.Lime, 100, capsOf(material.Lime), nil, at("2026-11-25"), at("2026-11-24"))
	assert.Zero(t, day)
	assert.Equal(t, calendar.PastHorizon, why)
	day, why = s.Next(material.Lime, 100, capsOf(material.Lime), nil, at("2026-11-24"), at("2026-11-24"))
	assert.Equal(t, at("2026-11-24"), day, why)
}

// coldOn is a weather with one cold day.
type coldOn struct {
	calendar.Weather
	day quantity.Day
}

func (w coldOn) At(d quantity.Day) quantity.Temperature {
	if d == w.day {
		return 5
	}
	return w.Weather.At(d)
}

func TestSulfurWantsEightWarmWeeks(t *testing.T) {
	day := at("2027-06-01")
	for cold, want := range map[quantity.Day]calendar.Why{day - 1: calendar.Free, day: calendar.ColdSoil, day + 55: calendar.ColdSoil,
		day + 56: calendar.Free} {
		s := with(func(s *calendar.Conditions) { s.Weather = coldOn{s.Weather, cold} })
		assert.Equal(t, want, s.Blocked(material.Sulfur, day), cold-day)
	}
}

func TestSouthernSeasonsAreSixMonthsLater(t *testing.T) {
	s := calendar.Conditions{Weather: climate("maritime", soil.South), Dug: true}
	assert.Equal(t, calendar.ColdSoil, s.Blocked(material.Sulfur, at("2026-06-01")))
	assert.Equal(t, calendar.Free, s.Blocked(material.Sulfur, at("2026-12-01")))
	assert.True(t, s.Autumn(at("2026-04-20")))
	assert.False(t, s.Autumn(at("2026-10-20")))
}

func TestCapAppliesToAny365Days(t *testing.T) {
	ps := ledger.Ledger{{Date: at("2026-01-10"), Material: stuff(material.HardwoodAsh), Rate: 300},
		{Date: at("2026-03-01"), Material: stuff(material.CalciticLime), Rate: 100}}
	assert.InDelta(t, 300, float64(ps.InYear(material.Ash, at("2027-01-09"))), 0)
	assert.InDelta(t, 0, float64(ps.InYear(material.Ash, at("2027-01-10"))), 0)
}

func TestRetest(t *testing.T) {
	c := climate("maritime", soil.North)
	for _, x := range []struct {
		kind              material.Kind
		last, first, want string
	}{
		{material.HardwoodAsh, "2026-12-12", "2026-09-20", "2027-03-06"},  // the season is more than 26 weeks off
		{material.HardwoodAsh, "2027-05-01", "2026-09-20", "2027-09-20"},  // on to the season
		{material.CalciticLime, "2026-11-24", "2026-11-12", "2027-11-12"}, // 25 May and on to November
		{material.CalciticLime, "2026-11-24", "", "2027-05-25"},
		{material.CalciticLime, "2026-11-24", "2026-11-23", "2027-11-23"}, // 182 days on: the season still
		{material.CalciticLime, "2026-11-24", "2026-11-24", "2027-05-25"}, // 183: no more
		{material.DolomiticLime, "2026-11-24", "", "2027-11-23"},
	} {
		var first quantity.Day
		if x.first != "" {
			first = at(x.first)
		}
		assert.Equal(t, x.want, calendar.Retest(row(x.kind), c, at(x.last), first, calendar.Yearly).String(), "%s after %s", x.kind, x.last)
	}
	// Twelve warm weeks from 1 June end in late August; from 1 September they
	// end in the next summer.
	assert.Equal(t, "2027-08-24", calendar.Retest(row(material.SulfurPowder), c, at("2027-06-01"), 0, calendar.Yearly).String())
	assert.Equal(t, 2028, calendar.Retest(row(material.SulfurPowder), c, at("2027-09-01"), 0, calendar.Yearly).Year())
}

func TestRetestRhythms(t *testing.T) {
	c := climate("maritime", soil.North)
	last, first := at("2026-11-24"), at("2026-11-12")
	for rhythm, want := range map[calendar.Rhythm]string{
		calendar.Yearly: "2027-11-12", // 25 May and on to November
		calendar.Twice:  "2027-11-12", // 12 May is a fortnight too soon
		calendar.Long:   "2029-11-12", // the first November two years on
	} {
		assert.Equal(t, want, calendar.Retest(row(material.CalciticLime), c, last, first, rhythm).String(), rhythm)
	}
	assert.Equal(t, "2027-06-01", calendar.Retest(row(material.CalciticLime), c, last, at("2026-12-01"), calendar.Twice).String(),
		"a spring check after autumn liming")
}

func TestRetestOfUntreatedBed(t *testing.T) {
	last := at("2026-11-12")
	assert.Equal(t, "2028-11-12", calendar.Look(soil.Loam, last, calendar.Yearly).String())
	assert.Equal(t, "2027-11-12", calendar.Look(soil.Sand, last, calendar.Yearly).String())
	assert.Equal(t, "2027-11-12", calendar.Look(soil.LoamySand, last, calendar.Long).String(), "sand of either kind")
	assert.Equal(t, "2028-11-12", calendar.Look(soil.SandyLoam, last, calendar.Yearly).String(), "sandy loam is none")
	assert.Equal(t, "2028-11-12", calendar.Look(soil.Clay, last, calendar.Yearly).String())
	assert.Equal(t, "2029-11-12", calendar.Look(soil.Clay, last, calendar.Long).String())
}

// A reading taken too early is repeated once about all has reacted: after 52 weeks, unless it was
// read since or is tested at long intervals.
func TestSecondTestWhileReacting(t *testing.T) {
	on := at("2026-05-04")
	for read, want := range map[string]string{"2026-08-01": "2027-05-03", "2027-05-02": "2027-05-03"} {
		for _, r := range []calendar.Rhythm{calendar.Yearly, calendar.Twice} {
			assert.Equal(t, want, calendar.Again(on, at(read), r).String(), read)
		}
	}
	assert.Zero(t, calendar.Again(on, at("2027-05-03"), calendar.Yearly), "that was the test")
	assert.Zero(t, calendar.Again(on, at("2026-08-01"), calendar.Long))
}

func TestWindowsAreExactlyTheFreeDays(t *testing.T) {
	s := calendar.Conditions{Weather: climate("continental", soil.North), Starts: sown("2027-05-01"), Cleared: at("2026-10-01"),
		SowingGap: 28, Dug: true}
	from, to := at("2026-09-01"), at("2027-12-31")
	for _, f := range []material.Family{material.Lime, material.Ash, material.Sulfur} {
		in := map[quantity.Day]bool{}
		for _, w := range s.Windows(f, from, to) {
			require.LessOrEqual(t, w.From, w.To)
			for d := w.From; d <= w.To; d++ {
				in[d] = true
			}
		}
		for d := from; d <= to; d++ {
			require.Equal(t, s.Blocked(f, d) == calendar.Free, in[d], "%s on %s", f, d)
		}
	}
}

func ExampleConditions_Next() {
	c, _ := soil.FindClimate("maritime", soil.North)
	ash, _ := material.Find(material.HardwoodAsh)
	s := calendar.Conditions{Weather: &c, Starts: []calendar.Start{{Day: quantity.Date(2027, 4, 3)}}, SowingGap: 28, Dug: true}
	day, _ := s.Next(ash.Family, 200, material.Caps{Once: 250, Year: 500, Weeks: 8}, nil, quantity.Date(2026, 10, 1),
		quantity.Date(2027, 9, 30))
	fmt.Println(day)
	// Output: 2026-10-17
}

// The weather can be judged on the day; harm to seed, lost nitrogen and undone work cannot.
func TestHarmfulRules(t *testing.T) {
	for why, harms := range map[calendar.Why]bool{
		calendar.NearSowing: true, calendar.HydratedNear: true, calendar.ManureNear: true,
		calendar.NearNitrogen: true, calendar.NearLime: true, calendar.LimeSulfur: true,
		calendar.Free: false, calendar.FrozenGround: false, calendar.ShutGround: false, calendar.ColdSoil: false,
		calendar.Occupied: false, calendar.NotSpring: false,
	} {
		assert.Equal(t, harms, why.Harms(), "%q", why)
	}
}
