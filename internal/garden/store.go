package garden

import (
	"context"
	"errors"
	"time"
)

// Errors of a Store.
var (
	// ErrStale is told when a record changed since the page was made.
	ErrStale = errors.New("this was changed meanwhile in another window")
	// ErrMissing is told when there is no such record.
	ErrMissing = errors.New("there is no such record")
	// ErrNotEmpty is told when an archive is to go over a garden with beds.
	ErrNotEmpty = errors.New("this garden already has records; an archive goes into an empty one")
	// ErrOtherContent is told when a key has landed with another change.
	ErrOtherContent = errors.New("that was sent already, with other content")
	// ErrUndone is told when a change has been taken back already.
	ErrUndone = errors.New("that has been taken back already")
)

// What can be wrong with the garden's file or its disk. Nothing is changed then.
var (
	ErrFull     = errors.New("the disk is full")
	ErrReadOnly = errors.New("the garden’s file cannot be written to")
	ErrBusy     = errors.New("another program holds the garden’s file")
	ErrDisk     = errors.New("the disk cannot be read or written")
	ErrDamaged  = errors.New("the garden’s file is damaged")
)

// Change says who changes what and when. Key makes a double post land once;
// an empty Key is never repeated. Digest stands for what was sent under it: the
// same Key with another is told, not taken for the same.
type Change struct {
	Key    string
	Digest string
	Who    string
	At     time.Time
}

// Receipt is what a change left: its line in the journal.
type Receipt struct {
	Journal int64
	// Repeated is set when the key had landed before; nothing was done then.
	Repeated bool
}

// Store keeps the records. Every change is one transaction and one line in the
// journal.
type Store interface {
	// Read gives a steady view of the records.
	Read(context.Context, func(Reader) error) error
	// Change runs f in a transaction. f says what was done; an error undoes it.
	Change(context.Context, Change, func(Tx) (what string, err error)) (Receipt, error)
	// Undo takes a change back, when nothing it touched has changed since, and with
	// it those of more, which came before it: all or none.
	Undo(ctx context.Context, c Change, journal int64, more ...int64) (Receipt, error)
	// Restore brings records into a garden that holds none, as one change: rows
	// hands them to put one by one, in the order of Tables.
	Restore(ctx context.Context, c Change, rows func(put func(Record) error) error) (Receipt, error)
}

// Reader answers questions. Lists are in the order of their ids unless said.
type Reader interface {
	Garden() (Garden, error)
	Beds() ([]Bed, error)
	Bed(id int64) (Bed, error)
	// PlantingsAround are all beds' crops that stand on a day, were cleared
	// after since, or are sown by until; in the order of sowing.
	PlantingsAround(since, until string) ([]Planting, error)
	PlantingsOf(bed int64) ([]Planting, error)
	Planting(id int64) (Planting, error)
	// Crops are those of the gardener's own, Marks the paths and walls.
	Crops() ([]OwnCrop, error)
	Marks() ([]Mark, error)
	// CropUsed is how many plantings call a crop by its code.
	CropUsed(code string) (int, error)
	Batches() ([]Batch, error)
	Batch(id int64) (Batch, error)
	// Moved is what came and went of each batch that has any.
	Moved() ([]Moved, error)
	// LatestReadings gives for each bed its last reading with a pH, its last with a
	// potassium, with an organic matter and with a CEC, up to a day.
	LatestReadings(upTo string) ([]Reading, error)
	Reading(id int64) (Reading, error)
	// Rounds are the newest first; what belongs to one is in the order of its way.
	Rounds() ([]Round, error)
	Round(id int64) (Round, error)
	SamplesOf(round int64) ([]Sample, error)
	Sample(id int64) (Sample, error)
	SampleByCode(code string) (Sample, error)
	// Codes are those of all samples, with how the first of their beds is worked.
	Codes() ([]SampleCode, error)
	// SamplesBetween are those taken in the stretch, in the order of their days.
	SamplesBetween(from, to string) ([]Sample, error)
	SamplesOfBed(bed int64) ([]Sample, error)
	// SamplesWaiting are those that were taken and not read yet.
	SamplesWaiting() ([]Waiting, error)
	SampleBedsOf(round int64) ([]SampleBed, error)
	BedsOfSample(sample int64) ([]SampleBed, error)
	SampleBed(id int64) (SampleBed, error)
	CoresOf(round int64) ([]Core, error)
	// ReadingsOf are the bed's, oldest first, those struck out as well.
	ReadingsOf(bed int64) ([]Reading, error)
	// Held are the open goes whose plan rests on a reading that was struck out.
	Held() ([]Held, error)
	// ReadingKeys are those of the readings that stand, from a day to a day.
	ReadingKeys(from, to string) ([]ReadingKey, error)
	// ReadingsOfSample are those of a mixed sample, on every bed of it.
	ReadingsOfSample(sample int64) ([]Reading, error)
	ReadingsFrom(day string, limit int) ([]Reading, error)
	// ApplicationsOf are the bed's, oldest first.
	ApplicationsOf(bed int64) ([]Application, error)
	// ApplicationsSince are those of all beds from a day on, oldest first.
	ApplicationsSince(day string) ([]Application, error)
	// TasksBetween are those due in the stretch, in the order of their days.
	TasksBetween(from, to string) ([]Task, error)
	// TasksOpen are all that are still to do, in the order of their days.
	TasksOpen() ([]Task, error)
	TasksOf(bed int64) ([]Task, error)
	// SettledOn are the tasks done or skipped on a day.
	SettledOn(day string) ([]Task, error)
	Task(id int64) (Task, error)
	// Stamp changes with every change of the records.
	Stamp() (string, error)
	Entry(id int64) (Entry, error)
	// Journal is the last lines from before one on, newest first; 0: from the newest.
	Journal(before int64, limit int) ([]Line, error)
	// JournalOf is the last lines that touch a bed, newest first.
	JournalOf(bed int64, limit int) ([]Line, error)
	// Empty tells whether there is no record yet but the garden itself.
	Empty() (bool, error)
	// Each goes through a list of Tables; the record is its own each time.
	Each(table string, f func(Record) error) error
}

// Tx changes records. Insert sets the record's id and version; Update and
// Delete want the version that was read and tell ErrStale otherwise.
type Tx interface {
	Reader
	Insert(Record) error
	Update(Record) error
	Delete(Record) error
}

// Session is somebody who is signed in: since when, when last seen, and from
// where. ID tells it from the others and opens nothing.
type Session struct {
	ID     string `db:"id"`
	Made   string `db:"made"`
	Seen   string `db:"seen"`
	Whence string `db:"whence"`
}
