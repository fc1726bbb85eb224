package dosing

import (
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// PlanOption plans an option's applications and retest, replacing those of an earlier dose, and
// returns the tasks.
func (w *Dose) PlanOption(tx Tx, today quantity.Day, o dose.Option, encode func(*Dose) (garden.JSON, error)) ([]garden.Task, error) {
	if why := w.waitsFor(o.CaCO3 > 0, o.CaCO3 < 0); why != "" {
		return nil, garden.Faults{"use": why}
	}
	if err := w.giveWay(tx, today, o); err != nil {
		return nil, err
	}
	raw, err := encode(w)
	if err != nil {
		return nil, err
	}
	plan := garden.Plan{BedID: w.Record.Bed.ID, Made: today, ReadingID: w.Used.ID, Target: w.Answer.Target, Request: raw,
		RestsApart: true}
	if err := tx.Insert(&plan); err != nil {
		return nil, err
	}
	tasks, rests := tasksOf(w, o, plan.ID)
	for i := range tasks {
		if err := tx.Insert(&tasks[i]); err != nil {
			return nil, err
		}
	}
	for i := range rests {
		if err := tx.Insert(&rests[i]); err != nil {
			return nil, err
		}
	}
	return tasks, nil
}

// waitsFor returns what work that raises pH, or lowers it, waits for: the test of the rest of an
// earlier dose of the same kind, unless this dose is based on a later reading; "" if there is none.
func (w *Dose) waitsFor(raises, lowers bool) string {
	for i := range w.Record.Rests {
		x := &w.Record.Rests[i]
		m, _ := material.Find(x.What)
		if x.Lapsed || x.Put == 0 || w.Used.Date > x.Put || !(m.Raises() && raises || m.Lowers() && lowers) {
			continue
		}
		if x.Test == 0 {
			return "the rest of the dose that was begun waits for a test; enter its reading first"
		}
		return "the rest of the dose that was begun waits for the test of " + text.DayYear(x.Test) + "; enter its reading first"
	}
	return ""
}

// giveWay removes the open tasks that a new plan replaces: those of plans that also move pH, or
// also do not. Feeds for potassium and doses for pH coexist. Preparation steps and feeds planned
// without a dose stay. Their waiting rests are dropped.
func (w *Dose) giveWay(tx Tx, today quantity.Day, o dose.Option) error {
	tasks, moves := w.Record.Tasks, map[int64]bool{}
	for i := range w.Record.Rests {
		x := &w.Record.Rests[i].Rest
		if m, _ := material.Find(x.What); m.MovesPH() {
			moves[x.PlanID] = true
		}
		if moves[x.PlanID] != (o.CaCO3 != 0) {
			continue
		}
		x.Settle(today, nil, "a new dose took its place")
		if err := tx.Update(x); err != nil {
			return err
		}
	}
	for _, t := range tasks {
		if m, _ := material.Find(t.What); t.Kind == garden.TaskApplication && t.PlanID != nil && m.MovesPH() {
			moves[*t.PlanID] = true
		}
	}
	for i := range tasks {
		t := &tasks[i]
		switch m, known := material.Find(t.What); {
		case t.State != garden.Open || t.PreparationID != nil:
			continue
		case t.PlanID != nil && moves[*t.PlanID] != (o.CaCO3 != 0):
			continue
		case t.PlanID == nil && known && !material.ByDoseOnly(m.Family):
			continue
		}
		if err := tx.Delete(t); err != nil {
			return err
		}
	}
	return nil
}

// tasksOf returns the applications and the retest of an option as tasks, and the rest that waits
// for a test and has no day.
func tasksOf(w *Dose, o dose.Option, plan int64) (out []garden.Task, rests []garden.Rest) {
	for _, g := range o.Applications {
		if g.RetestFirst {
			rests = w.wait(rests, o.Parts[g.Part], plan, g.Rate, g.Total)
			continue
		}
		t := garden.Task{BedID: w.Record.Bed.ID, PlanID: &plan, Kind: garden.TaskApplication, Due: g.Date, What: g.Kind, Rate: g.Rate,
			Total: g.Total,
			State: garden.Open, Depth: w.Request.Ground.Depth}
		if m, _ := material.Find(g.Kind); m.MovesPH() && g.PHAfter > 0 {
			after := quantity.PH(quantity.Round(float64(g.PHAfter), 2))
			t.PHAfter = &after
		}
		if b := w.Shelf[o.Parts[g.Part].Batch]; b != nil {
			t.BatchID = &b.ID
		}
		out = append(out, t)
	}
	retest := garden.Task{BedID: w.Record.Bed.ID, PlanID: &plan, Kind: garden.TaskRetest, Due: o.Retest, State: garden.Open,
		Method: w.Used.Method, Depth: w.Used.Depth}
	if ph := o.AtRetest.Median; ph > 0 {
		// The expected reading, with what will have reacted by then.
		ph = quantity.PH(quantity.Round(float64(ph), 2))
		retest.PHAfter = &ph
	}
	for _, p := range o.Parts {
		if p.Rest > 0 {
			rests = w.wait(rests, p, plan, p.Rest, p.RestTotal)
		}
	}
	return append(out, retest), rests
}

// wait saves the rest that waits for a test, added to one of the same material.
func (w *Dose) wait(rests []garden.Rest, p dose.Part, plan int64, rate quantity.Rate, total quantity.Mass) []garden.Rest {
	x := garden.Rest{BedID: w.Record.Bed.ID, PlanID: plan, What: p.Kind, Rate: rate, Total: total, State: garden.RestWaiting}
	if b := w.Shelf[p.Batch]; b != nil {
		x.BatchID = &b.ID
	}
	for i := range rests {
		if y := &rests[i]; y.What == x.What && (y.BatchID == nil) == (x.BatchID == nil) && (x.BatchID == nil || *y.BatchID == *x.BatchID) {
			y.Rate, y.Total = y.Rate+rate, y.Total+total
			return rests
		}
	}
	return append(rests, x)
}
