package plots

import (
	"encoding/json"
	"fmt"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// Lesson is what a bed's own record has taught, its neighbours' beside it.
type Lesson struct {
	Record forecast.Record
	// School is the one that it is told beside, Buffer that school applied to its ground.
	School soil.School
	Buffer soil.Buffering
	// Model is the record as the forecast has it, without what is planned.
	Model   forecast.Bed
	Learned forecast.Learned
}

// Checks are the promises that were tested, oldest first.
func (l *Lesson) Checks() []forecast.Kept {
	if l == nil {
		return nil
	}
	return forecast.Checks(&l.Model, &l.Learned)
}

// Last is the promise that the reading of a day tested; false where it tested none.
func (l *Lesson) Last(day quantity.Day) (k forecast.Kept, ok bool) {
	all := l.Checks()
	if len(all) == 0 || all[len(all)-1].Date != day {
		return k, false
	}
	return all[len(all)-1], true
}

// Beside is what a dose goes by of it; nil where that does not count yet, or where there is no lesson.
func (l *Lesson) Beside() *soil.Learned {
	if l == nil {
		return nil
	}
	return l.Learned.Beside(l.School)
}

// Lessons are those of all beds that were read, by bed, and what they say together.
type Lessons struct {
	ByBed  map[int64]*Lesson
	Shared forecast.Shared
}

// lessonsOn is what lessons are kept by.
type lessonsOn quantity.Day

// LessonsOf are what the beds of a garden have taught up to a day.
func LessonsOf(r Reader, day quantity.Day) (*Lessons, error) {
	return garden.Keep(r.Kept(), r, lessonsOn(day), func() (*Lessons, error) { return learn(r, day) })
}

// learn reads what teaches of all beds, with a query a list.
func learn(r Reader, day quantity.Day) (*Lessons, error) {
	g, err := r.Garden()
	if err != nil {
		return nil, err
	}
	library, err := garden.LibraryOf(r)
	if err != nil {
		return nil, err
	}
	beds, err := garden.All[garden.Bed](r)
	if err != nil {
		return nil, err
	}
	plantings, err := byBed(garden.All[garden.Planting](r))
	if err != nil {
		return nil, err
	}
	readings, err := byBed(garden.All[garden.Reading](r))
	if err != nil {
		return nil, err
	}
	put, err := byBed(garden.All[garden.Application](r))
	if err != nil {
		return nil, err
	}
	out := &Lessons{ByBed: map[int64]*Lesson{}}
	var models []forecast.Bed
	var said []forecast.Said
	var ids []int64
	for _, b := range beds {
		n := noted{plantings: plantings[b.ID], readings: readings[b.ID], applications: put[b.ID]}
		l := lessonOf(b, n, g, library, day)
		if l == nil {
			continue
		}
		out.ByBed[b.ID], ids = l, append(ids, b.ID)
		models = append(models, l.Model)
		said = append(said, garden.Lasting(r.Kept(), "said "+restsOn(&l.Model, g), l.Model.Say))
	}
	out.Shared = forecast.Teach(models, said)
	for i, id := range ids {
		l := out.ByBed[id]
		l.Model = models[i]
		l.Learned = garden.Lasting(r.Kept(), "learned "+restsOn(&l.Model, g), func() forecast.Learned { return forecast.Learn(&l.Model) })
	}
	return out, nil
}

// restsOn is all that a model rests on, as text.
func restsOn(b *forecast.Bed, g garden.Garden) string {
	text, err := json.Marshal(b)
	if err != nil { // a figure that is none; it is kept by nothing
		return fmt.Sprintf("%p", b)
	}
	return fmt.Sprint(g.Climate, g.Hemisphere, g.SoilTemps, len(g.Measured), string(text))
}

// lessonOf makes a bed's lesson, but for what the others say; nil where it has no reading with a pH.
func lessonOf(b garden.Bed, n noted, g garden.Garden, l garden.Library, day quantity.Day) *Lesson {
	readings := teaches(n.readings, b.TaughtFrom, day)
	if len(readings) == 0 {
		return nil
	}
	out := &Lesson{Record: forecast.Record{Ground: n.ground(b, g.SoilTable, day), Climate: g.Warmth(), Day: day, Readings: readings,
		Grown: n.grown(l, 0, day)}, School: g.Schools().Buffering}
	out.Record.Ground, _ = out.Record.Ground.AsFound()
	for i := range n.applications {
		if a := &n.applications[i]; a.Date <= day {
			out.Record.Put = AppendPut(out.Record.Put, a)
		}
	}
	if mg := g.Alkalinity(); mg != nil {
		out.Record.Water.Alkalinity = *mg
	}
	var err error
	if out.Buffer, err = out.Record.School(out.School); err != nil {
		// A school that lacks a fact of this bed: it is told beside the table, that needs none.
		if out.School = soil.ByTable; out.School == g.Schools().Buffering {
			return nil
		}
		if out.Buffer, err = out.Record.School(out.School); err != nil {
			return nil
		}
	}
	out.Model = out.Record.Bed(out.Buffer, false)
	return out
}

// teaches are the readings with a pH up to a day: the last of those from before learning was begun anew is where it begins.
func teaches(all []garden.Reading, from, day quantity.Day) (out []soil.Reading) {
	for i := range all {
		x := &all[i]
		if x.PH == nil || x.Date > day || !x.Stands() {
			continue
		}
		if x.Date <= from {
			out = out[:0]
		}
		out = append(out, x.Soil())
	}
	return out
}

// AppendPut adds something that went on, or is planned, with its batch.
func AppendPut(all []forecast.Put, a *garden.Application) []forecast.Put {
	put, ok := a.Put()
	if !ok {
		return all
	}
	x := forecast.Put{Application: put}
	if a.BatchID != nil {
		x.Batch = fmt.Sprintf("batch %d", *a.BatchID)
	}
	return append(all, x)
}
