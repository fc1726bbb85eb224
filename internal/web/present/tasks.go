package present

import (
	"slices"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/site"
)

// MissedView is an application that missed its window, with its new day to confirm.
type MissedView struct {
	ID, Version   int64
	Says, To, Key string
	Button        string
}

// WaitView is a bed's rest that waits for a test.
type WaitView struct{ Bed, Href, Says, Fact string }

// TaskWords returns a task in a line; b is its batch, or nil.
func TaskWords(t garden.Task, u text.Units, b *garden.Batch) string {
	switch {
	case t.Kind == garden.TaskStep || t.Kind == garden.TaskRetest && t.Step != "":
		return text.Lower(text.StepName(t.Step, t.Says))
	case t.Kind == garden.TaskRetest:
		return "a retest"
	}
	var scoop *text.Scoop
	if b != nil {
		scoop = b.Measure()
	}
	return u.Amount(t.Total, scoop) + " of " + garden.Called(t.What, b)
}

// SkippedWords returns why a task was skipped.
func SkippedWords(t garden.Task) string {
	if t.Why == "" {
		return "skipped"
	}
	return "skipped: " + t.Why
}

// InScoops is the measure of amounts counted in scoops, inBags in whole bags.
const (
	InScoops = "scoops"
	InBags   = "bags"
)

// MovesPH reports whether a material changes the soil's pH.
func MovesPH(k material.Kind) bool {
	m, ok := material.Find(k)
	return ok && (m.Raises() || m.Lowers())
}

// RestAmount returns the waiting part of an option, by material if there are several; "" for none.
func RestAmount(w *dosing.Dose, o *dose.Option) string {
	var parts []string
	for n := range o.Parts {
		p := &o.Parts[n]
		if p.Rest <= 0 {
			continue
		}
		says := Brief(p.RestTotal, StockMeasure(w, p.Batch), w.Garden.Units())
		if len(o.Parts) > 1 {
			says += " of " + PartName(w, n, *o)
		}
		parts = append(parts, says)
	}
	return text.List(parts)
}

// RestWords returns the sentence on the waiting part of an option and its test; "" for none.
func RestWords(w *dosing.Dose, o *dose.Option, today quantity.Day) string {
	amount := RestAmount(w, o)
	if amount == "" {
		return ""
	}
	return text.RestAfter(amount, text.NearDay(o.Retest, today))
}

// RestSays returns the sentence on the rest of a planned dose of a bed.
func RestSays(u text.Units, x *bedstate.Rest, called string, measure *text.Scoop, today quantity.Day) string {
	amount := Brief(x.Total, measure, u)
	if called != "" {
		amount += " of " + called
	}
	switch {
	case x.Lapsed:
		return text.RestLapsed(amount)
	case x.Test == 0:
		return text.RestAfter(amount, "")
	}
	return text.RestAfter(amount, text.NearDay(x.Test, today))
}

// WaitsOn returns the rests of a day's sheet.
func WaitsOn(sh schedule.Sheet) (out []WaitView) {
	for i := range sh.Rests {
		x := &sh.Rests[i]
		called := garden.Called(x.What, garden.BatchIn(sh.Batches, x.BatchID))
		out = append(out, WaitView{sh.Beds[x.BedID].Name, site.BedHref(x.BedID),
			RestSays(sh.Garden.Units(), x, called, MeasureOf(sh.Batches, x.BatchID), sh.Today), fact.Rest(x.ID)})
	}
	return out
}

// WaitsFor returns what waits for a test.
func WaitsFor(sh schedule.Sheet, test garden.Task) (says string) {
	for i := range sh.Rests {
		if x := &sh.Rests[i]; test.PlanID != nil && x.PlanID == *test.PlanID && !x.Lapsed {
			says += " " + text.Sentence(text.RestWaits(sh.Garden.Units().Amount(x.Total, MeasureOf(sh.Batches, x.BatchID))))
		}
	}
	return says
}

// Surprise is the sentence on a bed's surprising test, or on its confirmation, with its name for
// data-fact. Every page that shows a bed's pH shows it.
type Surprise struct {
	Says, Fact string
	// Open is set while the test waits to be confirmed.
	Open bool
}

// SurpriseOf returns it for a bed's record; nil where no test surprised.
func SurpriseOf(b *bedstate.Record) *Surprise {
	fact := fact.Bed(b.Bed.ID, "surprise")
	if s := b.Lesson.Surprise(); s != nil {
		return &Surprise{text.Surprised(s), fact, true}
	}
	if b.State.Reading == nil {
		return nil
	}
	if v, ok := b.Lesson.Verdict(b.State.Reading.Date); ok {
		return &Surprise{text.Confirmed(&v), fact, false}
	}
	return nil
}

// SurpriseRuns returns it as the beginning of a verdict.
func SurpriseRuns(b *bedstate.Record) []Run {
	x := SurpriseOf(b)
	if x == nil {
		return nil
	}
	return []Run{{x.Says, "strong", x.Fact}, {Text: " "}}
}

