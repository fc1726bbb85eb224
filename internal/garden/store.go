package garden

import (
	"context"
	"errors"
	"fmt"
	"time"

	"zephyrfield/internal/cache"
)

// Errors of a Store.
var (
	// ErrStale is returned when a record changed since the page was made.
	ErrStale = errors.New("this was changed meanwhile in another window")
	// ErrMissing is returned when there is no such record.
	ErrMissing = errors.New("there is no such record")
	// ErrNotEmpty is returned when an archive is to go over a garden with beds.
	ErrNotEmpty = errors.New("this garden already has records; an archive goes into an empty one")
	// ErrOtherContent is returned when a key has landed with another change.
	ErrOtherContent = errors.New("that was sent already, with other content")
	// ErrUndone is returned when a change has been taken back already.
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
// same Key with another is reported, not taken for the same.
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
	// Snapshot is the store in one view: all that is read by it agrees, until what is given ends it. A change
	// made by it is seen by readings after it.
	Snapshot() (snapshot Store, end func() error)
	// Change runs f in a transaction. f says what was done; an error undoes it.
	Change(context.Context, Change, func(Tx) (what string, err error)) (Receipt, error)
	// Undo takes a change back, when nothing it touched has changed since, and with
	// it those of more, which came before it: all or none.
	Undo(ctx context.Context, c Change, journal int64, more ...int64) (Receipt, error)
	// Restore brings records into a garden that holds none, as one change: rows
	// hands them to put one by one, in the order of Tables.
	Restore(ctx context.Context, c Change, rows func(put func(Record) error) error) (Receipt, error)
}

// Reader answers questions. Records of any list are read by Get, One, All and Where;
// what joins lists, or picks from them in another way, is a question of its own.
type Reader interface {
	// Garden is the place itself.
	Garden() (Garden, error)
	// Record reads one by its number; List those whose column says so into a slice of
	// records, in the order of their Table, all of them where column is "".
	Record(into Record, id int64) error
	List(kind Record, column string, key, into any) error
	// Moved is what came and went of each batch that has any.
	Moved() ([]Moved, error)
	// Version changes with every change of the records.
	Version() (string, error)
	// BedVersion changes with every change of a bed's own records, and of what bears on all beds: the
	// place, the measured soil, the crops. That of no bed, 0, changes with the latter alone.
	BedVersion(bed int64) (string, error)
	// BedsVersion changes with every change that changes that of any bed.
	BedsVersion() (string, error)
	// Cache keeps what was found out of the records; nil where they are being changed.
	Cache() *cache.Cache
	// Journal is the last lines from before one on, newest first; 0: from the newest.
	Journal(before int64, limit int) ([]Line, error)
	// JournalOf is the last lines that touch a bed, newest first.
	JournalOf(bed int64, limit int) ([]Line, error)
	// Empty reports whether there is no record yet but the garden itself.
	Empty() (bool, error)
	// Each goes through a list of Tables; the record is its own each time.
	Each(table string, f func(Record) error) error
}

// record is a pointer to a record of type T.
type record[T any] interface {
	*T
	Record
}

// Get reads a record by its number; ErrMissing when there is none.
func Get[T any, P record[T]](r Reader, id int64) (rec T, err error) {
	err = r.Record(P(&rec), id)
	return rec, err
}

// All reads a whole list.
func All[T any, P record[T]](r Reader) ([]T, error) { return Where[T, P](r, "", nil) }

// Where reads the records whose column says so.
func Where[T any, P record[T]](r Reader, column string, key any) ([]T, error) {
	out := []T{}
	err := r.List(P(new(T)), column, key, &out)
	return out, err
}

// One reads the first record whose column says so; ErrMissing when there is none.
func One[T any, P record[T]](r Reader, column string, key any) (rec T, err error) {
	all, err := Where[T, P](r, column, key)
	if err == nil && len(all) == 0 {
		err = ErrMissing
	}
	if err != nil {
		return rec, err
	}
	return all[0], nil
}

// Writer changes records. Insert sets the record's id and version; Update and
// Delete want the version that was read and tell ErrStale otherwise.
type Writer interface {
	Insert(Record) error
	Update(Record) error
	Delete(Record) error
}

// Tx reads and changes records.
type Tx interface {
	Reader
	Writer
}

// Ask reads in one steady view what a piece of work asks of the store: R is the
// questions of its own, which the store must answer.
func Ask[R Reader](ctx context.Context, s Store, f func(R) error) error {
	return s.Read(ctx, func(r Reader) error {
		own, ok := r.(R)
		if !ok {
			return fmt.Errorf("the store does not answer %T", *new(R))
		}
		return f(own)
	})
}

// Do changes records in one step, with the questions of a piece of work.
func Do[T Tx](ctx context.Context, s Store, c Change, f func(T) (what string, err error)) (Receipt, error) {
	return s.Change(ctx, c, func(tx Tx) (string, error) {
		own, ok := tx.(T)
		if !ok {
			return "", fmt.Errorf("the store does not answer %T", *new(T))
		}
		return f(own)
	})
}

// Session is somebody who is signed in: since when, when last seen, and from
// where. ID distinguishes it from the others and opens nothing.
type Session struct {
	ID     string `db:"id"`
	Made   string `db:"made"`
	Seen   string `db:"seen"`
	Whence string `db:"whence"`
}
