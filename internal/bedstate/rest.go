package bedstate

import (
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// Rest is what of a dose waits for a test.
type Rest struct {
	garden.WaitingRest
	// Test is the day on which that stands; no day where none does. Lapsed is set where it waited too long.
	Test   quantity.Day
	Lapsed bool
}

// restsOf reports for which day's test rests wait, by the open tasks.
func restsOf(waiting []garden.WaitingRest, tasks []garden.Task, today quantity.Day) []Rest {
	out := make([]Rest, len(waiting))
	for i, x := range waiting {
		out[i] = Rest{WaitingRest: x, Lapsed: today >= x.Lapses()}
		for _, t := range tasks {
			if t.Kind == garden.TaskRetest && t.State == garden.Open && t.PlanID != nil && *t.PlanID == x.PlanID {
				out[i].Test = t.Due
			}
		}
	}
	return out
}

// planMonths is how far back a plan may have begun a correction that is not at its end.
const planMonths = 4 * calendar.LapseMonths

// Correction is what was begun on a bed and is to be brought to its aim.
type Correction struct {
	Target quantity.PH
	// Last is the day on which something of it went on last.
	Last quantity.Day
}

// correction finds what was begun on the bed by a day: something of a plan went on, the crop is still the one that it was for, no test
// since lay near its aim or past it, and it was not left without a test too long.
func (rec *Record) correction(day quantity.Day) *Correction {
	var last *garden.Task
	for i := range rec.Tasks {
		t := &rec.Tasks[i]
		m, ok := material.Find(t.What)
		if ok && m.MovesPH() && t.Kind == garden.TaskApplication && t.State == garden.Done && t.PlanID != nil && t.Settled <= day &&
			(last == nil || t.Settled >= last.Settled) {
			last = t
		}
	}
	if last == nil {
		return nil
	}
	c := &Correction{Last: last.Settled}
	crop := ""
	if len(rec.State.Crops) > 0 {
		crop = rec.State.Crops[0].ID
	}
	for _, a := range rec.aims {
		if a.ID == *last.PlanID && a.Crop == crop {
			c.Target = a.Target
		}
	}
	if c.Target == 0 || rec.atAim(c, last, day) {
		return nil
	}
	return c
}

// atAim reports whether a test since lay near the aim or past it, or none was read for too long.
func (rec *Record) atAim(c *Correction, last *garden.Task, day quantity.Day) bool {
	m, _ := material.Find(last.What)
	heard := c.Last
	for _, x := range rec.Readings {
		if x.PH == nil || x.Date > day || rec.Lesson.Out(&x) {
			continue
		}
		heard = max(heard, x.Date)
		off := float64(x.Soil().Water() - c.Target)
		if m.Lowers() {
			off = -off
		}
		if x.Date > c.Last && quantity.Round(off, 4) >= -float64(dose.NearAim) {
			return true
		}
	}
	return day >= heard.AddMonths(calendar.LapseMonths)
}
