package bedstate

import (
	"cmp"
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
	// Planting is the planting that it leads to; while it is open, not before tomorrow.
	Planting garden.Planting
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
				p.Sown = max(p.Sown, today+1)
				x.Planting = *p
			}
		}
	}
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
