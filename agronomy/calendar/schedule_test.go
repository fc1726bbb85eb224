package calendar_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// plan is a random bed with its work.
type plan struct {
	season calendar.Conditions
	items  []calendar.Item
	today  quantity.Day
}

var spread = []material.Kind{material.CalciticLime, material.HardwoodAsh, material.SulfurPowder, material.AmmoniumSulfate, material.Urea,
	material.PotassiumSulfate, material.Manure, "rotted-manure", material.Compost, "iron-sulfate", "hydrated-lime"}

func randomPlan(r *rand.Rand) plan {
	today := at("2026-01-01") + quantity.Day(r.IntN(700))
	near := func(n int) quantity.Day { return today + quantity.Day(r.IntN(2*n)-n) }
	c := *climate([]string{"maritime", "continental", "prairie", "warm-temperate", "subtropical"}[r.IntN(5)],
		[]string{soil.North, soil.South}[r.IntN(2)])
	p := plan{today: today, season: calendar.Conditions{Weather: &c, SowingGap: []quantity.Day{28, 42}[r.IntN(2)], Dug: r.IntN(3) > 0,
		Perennial: r.IntN(6) == 0, SideDress: r.IntN(4) == 0}}
	for range r.IntN(3) {
		p.season.Starts = append(p.season.Starts, calendar.Start{Day: near(300), Planted: r.IntN(2) == 0})
	}
	if r.IntN(2) == 0 {
		p.season.Cleared = near(60)
	}
	if r.IntN(5) == 0 {
		p.season.ShutUntil = today + calendar.LookAgain
	}
	if r.IntN(3) == 0 {
		p.season.Days.Week[r.IntN(7)], p.season.Days.Week[r.IntN(7)] = true, true
		from := near(60)
		p.season.Days.Away = []calendar.Stretch{{From: from, To: from + quantity.Day(r.IntN(40))}}
	}
	g := soil.Ground{Worked: soil.Surface}
	if p.season.Dug {
		g.Worked = soil.Dug
	}
	some := func() (*material.Material, quantity.Rate, material.Caps) {
		m := row(spread[r.IntN(len(spread))])
		caps, ok := material.CapsFor(m.Family, g)
		if !ok {
			return m, quantity.Rate(1000 + r.IntN(3000)), material.Caps{}
		}
		return m, caps.Once * quantity.Rate(0.2+0.8*r.Float64()), caps
	}
	for range r.IntN(4) {
		m, rate, _ := some()
		p.season.History = append(p.season.History, ledger.Application{Date: today - quantity.Day(r.IntN(400)), Material: *m, Rate: rate})
	}
	for id := range int64(1 + r.IntN(6)) {
		it := calendar.Item{ID: id + 1, Plan: int64(r.IntN(3)), Due: near(250), Chosen: r.IntN(8) == 0}
		if r.IntN(5) > 0 {
			it.Material, it.Rate, it.Caps = some()
		}
		p.items = append(p.items, it)
	}
	return p
}

// breaks returns the rule, implemented independently, that an additional item breaks on a day; ""
// is none.
func (p *plan) breaks(it *calendar.Item, d quantity.Day, others ledger.Ledger) string {
	s, m := p.season, it.Material
	s.History = others
	if why := s.Blocked(m.Family, d); why != calendar.Free {
		return string(why)
	}
	for _, o := range others {
		gap, om := max(d-o.Date, o.Date-d), o.Material
		ammonia := m.GivesAmmonia() && om.Raises() || m.Raises() && om.GivesAmmonia()
		sour := m.Raises() && om.Family == material.Sulfur || om.Raises() && m.Family == material.Sulfur
		switch {
		case ammonia && gap < 21, sour && gap < 182:
			return "keep apart"
		case om.Family == m.Family && gap < quantity.Day(7*it.Caps.Weeks):
			return "spacing"
		}
	}
	if it.Caps == (material.Caps{}) {
		return ""
	}
	for end := d; end < d+365; end++ { // each year that holds the day
		sum := it.Rate
		for _, o := range others {
			if o.Material.Family == m.Family && o.Date <= end && o.Date > end-365 {
				sum += o.Rate
			}
		}
		had := slices.ContainsFunc(others, func(o ledger.Application) bool { return o.Material.Family == m.Family && o.Date == end })
		if sum > it.Caps.Year*(1+1e-6) && (end == d || had) {
			return "year"
		}
	}
	return ""
}

