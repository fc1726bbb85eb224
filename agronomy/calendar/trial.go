package calendar

import (
	"slices"

	"zephyrfield/agronomy/quantity"
)

// Trial is the outcome of moving an item to a day by hand.
type Trial struct {
	// Why is the rule that the day would break, Free if none. Retest is set when the item would
	// wait for one.
	Why    Why
	Retest bool
	// Serve are the windows of the year ahead, Before and After the nearest days in them; 0 if
	// none.
	Serve         []Window
	Before, After quantity.Day
	// Due are the planned days of all items after the move, Placed their computed dates, the item
	// on the first day that serves.
	Due    []quantity.Day
	Placed []Placed
}

// Try computes the outcome of moving an item to a day, today or later. The applications and the
// retest of one plan keep their order: the item does not pass those before it, and those after it
// are pushed behind it.
func (s *Conditions) Try(items []Item, id int64, day, today quantity.Day) Trial {
	moved := slices.Clone(items)
	at := slices.IndexFunc(moved, func(it Item) bool { return it.ID == id })
	own := items[at]
	var before []Item // items that can precede it on some day
	passes, heirs := quantity.Day(0), followers(moved, own.ID)
	for i := range moved {
		o := &moved[i]
		switch follows := o.after(&own); {
		case i == at:
			o.Due, o.Chosen = day, true
			continue
		case heirs[o.ID]:
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
	for i := range moved {
		if i != at && !heirs[moved[i].ID] && !t.Placed[i].Shortfall {
			x.landed[moved[i].ID] = t.Placed[i].Lands
		}
	}
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

// followers returns the items that follow one, and those that follow them.
func followers(items []Item, id int64) map[int64]bool {
	out := map[int64]bool{}
	for again := true; again; {
		again = false
		for i := range items {
			it := &items[i]
			if !out[it.ID] && slices.ContainsFunc(it.After, func(a After) bool { return a.Item == id || out[a.Item] }) {
				out[it.ID], again = true, true
			}
		}
	}
	return out
}

// add appends a day to the windows; was is the rule of the day before.
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
