package bedstate

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// teachers are the records that lessons are drawn from, updated bed by bed.
type teachers struct {
	garden  garden.Garden
	library garden.Library
	beds    []garden.Bed
	noted   map[int64]noted
}

// of returns a bed's records, with plantings adjusted to its open preparations.
func (t *teachers) of(bed int64, preparations map[int64][]Preparation, today quantity.Day) noted {
	n := t.noted[bed]
	n.preparations = preparations[bed]
	n.unplanted(today)
	return n
}

// notedOf caches a bed's records at its version.
var notedOf = cache.Kind{Name: "noted", Room: 1000}

// fewBeds is the largest number of changed beds that are read one by one; more are read with one
// query per list.
const fewBeds = 8

// teachersOf returns the records, reading the beds that changed since they were cached, or all of
// them if many did.
func teachersOf(r Reader) (t teachers, err error) {
	if r.Cache() == nil {
		return allTeachers(r)
	}
	if t, err = withoutNoted(r); err != nil {
		return t, err
	}
	versions := make(map[int64]string, len(t.beds))
	var missing []int64
	for _, b := range t.beds {
		if versions[b.ID], err = r.BedVersion(b.ID); err != nil {
			return t, err
		}
		n, ok := cache.Peek[noted](r.Cache(), notedOf, b.ID, versions[b.ID])
		if !ok {
			missing = append(missing, b.ID)
			continue
		}
		t.noted[b.ID] = n
	}
	if len(missing) > fewBeds {
		if t, err = allTeachers(r); err != nil {
			return t, err
		}
	} else if err := t.read(r, missing); err != nil {
		return t, err
	}
	for _, id := range missing {
		cache.Put(r.Cache(), notedOf, id, versions[id], t.noted[id])
	}
	return t, nil
}

// withoutNoted returns the place, the crops and the beds without their records.
func withoutNoted(r Reader) (t teachers, err error) {
	if t.garden, err = r.Garden(); err != nil {
		return t, err
	}
	if t.library, err = garden.LibraryOf(r); err != nil {
		return t, err
	}
	t.beds, err = garden.All[garden.Bed](r)
	t.noted = make(map[int64]noted, len(t.beds))
	return t, err
}

// allTeachers reads all, with one query per list.
func allTeachers(r Reader) (t teachers, err error) {
	if t, err = withoutNoted(r); err != nil {
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
	for _, b := range t.beds {
		t.noted[b.ID] = noted{plantings: plantings[b.ID], readings: readings[b.ID], applications: put[b.ID]}
	}
	return t, nil
}

// read reads a few beds one by one.
func (t *teachers) read(r Reader, beds []int64) (err error) {
	for _, id := range beds {
		var n noted
		if n.plantings, err = garden.Where[garden.Planting](r, "bed_id", id); err != nil {
			return err
		}
		if n.readings, err = garden.Where[garden.Reading](r, "bed_id", id); err != nil {
			return err
		}
		if n.applications, err = garden.Where[garden.Application](r, "bed_id", id); err != nil {
			return err
		}
		t.noted[id] = n
	}
	return nil
}
