package calendar

import (
	"slices"

	"zephyrfield/agronomy/quantity"
)

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

// Try asks what comes of moving the item with an id to a day, today or later. The applications and
// the retest of one plan keep their order: it does not pass those before it, and those
// after it that it would pass are put after it.
func (s *Conditions) Try(items []Item, id int64, day, today quantity.Day) Trial {
	moved := slices.Clone(items)
	at := slices.IndexFunc(moved, func(it Item) bool { return it.ID == id })
	own := items[at]
	var before []Item // what may stand before it on some day
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
		if i != at && !heirs[moved[i].ID] && !t.Placed[i].Unmet {
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

// followers are the items that follow one, and those that follow them.
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
