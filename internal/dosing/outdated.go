package dosing

import (
	"slices"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// Outdated is a planned dose based on an older reading than the one used now.
type Outdated struct {
	Plan garden.Plan
	// Reading is its reading, Left its remaining amount.
	Reading garden.Reading
	Left    quantity.Mass
	What    material.Kind
	// Batch is its batch; nil for several, or none in stock.
	Batch *int64
	// Now is the same option by the current reading and Total its amount; nil and 0 if it is not
	// offered any more.
	Now   *dose.Option
	Total quantity.Mass
}

// leastChange is the relative difference of amounts that is worth reporting.
const leastChange = 0.05

// Changed reports whether the later reading leads to another amount.
func (o *Outdated) Changed() bool {
	most := max(o.Left, o.Total)
	return max(o.Left-o.Total, o.Total-o.Left) > quantity.Mass(leastChange*float64(most))
}

// outdated returns the planned dose that a later reading overtook.
func (w *Dose) outdated(r Reader) (*Outdated, error) {
	var open []garden.Task
	for _, t := range w.Record.Tasks {
		if m, _ := material.Find(t.What); t.State == garden.Open && t.Kind == garden.TaskApplication && t.PlanID != nil && m.MovesPH() {
			open = append(open, t)
		}
	}
	if len(open) == 0 {
		return nil, nil
	}
	plan, err := garden.Get[garden.Plan](r, *open[0].PlanID)
	if err != nil {
		return nil, err
	}
	i := slices.IndexFunc(w.Record.Readings, func(x garden.Reading) bool { return x.ID == plan.ReadingID })
	if i < 0 || plan.ReadingID == w.Used.ID || w.Used.Date <= w.Record.Readings[i].Date {
		return nil, nil
	}
	o := &Outdated{Plan: plan, Reading: w.Record.Readings[i], What: open[0].What}
	key := ""
	for _, t := range open {
		o.Left += t.Total
		k := string(t.What)
		if t.BatchID != nil {
			k = BatchKey(*t.BatchID)
		}
		switch {
		case key == "":
			key = k
		case !slices.Contains(splitKey(key), k):
			key = joinKey(key, k)
		}
	}
	if b := open[0].BatchID; b != nil && key == BatchKey(*b) {
		o.Batch = b
	}
	if now, ok := w.Pick(key); ok {
		o.Now = &now
		for _, p := range now.Parts {
			o.Total += p.Total
		}
	}
	return o, nil
}
