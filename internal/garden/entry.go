package garden

import (
	"encoding/json"
	"fmt"
)

// Entry is one line of the journal: one change, with each record before and
// after it.
type Entry struct {
	Meta
	At      string `db:"at" json:"at"`
	Who     string `db:"who" json:"who"`
	What    string `db:"what" json:"what"`
	Changes JSON   `db:"changes" json:"changes"`
	// Undoes is the line that this one took back, UndoneBy the reverse.
	Undoes   *int64 `db:"undoes" json:"undoes"`
	UndoneBy *int64 `db:"undone_by" json:"undone_by"`
}

// RecordChange is one record of a change. Before is null for a new record,
// After for one taken out.
type RecordChange struct {
	Table  string `json:"table"`
	ID     int64  `json:"id"`
	Before JSON   `json:"before"`
	After  JSON   `json:"after"`
}

// check goes through what a line of the journal would put back.
func (e *Entry) check(f Faults) {
	moment(f, "at", e.At)
	changes, err := e.Records()
	if err != nil {
		f["changes"] = "what it changed cannot be read"
		return
	}
	if len(changes) > mostChanges {
		f["changes"] = "it changes more than a garden holds"
	}
	for i, c := range changes {
		if _, err := c.Decode(c.Before); err == nil {
			_, err = c.Decode(c.After)
			if err == nil {
				continue
			}
		}
		f["changes"] = fmt.Sprintf("its change %d cannot be read", i+1)
		return
	}
}

// Records returns the changes that a line of the journal holds.
func (e Entry) Records() (out []RecordChange, err error) {
	if len(e.Changes) == 0 {
		return nil, nil
	}
	return out, json.Unmarshal(e.Changes, &out)
}

// BroughtIn is the list that stands for a whole archive in a line of the journal;
// its ID is how many lines of the journal came with it.
const BroughtIn = "archive"

// WholeCopy is the list that stands for a copy that was put back whole.
const WholeCopy = "copy"

// CanUndo reports whether a line of the journal can be taken back at all.
func (e Entry) CanUndo() bool {
	if e.UndoneBy != nil {
		return false
	}
	changes, err := e.Records()
	return err == nil && len(changes) > 0 && changes[0].Table != WholeCopy && (e.Undoes == nil || changes[0].Table != BroughtIn)
}

// Decode reads one side of a change; nil where there was no record.
func (c RecordChange) Decode(raw JSON) (Record, error) {
	if c.Table == BroughtIn || c.Table == WholeCopy || len(raw) == 0 || string(raw) == "null" {
		return nil, nil
	}
	t, ok := FindTable(c.Table)
	if !ok {
		return nil, fmt.Errorf("no list %.40q", c.Table)
	}
	rec := t.New()
	if err := json.Unmarshal(raw, rec); err != nil {
		return nil, err
	}
	return rec, nil
}

// JournalTable is the name of the journal's own list.
const JournalTable = "journal"

var entryTable = Table{Name: JournalTable, One: "line of the journal", New: func() Record { return &Entry{} }, Most: 2_000_000}
