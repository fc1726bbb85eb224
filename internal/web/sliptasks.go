package web

import (
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
)

// planned are the tasks to do: those of doses with their tests, and the steps of turning the
// bed over.
func planned(rec plots.BedRecord) (open, steps []garden.Task) {
	for _, t := range openOnly(rec) {
		if t.TurningID != nil {
			steps = append(steps, t)
		} else {
			open = append(open, t)
		}
	}
	return open, steps
}

// turnedNext adds the next step of turning the bed over to what is to be done.
func turnedNext(n next, w *desk.Worked, steps []garden.Task, today quantity.Day) next {
	if len(steps) == 0 {
		return n
	}
	first := steps[0]
	line := nextLine{When: words.NearDay(first.Due, today), Due: first.Due <= today,
		What: words.Capital(taskWords(first, w.Garden.Units(), w.Batch(first.BatchID)))}
	if more := len(steps) - 1; more > 0 {
		line.Then = "then " + words.Count(more, "step", "steps")
	}
	n.Lines = append([]nextLine{line}, n.Lines...)
	return n
}

func nextTasks(open []garden.Task, w *desk.Worked, today quantity.Day) next {
	n := next{Title: "In the year"}
	if o := w.Outdated; o != nil && (o.Now == nil || o.Changed()) {
		n.Says = "A later reading changed this dose: open it and see."
	}
	_, steps := planned(w.BedRecord)
	n = turnedNext(n, w, steps, today)
	n.Aside = oneMaterial(w, open)
	for _, t := range open {
		l := nextLine{When: words.NearDay(t.Due, today), Due: t.Due <= today}
		if t.Kind == garden.TaskRetest {
			l.What = retestBrief(&t, w, n.Aside == "")
			if t.PHAfter != nil {
				l.Then = "about " + words.PH(*t.PHAfter)
			}
		} else {
			l.What = brief(t.Total, w.Measure(t.BatchID), w.Garden.Units())
			if n.Aside == "" {
				l.What += " of " + w.Called(t.What, t.BatchID)
			}
			if t.PHAfter != nil {
				l.Then = "pH " + words.PH(*t.PHAfter)
			}
		}
		n.Lines = append(n.Lines, l)
	}
	for i := range w.Rests {
		x := &w.Rests[i]
		if !x.Lapsed && slices.ContainsFunc(open, func(t garden.Task) bool { return t.Kind == garden.TaskRetest && t.Due == x.Test }) {
			continue // told with its test
		}
		called := ""
		if n.Aside == "" {
			called = w.Called(x.What, x.BatchID)
		}
		l := nextLine{When: "then", What: words.Capital(restSays(w.Garden.Units(), x, called, w.Measure(x.BatchID), today))}
		if x.Lapsed {
			l.When = "lapsed"
		}
		n.Lines = append(n.Lines, l)
	}
	return n
}

// retestBrief is a test in a few words, with what waits for it.
func retestBrief(t *garden.Task, w *desk.Worked, name bool) string {
	var waits []string
	for i := range w.Rests {
		x := &w.Rests[i]
		if x.Lapsed || x.Test != t.Due {
			continue
		}
		amount := brief(x.Total, w.Measure(x.BatchID), w.Garden.Units())
		if name {
			amount += " of " + w.Called(x.What, x.BatchID)
		}
		waits = append(waits, amount)
	}
	if len(waits) == 0 {
		return "Test again, as before"
	}
	return "Test, then about " + words.List(waits)
}

// oneMaterial is what all goes among tasks are of, where it is one.
func oneMaterial(w *desk.Worked, tasks []garden.Task) (name string) {
	for _, t := range tasks {
		if t.Kind != garden.TaskGo {
			continue
		}
		called := w.Called(t.What, t.BatchID)
		if name != "" && called != name {
			return ""
		}
		name = called
	}
	return name
}
