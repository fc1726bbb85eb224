package calendar

import (
	"cmp"
	"math"
	"slices"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Item is work to be scheduled on a bed: an application, a preparation step, or a retest, for which
// Material and Step are unset.
type Item struct {
	// ID is not 0 and unique; it orders items of one day.
	ID int64
	// Plan groups the applications and the retest of one dose; 0 is none.
	Plan int64
	// Due is the planned day, or the day chosen by hand.
	Due quantity.Day
	// Step is set for work that applies nothing and takes no sample; Open when it needs open
	// ground.
	Step, Open bool
	// After are items that it follows; NotBefore is the first day allowed by finished work, 0 for
	// any.
	After     []After
	NotBefore quantity.Day
	// Preparation groups the steps for one planting, 0 is none; For is that planting's day in the
	// conditions. The steps move it and are not bound by it. Plants is set on the planting itself.
	Preparation int64
	For         quantity.Day
	Plants      bool
	// Material is applied; nil for a step or a retest. Caps are the ground's limits for it, zero if
	// none.
	Material *material.Material
	Rate     quantity.Rate
	Caps     material.Caps
	// Chosen is set when the gardener chose the day: working days do not apply.
	Chosen bool
	// Rest is set on a test that the rest of its plan waits for.
	Rest bool
}

// After is an item with the least interval to it in days.
type After struct {
	Item int64
	Days quantity.Day
}

// Placed is an item's computed date.
type Placed struct {
	// Day is the day on which it is due; before today when it is late and may be applied now. Lands
	// is the day used for other items: Day, or today.
	Day, Lands quantity.Day
	// Why is the rule that moved it; Retest is set when it waits for one.
	Why    Why
	Retest bool
	// Shortfall is set when no day within a year is suitable: it is dated after that year and ignored by
	// other items. Why is then the rule met most often, or the cap if that is the only one. Fits is
	// how much of its rate some day would still take, if that is the least concession.
	Shortfall bool
	Fits      quantity.Rate
	// OffDays is set when no working day serves and another day is used.
	OffDays bool
}

// Schedule dates each item on the first day from its own on which it may be done, in order, and
// returns them in the order given. Earlier items count as done: later ones keep their intervals to
// them, within the family and to incompatible materials, and stay under the yearly cap. A late item
// counts as done today. An application of a plan waits for an earlier due retest of that plan, and
// a retest keeps its interval to the last application of its plan that was moved, by a rule or by
// hand. No item is dropped.
func (s *Conditions) Schedule(items []Item, today quantity.Day) []Placed {
	out := s.schedule(items, today)
	// A delayed planting moves what must keep its distance from it.
	for range mostPasses {
		moved, ok := s.replanted(items, out)
		if !ok {
			break
		}
		s = moved
		out = s.schedule(items, today)
	}
	return out
}

// mostPasses is the number of passes over moved plantings.
const mostPasses = 3

func (s *Conditions) schedule(items []Item, today quantity.Day) []Placed {
	x := s.scheduler(today)
	out := make([]Placed, len(items))
	for _, i := range ordered(items) {
		out[i] = x.place(&items[i])
	}
	return out
}

// replanted returns the conditions with plantings on their computed days; ok is false when nothing
// changed.
func (s *Conditions) replanted(items []Item, placed []Placed) (moved *Conditions, ok bool) {
	for i := range items {
		it := &items[i]
		if !it.Plants || it.For == 0 || placed[i].Shortfall {
			continue
		}
		for n := range s.Starts {
			if s.Starts[n].planned() != it.For || s.Starts[n].Day == placed[i].Lands {
				continue
			}
			if moved == nil {
				copied := *s
				copied.Starts, moved = slices.Clone(s.Starts), &copied
			}
			moved.Starts[n].Day, moved.Starts[n].was = placed[i].Lands, it.For
		}
	}
	return moved, moved != nil
}

// ordered returns the indexes of items in scheduling order: by day, none before what it follows.
func ordered(items []Item) []int {
	due := effective(items)
	order := make([]int, len(items))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		x, y := items[a], items[b]
		x.Due, y.Due = due[a], due[b]
		return x.after(&y)
	})
	if !slices.ContainsFunc(items, func(it Item) bool { return len(it.After) > 0 }) {
		return order
	}
	out, laid := make([]int, 0, len(items)), make([]bool, len(items))
	var lay func(i int)
	lay = func(i int) {
		if laid[i] {
			return
		}
		laid[i] = true
		for _, a := range items[i].After {
			if at := slices.IndexFunc(items, func(it Item) bool { return it.ID == a.Item }); at >= 0 {
				lay(at)
			}
		}
		out = append(out, i)
	}
	for _, i := range order {
		lay(i)
	}
	return out
}