// MissedOn returns the applications of a day's sheet that missed their windows.
func MissedOn(sh schedule.Sheet) (out []MissedView) {
	for _, t := range sh.Missed {
		what := TaskWords(t, sh.Garden.Units(), garden.BatchIn(sh.Batches, t.BatchID))
		out = append(out, MissedView{ID: t.ID, Version: t.Version, Says: text.Missed(what, sh.Beds[t.BedID].Name, t.Due) + ".",
			To: t.Due.String(), Key: form.NewKey(), Button: "Plan for " + text.NearDay(t.Due, sh.Today)})
	}
	return out
}

// MovedWords is why an open task is not on its planned day, and what that is called in data-fact;
// both are "" where it is on it.
type MovedWords struct{ Says, Fact string }

// MovedOf returns why a task was moved.
func MovedOf(moved map[int64]bedstate.Move, t garden.Task, u text.Units) (x MovedWords) {
	if m, ok := moved[t.ID]; ok {
		x.Says, x.Fact = u.Moved(m.From, m.Placed), fact.Why(t)
	}
	return x
}

// planned returns the open tasks: those of doses with their tests, and preparation steps.
func planned(rec bedstate.Record) (open, steps []garden.Task) {
	for _, t := range openOnly(rec) {
		if t.PreparationID != nil {
			steps = append(steps, t)
		} else {
			open = append(open, t)
		}
	}
	return open, steps
}

// preparationNext adds the next preparation step.
func preparationNext(n next, w *dosing.Dose, steps []garden.Task, today quantity.Day) next {
	if len(steps) == 0 {
		return n
	}
	first := steps[0]
	line := nextLine{When: text.NearDay(first.Due, today), Due: first.Due <= today,
		What: text.Capital(TaskWords(first, w.Garden.Units(), w.Batch(first.BatchID)))}
	if more := len(steps) - 1; more > 0 {
		line.Then = "then " + text.Count(more, "step", "steps")
	}
	n.Lines = append([]nextLine{line}, n.Lines...)
	return n
}

// nextTasks lists what is to do, each test with what it should read by the bed's forecast as things
// stand: with what went on and what is planned before it.
func nextTasks(open []garden.Task, w *dosing.Dose, coming bedstate.Coming, today quantity.Day) next {
	n := next{Title: "Planned"}
	if o := w.Outdated; o != nil && (o.Now == nil || o.Changed()) {
		n.Says = "A later reading changed this dose: open it and see."
	}
	_, steps := planned(w.Record)
	n = preparationNext(n, w, steps, today)
	n.Aside = oneMaterial(w, open)
	for _, t := range open {
		l := nextLine{When: text.NearDay(t.Due, today), Due: t.Due <= today, Fact: fact.Amount(t), DueFact: fact.Due(t),
			Moved: MovedOf(w.Record.Moved, t, w.Garden.Units())}
		if t.Kind == garden.TaskRetest {
			l.What, l.Fact = retestBrief(&t, w, n.Aside == "")
			if ph, ok := (bedstate.ForecastOutlook{}).Expect(coming, t.Due); ok {
				l.Then = "about " + text.PH(ph)
			}
		} else {
			l.What = Brief(t.Total, w.Measure(t.BatchID), w.Garden.Units())
			if n.Aside == "" {
				l.What += " of " + w.Called(t.What, t.BatchID)
			}
		}
		n.Lines = append(n.Lines, l)
	}
	for i := range w.Record.Rests {
		x := &w.Record.Rests[i]
		if !x.Lapsed && slices.ContainsFunc(open, func(t garden.Task) bool { return t.Kind == garden.TaskRetest && t.Due == x.Test }) {
			continue // shown with its test
		}
		called := ""
		if n.Aside == "" {
			called = w.Called(x.What, x.BatchID)
		}
		l := nextLine{When: "then", Fact: fact.Rest(x.ID),
			What: text.Capital(RestSays(w.Garden.Units(), x, called, w.Measure(x.BatchID), today))}
		if x.Lapsed {
			l.When = "lapsed"
		}
		n.Lines = append(n.Lines, l)
	}
	return n
}

// retestBrief returns a test briefly, with what waits for it, and the name of that amount if it is
// one.
func retestBrief(t *garden.Task, w *dosing.Dose, name bool) (says, named string) {
	var waits []string
	for i := range w.Record.Rests {
		x := &w.Record.Rests[i]
		if x.Lapsed || x.Test != t.Due {
			continue
		}
		amount := Brief(x.Total, w.Measure(x.BatchID), w.Garden.Units())
		if name {
			amount += " of " + w.Called(x.What, x.BatchID)
		}
		waits, named = append(waits, amount), fact.Rest(x.ID)
	}
	switch len(waits) {
	case 0:
		return "Test again, as before", ""
	case 1:
		return "Test, then about " + waits[0], named
	}
	return "Test, then about " + text.List(waits), ""
}

// oneMaterial returns the material of all applications among tasks, if it is the same.
func oneMaterial(w *dosing.Dose, tasks []garden.Task) (name string) {
	for _, t := range tasks {
		if t.Kind != garden.TaskApplication {
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
