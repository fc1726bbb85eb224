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
	// nothing reckons with it. Why is the rule that was met most often, or the cap where
	// that is all that stands against it. Fits is how much
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
	x := s.scheduler(today)
	out := make([]Placed, len(items))
	for _, i := range ordered(items) {
		out[i] = x.place(&items[i])
	}
	return out
}

// ordered gives the places of items in the order in which they are dated.
func ordered(items []Item) []int {
	order := make([]int, len(items))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return items[a].after(&items[b]) })
	return order
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

func (s *Season) scheduler(today quantity.Day) *scheduler {
	x := &scheduler{Season: *s, today: today, gates: map[int64]quantity.Day{}, last: map[int64]*Item{}, lastOn: map[int64]quantity.Day{}}
	x.History = slices.Clone(s.History)
	return x
}

// place lays an item, and all that follow reckon with it.
func (x *scheduler) place(it *Item) Placed {
	if it.Material == nil {
		p := x.retest(it)
		if it.Plan != 0 {
			x.gates[it.Plan] = p.Lands
		}
		return p
	}
	p := x.goOn(it)
	if !p.Unmet {
		x.lay(it, p)
	}
	return p
}

// against gives the rule that would move an item, moved by hand, off its day.
func (x *scheduler) against(it *Item) (why Why, retest bool) {
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
		return p
	}
	s := x.Season
	if it.Chosen {
		s.Days = Days{}
	}
	day, why := s.Next(f, it.Rate, caps, nil, from, from+Horizon)
	if why != Free {
		fits := x.fits(it, from)
		if fits > 0 {
			why = YearFull // less of it would go on: that is what keeps it off
		}
		return Placed{Day: from + Horizon + 1, Lands: from + Horizon + 1, Why: why, Unmet: true, Fits: fits}
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

// Trial is what comes of moving an item to a day by hand.
type Trial struct {
	// Why is the rule that the day would break; Free where it serves. Retest is set where
	// it waits for one.
	Why    Why
	Retest bool
	// Serve are the stretches of the year ahead that serve, Before and After the nearest
	// days in them; no day where there is none.
	Serve         []Window
	Before, After quantity.Day
	// Due is for which day each would be planned then, Placed where all would stand, the
	// item on the first day that serves.
	Due    []quantity.Day
	Placed []Placed
}

// Try asks what comes of moving the item with an id to a day, today or later. The goes and
// the retest of one plan keep their order: it does not pass those before it, and those
// after it that it would pass are put after it.
func (s *Season) Try(items []Item, id int64, day, today quantity.Day) Trial {
	moved := slices.Clone(items)
	at := slices.IndexFunc(moved, func(it Item) bool { return it.ID == id })
	own := items[at]
	var before []Item // what may stand before it on some day
	passes := quantity.Day(0)
	for i := range moved {
		o := &moved[i]
		switch follows := o.after(&own); {
		case i == at:
			o.Due, o.Chosen = day, true
			continue
		case own.Plan == 0 || o.Plan != own.Plan:
		case follows > 0:
			o.Due = max(o.Due, day+1)
			continue
		default:
			passes = max(passes, o.Due)
		}
		before = append(before, *o)
	}
	t := Trial{Placed: s.Schedule(moved, today)}
	for i := range moved {
		t.Due = append(t.Due, moved[i].Due)
	}
	order, on := ordered(before), moved[at]
	x, next, was := s.scheduler(today), 0, Why("")
	for on.Due = today; on.Due <= max(day, today+Horizon); on.Due++ {
		for ; next < len(order) && before[order[next]].after(&on) < 0; next++ {
			x.place(&before[order[next]])
		}
		why, retest := x.against(&on)
		if on.Due <= passes {
			why, retest = PlanOrder, false
		}
		if on.Due == day {
			t.Why, t.Retest = why, retest
		}
		t.add(on.Due, day, why, retest, was)
		was = why
	}
	return t
}

// add joins a day to the stretches that serve; was is the rule of the day before.
func (t *Trial) add(d, day quantity.Day, why Why, retest bool, was Why) {
	n := len(t.Serve) - 1
	if why != Free || retest {
		if n >= 0 && t.Serve[n].To == d-1 {
			t.Serve[n].Closes = why
		}
		return
	}
	if n >= 0 && t.Serve[n].To == d-1 {
		t.Serve[n].To = d
	} else {
		t.Serve = append(t.Serve, Window{From: d, To: d, Opens: was})
	}
	if d < day {
		t.Before = d
	} else if d > day && t.After == 0 {
		t.After = d
	}
}
