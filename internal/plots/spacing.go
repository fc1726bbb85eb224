package plots

import (
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
)

// Move is why a task does not stand on the day that it was planned for.
type Move struct {
	From quantity.Day
	// Why is the rule that pushed a go; Retest is set where it waits for one.
	Why    calendar.Why
	Retest bool
}

// ahead puts each of a bed's open tasks on the day on which it can be done as
// things stand today, and says which were moved and why. A go that is late is
// taken to go on today; what follows it keeps its distance, and stays under the
// year's cap and within the windows of the season; a go that waits for a retest
// stands after it, and the last retest after the last go.
func (p *Plot) ahead(tasks []garden.Task, held map[int64]quantity.Day) map[int64]Move {
	x := spacer{season: &p.Season, ground: p.Ground, today: p.Date, laid: map[material.Family][]calendar.Laid{},
		gates: map[int64]quantity.Day{}, last: map[int64]garden.Task{}}
	out := map[int64]Move{}
	for i := range tasks {
		t := &tasks[i]
		if _, ok := held[t.ID]; ok || t.State != garden.Open {
			continue
		}
		m := Move{From: t.Due}
		if t.Kind == garden.TaskGo {
			t.Due, m.Why, m.Retest = x.goOn(*t)
			x.went(*t, m)
		} else {
			t.Due = x.retestOn(*t)
		}
		if t.Due != m.From {
			out[t.ID] = m
		}
	}
	return out
}

// ahead puts open tasks on the days on which they can be done, in the order of
// those, and says which were moved.
func (v *View) ahead(tasks []garden.Task) map[int64]Move {
	moved := map[int64]Move{}
	due := make(map[int64]quantity.Day, len(tasks))
	for bed, own := range ByBed(tasks, func(t garden.Task) int64 { return t.BedID }) {
		p, ok := v.Plot(bed)
		if !ok {
			continue
		}
		for id, m := range p.ahead(own, v.Held) {
			moved[id] = m
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

// onDays puts tasks that were read apart on the days of the view's own.
func (v *View) OnDays(tasks []garden.Task) {
	due := make(map[int64]quantity.Day, len(v.Tasks))
	for _, t := range v.Tasks {
		due[t.ID] = t.Due
	}
	for i := range tasks {
		if d, ok := due[tasks[i].ID]; ok {
			tasks[i].Due = d
		}
	}
	byDay(tasks)
}

// byDay puts tasks in the order of their days.
func byDay(tasks []garden.Task) {
	slices.SortStableFunc(tasks, func(a, b garden.Task) int { return int(a.Due - b.Due) })
}

// spacer lays a bed's open tasks in their order.
type spacer struct {
	season *calendar.Season
	ground soil.Ground
	today  quantity.Day
	laid   map[material.Family][]calendar.Laid
	// gates are the retests that stand before later goes, last the goes before
	// retests, where those were moved; both by plan.
	gates map[int64]quantity.Day
	last  map[int64]garden.Task
}

func (x *spacer) goOn(t garden.Task) (day quantity.Day, why calendar.Why, retest bool) {
	m, ok := material.Find(t.What)
	caps, offered := material.CapsFor(m.Family, x.ground)
	if !ok || !offered {
		return t.Due, calendar.Free, false
	}
	from := max(t.Due, x.today)
	if t.PlanID != nil {
		if gate := x.gates[*t.PlanID]; gate >= from {
			from, retest = gate+1, true
		}
	}
	day, why = x.season.Next(m.Family, t.Rate, caps, x.laid[m.Family], from, from+calendar.Horizon)
	switch {
	case why != calendar.Free: // no day serves: it is never due
		return from + calendar.Horizon + 1, why, false
	case day > from:
		_, why = x.season.Next(m.Family, t.Rate, caps, x.laid[m.Family], from, from)
		return day, why, false
	case from == x.today && !retest:
		return min(t.Due, x.today), calendar.Free, false // late, but it may go on
	}
	return day, calendar.Free, retest
}

// went notes when a go will be on at the earliest.
func (x *spacer) went(t garden.Task, m Move) {
	mat, _ := material.Find(t.What)
	day := max(t.Due, x.today)
	x.laid[mat.Family] = append(x.laid[mat.Family], calendar.Laid{Date: day, Rate: t.Rate})
	if t.PlanID != nil && day > m.From {
		t.Due = day
		x.last[*t.PlanID] = t
	}
}

// retestOn keeps a retest its material's interval after a go that was moved.
func (x *spacer) retestOn(t garden.Task) quantity.Day {
	if t.PlanID == nil {
		return t.Due
	}
	due := t.Due
	if last, ok := x.last[*t.PlanID]; ok {
		m, _ := material.Find(last.What)
		due = max(due, calendar.Retest(&m, x.season.Weather, last.Due, 0, calendar.Yearly))
	}
	x.gates[*t.PlanID] = max(due, x.today)
	return due
}

// stops says in words which rule a go of a rate would break on a day, today or
// earlier; "" is none.
func (p *Plot) Stops(u words.Units, m material.Material, rate quantity.Rate, day quantity.Day) string {
	caps, ok := material.CapsFor(m.Family, p.Ground)
	if !ok {
		return ""
	}
	season, name := &p.Season, words.Material(m.Kind)
	if rate > caps.Go*(1+1e-6) {
		return words.GoTooMuch(u, name, rate, caps.Go)
	}
	if why := season.Blocked(m.Family, day); why.Harms() {
		return words.GoKeptOff(why)
	}
	if season.Apart(m.Family, rate, caps, day) == calendar.TooSoon {
		return words.GoTooSoon(name, season.History.Nearest(m.Family, day), caps.Weeks)
	}
	// A year that ends after a go that is dated back holds it too.
	for end := day; end <= min(p.Date, day+ledger.YearDays-1); end++ {
		if had := season.History.InYear(m.Family, end); had+rate > caps.Year*(1+1e-6) {
			return words.GoYearFull(u, name, had, rate, caps.Year)
		}
	}
	return ""
}

// heldOn are the goes that were held back by a day.
func HeldOn(held []garden.Held, on quantity.Day) map[int64]quantity.Day {
	out := make(map[int64]quantity.Day, len(held))
	for _, h := range held {
		if h.Struck <= on {
			out[h.Task] = h.Struck
		}
	}
	return out
}
