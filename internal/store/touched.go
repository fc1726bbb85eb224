package store

import (
	"strconv"

	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// noBed is recorded among the beds of a journal line for changes that concern all of them.
const noBed = 0

// bearsOnAll are the tables that belong to no bed and concern every bed.
var bearsOnAll = func() map[string]bool {
	beside := map[string]bool{"beds": true, "plantings": true, "readings": true, "applications": true, "tasks": true, "turnings": true,
		"marks": true, "batches": true, "movements": true, "samples": true, "sample_beds": true, "cores": true, "plans": true, "ways": true,
		"rounds": true, "rests": true, "sights": true, "photos": true}
	out := map[string]bool{garden.BroughtIn: true, garden.WholeCopy: true}
	for _, t := range garden.Tables {
		if !beside[t.Name] {
			out[t.Name] = true
		}
	}
	return out
}()

// touchedLast is the last journal line that changed each bed, and noBed.
var touchedLast = cache.Kind{Name: "touched", Room: 1}

// BedVersion implements garden.Reader: the last line of the journal that touches the bed, and the
// last that bears on all.
func (r reader) BedVersion(bed int64) (string, error) {
	version, err := r.Version()
	if err != nil {
		return "", err
	}
	last, err := cache.Get(r.cache, touchedLast, "", version, r.touchedLast)
	if err != nil || bed == noBed {
		return strconv.FormatInt(last[noBed], 10), err
	}
	return strconv.FormatInt(last[noBed], 10) + " " + strconv.FormatInt(last[bed], 10), nil
}

// BedsVersion implements garden.Reader.
func (r reader) BedsVersion() (string, error) {
	version, err := r.Version()
	if err != nil {
		return "", err
	}
	last, err := cache.Get(r.cache, touchedLast, "", version, r.touchedLast)
	newest := int64(0)
	for _, line := range last {
		newest = max(newest, line)
	}
	return strconv.FormatInt(newest, 10), err
}

func (r reader) touchedLast() (map[int64]int64, error) {
	rows, err := many[struct {
		Bed  int64 `db:"bed_id"`
		Line int64 `db:"line"`
	}](r, "SELECT bed_id, max(journal_id) AS line FROM journal_beds GROUP BY bed_id")
	out := make(map[int64]int64, len(rows))
	for _, x := range rows {
		out[x.Bed] = x.Line
	}
	return out, err
}

// PutInPlaceOf returns the reading that the line which struck out one of a bed put in its place.
func (r reader) PutInPlaceOf(bed, reading int64) (id int64, err error) {
	return id, r.one(&id, "SELECT coalesce(max(json_extract(y.value, '$.id')), 0) FROM journal_beds b JOIN journal j ON j.id=b.journal_id, "+
		"json_each(j.changes) x, json_each(j.changes) y WHERE b.bed_id=?1 AND json_extract(x.value, '$.table')='readings' AND "+
		"json_extract(x.value, '$.id')=?2 AND json_extract(y.value, '$.table')='readings' AND "+
		"json_extract(y.value, '$.before') IS NULL AND json_extract(y.value, '$.after.bed_id')=?1 AND "+
		"json_extract(y.value, '$.id')<>?2 AND j.undone_by IS NULL", bed, reading)
}
