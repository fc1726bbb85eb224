package plots

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// teachers are all records that teach, as they stood at a line of the journal: a change reads again only what it touches.
type teachers struct {
	upTo    int64
	garden  garden.Garden
	library garden.Library
	beds    []garden.Bed
	noted   map[int64]noted
}

// of is what was noted of a bed, its crops as its open turnings have them.
func (t *teachers) of(bed int64, turnings map[int64][]Turning, today quantity.Day) noted {
	n := t.noted[bed]
	n.turnings = turnings[bed]
	n.unplanted(today)
	return n
}

// teachersKept is what they are kept by.
const teachersKept = "teachers"

// teachersOf reads them: those that were read before, with what was touched since, else all, with a query a list.
func teachersOf(r Reader) (t teachers, err error) {
	upTo, err := r.LastLine()
	if err != nil {
		return t, err
	}
	if was, ok := garden.Lasted[teachers](r.Kept(), teachersKept); ok && was.upTo <= upTo {
		if was.upTo == upTo {
			return was, nil
		}
		touched, wide, err := r.Touched(was.upTo)
		if err != nil {
			return t, err
		}
		if !wide {
			t, err = was.again(r, touched, upTo)
			if err == nil {
				garden.Last(r.Kept(), teachersKept, t)
			}
			return t, err
		}
	}
	if t, err = allTeachers(r); err != nil {
		return t, err
	}
	t.upTo = upTo
	garden.Last(r.Kept(), teachersKept, t)
	return t, nil
}

// allTeachers reads all, with a query a list.
func allTeachers(r Reader) (t teachers, err error) {
	if t.garden, err = r.Garden(); err != nil {
		return t, err
	}
	if t.library, err = garden.LibraryOf(r); err != nil {
		return t, err
	}
	if t.beds, err = garden.All[garden.Bed](r); err != nil {
		return t, err
	}
	plantings, err := byBed(garden.All[garden.Planting](r))
	if err != nil {
		return t, err
	}
	readings, err := byBed(garden.All[garden.Reading](r))
	if err != nil {
		return t, err
	}
	put, err := byBed(garden.All[garden.Application](r))
	if err != nil {
		return t, err
	}
	t.noted = make(map[int64]noted, len(t.beds))
	for _, b := range t.beds {
		t.noted[b.ID] = noted{plantings: plantings[b.ID], readings: readings[b.ID], applications: put[b.ID]}
	}
	return t, nil
}

// again reads the beds that were touched; few at a time, so each by itself.
func (t teachers) again(r Reader, touched []int64, upTo int64) (out teachers, err error) {
	out = teachers{upTo: upTo, garden: t.garden, library: t.library, noted: make(map[int64]noted, len(t.noted))}
	if out.beds, err = garden.All[garden.Bed](r); err != nil {
		return out, err
	}
	for id, n := range t.noted {
		out.noted[id] = n
	}
	for _, id := range touched {
		var n noted
		if n.plantings, err = garden.Where[garden.Planting](r, "bed_id", id); err != nil {
			return out, err
		}
		if n.readings, err = garden.Where[garden.Reading](r, "bed_id", id); err != nil {
			return out, err
		}
		if n.applications, err = garden.Where[garden.Application](r, "bed_id", id); err != nil {
			return out, err
		}
		out.noted[id] = n
	}
	return out, nil
}