// laid returns what was applied and what stands placed, without one.
func (p *plan) laid(placed []calendar.Placed, without func(int) bool) ledger.Ledger {
	out := slices.Clone(p.season.History)
	for i, it := range p.items {
		if it.Material != nil && !placed[i].Shortfall && !without(i) {
			out = append(out, ledger.Application{Date: placed[i].Lands, Material: *it.Material, Rate: it.Rate})
		}
	}
	return out
}

// before reports whether an item comes before another.
func (p *plan) before(i, j int) bool {
	a, b := &p.items[i], &p.items[j]
	if test := a.Material == nil; a.Due == b.Due && test != (b.Material == nil) {
		return test
	}
	return a.Due < b.Due || a.Due == b.Due && a.ID < b.ID
}

func TestScheduleBreaksNoRule(t *testing.T) {
	r := rand.New(rand.NewPCG(14, 1))
	shortfall, moved, late := 0, 0, 0
	for n := range 10_000 {
		p := randomPlan(r)
		placed := p.season.Schedule(p.items, p.today)
		require.Len(t, placed, len(p.items), "nothing is lost or doubled")
		require.Equal(t, placed, p.season.Schedule(p.items, p.today), "the same garden, the same year")
		for i := range p.items {
			it, x := &p.items[i], placed[i]
			if it.Material == nil {
				require.GreaterOrEqual(t, x.Day, it.Due, "a retest is not put forward")
				continue
			}
			earlier := p.laid(placed, func(j int) bool { return j == i || !p.before(j, i) })
			from := max(it.Due, p.today)
			if x.Retest { // it waits: for a retest of its plan that is due before it
				require.True(t, slices.ContainsFunc(p.items, func(o calendar.Item) bool {
					return o.Material == nil && o.Plan == it.Plan && o.Due <= it.Due
				}), n)
			}
			if x.Shortfall {
				shortfall++
				for d := x.Day - calendar.Horizon - 1; d < x.Day; d++ {
					require.NotEmpty(t, p.breaks(it, d, earlier), "garden %d, item %d: %v would serve", n, it.ID, d)
				}
				continue
			}
			if x.Lands > from {
				moved++
			}
			if x.Day < p.today {
				late++
				require.GreaterOrEqual(t, x.Day, it.Due)
				for d := it.Due; d <= x.Day; d++ {
					if served := len(p.breaks(it, d, earlier)) == 0; it.Chosen || p.season.Days.Free(d) || x.OffDays {
						require.Equal(t, d == x.Day, served, "garden %d, item %d: late since %v, and %v serves", n, it.ID, x.Day, d)
					}
				}
			}
			all := p.laid(placed, func(j int) bool { return j == i })
			require.Empty(t, p.breaks(it, x.Lands, all), "garden %d, item %d on %v", n, it.ID, x.Lands)
			for d := from; d < x.Lands && !x.Retest && !p.waits(placed, i); d++ {
				if it.Chosen || p.season.Days.Free(d) || x.OffDays {
					require.NotEmpty(t, p.breaks(it, d, earlier), "garden %d, item %d: %v comes before %v", n, it.ID, d, x.Lands)
				}
			}
		}
	}
	assert.Greater(t, shortfall, 500)
	assert.Greater(t, moved, 5000)
	assert.Greater(t, late, 2000)
}

// waits reports whether a retest of its plan that is due before an item stands after the
// item's own day.
func (p *plan) waits(placed []calendar.Placed, i int) bool {
	for j, o := range p.items {
		if o.Material == nil && o.Plan != 0 && o.Plan == p.items[i].Plan && p.before(j, i) && placed[j].Lands >= p.items[i].Due {
			return true
		}
	}
	return false
}

