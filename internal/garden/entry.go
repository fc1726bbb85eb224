package garden

import (
	"encoding/json"
	"fmt"
)

// Entry is one journal entry: one change, with each record before and after it.
type Entry struct {
	Meta
	At      string `db:"at" json:"at"`
	Who     string `db:"who" json:"who"`
	What    string `db:"what" json:"what"`
	Changes JSON   `db:"changes" json:"changes"`
	// Undoes is the entry that this one undid, UndoneBy the reverse.
	Undoes   *int64 `db:"undoes" json:"undoes"`
	UndoneBy *int64 `db:"undone_by" json:"undone_by"`
}

// RecordChange is the change of one record. Before is null for a new record, After for a deleted
// one.
type RecordChange struct {
	Table  string `json:"table"`
	ID     int64  `json:"id"`
	Before JSON   `json:"before"`
	After  JSON   `json:"after"`
}

// check validates the records that undoing the entry would restore.
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

// Records returns an entry's changes.
func (e Entry) Records() (out []RecordChange, err error) {
	if len(e.Changes) == 0 {
		return nil, nil
	}
	return out, json.Unmarshal(e.Changes, &out)
}

// BroughtIn is the table name that represents a whole imported archive in an entry; its ID is the
// number of journal entries that came with it.
const BroughtIn = "archive"

// WholeCopy is the table name that represents a restored backup.
const WholeCopy = "copy"

// CanUndo reports whether the entry is of a kind that can be undone.
func (e Entry) CanUndo() bool {
	if e.UndoneBy != nil {
		return false
	}
	changes, err := e.Records()
	return err == nil && len(changes) > 0 && changes[0].Table != WholeCopy && (e.Undoes == nil || changes[0].Table != BroughtIn)
}

// Decode unmarshals one side of a change; nil if there was no record.
func (c RecordChange) Decode(raw JSON) (Record, error) {
	if c.Table == BroughtIn || c.Table == WholeCopy || len(raw) == 0 || string(raw) == "null" {
		return nil, nil
	}
	t, ok := FindTable(c.Table)
	if !ok {
		return nil, fmt.Errorf("no table %.40q", c.Table)
	}
	rec := t.New()
	if err := json.Unmarshal(raw, rec); err != nil {
		return nil, err
	}
	return rec, nil
}

// JournalTable is the name of the journal's table.
const JournalTable = "journal"

var entryTable = Table{Name: JournalTable, One: "line of the journal", New: func() Record { return &Entry{} }, Most: 2_000_000}
