// Package calendar finds the days on which a material may be applied, keeps applications apart, and
// dates retests.
package calendar

import (
	"slices"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Weather supplies soil temperatures: the place's usual ones (soil.Climate), or measured.
type Weather interface {
	soil.Warmth
	// Months are the usual temperatures, January first; Usual is that of a day: seasons are derived
	// from them.
	Months() [12]quantity.Temperature
	Usual(quantity.Day) quantity.Temperature
}

// Start is a sowing or planting of a crop, past or planned.
type Start struct {
	Day     quantity.Day
	Planted bool
	// Scab is set for a crop kept at low pH against scab.
	Scab bool
	// Cut is the number of days from Day to the first harvest, 0 for a crop that is not eaten or
	// whose harvest follows the month; Clear is set when the edible part hangs clear of the soil.
	Cut   quantity.Day
	Clear bool
	// was is the planned day, when it is delayed by what must precede it.
	was quantity.Day
}

// planned returns the day that it was planned for.
func (s *Start) planned() quantity.Day {
	if s.was != 0 {
		return s.was
	}
	return s.Day
}

// Stands returns the day from which on its plants count as established.
func (s Start) Stands() quantity.Day {
	if s.Planted {
		return s.Day + crop.PlantedStands
	}
	return s.Day + crop.SownStands
}

// StartOf returns the start of a crop on a day.
func StartOf(c crop.Crop, day quantity.Day, planted bool) Start {
	x := Start{Day: day, Planted: planted, Scab: c.Is(crop.Scab)}
	if h, ok := c.Harvest(); ok {
		x.Cut, x.Clear = h.After, h.Clear
	}
	return x
}

// Conditions are what the calendar needs to know of a bed.
type Conditions struct {
	Weather Weather
	// Starts are the relevant sowings and plantings, past ones too; Cleared is the day on which the
	// standing crop is off, or 0.
	Starts  []Start
	Cleared quantity.Day
	// SowingGap is the least number of days from ash to a sowing.
	SowingGap quantity.Day
	// Perennial is set for ground that is treated while its plants are dormant.
	Perennial bool
	Dug       bool
	// Bears are the harvest months of perennial crops; Sandy is set for ground from which potash
	// and compost leach.
	Bears []Bears
	Sandy bool
	// SideDress allows ash on standing crops that welcome it or are short of K.
	SideDress bool
	History   ledger.Ledger
	// ShutUntil is the first day on which ground that is frozen, under snow or waterlogged is open
	// again; 0 when it is open.
	ShutUntil quantity.Day
	// Days are the gardener's own working days, which are tried first.
	Days Days
	// own is the planting that the work being dated leads to; such work moves it and is not bound
	// by it.
	own quantity.Day
}

// Why is the id of the rule that blocks a day; "" is free.
type Why string

// The day rules.
const (
	Free          Why = ""
	FrozenGround  Why = "frozen"
	ShutGround    Why = "ground-shut"
	NearSowing    Why = "ash-near-sowing"
	HydratedNear  Why = "hydrated-near-sowing"
	ManureNear    Why = "manure-near-planting"
	ManureHarvest Why = "manure-near-harvest"
	WinterWash    Why = "washes-out"
	RottedNear    Why = "rotted-near-planting"
	InGrowth      Why = "in-growth"
	Occupied      Why = "bed-occupied"
	ColdSoil      Why = "sulfur-cold-soil"
	NearNitrogen  Why = "nitrogen-21-days"
	LimeSulfur    Why = "lime-sulfur-season"
	TooSoon       Why = "too-soon-after-last"
	YearFull      Why = "year-cap"
	NotSpring     Why = "spring-to-midsummer"
	NearLime      Why = "lime-21-days"
	PastHorizon   Why = "past-52-weeks"
	OwnDays       Why = "own-days"
	PlanOrder     Why = "plan-order"
	TooSoonToTest Why = "too-soon-to-test"
	StepOrder     Why = "step-order"
	PotatoYear    Why = "potato-year"
)

// Intervals in days.
const (
	// NitrogenDays separate liming materials from what gives off ammonia.
	NitrogenDays quantity.Day = 21
	SeasonDays   quantity.Day = 182
	// warmAhead is eight weeks.
	warmAhead = 56
	yearDays  = ledger.YearDays
	// PotatoBefore is how long before potatoes their year begins: it includes the summer before, so
	// that no autumn lime affects them.
	PotatoBefore quantity.Day = 273
	// LookAgain is after how many days shut ground is checked again.
	LookAgain quantity.Day = 7
	// HydratedGap is the interval from hydrated lime to a sowing or planting, HydratedStands the
	// interval after one.
	HydratedGap, HydratedStands quantity.Day = 28, 42
	// settled is how long a sowing surely stands before a cold autumn ends it.
	settled quantity.Day = 60
)

// dayRule is one row of the table of day rules.
type dayRule struct {
	why      Why
	families []material.Family
	keepsOff func(*Conditions, quantity.Day) bool
}

var (
	allDosed = []material.Family{material.Lime, material.HydratedLime, material.Ash, material.Sulfur, material.Aluminium, material.Iron,
		material.Ammonium, material.UreaFeed, material.OtherFeed, material.Potash, material.Organic, material.FreshManure,
		material.RottedManure}
	feeds    = []material.Family{material.Ammonium, material.UreaFeed, material.OtherFeed, material.FreshManure}
	springs  = []material.Family{material.Aluminium, material.Iron, material.Ammonium, material.UreaFeed}
	limes    = []material.Family{material.Lime, material.HydratedLime}
	raisers  = []material.Family{material.Lime, material.HydratedLime, material.Ash}
	onlyAsh  = []material.Family{material.Ash}
	hydrates = []material.Family{material.HydratedLime}
	manures  = []material.Family{material.FreshManure}
	rotted   = []material.Family{material.RottedManure}
	muck     = []material.Family{material.FreshManure, material.RottedManure}
	washed   = []material.Family{material.Potash, material.Organic}
	sulfurs  = []material.Family{material.Sulfur}
)

var dayRules = []dayRule{
	{ShutGround, allDosed, func(s *Conditions, d quantity.Day) bool { return d < s.ShutUntil }},
	{FrozenGround, allDosed, func(s *Conditions, d quantity.Day) bool { return soil.Frozen(s.Weather.At(d)) }},
	{NearSowing, onlyAsh, func(s *Conditions, d quantity.Day) bool {
		return s.near(d, func(x Start) bool { return d > x.Day-s.SowingGap && d < x.Stands() })
	}},
	{HydratedNear, hydrates, func(s *Conditions, d quantity.Day) bool {
		return s.near(d, func(x Start) bool { return d > x.Day-HydratedGap && d < x.Day+HydratedStands })
	}},
	{ManureNear, manures, func(s *Conditions, d quantity.Day) bool {
		return s.near(d, func(x Start) bool { return d > x.Day-ManureGap && d <= x.Day })
	}},
	{RottedNear, rotted, func(s *Conditions, d quantity.Day) bool {
		return s.near(d, func(x Start) bool { return d > x.Day-RottedGap && d <= x.Day })
	}},
	{ManureHarvest, manures, func(s *Conditions, d quantity.Day) bool { return s.harvested(d) }},
	{WinterWash, muck, func(s *Conditions, d quantity.Day) bool { return s.washes(d, manureFrom) }},
	{WinterWash, washed, func(s *Conditions, d quantity.Day) bool { return s.Sandy && s.washes(d, sandFrom) }},
	{InGrowth, hydrates, func(s *Conditions, d quantity.Day) bool { return s.growing(d) }},
	{InGrowth, manures, func(s *Conditions, d quantity.Day) bool { return s.growing(d) }},
	{InGrowth, onlyAsh, func(s *Conditions, d quantity.Day) bool { return !s.SideDress && s.growing(d) }},
	{Occupied, limes, func(s *Conditions, d quantity.Day) bool {
		if s.Perennial {
			return soil.Warm(s.Weather.At(d))
		}
		return s.Dug && s.standing(d)
	}},
	{ColdSoil, sulfurs, func(s *Conditions, d quantity.Day) bool {
		return !s.warmAhead(d)
	}},
	{NearNitrogen, raisers, func(s *Conditions, d quantity.Day) bool {
		return s.History.Within(d, NitrogenDays, func(m *material.Material) bool { return m.GivesAmmonia() })
	}},
	{NotSpring, springs, func(s *Conditions, d quantity.Day) bool { return !s.Spring(d) }},
	{NearLime, feeds, func(s *Conditions, d quantity.Day) bool {
		return s.History.Within(d, NitrogenDays, func(m *material.Material) bool { return m.Raises() })
	}},
	{PotatoYear, raisers, func(s *Conditions, d quantity.Day) bool {
		return s.near(d, func(x Start) bool { return x.Scab && d > x.Day-PotatoBefore && d < x.Day+SeasonDays })
	}},
	{LimeSulfur, raisers, func(s *Conditions, d quantity.Day) bool {
		return s.History.Within(d, SeasonDays, func(m *material.Material) bool { return m.Family == material.Sulfur })
	}},
	{LimeSulfur, sulfurs, func(s *Conditions, d quantity.Day) bool {
		return s.History.Within(d, SeasonDays, func(m *material.Material) bool { return m.Raises() })
	}},
}

// harmful are the rules that no tick may break: they protect seed and seedlings and keep
// incompatible materials apart. The weather is left to the gardener's judgement.
var harmful = []Why{NearSowing, HydratedNear, ManureNear, RottedNear, ManureHarvest, WinterWash, NearNitrogen, NearLime, LimeSulfur}

// Harms reports whether breaking the rule does harm that is not visible on the day.
func (w Why) Harms() bool { return slices.Contains(harmful, w) }

// LeadingTo returns the conditions for work that leads to a planting on a day: the work moves the
// planting and is not bound by it.
func (s Conditions) LeadingTo(planting quantity.Day) Conditions {
	s.own = planting
	return s
}

// warmAhead reports whether the soil stays warm for eight weeks from a day. The last day is checked
// first, as it is the one that fails.
func (s *Conditions) warmAhead(d quantity.Day) bool {
	for n := quantity.Day(warmAhead - 1); n >= 0; n-- {
		if !soil.Warm(s.Weather.At(d + n)) {
			return false
		}
	}
	return true
}

// near reports whether a start is near a day, ignoring crops that are off by then.
func (s *Conditions) near(d quantity.Day, is func(Start) bool) bool {
	for _, x := range s.Starts {
		if s.own != 0 && x.planned() == s.own {
			continue
		}
		if !s.over(x, d) && is(x) {
			return true
		}
	}
	return false
}

// over reports whether the crop of a start is off the ground on a day.
func (s *Conditions) over(x Start, d quantity.Day) bool {
	return s.Cleared != 0 && x.Day < s.Cleared && d >= s.Cleared
}

// NextStart returns the first start after a day; no day when there is none.
func (s *Conditions) NextStart(d quantity.Day) quantity.Day {
	next := quantity.Day(0)
	for _, x := range s.Starts {
		if x.Day > d && (next == 0 || x.Day < next) {
			next = x.Day
		}
	}
	return next
}

// standing reports whether a crop is known to stand on the bed.
func (s *Conditions) standing(d quantity.Day) bool {
	if s.Cleared != 0 && d < s.Cleared {
		return true
	}
	return s.near(d, func(x Start) bool {
		return d >= x.Day && (d < x.Day+settled || soil.Warm(s.Weather.At(d))) && d < x.Day+yearDays
	})
}

// growing reports whether plants grow on the bed, as known, or else by soil temperature.
func (s *Conditions) growing(d quantity.Day) bool {
	if s.Perennial {
		return soil.Warm(s.Weather.At(d))
	}
	if s.standing(d) {
		return true
	}
	if s.Cleared != 0 && d >= s.Cleared && !s.near(d, func(x Start) bool { return d >= x.Day }) {
		return false
	}
	return soil.Warm(s.Weather.At(d))
}

// rulesOf are the rules of each family, in the table's order.
var rulesOf = func() map[material.Family]Rules {
	out := map[material.Family]Rules{}
	for i := range dayRules {
		for _, f := range dayRules[i].families {
			out[f] = append(out[f], &dayRules[i])
		}
	}
	return out
}()

// Rules are the day rules of one family.
type Rules []*dayRule

// RulesOf returns a family's rules, for asking about many days.
func RulesOf(f material.Family) Rules { return rulesOf[f] }

// PlaceWide reports whether a rule depends on the place's climate alone, so that it blocks all beds
// alike.
func (w Why) PlaceWide() bool { return w == FrozenGround || w == ColdSoil }

// Takes returns the rule that blocks a rate of the family on a day, including intervals to the
// history and the yearly cap.
func (r Rules) Takes(s *Conditions, f material.Family, rate quantity.Rate, caps material.Caps, d quantity.Day) Why {
	if w := s.blocked(r, d); w != Free {
		return w
	}
	return s.Apart(f, rate, caps, d)
}

// Blocked returns the rule that blocks the family on a day.
func (r Rules) Blocked(s *Conditions, d quantity.Day) Why { return s.blocked(r, d) }

// Blocked returns the rule that blocks a family on a day.
func (s *Conditions) Blocked(f material.Family, d quantity.Day) Why { return s.blocked(rulesOf[f], d) }

func (s *Conditions) blocked(rules Rules, d quantity.Day) Why {
	for _, r := range rules {
		if r.keepsOff(s, d) {
			return r.why
		}
	}
	return Free
}

func has(fs []material.Family, f material.Family) bool {
	for _, x := range fs {
		if x == f {
			return true
		}
	}
	return false
}

// Horizon is how many days ahead applications are scheduled.
const Horizon = yearDays - 1

// Scheduled is an application of the same family that is already scheduled.
type Scheduled struct {
	Date quantity.Day
	Rate quantity.Rate
}

// Next returns the first day from `from` to `last` on which a rate of the family may be applied,
// considering the history, the applications laid before, and the yearly cap. It prefers the
// gardener's working days and falls back to any day. When no day serves, why is the rule met most
// often.
func (s *Conditions) Next(f material.Family, rate quantity.Rate, caps material.Caps, laid []Scheduled, from,
	last quantity.Day) (day quantity.Day, why Why) {
	if from > last {
		return 0, PastHorizon
	}
	var met tally
	rules := rulesOf[f]
	other := quantity.Day(0)
	for d := from; d <= last; d++ {
		w := s.blocked(rules, d)
		if w == Free {
			w = s.spaced(f, rate, caps, laid, d)
		}
		if w == Free && s.Days.Free(d) {
			return d, Free
		}
		if w == Free && other == 0 {
			other = d
		}
		met.add(w)
	}
	if other != 0 {
		return other, Free
	}
	return 0, met.most()
}

// Rules returns the rule that blocks a rate of the family on a day, ignoring working days.
func (s *Conditions) Rules(f material.Family, rate quantity.Rate, caps material.Caps, d quantity.Day) Why {
	return rulesOf[f].Takes(s, f, rate, caps, d)
}

// Apart returns the rule that an application breaks on any day: too near to another of its family,
// or over the yearly cap.
func (s *Conditions) Apart(f material.Family, rate quantity.Rate, caps material.Caps, d quantity.Day) Why {
	return s.spaced(f, rate, caps, nil, d)
}

// tally counts the rules that blocked days; there are few, so it is a list.
type tally []struct {
	why Why
	n   int
}

func (t *tally) add(w Why) {
	for i := range *t {
		if (*t)[i].why == w {
			(*t)[i].n++
			return
		}
	}
	*t = append(*t, struct {
		why Why
		n   int
	}{w, 1})
}

// most returns the rule met most often, the first of equals.
func (t tally) most() Why {
	best, why := 0, Free
	for _, x := range t {
		if x.n > best {
			best, why = x.n, x.why
		}
	}
	return why
}

// slack lets a yearly cap be used in full in spite of rounding.
const slack quantity.Rate = 1e-6

func (s *Conditions) spaced(f material.Family, rate quantity.Rate, caps material.Caps, laid []Scheduled, d quantity.Day) Why {
	apart := quantity.Day(7 * caps.Weeks)
	later := false
	for i := range s.History {
		if p := &s.History[i]; caps.Counts(f, &p.Material) > 0 {
			if max(d-p.Date, p.Date-d) < apart {
				return TooSoon
			}
			later = later || p.Date > d
		}
	}
	for _, l := range laid {
		if max(d-l.Date, l.Date-d) < apart {
			return TooSoon
		}
		later = later || l.Date > d
	}
	if s.yearWith(f, &caps, laid, d)+rate > caps.Year+slack || later && s.laterYearFull(f, rate, caps, laid, d) {
		return YearFull
	}
	return Free
}

// yearWith returns what was applied of a family in the year ending on a day, including what was
// laid.
func (s *Conditions) yearWith(f material.Family, caps *material.Caps, laid []Scheduled, d quantity.Day) quantity.Rate {
	year := s.History.CountedInYear(caps, f, d)
	for _, l := range laid {
		if l.Date <= d && l.Date > d-yearDays {
			year += l.Rate
		}
	}
	return year
}

// laterYearFull reports whether an application on a day would exceed the cap of a year that ends
// later.
func (s *Conditions) laterYearFull(f material.Family, rate quantity.Rate, caps material.Caps, laid []Scheduled, d quantity.Day) bool {
	full := func(end quantity.Day) bool {
		return end > d && end < d+yearDays && s.yearWith(f, &caps, laid, end)+rate > caps.Year+slack
	}
	for i := range s.History {
		if p := &s.History[i]; caps.Counts(f, &p.Material) > 0 && full(p.Date) {
			return true
		}
	}
	return slices.ContainsFunc(laid, func(l Scheduled) bool { return full(l.Date) })
}
