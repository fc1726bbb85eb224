package exchange

import (
	"io"
	"strconv"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
)

// refresh is the suggested refresh interval.
const refresh = "PT6H"

// morning is the time of the day's reminder, from midnight.
const morning = "PT7H"

// WriteDiary writes tasks as an iCalendar file: one all-day event each, on the task's current day.
// A task keeps its UID, so that a client moves the event instead of duplicating it; id is the
// garden's, so that two gardens in one calendar stay apart. Done tasks are marked done, skipped
// ones cancelled, and held ones say so and do not remind.
func WriteDiary(w io.Writer, id string, d schedule.Diary, made time.Time) error {
	c := ics.NewCalendar()
	c.SetProductId("-//Zephyr Field//tasks//EN")
	c.SetMethod(ics.MethodPublish)
	c.SetXWRCalName(d.Garden.Name)
	c.SetRefreshInterval(refresh)
	c.SetXPublishedTTL(refresh)
	for _, t := range d.Tasks {
		e := c.AddEvent("task-" + strconv.FormatInt(t.ID, 10) + "@" + id + ".zephyrfield")
		e.SetDtStampTime(made.UTC())
		e.SetAllDayStartAt(t.On().Time())
		e.SetAllDayEndAt((t.On() + 1).Time())
		e.SetSequence(int(t.Version))
		e.SetTimeTransparency(ics.TransparencyTransparent)
		summary, description := diaryWords(d, t)
		switch on, held := d.Held[t.ID]; {
		case t.State == garden.Done:
			e.SetSummary("Done: " + summary)
			e.SetStatus(ics.ObjectStatusConfirmed)
		case t.State == garden.Skipped:
			e.SetSummary("Skipped: " + summary)
			e.SetStatus(ics.ObjectStatusCancelled)
		case held:
			e.SetSummary("Held back: " + summary)
			description = "The reading that it rests on was deleted on " + text.DayYear(on) + ". Plan the dose anew."
			e.SetStatus(ics.ObjectStatusTentative)
		default:
			e.SetSummary(summary)
			e.SetStatus(ics.ObjectStatusConfirmed)
			alarm := e.AddAlarm()
			alarm.SetAction(ics.ActionDisplay)
			alarm.SetTrigger(morning)
			alarm.SetDescription(summary)
		}
		e.SetDescription(description)
	}
	return c.SerializeTo(w, ics.WithNewLineWindows)
}

// diaryWords returns an event's title and description.
func diaryWords(d schedule.Diary, t garden.Task) (summary, more string) {
	u, bed := d.Garden.Units(), d.Beds[t.BedID]
	var lines []string
	if m, ok := d.Moved[t.ID]; ok {
		lines = append(lines, text.Sentence(u.Moved(m.From, m.Placed)))
	}
	if t.Kind == garden.TaskRetest {
		lines = append(lines, "Same depth ("+u.Depth(t.Depth)+") and same way ("+text.Short(t.Method)+") as before.")
		for _, x := range d.Rests {
			if t.PlanID == nil || x.PlanID != *t.PlanID || x.Lapsed || t.State != garden.Open {
				continue
			}
			called, scoop := text.Material(x.What), (*text.Scoop)(nil)
			if x.BatchID != nil {
				b := d.Batches[*x.BatchID]
				called, scoop = text.Lower(b.Name), b.Measure()
			}
			lines = append(lines, text.Sentence(text.RestWaits(u.Amount(x.Total, scoop)+" of "+called)))
		}
		return "Test again: " + bed, strings.Join(lines, " ")
	}
	if t.Kind == garden.TaskStep {
		lines = append(lines, u.StepHow(t.Step))
		return bed + ": " + text.Lower(text.StepName(t.Step, t.Says)), strings.TrimSpace(strings.Join(lines, " "))
	}
	name, scoop := text.Material(t.What), (*text.Scoop)(nil)
	if t.BatchID != nil {
		b := d.Batches[*t.BatchID]
		name, scoop = text.Lower(b.Name), b.Measure()
	}
	lines = append(lines, u.Rate(t.Rate)+" on the bed.", strings.Join(text.Safety(t.What), ". ")+".")
	return bed + ": " + u.Amount(t.Total, scoop) + " of " + name, strings.Join(lines, " ")
}
