package store

import (
	"strings"

	"zephyrfield/internal/garden"
)

// wideTables are the lists that no bed has of its own, and that bear on what beds teach.
var wideTables = func() string {
	own := map[string]bool{"beds": true, "plantings": true, "readings": true, "applications": true, "tasks": true, "turnings": true}
	rest := map[string]bool{"marks": true, "batches": true, "movements": true, "samples": true, "sample_beds": true, "cores": true,
		"plans": true, "ways": true, "rounds": true}
	var wide []string
	for _, t := range garden.Tables {
		if !own[t.Name] && !rest[t.Name] {
			wide = append(wide, "'"+t.Name+"'")
		}
	}
	return strings.Join(append(wide, "'"+garden.BroughtIn+"'", "'"+garden.WholeCopy+"'"), ", ")
}()

// LastLine is the number of the newest line of the journal.
func (r reader) LastLine() (id int64, err error) {
	return id, r.one(&id, "SELECT coalesce(max(id), 0) FROM journal")
}

// Touched are the beds that the lines after one touch.
func (r reader) Touched(after int64) (beds []int64, wide bool, err error) {
	var n int
	if err := r.one(&n, "SELECT count(*) FROM journal j, json_each(j.changes) x WHERE j.id>? AND json_extract(x.value, '$.table') IN ("+
		wideTables+")", after); err != nil || n > 0 {
		return nil, true, err
	}
	beds, err = many[int64](r, "SELECT DISTINCT bed_id FROM journal_beds WHERE journal_id>? ORDER BY bed_id", after)
	return beds, false, err
}

// PutInPlaceOf is the reading that the line which struck out one of a bed put in its place.
func (r reader) PutInPlaceOf(bed, reading int64) (id int64, err error) {
	return id, r.one(&id, "SELECT coalesce(max(json_extract(y.value, '$.id')), 0) FROM journal_beds b JOIN journal j ON j.id=b.journal_id, "+
		"json_each(j.changes) x, json_each(j.changes) y WHERE b.bed_id=?1 AND json_extract(x.value, '$.table')='readings' AND "+
		"json_extract(x.value, '$.id')=?2 AND json_extract(y.value, '$.table')='readings' AND "+
		"json_extract(y.value, '$.before') IS NULL AND json_extract(y.value, '$.after.bed_id')=?1 AND "+
		"json_extract(y.value, '$.id')<>?2 AND j.undone_by IS NULL", bed, reading)
}
