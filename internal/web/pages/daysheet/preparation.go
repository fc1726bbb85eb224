package daysheet

import (
	"strings"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
)

// step returns a preparation step for the sheet.
func (v taskView) step(t garden.Task, u text.Units) taskView {
	name := text.StepName(t.Step, t.Says)
	v.IsStep, v.Asks, v.StepName, v.Method = true, t.Step == bedprep.Check, name, u.StepHow(t.Step)
	v.Href, v.Says, v.Button = site.PreparationHref(t.BedID), text.Lower(name), "Done"
	if t.Step == bedprep.Plant {
		v.Button = "Planted"
	}
	if t.Step == bedprep.Correct {
		v.DoseHref = site.DoseHref(t.BedID)
	}
	if t.State == garden.Open {
		v.Note = t.Why
	}
	switch t.State {
	case garden.Done:
		v.Says = strings.TrimSpace(text.Lower(name) + ": done. " + t.Why)
	case garden.Skipped:
		v.Says = text.Lower(name) + ": " + present.SkippedWords(t)
	}
	return v
}
