package calendar

import (
	"cmp"
	"math"
	"slices"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Item is work on a bed that wants a day: a go, or a retest where nothing goes on.
type Item struct {
	// ID tells items apart, and orders those of one day.
	ID int64
	// Plan joins the goes and the retest of one dose; 0 is none.
	Plan int64
	// Due is the day that it was planned for, or moved to by hand.
	Due quantity.Day
	// Material goes on; nil: a retest. Caps are the ground's for it, the zero Caps where
	// it has none.
	Material *material.Material
	Rate     quantity.Rate
	Caps     material.Caps
	// Chosen is set where the gardener moved it by hand: their own days do not bind it.
	Chosen bool
}

// Placed is where an item stands as things are.
type Placed struct {
	// Day is when it is due; before today where it is late and may go on now. Lands is
	// the day that the others reckon with: Day, or today.
	Day, Lands quantity.Day
	// Why is the rule that moved it off its day; Retest is set where it waits for one.
	Why    Why
	Retest bool
	// Unmet is set where no day within a year serves: it stands after that year, and
	// nothing reckons with it. Why is the rule that was met most often. Fits is how much
	// of its rate some day would still take, where that is what gives way least.
	Unmet bool
	Fits  quantity.Rate
	// OffDays is set where the gardener's own days gave way, since no day of theirs serves.
	OffDays bool
}

// Schedule puts each item on the first day from its own on which it can be done, in the
// order of those, and gives them in the order in which they came. What stands before is
// as good as on: all that follows keeps its distance from it, of its own family and of
// what must be kept apart, and stays under the year's cap. What is late is taken to go on
// today. A go of a plan waits for a retest of the plan that is due before it, and a retest
// stands its interval after the last go of its plan that was moved, by a rule or by hand. Nothing is left out.
func (s *Season) Schedule(items []Item, today quantity.Day) []Placed {
	x := scheduler{Season: *s, today: today, gates: map[int64]quantity.Day{}, last: map[int64]*Item{}, lastOn: map[int64]quantity.Day{}}
	x.History = slices.Clone(s.History)
	order := make([]int, len(items))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		return items[a].after(&items[b])
	})
	out := make([]Placed, len(items))
	for _, i := range order {
		if items[i].Material == nil {
			out[i] = x.retest(&items[i])
		} else {
			out[i] = x.goOn(&items[i])
		}
	}
	return out
}

// after orders items by their days; on one day a sample is taken before something goes on.
func (it *Item) after(other *Item) int {
	test := func(x *Item) int {
		if x.Material == nil {
			return 0
		}
		return 1
	}
	return cmp.Or(int(it.Due-other.Due), test(it)-test(other), cmp.Compare(it.ID, other.ID))
}

// scheduler lays items in their order; its season's history grows by what was laid.
type scheduler struct {
	Season
	today quantity.Day
	// gates are the retests that stand before later goes, last the goes before retests
	// that were moved, lastOn where those stand; all by plan.
	gates  map[int64]quantity.Day
	last   map[int64]*Item
	lastOn map[int64]quantity.Day
}

// caps of an item; none is no cap and no distance.
func (it *Item) caps() material.Caps {
	if it.Caps == (material.Caps{}) {
		endless := quantity.Rate(math.Inf(1))
		return material.Caps{Go: endless, Year: endless}
	}
	return it.Caps
}

func (x *scheduler) goOn(it *Item) Placed {
	p := Placed{}
	from := max(it.Due, x.today)
	if gate, ok := x.gates[it.Plan]; it.Plan != 0 && ok && gate >= from {
		from, p.Retest = gate+1, true
	}
	f, caps := it.Material.Family, it.caps()
	if it.Due < x.today && !p.Retest && x.Rules(f, it.Rate, caps, x.today) == Free {
		p.Day, p.Lands = it.Due, x.today // late, but it may go on
		x.lay(it, p)
		return p
	}
	s := x.Season
	if it.Chosen {
		s.Days = Days{}
	}
	day, why := s.Next(f, it.Rate, caps, nil, from, from+Horizon)
	if why != Free {
		return Placed{Day: from + Horizon + 1, Lands: from + Horizon + 1, Why: why, Unmet: true, Fits: x.fits(it, from)}
	}
	p.Day, p.Lands, p.OffDays = day, day, !s.Days.Free(day)
	if day > from {
		p.Why, p.Retest = x.Rules(f, it.Rate, caps, from), false
		if p.Why == Free {
			p.Why = OwnDays
		}
	}
	x.lay(it, p)
	return p
}

