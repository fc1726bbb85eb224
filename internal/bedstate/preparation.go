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

// Preparation is an open turning over of a bed.
type Preparation struct {
	garden.Preparation
	// Steps are its tasks, done and skipped ones too, in their order.
	Steps []garden.Task
	// Planting is what it is for: not planted before tomorrow, while it is open.
	Planting garden.Planting
	// Next is the crop of that planting.
	Next crop.Crop
}

// Stages returns its steps as the core has them.
func (t *Preparation) Stages() []bedprep.Stage {
	out := make([]bedprep.Stage, len(t.Steps))
	for i := range t.Steps {
		out[i] = t.Steps[i].Stage()
	}
	return out
}

// turningsIn returns the open turnings of all beds, with their steps but not yet their plantings.
func turningsIn(r Reader) (map[int64][]Preparation, error) {
	open, err := r.OpenPreparations()
	if err != nil || len(open) == 0 {
		return nil, err
	}
	steps, err := r.PreparationSteps()
	if err != nil {
		return nil, err
	}
	return gathered(open, steps), nil
}

// gathered puts steps to their turnings, by bed.
func gathered(open []garden.Preparation, steps []garden.Task) map[int64][]Preparation {
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

// unplanted takes what beds are still turned over for as not planted before tomorrow,
// whatever day was planned.
func (n *noted) unplanted(today quantity.Day) {
	if len(n.turnings) == 0 {
		return
	}
	n.plantings, n.turnings = slices.Clone(n.plantings), slices.Clone(n.turnings)
	for i := range n.turnings {
		x := &n.turnings[i]
		for j := range n.plantings {
			if p := &n.plantings[j]; p.ID == x.PlantingID {
				p.Sown = max(p.Sown, today+1)
				x.Planting = *p
			}
		}
	}
}

// turned puts what the steps of the bed's turnings wait for into items.
func (p *State) turned(items []calendar.Item, tasks []garden.Task, at []int) {
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

// Turned finds the open turning that a task is a step of; nil for none.
func (p *State) Turned(t garden.Task) *Preparation {
	for i := range p.Preparations {
		if t.PreparationID != nil && p.Preparations[i].ID == *t.PreparationID {
			return &p.Preparations[i]
		}
	}
	return nil
}

// Leading returns the bed for a task: a step of a turning is not bound by the planting that it
// leads to.
func (p *State) Leading(t garden.Task) *State {
	x := p.Turned(t)
	if x == nil {
		return p
	}
	q := *p
	q.Season = p.Season.LeadingTo(x.Planting.Sown)
	return &q
}

// Waits says in words why a step cannot be done on a day: one before it is still open, or
// what went before has not had its time; "" is none.
func (p *State) Waits(t garden.Task, on quantity.Day) string {
	x := p.Turned(t)
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