func TestScheduleDoesNotDependOnOrder(t *testing.T) {
	r := rand.New(rand.NewPCG(14, 2))
	for range 2000 {
		p := randomPlan(r)
		was := p.season.Schedule(p.items, p.today)
		turn := r.Perm(len(p.items))
		other := make([]calendar.Item, len(p.items))
		for i, j := range turn {
			other[i] = p.items[j]
		}
		is := p.season.Schedule(other, p.today)
		for i, j := range turn {
			require.Equal(t, was[j], is[i])
		}
	}
}

func TestOverdueApplicationsKeepIntervals(t *testing.T) {
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Starts: sown("2027-05-20"), Cleared: at("2026-10-20"),
		SowingGap: crop.Unnamed.SowingGap(), Dug: true}
	ash, caps := row(material.HardwoodAsh), capsOf(material.Ash)
	items := []calendar.Item{
		{ID: 1, Plan: 1, Due: at("2026-11-24"), Material: ash, Rate: 200, Caps: caps},
		{ID: 2, Plan: 1, Due: at("2027-01-19"), Material: ash, Rate: 200, Caps: caps},
		{ID: 3, Plan: 1, Due: at("2027-11-12")}}
	today := at("2027-01-20")
	placed := s.Schedule(items, today)
	assert.Equal(t, at("2026-11-24"), placed[0].Day, "late, and may go on now")
	assert.Equal(t, today, placed[0].Lands)
	assert.Equal(t, today+56, placed[1].Day)
	assert.Equal(t, calendar.TooSoon, placed[1].Why)
	assert.Equal(t, at("2027-11-12"), placed[2].Day, "the retest is far enough off as it is")
	// A day before the spacing ends it still waits; on it, it is due.
	items[0].Due, items[1].Due = at("2027-01-20"), at("2027-03-16")
	assert.Equal(t, at("2027-03-17"), s.Schedule(items, today)[1].Day, "seven weeks and six days are too few")
	items[1].Due++
	assert.Equal(t, at("2027-03-17"), s.Schedule(items, today)[1].Day)
	assert.Equal(t, calendar.Free, s.Schedule(items, today)[1].Why)
}

func capsOf(f material.Family) material.Caps {
	c, _ := material.CapsFor(f, soil.Ground{Worked: soil.Dug})
	return c
}

func TestFeedsKeepIntervalToLime(t *testing.T) {
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Cleared: at("2026-10-20"), SowingGap: 28, Dug: true}
	lime := calendar.Item{ID: 1, Due: at("2027-04-10"), Material: row(material.CalciticLime), Rate: 200, Caps: capsOf(material.Lime)}
	feed := calendar.Item{ID: 2, Due: at("2027-04-30"), Material: row(material.AmmoniumSulfate), Rate: 20, Caps: capsOf(material.Ammonium)}
	placed := s.Schedule([]calendar.Item{feed, lime}, at("2027-02-01"))
	assert.Equal(t, at("2027-05-01"), placed[0].Day)
	assert.Equal(t, calendar.NearLime, placed[0].Why)
	assert.Equal(t, at("2027-04-10"), placed[1].Day)
	feed.Due = at("2027-05-01")
	assert.Equal(t, calendar.Free, s.Schedule([]calendar.Item{feed, lime}, at("2027-02-01"))[0].Why, "21 days after it may")
	// A year's cap counts what stands later too.
	lime.Rate, lime.Due = 500, at("2027-10-01")
	second := lime
	second.ID, second.Due = 3, at("2028-03-01")
	s.History = ledger.Ledger{{Date: at("2027-03-05"), Material: *row(material.CalciticLime), Rate: 400}}
	placed = s.Schedule([]calendar.Item{lime, second}, at("2027-04-01"))
	assert.Equal(t, at("2027-10-01"), placed[0].Day)
	assert.Equal(t, at("2028-03-04"), placed[1].Day, "400 and 500 leave 100 of a year until the first is a year old")
	assert.Equal(t, calendar.YearFull, placed[1].Why)
}

