package bedstate

import (
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// Rest is the part of a dose that waits for a test.
type Rest struct {
	garden.WaitingRest
	// Test is the day of that test; 0 without one. Lapsed is set when it waited too long.
	Test   quantity.Day
	Lapsed bool
}

// restsOf returns the waiting rests with the days of their tests among the open tasks.
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

// planMonths is how far back a plan may have begun a correction that is still open.
const planMonths = 4 * calendar.LapseMonths

// Correction is a correction that has begun and is to be completed to its aim.
type Correction struct {
	Target quantity.PH
	// Last is the day of its last application.
	Last quantity.Day
}

// correction returns the correction that is open on a day: something of a plan was applied, the
// crop is unchanged, no later test is near or past the aim, and no test was overdue for too long.
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

// atAim reports whether a later test is near or past the aim, or the test is overdue for too long.
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