// effective returns the days of items, none before what it follows allows.
func effective(items []Item) []quantity.Day {
	due, at := make([]quantity.Day, len(items)), make(map[int64]int, len(items))
	for i := range items {
		due[i], at[items[i].ID] = max(items[i].Due, items[i].NotBefore), i
	}
	for again, round := true, 0; again && round <= len(items); round++ {
		again = false
		for i := range items {
			for _, a := range items[i].After {
				if n, ok := at[a.Item]; ok && due[n]+a.Days > due[i] {
					due[i], again = due[n]+a.Days, true
				}
			}
		}
	}
	return due
}

// after orders items by day; on one day samples are taken before applications.
func (it *Item) after(other *Item) int {
	test := func(x *Item) int {
		if x.Material == nil {
			return 0
		}
		return 1
	}
	return cmp.Or(int(it.Due-other.Due), test(it)-test(other), cmp.Compare(it.ID, other.ID))
}

// scheduler places items in order; its conditions' history grows with each.
type scheduler struct {
	Conditions
	today quantity.Day
	// gates are the retests before later applications; last are the applications before moved
	// retests, lastOn their days; all by plan.
	gates  map[int64]quantity.Day
	last   map[int64]*Item
	lastOn map[int64]quantity.Day
	// landed is the day of each item that others may follow.
	landed map[int64]quantity.Day
}

func (s *Conditions) scheduler(today quantity.Day) *scheduler {
	x := &scheduler{Conditions: *s, today: today, gates: map[int64]quantity.Day{}, last: map[int64]*Item{}, lastOn: map[int64]quantity.Day{},
		landed: map[int64]quantity.Day{}}
	x.History = slices.Clone(s.History)
	return x
}

// place dates an item; all later ones take it into account.
func (x *scheduler) place(it *Item) Placed {
	x.own = it.For
	p := Placed{}
	switch {
	case it.Step:
		p = x.step(it)
	case it.Material == nil:
		p = x.retest(it)
		if it.Plan != 0 {
			x.gates[it.Plan] = p.Lands
		}
	default:
		if p = x.goOn(it); !p.Shortfall {
			x.lay(it, p)
		}
	}
	if !p.Shortfall {
		x.landed[it.ID] = p.Lands
	}
	return p
}

// first returns the first day allowed by what precedes an item.
func (x *scheduler) first(it *Item) quantity.Day {
	first := it.NotBefore
	for _, a := range it.After {
		if on, ok := x.landed[a.Item]; ok {
			first = max(first, on+a.Days)
		}
	}
	return first
}

// against returns the rule that would move an item that was moved by hand.
func (x *scheduler) against(it *Item) (why Why, retest bool) {
	x.own = it.For
	if it.Due < x.first(it) {
		return StepOrder, false
	}
	if it.Step {
		return x.shut(it, it.Due), false
	}
	if it.Material == nil {
		p := x.retest(it)
		if p.Day != it.Due && p.Why == Free {
			return TooSoonToTest, false
		}
		return p.Why, false
	}
	if gate, ok := x.gates[it.Plan]; it.Plan != 0 && ok && gate >= it.Due {
		return Free, true
	}
	return x.Rules(it.Material.Family, it.Rate, it.caps(), it.Due), false
}

// caps returns the item's limits; none is no cap and no interval.
func (it *Item) caps() material.Caps {
	if it.Caps == (material.Caps{}) {
		endless := quantity.Rate(math.Inf(1))
		return material.Caps{Once: endless, Year: endless}
	}
	return it.Caps
}

func (x *scheduler) goOn(it *Item) Placed {
	p := Placed{}
	first := x.first(it)
	from := max(it.Due, x.today, first)
	if gate, ok := x.gates[it.Plan]; it.Plan != 0 && ok && gate >= from {
		from, p.Retest = gate+1, true
	}
	if from == first && first > max(it.Due, x.today) {
		p.Why = StepOrder
	}
	f, caps := it.Material.Family, it.caps()
	s := x.Conditions
	if it.Chosen {
		s.Days = Days{}
	}
	if it.Due < x.today && from == x.today && !p.Retest && x.Rules(f, it.Rate, caps, x.today) == Free {
		// Late, and allowed: since the day that was announced while it was still to come.
		if day, why := s.Next(f, it.Rate, caps, nil, max(it.Due, first), from+Horizon); why == Free && day <= x.today {
			return Placed{Day: day, Lands: x.today, Why: x.moves(it, day), OffDays: !s.Days.Free(day)}
		}
	}
	day, why := s.Next(f, it.Rate, caps, nil, from, from+Horizon)
	if why != Free {
		fits := x.fits(it, from)
		if fits > 0 {
			why = YearFull // less would be allowed, so the cap is what blocks it
		}
		return Placed{Day: from + Horizon + 1, Lands: from + Horizon + 1, Why: why, Shortfall: true, Fits: fits}
	}
	p.Day, p.Lands, p.OffDays = day, day, !s.Days.Free(day)
	if day > from {
		p.Why, p.Retest = x.Rules(f, it.Rate, caps, from), false
		if p.Why == Free {
			p.Why = OwnDays
		}
	}
	return p
}