func TestWorkingDaysYieldToRules(t *testing.T) {
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Cleared: at("2026-10-20"), SowingGap: 28, Dug: true}
	s.Days.Week[6] = true // Saturdays
	lime := calendar.Item{ID: 1, Plan: 1, Due: at("2026-11-24"), Material: row(material.CalciticLime), Rate: 200, Caps: capsOf(material.Lime)}
	test := calendar.Item{ID: 2, Plan: 1, Due: at("2027-11-12")}
	placed := s.Schedule([]calendar.Item{lime, test}, at("2026-11-24"))
	assert.Equal(t, at("2026-11-28"), placed[0].Day)
	assert.Equal(t, calendar.OwnDays, placed[0].Why)
	assert.Equal(t, at("2027-11-13"), placed[1].Day, "a retest too")
	s.Days.Away = []calendar.Stretch{{From: at("2026-11-28"), To: at("2026-12-04")}}
	assert.Equal(t, at("2026-12-05"), s.Schedule([]calendar.Item{lime}, at("2026-11-24"))[0].Day)
	s.Days.Away = []calendar.Stretch{{From: at("2026-11-25"), To: at("2028-11-24")}}
	placed = s.Schedule([]calendar.Item{lime}, at("2026-11-24"))
	assert.Equal(t, at("2026-11-24"), placed[0].Day)
	assert.True(t, placed[0].OffDays)
	s.Days.Away = nil
	lime.Chosen = true
	assert.Equal(t, at("2026-11-24"), s.Schedule([]calendar.Item{lime}, at("2026-11-24"))[0].Day, "by hand any day serves")
	lime.Due, lime.Chosen = at("2026-11-21"), false
	assert.Equal(t, at("2026-11-21"), s.Schedule([]calendar.Item{lime}, at("2026-11-24"))[0].Day, "what is late is due, on any day")
	lime.Due = at("2026-11-24")
	assert.Equal(t, at("2026-11-28"), s.Schedule([]calendar.Item{lime}, at("2026-11-25"))[0].Day, "not late before the announced day")
	assert.Equal(t, at("2026-11-28"), s.Schedule([]calendar.Item{lime}, at("2026-11-29"))[0].Day, "late since then")
}

func TestMovedRetestIsLateSinceItsAnnouncedDay(t *testing.T) {
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Dug: true,
		History: ledger.Ledger{{Date: at("2026-12-20"), Material: *row(material.HardwoodAsh), Rate: 200}}}
	s.Days.Week[6] = true // Saturdays
	test := calendar.Item{ID: 1, Due: at("2027-01-05")}
	announced := s.Schedule([]calendar.Item{test}, at("2026-12-28"))[0]
	assert.Greater(t, announced.Day, test.Due)
	for _, today := range []quantity.Day{announced.Day - 6, announced.Day - 1, announced.Day, announced.Day + 30} {
		is := s.Schedule([]calendar.Item{test}, today)[0]
		assert.Equal(t, announced.Day, is.Day, today)
		assert.Equal(t, announced.Why, is.Why, today)
		assert.Equal(t, max(today, announced.Day), is.Lands, today)
	}
	s.History = append(s.History, ledger.Application{Date: announced.Day + 20, Material: *row(material.HardwoodAsh), Rate: 100})
	assert.Greater(t, s.Schedule([]calendar.Item{test}, announced.Day+30)[0].Day, announced.Day+30, "ash since: it waits again")
}

// An application that a rule moved is due on its announced day, and late since that day.
func TestMovedApplicationIsLateSinceItsAnnouncedDay(t *testing.T) {
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Cleared: at("2026-10-20"), SowingGap: 28, Dug: true,
		History: ledger.Ledger{{Date: at("2026-12-20"), Material: *row(material.HardwoodAsh), Rate: 200}}}
	ash := calendar.Item{ID: 1, Plan: 1, Due: at("2027-01-05"), Material: row(material.HardwoodAsh), Rate: 200, Caps: capsOf(material.Ash)}
	announced := s.Schedule([]calendar.Item{ash}, at("2026-12-28"))[0]
	assert.Greater(t, announced.Day, ash.Due)
	assert.Equal(t, calendar.TooSoon, announced.Why)
	for _, today := range []quantity.Day{announced.Day - 1, announced.Day, announced.Day + 1, announced.Day + 30} {
		is := s.Schedule([]calendar.Item{ash}, today)[0]
		assert.Equal(t, announced.Day, is.Day, today)
		assert.Equal(t, calendar.TooSoon, is.Why, today)
		assert.Equal(t, max(today, announced.Day), is.Lands, today)
	}
}