// lay takes an item for what went on.
func (x *scheduler) lay(it *Item, p Placed) {
	x.History = append(x.History, ledger.Application{Date: p.Lands, Material: *it.Material, Rate: it.Rate, Planned: true})
	if it.Plan != 0 && (p.Lands > it.Due || it.Chosen) {
		x.last[it.Plan], x.lastOn[it.Plan] = it, p.Lands
	}
}

// retest keeps a retest its material's interval after a go that was moved, and as long
// after ash and lime as a sample needs.
func (x *scheduler) retest(it *Item) Placed {
	due := it.Due
	if last, ok := x.last[it.Plan]; ok && it.Plan != 0 {
		due = max(due, Retest(last.Material, x.Weather, x.lastOn[it.Plan], 0, Yearly))
	}
	p := Placed{Day: due, Lands: max(due, x.today)}
	if soonest := Testable(x.History, p.Lands); soonest > p.Lands {
		p = Placed{Day: soonest, Lands: soonest, Why: TooSoonToTest}
		due = soonest
	}
	if due > x.today && !x.Days.Every() && !it.Chosen {
		p = x.onOwnDay(p)
	}
	if it.Plan != 0 {
		x.gates[it.Plan] = p.Lands
	}
	return p
}

// onOwnDay moves a retest on to a day on which the gardener works.
func (x *scheduler) onOwnDay(p Placed) Placed {
	for d := p.Day; d <= p.Day+Horizon; d++ {
		if x.Days.Free(d) {
			if d > p.Day {
				p.Why = OwnDays
			}
			p.Day, p.Lands = d, d
			return p
		}
	}
	p.OffDays = true
	return p
}

// fits is the most of an item that a day within a year would take.
func (x *scheduler) fits(it *Item, from quantity.Day) (most quantity.Rate) {
	f, caps := it.Material.Family, it.caps()
	for d := from; d <= from+Horizon; d++ {
		room := min(caps.Go, caps.Year-x.yearWith(f, nil, d))
		if room > most && x.Rules(f, room, caps, d) == Free {
			most = room
		}
	}
	return most
}

// Trial is what comes of moving an item to a day.
type Trial struct {
	// Why is the rule that the day would break; Free where it serves. Retest is set where
	// it waits for one.
	Why    Why
	Retest bool
	// Before and After are the nearest days that serve; no day where there is none within
	// a year.
	Before, After quantity.Day
	// Placed is where all would stand then, the item on the first day that serves.
	Placed []Placed
}

// Try asks what comes of moving the item with an id to a day, today or later.
func (s *Season) Try(items []Item, id int64, day, today quantity.Day) Trial {
	moved := slices.Clone(items)
	at := slices.IndexFunc(moved, func(it Item) bool { return it.ID == id })
	moved[at].Chosen = true
	placed := func(d quantity.Day) ([]Placed, bool) {
		moved[at].Due = d
		all := s.Schedule(moved, today)
		return all, all[at].Day == d
	}
	var t Trial
	ok := false
	if t.Placed, ok = placed(day); ok {
		return t
	}
	t.Why, t.Retest = t.Placed[at].Why, t.Placed[at].Retest
	if !t.Placed[at].Unmet {
		t.After = t.Placed[at].Day
	}
	for d := day - 1; d >= today && d >= day-Horizon; d-- {
		if _, ok := placed(d); ok {
			t.Before = d
			break
		}
	}
	return t
}