// moves returns the rule that moved a late item from its own day to another.
func (x *scheduler) moves(it *Item, day quantity.Day) Why {
	if day == it.Due {
		return Free
	}
	if it.Due < x.first(it) {
		return StepOrder
	}
	if why := x.Rules(it.Material.Family, it.Rate, it.caps(), it.Due); why != Free {
		return why
	}
	return OwnDays
}

// lay records an item as applied.
func (x *scheduler) lay(it *Item, p Placed) {
	x.History = append(x.History, ledger.Application{Date: p.Lands, Material: *it.Material, Rate: it.Rate, Planned: true})
	if it.Plan != 0 && (p.Lands > it.Due || it.Chosen) {
		x.last[it.Plan], x.lastOn[it.Plan] = it, p.Lands
	}
}

// shut returns the rule that blocks a step which needs open ground.
func (x *scheduler) shut(it *Item, d quantity.Day) Why {
	switch {
	case !it.Open:
		return Free
	case d < x.ShutUntil:
		return ShutGround
	case soil.Frozen(x.Weather.At(d)):
		return FrozenGround
	}
	return Free
}

// step dates a step on the first day that what precedes it allows, with open ground if it needs
// that.
func (x *scheduler) step(it *Item) Placed {
	p := Placed{Day: it.Due}
	if first := x.first(it); first > p.Day {
		p.Day, p.Why = first, StepOrder
	}
	p.Lands = max(p.Day, x.today)
	for d := p.Lands; d <= p.Lands+Horizon; d++ {
		if why := x.shut(it, d); why != Free {
			p.Why = why
			continue
		}
		if d > p.Lands {
			p.Day, p.Lands = d, d
		}
		break
	}
	if !x.Days.Every() && !it.Chosen {
		p = x.onOwnDay(p)
	}
	return p
}

// retest dates a retest its material's interval after a moved application, and long enough after
// ash and lime for a sample.
func (x *scheduler) retest(it *Item) Placed {
	due := it.Due
	if last, ok := x.last[it.Plan]; ok && it.Plan != 0 {
		after := Retest(last.Material, x.Weather, x.lastOn[it.Plan], 0, Yearly)
		if it.Rest {
			after = PaceTest(last.Material, x.Weather, x.lastOn[it.Plan])
		}
		due = max(due, after)
	}
	p := Placed{Day: due, Lands: max(due, x.today)}
	if first := x.first(it); first > due {
		p = Placed{Day: first, Lands: max(first, x.today), Why: StepOrder}
	}
	// What was announced stays the day when it has come, unless the soil was treated since.
	soonest := Testable(x.History, p.Day)
	if soonest <= x.today {
		if again := Testable(x.History, x.today); again > x.today {
			soonest = again
		}
	}
	if soonest > p.Day {
		p = Placed{Day: soonest, Lands: max(soonest, x.today), Why: TooSoonToTest}
	}
	if !x.Days.Every() && !it.Chosen {
		p = x.onOwnDay(p)
	}
	return p
}

// onOwnDay moves a step or a retest to a working day; a late one is late since that day.
func (x *scheduler) onOwnDay(p Placed) Placed {
	for d := p.Day; d <= p.Day+Horizon; d++ {
		if x.Days.Free(d) {
			if d > p.Day {
				p.Why = OwnDays
			}
			p.Day, p.Lands = d, max(d, x.today)
			return p
		}
	}
	p.OffDays = true
	return p
}

// fits returns the most of an item that a day within a year would take.
func (x *scheduler) fits(it *Item, from quantity.Day) (most quantity.Rate) {
	f, caps := it.Material.Family, it.caps()
	for d := from; d <= from+Horizon; d++ {
		room := min(caps.Once, caps.Year-x.yearWith(f, &caps, nil, d))
		if room > most && x.Rules(f, room, caps, d) == Free {
			most = room
		}
	}
	return most
}