func TestTryNamesRuleAndNearestDays(t *testing.T) {
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Starts: sown("2027-04-03"), Cleared: at("2026-10-20"), SowingGap: 28,
		Dug: true}
	ash := calendar.Item{ID: 1, Plan: 1, Due: at("2026-11-24"), Material: row(material.HardwoodAsh), Rate: 200, Caps: capsOf(material.Ash)}
	more := calendar.Item{ID: 2, Plan: 1, Due: at("2027-01-19"), Material: ash.Material, Rate: 200, Caps: ash.Caps}
	items := []calendar.Item{ash, more}
	trial := s.Try(items, 1, at("2026-12-10"), at("2026-11-24"))
	assert.Equal(t, calendar.Free, trial.Why)
	assert.Equal(t, at("2027-02-04"), trial.Placed[1].Day, "the second keeps its eight weeks")
	trial = s.Try(items, 2, at("2027-03-20"), at("2026-11-24"))
	assert.Equal(t, calendar.NearSowing, trial.Why)
	assert.Equal(t, at("2027-03-06"), trial.Before, "28 days before the sowing")
	assert.Greater(t, trial.After, at("2027-05-15"))
	trial = s.Try(items, 2, at("2026-12-24"), at("2026-11-24"))
	assert.Equal(t, calendar.TooSoon, trial.Why)
	assert.Equal(t, quantity.Day(0), trial.Before, "it does not pass the first")
	assert.Equal(t, at("2027-01-19"), trial.After)
	trial = s.Try(items, 2, at("2026-11-24"), at("2026-11-20"))
	assert.Equal(t, calendar.PlanOrder, trial.Why, "on the first one's day")
	trial = s.Try(items, 2, at("2026-11-25"), at("2026-11-20"))
	assert.Equal(t, calendar.TooSoon, trial.Why, "a day later it is only too near")
	trial = s.Try(items, 1, at("2027-02-10"), at("2026-11-24"))
	assert.Equal(t, calendar.Free, trial.Why)
	assert.Equal(t, []quantity.Day{at("2027-02-10"), at("2027-02-11")}, trial.Due, "nor does the first pass it")
	assert.Greater(t, trial.Placed[1].Day, at("2027-05-15"), "which waits until the crop stands")
	assert.Equal(t, at("2026-11-24"), items[0].Due, "nothing is moved by asking")
}

func TestApplicationsAndRetestsWaitForEachOther(t *testing.T) {
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Cleared: at("2026-10-20"), SowingGap: 28, Dug: true}
	lime := calendar.Item{ID: 1, Plan: 1, Due: at("2026-11-24"), Material: row(material.CalciticLime), Rate: 200, Caps: capsOf(material.Lime)}
	test := calendar.Item{ID: 2, Plan: 1, Due: lime.Due.AddWeeks(26)}
	rest := calendar.Item{ID: 0, Plan: 1, Due: test.Due, Material: lime.Material, Rate: 200, Caps: lime.Caps}
	items := []calendar.Item{lime, test, rest}
	placed := s.Schedule(items, lime.Due)
	assert.Equal(t, test.Due, placed[1].Day)
	assert.Equal(t, test.Due+1, placed[2].Day, "the day after the test, not on it")
	assert.True(t, placed[2].Retest)
	placed = s.Schedule(items, lime.Due+1)
	assert.Equal(t, test.Due+1, placed[1].Day, "a go that is a day late takes its test along")
	assert.Equal(t, test.Due+2, placed[2].Day)
	today := test.Due + 40
	placed = s.Schedule(items[1:], today)
	assert.Equal(t, test.Due, placed[0].Day, "the test is late")
	assert.Equal(t, today+1, placed[1].Day, "and what waits for it is not due")
	rest.Plan = 2
	assert.False(t, s.Schedule([]calendar.Item{lime, test, rest}, lime.Due)[2].Retest, "another dose waits for no test of this one")
}

