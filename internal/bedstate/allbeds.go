package bedstate

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// ReadBeds reads the records of all beds on the plan as of today, with one query per list, without
// sample labels.
func ReadBeds(r Reader, today quantity.Day) (out []Record, g garden.Garden, err error) {
	if g, err = r.Garden(); err != nil {
		return nil, g, err
	}
	library, err := garden.LibraryOf(r)
	if err != nil {
		return nil, g, err
	}
	held, err := heldOn(r, today)
	if err != nil {
		return nil, g, err
	}
	beds, err := garden.All[garden.Bed](r)
	if err != nil {
		return nil, g, err
	}
	plantings, err := byBed(garden.All[garden.Planting](r))
	if err != nil {
		return nil, g, err
	}
	readings, err := byBed(garden.All[garden.Reading](r))
	if err != nil {
		return nil, g, err
	}
	put, err := byBed(garden.All[garden.Application](r))
	if err != nil {
		return nil, g, err
	}
	tasks, err := byBed(garden.All[garden.Task](r))
	if err != nil {
		return nil, g, err
	}
	lessons, err := LessonsOf(r, today, today)
	if err != nil {
		return nil, g, err
	}
	preparations, err := openPreparations(r)
	if err != nil {
		return nil, g, err
	}
	potassium, err := potassiumOf(r, preparations, today, today)
	if err != nil {
		return nil, g, err
	}
	aimed, waiting, err := begun(r, today)
	if err != nil {
		return nil, g, err
	}
	for _, b := range beds {
		if b.Retired != 0 && b.Retired <= today {
			continue
		}
		out = append(out, Record{Bed: b, Plantings: plantings[b.ID], Applications: put[b.ID], Tasks: tasks[b.ID], Library: library,
			Held: held, Lesson: lessons.ByBed[b.ID], k: potassium[b.ID], aims: aimed[b.ID], rests: waiting[b.ID]})
		out[len(out)-1].complete(readings[b.ID], preparations[b.ID], g, today)
	}
	return out, g, nil
}

// complete sorts the readings in and judges the bed as of today.
func (rec *Record) complete(readings []garden.Reading, open []Preparation, g garden.Garden, today quantity.Day) {
	rec.sort(readings)
	rec.prepare(open, today)
	rec.stand(g, today, today)
}

// begun returns, by bed, the aims of plans and the rests that wait for tests.
func begun(r Reader, today quantity.Day) (aims map[int64][]garden.PlanAim, rests map[int64][]garden.WaitingRest, err error) {
	all, err := r.PlanAims(0, today.AddMonths(-planMonths).String())
	if err != nil {
		return nil, nil, err
	}
	waiting, err := r.RestsWaiting(0)
	return ByBed(all, func(a garden.PlanAim) int64 { return a.BedID }), ByBed(waiting,
		func(x garden.WaitingRest) int64 { return x.BedID }), err
}

// ofBed is a pointer to a bed's record.
type ofBed[T any] interface {
	*T
	garden.OfBed
}

// byBed groups a list's records by bed, in the list's order.
func byBed[T any, P ofBed[T]](all []T, err error) (map[int64][]T, error) {
	out := map[int64][]T{}
	for i := range all {
		id := P(&all[i]).OfBed()
		out[id] = append(out[id], all[i])
	}
	return out, err
}
