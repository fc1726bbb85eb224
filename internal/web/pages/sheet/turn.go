package sheet

import (
	"strings"

	"zephyrfield/agronomy/turn"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
)

// step lays out a step of turning a bed over on the day sheet.
func (v taskView) step(t garden.Task, u words.Units) taskView {
	name := words.StepName(t.Step, t.Says)
	v.IsStep, v.Asks, v.StepName, v.Method = true, t.Step == turn.Check, name, u.StepHow(t.Step)
	v.Href, v.Says, v.Button = site.TurnHref(t.BedID), words.Lower(name), "Done"
	if t.Step == turn.Plant {
		v.Button = "Planted"
	}
	if t.Step == turn.Correct {
		v.DoseHref = site.DoseHref(t.BedID)
	}
	if t.State == garden.Open {
		v.Note = t.Why
	}
	switch t.State {
	case garden.Done:
		v.Says = strings.TrimSpace(words.Lower(name) + ": done. " + t.Why)
	case garden.Skipped:
		v.Says = words.Lower(name) + ": " + present.SkippedWords(t)
	}
	return v
}
