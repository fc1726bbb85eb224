package exchange

import (
	"fmt"
	"io"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
)

// WriteTasks writes the open tasks as an iCalendar file: one event of a whole
// day each. A task keeps its UID, so that a diary that reads the file again
// moves the event instead of doubling it; id is the garden's own, so that two
// gardens in one diary stay apart.
func WriteTasks(w io.Writer, id string, g garden.Garden, tasks []garden.Task, plots []plots.Plot, made time.Time) error {
	names := make(map[int64]string, len(plots))
	for _, p := range plots {
		names[p.Bed.ID] = p.Bed.Name
	}
	c, u := ics.NewCalendar(), g.Units()
	c.SetProductId("-//Zephyr Field//tasks//EN")
	c.SetMethod(ics.MethodPublish)
	c.SetXWRCalName(g.Name)
	for _, t := range tasks {
		e := c.AddEvent(fmt.Sprintf("task-%d@%s.zephyrfield", t.ID, id))
		e.SetDtStampTime(made.UTC())
		e.SetAllDayStartAt(t.Due.Time())
		e.SetAllDayEndAt((t.Due + 1).Time())
		e.SetSequence(int(t.Version))
		e.SetTimeTransparency(ics.TransparencyTransparent)
		bed := names[t.BedID]
		if t.Kind == garden.TaskRetest {
			e.SetSummary("Test again: " + bed)
			e.SetDescription("Same depth (" + u.Depth(t.Depth) + ") and same way (" + words.Short(t.Method) + ") as before.")
			continue
		}
		e.SetSummary(fmt.Sprintf("%s: %s of %s", bed, u.Mass(t.Total), words.Material(t.What)))
		e.SetDescription(u.Rate(t.Rate) + " on the bed. " + strings.Join(words.Safety(t.What), ". ") + ".")
	}
	return c.SerializeTo(w, ics.WithNewLineWindows)
}
