package garden

import (
	"context"
	"fmt"
	"slices"
	"sync"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// YearWindow is the stretches of one family on the year ribbon.
type YearWindow struct {
	Family  material.Family
	Windows []calendar.Window
}

// ribbonFamilies are those that the ribbon shows, in order.
var ribbonFamilies = []material.Family{material.Lime, material.Ash, material.Sulfur}

// Year is what the ribbon shows.
type Year struct {
	From, To quantity.Day
	Windows  []YearWindow
	Tasks    []Task
	// Held are the goes among them that are held back.
	Held    map[int64]quantity.Day
	Samples []Sample
	Climate soil.Climate
	Weather soil.Weather
}

// Year finds, for each family, the days on which at least one bed of a view
// could take it, and the tasks, done and open.
func (k Keeper) Year(ctx context.Context, v View, from, to quantity.Day) (y Year, err error) {
	y.From, y.To = from, to
	y.Climate, y.Weather = v.Garden.ClimateNormals(), v.Garden.Weather()
	err = k.Store.Read(ctx, func(r Reader) error {
		if y.Tasks, err = r.TasksBetween(from.String(), to.String()); err != nil {
			return err
		}
		held, err := r.Held()
		if err != nil {
			return err
		}
		y.Held = heldOn(held, v.Today)
		v.onDays(y.Tasks)
		y.Samples, err = r.SamplesBetween(from.String(), to.String())
		return err
	})
	y.Windows = v.windows.between(v, from, to)
	return y, err
}

// windows are found once for a view: with hundreds of beds it is the longest part
// of a page.
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

// spot is one kind of bed as a family sees it: its season and its caps.
type spot struct {
	season *calendar.Season
	caps   material.Caps
	f      material.Family
}

// takes gives the rule that keeps the least of the family that is worth a go off
// on a day: the same rules by which a dose is dated.
func (x *spot) takes(rules calendar.Rules, d quantity.Day) calendar.Why {
	return rules.Takes(x.season, x.f, material.Worthwhile(x.f), x.caps, d)
}

// spots are, for each of the ribbon's families, the view's beds that take it, each
// kind once.
func (v View) spots(from quantity.Day) [][]spot {
	out := make([][]spot, len(ribbonFamilies))
	seen := map[string]bool{}
	for i := range v.Plots {
		p := &v.Plots[i]
		if p.Bed.Kind == KindHeap || p.Bed.Kind == KindPots || p.Crop.Is(crop.NoAsh) {
			continue
		}
		s := p.Season
		s.History = slices.DeleteFunc(slices.Clone(s.History), func(x ledger.Application) bool { return x.Date <= from-yearDays })
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
			climate := v.Garden.ClimateNormals()
			caps, _ := material.CapsFor(f, soil.Ground{Worked: soil.Dug})
			out[at] = []spot{{&calendar.Season{Weather: &climate, Dug: true, SowingGap: crop.Unnamed.SowingGap()}, caps, f}}
		}
	}
	return out
}

// spotKey tells kinds of bed apart as far as their windows differ.
func spotKey(f material.Family, s *calendar.Season, caps material.Caps) string {
	key := fmt.Sprint(f, s.Starts, s.Cleared, s.SowingGap, s.Perennial, s.Dug, s.SideDress, caps)
	for i := range s.History {
		p := &s.History[i]
		key += fmt.Sprint(p.Material.Kind, p.Date, p.Rate)
	}
	return key
}

// union joins the days on which any of the spots is free into stretches. A day
// that is free for one need not be asked of the others.
func union(spots []spot, f material.Family, from, to quantity.Day) []calendar.Window {
	var out []calendar.Window
	rules := calendar.RulesOf(f)
	free := 0 // the spot that was free last is likely to be free again
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

// commonest is the rule that keeps a family off most of the spots on a day.
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
