package bedstate

import (
	"fmt"
	"slices"
	"sync"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// YearWindow is a family's windows on the year ribbon.
type YearWindow struct {
	Family  material.Family
	Windows []calendar.Window
}

// ribbonFamilies are those that the ribbon shows, in order.
var ribbonFamilies = []material.Family{material.Lime, material.Ash, material.Sulfur}

// Windows returns, for each of the ribbon's families, the days on which at least one bed can take
// it.
func (v View) Windows(from, to quantity.Day) []YearWindow { return v.windows.between(v, from, to) }

// windows caches the computation for a view: with hundreds of beds it is the slowest part of a
// page.
type windows struct {
	mu       sync.Mutex
	from, to quantity.Day
	found    []YearWindow
}

func (w *windows) between(v View, from, to quantity.Day) []YearWindow {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.found != nil && w.from == from && w.to == to {
		return w.found
	}
	spots := v.spots(from)
	found := make([]YearWindow, len(ribbonFamilies))
	var all sync.WaitGroup
	for i, f := range ribbonFamilies {
		all.Go(func() { found[i] = YearWindow{f, union(spots[i], f, from, to)} })
	}
	all.Wait()
	w.from, w.to, w.found = from, to, found
	return found
}

// spot is one kind of bed as a family sees it: its conditions and caps.
type spot struct {
	season *calendar.Conditions
	caps   material.Caps
	f      material.Family
}

// takes returns the rule that blocks the least worthwhile amount of the family on a day, by the
// rules that date a dose.
func (x *spot) takes(rules calendar.Rules, d quantity.Day) calendar.Why {
	return rules.Takes(x.season, x.f, material.Worthwhile(x.f), x.caps, d)
}

// spots returns, for each of the ribbon's families, the beds that take it, each kind once.
func (v View) spots(from quantity.Day) [][]spot {
	out := make([][]spot, len(ribbonFamilies))
	seen := map[string]bool{}
	for i := range v.Beds {
		p := &v.Beds[i]
		if p.Bed.Kind == garden.KindHeap || p.Bed.Kind == garden.KindPots || p.Crop.Is(crop.NoAsh) {
			continue
		}
		s := p.Season
		s.History = slices.DeleteFunc(slices.Clone(s.History), func(x ledger.Application) bool { return x.Date <= from-ledger.YearDays })
		for at, f := range ribbonFamilies {
			caps, ok := material.CapsFor(f, p.Ground)
			if !ok || !caps.Offered() {
				continue
			}
			if key := spotKey(f, &s, caps); !seen[key] {
				seen[key] = true
				out[at] = append(out[at], spot{&s, caps, f})
			}
		}
	}
	for at, f := range ribbonFamilies {
		if len(out[at]) == 0 {
			climate := v.Garden.Warmth()
			caps, _ := material.CapsFor(f, soil.Ground{Worked: soil.Dug})
			out[at] = []spot{{&calendar.Conditions{Weather: &climate, Dug: true, SowingGap: crop.Unnamed.SowingGap()}, caps, f}}
		}
	}
	return out
}

// spotKey identifies kinds of bed that have the same windows.
func spotKey(f material.Family, s *calendar.Conditions, caps material.Caps) string {
	key := fmt.Sprint(f, s.Starts, s.Cleared, s.SowingGap, s.Perennial, s.Dug, s.SideDress, caps)
	for i := range s.History {
		p := &s.History[i]
		key += fmt.Sprint(p.Material.Kind, p.Date, p.Rate)
	}
	return key
}

// union merges the days on which any spot is free into windows; the first free spot settles a day.
func union(spots []spot, f material.Family, from, to quantity.Day) []calendar.Window {
	var out []calendar.Window
	rules := calendar.RulesOf(f)
	free := 0 // the last free spot is likely to be free again
	for d := from; d <= to; d++ {
		if why := spots[free].takes(rules, d); why.PlaceWide() {
			continue
		} else if why != calendar.Free {
			i := slices.IndexFunc(spots, func(x spot) bool { return x.takes(rules, d) == calendar.Free })
			if i < 0 {
				continue
			}
			free = i
		}
		best := f == material.Lime && spots[0].season.Autumn(d)
		if n := len(out) - 1; n >= 0 && out[n].To == d-1 && out[n].Best == best {
			out[n].To = d
			continue
		}
		out = append(out, calendar.Window{From: d, To: d, Best: best})
	}
	for i := range out {
		w := &out[i]
		if w.From > from && (i == 0 || out[i-1].To < w.From-1) {
			w.Opens = commonest(spots, rules, w.From-1)
		}
		if w.To < to && (i == len(out)-1 || out[i+1].From > w.To+1) {
			w.Closes = commonest(spots, rules, w.To+1)
		}
	}
	return out
}

// commonest returns the rule that blocks a family on most spots on a day.
func commonest(spots []spot, rules calendar.Rules, d quantity.Day) calendar.Why {
	count := map[calendar.Why]int{}
	best := calendar.Free
	for i := range spots {
		why := spots[i].takes(rules, d)
		count[why]++
		if n := count[why]; best == calendar.Free || n > count[best] || n == count[best] && why < best {
			best = why
		}
	}
	return best
}
