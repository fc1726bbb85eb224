// Package fact names facts for the attribute data-fact, so that pages can be held against each other: the text of an element with it
// tells the fact.
package fact

import (
	"strconv"

	"zephyrfield/internal/garden"
)

func name(of string, id int64, kind string) string {
	return of + ":" + strconv.FormatInt(id, 10) + ":" + kind
}

// Bed names a fact of a bed.
func Bed(id int64, kind string) string { return name("bed", id, kind) }

// Read names the pH by which a bed is judged and the day on which it was read.
func Read(bed int64) string { return Bed(bed, "ph") + " " + Bed(bed, "read") }

// PlantingDay names the day of a planting.
func PlantingDay(id int64) string { return name("planting", id, "day") }

// Doubt names the standard deviation of a reading.
func Doubt(reading int64) string { return name("reading", reading, "doubt") }

// Put names the amount of an application that was recorded; that of a task has the name that its task had.
func Put(a *garden.Application) string {
	if a.TaskID != nil {
		return name("task", *a.TaskID, "amount")
	}
	return name("put", a.ID, "amount")
}

// PutOn names the day of an application, as Put.
func PutOn(a *garden.Application) string {
	if a.TaskID != nil {
		return name("task", *a.TaskID, "done")
	}
	return name("put", a.ID, "done")
}

// Amount names the amount of an application, to come or done; "" for other tasks and skipped ones.
func Amount(t garden.Task) string {
	if t.Kind != garden.TaskApplication || t.State == garden.Skipped {
		return ""
	}
	return name("task", t.ID, "amount")
}

// Rest names the amount of the rest of a dose that waits for a test.
func Rest(id int64) string { return name("rest", id, "amount") }

// Due names the day of a task that is still to do; "" for others.
func Due(t garden.Task) string {
	if t.State != garden.Open {
		return ""
	}
	return name("task", t.ID, "due")
}

// Done names the day of a done task; "" for others.
func Done(t garden.Task) string {
	if t.State != garden.Done {
		return ""
	}
	return name("task", t.ID, "done")
}

// Why names why an open task is not on its planned day; "" for others.
func Why(t garden.Task) string {
	if t.State != garden.Open {
		return ""
	}
	return name("task", t.ID, "why")
}