func TestRetestWaitsForReaction(t *testing.T) {
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Cleared: at("2026-10-20"), SowingGap: 28, Dug: true}
	test := []calendar.Item{{ID: 2, Due: at("2027-03-01")}}
	due := func(k material.Kind, put quantity.Day) quantity.Day {
		s.History = ledger.Ledger{{Date: put, Material: *row(k), Rate: 100}}
		return s.Schedule(test, at("2026-12-01"))[0].Day
	}
	for kind, wait := range map[material.Kind]quantity.Day{material.HardwoodAsh: 56, material.CalciticLime: 84} {
		assert.Equal(t, test[0].Due, due(kind, test[0].Due-wait), kind)
		assert.Equal(t, test[0].Due+1, due(kind, test[0].Due-wait+1), kind)
	}
	assert.Equal(t, test[0].Due, due(material.PotassiumSulfate, test[0].Due-1), "what moves no pH does not matter")
	assert.Equal(t, test[0].Due, due(material.CalciticLime, test[0].Due+1), "nor what comes after")
	s.History = ledger.Ledger{{Date: at("2027-02-20"), Material: *row(material.CalciticLime), Rate: 100}}
	late := s.Schedule(test, at("2027-03-10"))[0]
	assert.Equal(t, at("2027-05-15"), late.Day, "a late one waits too")
	assert.Equal(t, calendar.TooSoonToTest, late.Why)
}

func TestTryWindowsMatchSchedule(t *testing.T) {
	r := rand.New(rand.NewPCG(14, 4))
	serving, refused := 0, 0
	for n := range 300 {
		p := randomPlan(r)
		at := r.IntN(len(p.items))
		day := p.today + quantity.Day(r.IntN(300))
		trial := p.season.Try(p.items, p.items[at].ID, day, p.today)
		for d := p.today; d <= p.today+calendar.Horizon; d += 1 + quantity.Day(r.IntN(9)) {
			then := p.season.Try(p.items, p.items[at].ID, d, p.today)
			stands := then.Placed[at].Day == d
			for j, o := range p.items {
				if o.Plan == 0 || o.Plan != p.items[at].Plan || j == at {
					continue
				}
				if p.before(j, at) {
					stands = stands && d > o.Due
				} else if stands && o.Material == nil {
					require.Greater(t, then.Placed[j].Lands, d, "a test of the plan stays after it")
				}
			}
			in := slices.ContainsFunc(trial.Serve, func(w calendar.Window) bool { return d >= w.From && d <= w.To })
			require.Equal(t, stands, in, "garden %d, %v", n, d)
			if d == day {
				require.Equal(t, stands, trial.Why == calendar.Free && !trial.Retest)
			}
			if stands {
				serving++
				require.False(t, d < day && d > trial.Before || d > day && (trial.After == 0 || d < trial.After), "nearer")
			} else {
				refused++
			}
		}
	}
	assert.Greater(t, min(serving, refused), 3000)
}

func TestShortfallItemReportsWhatFits(t *testing.T) {
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Cleared: at("2026-10-20"), SowingGap: 28, Dug: true}
	caps := capsOf(material.Lime)
	lime := calendar.Item{ID: 1, Due: at("2026-11-24"), Material: row(material.CalciticLime), Rate: caps.Year + 100, Caps: caps}
	placed := s.Schedule([]calendar.Item{lime}, at("2026-11-24"))[0]
	assert.True(t, placed.Shortfall)
	assert.Equal(t, calendar.YearFull, placed.Why)
	assert.Equal(t, caps.Once, placed.Fits)
	assert.Equal(t, at("2027-11-24"), placed.Day)
}

func BenchmarkSchedule(b *testing.B) {
	r := rand.New(rand.NewPCG(14, 3))
	s := calendar.Conditions{Weather: climate("maritime", soil.North), Starts: sown("2027-04-03"), Cleared: at("2026-10-20"), SowingGap: 28,
		Dug: true}
	var all [][]calendar.Item
	for range 400 {
		var items []calendar.Item
		for n := range int64(3) {
			items = append(items, calendar.Item{ID: n, Plan: 1, Due: at("2026-10-01") + quantity.Day(r.IntN(300)),
				Material: row(material.HardwoodAsh), Rate: 100, Caps: capsOf(material.Ash)})
		}
		all = append(all, items)
	}
	for b.Loop() {
		for _, items := range all {
			s.Schedule(items, at("2026-11-24"))
		}
	}
}
