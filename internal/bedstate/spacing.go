package bedstate

import (
	"slices"
	"strings"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// Move is why a task is not on its planned day.
type Move struct {
	From quantity.Day
	calendar.Placed
}

// Items returns a bed's open tasks as calendar items, without held ones; at maps items to tasks.
func (p *State) Items(tasks []garden.Task, held map[int64]quantity.Day) (items []calendar.Item, at []int) {
	for i, t := range tasks {
		if _, ok := held[t.ID]; ok || t.State != garden.Open {
			continue
		}
		it := calendar.Item{ID: t.ID, Due: t.Due, Rate: t.Rate, Chosen: t.Chosen, Step: t.Kind == garden.TaskStep, Open: t.Step.Opens()}
		if t.PlanID != nil {
			it.Plan, it.Rest = *t.PlanID, t.Kind == garden.TaskRetest && p.waits[*t.PlanID]
		}
		if m, ok := material.Find(t.What); ok && t.Kind == garden.TaskApplication {
			it.Material = &m
			it.Caps, _ = m.CapsOn(p.Ground)
		}
		items, at = append(items, it), append(at, i)
	}
	p.link(items, tasks, at)
	return items, at
}

// chances returns the last days of a bed's open applications whose window closes soon.
func (p *State) chances(tasks []garden.Task, held map[int64]quantity.Day) map[int64]quantity.Day {
	out := map[int64]quantity.Day{}
	for i := range tasks {
		t := &tasks[i]
		m, ok := material.Find(t.What)
		if _, h := held[t.ID]; h || !ok || t.State != garden.Open || t.Kind != garden.TaskApplication || t.Due > p.Date+calendar.ChanceDays {
			continue
		}
		caps, ok := m.CapsOn(p.Ground)
		if !ok {
			continue
		}
		if last := p.Season.LastChance(m.Family, t.Rate, caps, max(p.Date, t.Due)); last != 0 && last <= p.Date+calendar.ChanceDays {
			out[t.ID] = last
		}
	}
	return out
}

// ahead computes the day of each of a bed's open tasks as of today, and which were moved and why.
func (p *State) ahead(tasks []garden.Task, held map[int64]quantity.Day) map[int64]Move {
	out := map[int64]Move{}
	items, at := p.Items(tasks, held)
	for n, x := range p.Season.Schedule(items, p.Date) {
		if t := &tasks[at[n]]; x.Day != t.Due || x.OffDays {
			out[t.ID] = Move{t.Due, x}
			t.Due = x.Day
		}
	}
	return out
}

// ahead computes the days of open tasks, sorts them, and returns which were moved.
func (v *View) ahead(tasks []garden.Task) map[int64]Move {
	v.Last = map[int64]quantity.Day{}
	moved := map[int64]Move{}
	due := make(map[int64]quantity.Day, len(tasks))
	for bed, own := range ByBed(tasks, func(t garden.Task) int64 { return t.BedID }) {
		p, ok := v.Bed(bed)
		if !ok {
			continue
		}
		for id, m := range p.ahead(own, v.Held) {
			moved[id] = m
		}
		for id, last := range p.chances(own, v.Held) {
			v.Last[id] = last
		}
		for _, t := range own {
			due[t.ID] = t.Due
		}
	}
	for i := range tasks {
		if d, ok := due[tasks[i].ID]; ok {
			tasks[i].Due = d
		}
	}
	byDay(tasks)
	return moved
}

// byDay sorts tasks by day.
func byDay(tasks []garden.Task) {
	slices.SortStableFunc(tasks, func(a, b garden.Task) int { return int(a.Due - b.Due) })
}

// Stops returns the rule that an application breaks on a day, today or earlier, in words: guards of
// the bed, day rules, caps; "" is none.
func (p *State) Stops(u text.Units, m material.Material, rate quantity.Rate, day quantity.Day) string {
	if p.Bed.Kind == garden.KindHeap {
		return p.heapStops(m.Family, day)
	}
	if stops := guard.Against(&p.Judgement, &material.Batch{Material: m, Condition: material.Dry, Source: material.Clean}); len(stops) > 0 {
		return text.Lower(strings.TrimSuffix(u.Guard(stops[0]).Says, "."))
	}
	caps, ok := m.CapsOn(p.Ground)
	if !ok {
		return ""
	}
	if !caps.Offered() {
		return text.Lower(strings.TrimSuffix(u.Guard(guard.NotOffered(m.Kind, p.Ground.Use, p.Ground.Worked)).Says, "."))
	}
	season, name := &p.Season, text.Material(m.Kind)
	if rate > caps.Once*(1+1e-6) {
		return text.ApplicationTooMuch(u, name, rate, caps.Once)
	}
	if why := season.Blocked(m.Family, day); why.Harms() {
		return text.ApplicationKeptOff(why)
	}
	if season.Apart(m.Family, rate, caps, day) == calendar.TooSoon {
		return text.ApplicationTooSoon(name, season.History.Nearest(m.Family, day), caps.Weeks)
	}
	// A year that ends after a backdated application includes it too.
	for end := day; end <= min(p.Date, day+ledger.YearDays-1); end++ {
		if had := season.History.CountedInYear(&caps, m.Family, end); had+rate > caps.Year*(1+1e-6) {
			return text.ApplicationYearFull(u, name, had, rate, caps.Year)
		}
	}
	return ""
}

// heapStops returns why a material does not go into a heap: liming materials drive ammonia out.
// Caps, crops and winters of beds do not apply.
func (p *State) heapStops(f material.Family, day quantity.Day) string {
	for _, r := range calendar.RulesOf(f) {
		if why := (calendar.Rules{r}).Blocked(&p.Season, day); why == calendar.NearNitrogen || why == calendar.NearLime {
			return text.ApplicationKeptOff(why)
		}
	}
	return ""
}

// HeldBackOn returns the applications that were held on a day.
func HeldBackOn(held []garden.Held, day quantity.Day) map[int64]quantity.Day {
	out := make(map[int64]quantity.Day, len(held))
	for _, h := range held {
		if h.Struck <= day {
			out[h.Task] = h.Struck
		}
	}
	return out
}

// heldOn reads the applications that are held on a day.
func heldOn(r Reader, day quantity.Day) (map[int64]quantity.Day, error) {
	held, err := r.Held()
	return HeldBackOn(held, day), err
}
