package bedstate

import (
	"cmp"
	"maps"
	"slices"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// Preparation is an open preparation of a bed.
type Preparation struct {
	garden.Preparation
	// Steps are its tasks in order, including done and skipped ones.
	Steps []garden.Task
	// Planting is the planting that it leads to, on the day to which its steps put it; while it is
	// open, not before tomorrow.
	Planting garden.Planting
	// Meant is the day for which it was planned, Plants the day of the step that plants it.
	Meant, Plants quantity.Day
	// Next is that planting's crop.
	Next crop.Crop
}

// Stages returns its steps for package bedprep.
func (t *Preparation) Stages() []bedprep.Stage {
	out := make([]bedprep.Stage, len(t.Steps))
	for i := range t.Steps {
		out[i] = t.Steps[i].Stage()
	}
	return out
}

// openPreparations returns the open preparations of all beds with their steps, without their
// plantings.
func openPreparations(r Reader) (map[int64][]Preparation, error) {
	open, err := r.OpenPreparations()
	if err != nil || len(open) == 0 {
		return nil, err
	}
	steps, err := r.PreparationSteps()
	if err != nil {
		return nil, err
	}
	return withSteps(open, steps), nil
}

// withSteps adds steps to their preparations, by bed.
func withSteps(open []garden.Preparation, steps []garden.Task) map[int64][]Preparation {
	out := map[int64][]Preparation{}
	for _, t := range open {
		x := Preparation{Preparation: t}
		for _, s := range steps {
			if s.PreparationID != nil && *s.PreparationID == t.ID {
				x.Steps = append(x.Steps, s)
			}
		}
		slices.SortStableFunc(x.Steps, func(a, b garden.Task) int { return cmp.Compare(a.Place, b.Place) })
		out[t.BedID] = append(out[t.BedID], x)
	}
	return out
}

// unplanted moves the plantings of open preparations to tomorrow at the earliest.
func (n *noted) unplanted(today quantity.Day) {
	if len(n.preparations) == 0 {
		return
	}
	n.plantings, n.preparations = slices.Clone(n.plantings), slices.Clone(n.preparations)
	for i := range n.preparations {
		x := &n.preparations[i]
		for j := range n.plantings {
			if p := &n.plantings[j]; p.ID == x.PlantingID {
				x.Meant, x.Plants = p.Sown, p.Sown
				p.Sown = max(p.Sown, today+1)
				x.Planting = *p
			}
		}
	}
}

// plantingDays are the days of steps that plant, by planting.
type plantingDays map[int64]quantity.Day

// plantingDays returns the days to which the steps of open preparations put their plantings, where
// these are not the plantings' own.
func (p *State) plantingDays(tasks []garden.Task) plantingDays {
	out := plantingDays{}
	for i := range p.Preparations {
		x := &p.Preparations[i]
		for n := range tasks {
			t := &tasks[n]
			if t.State == garden.Open && t.Step == bedprep.Plant && t.PreparationID != nil && *t.PreparationID == x.ID && t.Due != x.Plants {
				out[x.PlantingID] = t.Due
			}
		}
	}
	return out
}

// replant moves the plantings of open preparations to the days of their steps, at the earliest
// tomorrow, and reports whether any moved.
func (n *noted) replant(days plantingDays, today quantity.Day) (moved bool) {
	for i := range n.preparations {
		x := &n.preparations[i]
		day, ok := days[x.PlantingID]
		if !ok {
			continue
		}
		x.Plants, moved = day, true
		for j := range n.plantings {
			if p := &n.plantings[j]; p.ID == x.PlantingID {
				p.Sown = max(day, today+1)
				x.Planting = *p
			}
		}
	}
	if moved {
		slices.SortStableFunc(n.plantings, func(a, b garden.Planting) int { return cmp.Compare(a.Sown, b.Sown) })
	}
	return moved
}

// replant puts the plantings of open preparations on the days of their steps, and judges their beds
// anew.
func (v *View) replant() {
	v.planted = plantingDays{}
	tasks := ByBed(v.Tasks, func(t garden.Task) int64 { return t.BedID })
	for i := range v.Beds {
		p := &v.Beds[i]
		days := p.plantingDays(tasks[p.Bed.ID])
		n := v.noted[p.Bed.ID]
		if n.replant(days, v.Today) {
			maps.Copy(v.planted, days)
			v.noted[p.Bed.ID] = n
			v.Beds[i] = newState(p.Bed, n, v.Garden, v.Library, v.Today)
		}
	}
}

// preparationsOf reads the bed's open preparations.
func (rec *Record) preparationsOf(r Reader, id int64) ([]Preparation, error) {
	all, err := garden.Where[garden.Preparation](r, "bed_id", id)
	open := slices.DeleteFunc(all, func(t garden.Preparation) bool { return !t.Open() })
	return withSteps(open, rec.Tasks)[id], err
}

// prepare adjusts the bed's plantings to its open preparations.
func (rec *Record) prepare(open []Preparation, today quantity.Day) {
	n := rec.noted()
	n.preparations = open
	n.unplanted(today)
	rec.Plantings, rec.State.Preparations = n.plantings, n.preparations
}

// PlantingDay returns the day of a planting: that of the step that plants it while its bed is being
// prepared, at the earliest the state's, else its own.
func (p *State) PlantingDay(x garden.Planting) quantity.Day {
	for i := range p.Preparations {
		if t := &p.Preparations[i]; t.PlantingID == x.ID {
			return max(t.Plants, p.Date)
		}
	}
	return x.Sown
}

// link adds what the steps of the bed's preparations depend on to items.
func (p *State) link(items []calendar.Item, tasks []garden.Task, at []int) {
	for i := range p.Preparations {
		x := &p.Preparations[i]
		stages := x.Stages()
		links := bedprep.Chain(stages, p.Season.History, x.Next)
		for n := range items {
			t := &tasks[at[n]]
			if t.PreparationID == nil || *t.PreparationID != x.ID {
				continue
			}
			it := &items[n]
			it.Preparation, it.For, it.Plants = x.ID, x.Planting.Sown, t.Step == bedprep.Plant
			if own := slices.IndexFunc(stages, func(s bedprep.Stage) bool { return s.Item == t.ID }); own >= 0 {
				it.After, it.NotBefore = links[own].After, links[own].NotBefore
			}
		}
	}
}

// PreparationOf returns the open preparation that a task belongs to, or nil.
func (p *State) PreparationOf(t garden.Task) *Preparation {
	for i := range p.Preparations {
		if t.PreparationID != nil && p.Preparations[i].ID == *t.PreparationID {
			return &p.Preparations[i]
		}
	}
	return nil
}

// Leading returns the bed for a task: a preparation step is not bound by the planting that it leads
// to.
func (p *State) Leading(t garden.Task) *State {
	x := p.PreparationOf(t)
	if x == nil {
		return p
	}
	q := *p
	q.Season = p.Season.LeadingTo(x.Planting.Sown)
	return &q
}

// Waits returns the reason why a step cannot be done on a day: an earlier step is open, or its wait
// is not over; "" if there is none.
func (p *State) Waits(t garden.Task, on quantity.Day) string {
	x := p.PreparationOf(t)
	if x == nil {
		return ""
	}
	stages := x.Stages()
	for i, link := range bedprep.Chain(stages, p.Season.History, x.Next) {
		if stages[i].Item != t.ID {
			continue
		}
		for _, before := range stages[:i] {
			if before.Settled == 0 {
				return text.StepWaits(before.ID, before.Says)
			}
		}
		if on < link.NotBefore {
			return text.StepTooSoon(link.NotBefore)
		}
	}
	return ""
}
