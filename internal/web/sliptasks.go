package web

import (
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
			l.What = "Test again, as before"
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
