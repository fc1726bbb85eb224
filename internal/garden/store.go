package garden

import (
	"context"
	"errors"
	"fmt"
	"time"

	"zephyrfield/internal/cache"
)

// The errors of a Store.
var (
	// ErrStale is returned when a record changed since the form was loaded.
	ErrStale = errors.New("this was changed meanwhile in another window")
	// ErrMissing is returned when there is no such record.
	ErrMissing = errors.New("there is no such record")
	// ErrNotEmpty is returned when an archive is to be imported into a garden with records.
	ErrNotEmpty = errors.New("this garden already has records; an archive goes into an empty one")
	// ErrOtherContent is returned when a key was used with different content.
	ErrOtherContent = errors.New("that was sent already, with other content")
	// ErrUndone is returned when a change was already undone.
	ErrUndone = errors.New("that has been taken back already")
)

// Failures of the garden's file or disk. Nothing is changed then.
var (
	ErrFull     = errors.New("the disk is full")
	ErrReadOnly = errors.New("the garden’s file cannot be written to")
	ErrBusy     = errors.New("another program holds the garden’s file")
	ErrDisk     = errors.New("the disk cannot be read or written")
	ErrDamaged  = errors.New("the garden’s file is damaged")
)

// Change is who changes what and when. A repeated Key is applied once; an empty Key is never a
// repeat. Digest is a hash of the content: a repeated Key with another Digest is an error.
type Change struct {
	Key    string
	Digest string
	Who    string
	At     time.Time
}

// Receipt is a change's result: its journal entry.
type Receipt struct {
	Journal int64
	// Repeated is set when the key had been applied before; nothing was done.
	Repeated bool
}

// Store stores the records. Every change is one transaction and one journal entry.
type Store interface {
	// Read calls f with a consistent snapshot.
	Read(context.Context, func(Reader) error) error
	// Snapshot returns a store that reads one snapshot until end is called. A change made through
	// it is visible to later reads.
	Snapshot() (snapshot Store, end func() error)
	// Change runs f in a transaction. f returns the journal message; an error rolls back.
	Change(context.Context, Change, func(Tx) (what string, err error)) (Receipt, error)
	// Undo undoes a change and the older ones in more, all or none, if nothing that they touched
	// has changed since.
	Undo(ctx context.Context, c Change, journal int64, more ...int64) (Receipt, error)
	// Restore imports records into an empty garden as one change: rows passes them in the order of
	// Tables.
	Restore(ctx context.Context, c Change, rows func(put func(Record) error) error) (Receipt, error)
}

// Reader is the common set of queries. Records of any table are read by Get, One, All and Where;
// joins and other selections are queries of the packages that need them.
type Reader interface {
	// Garden returns the garden record.
	Garden() (Garden, error)
	// Record reads a record by number; List those whose column has a value into a slice, in the
	// order of their Table, all of them if column is "".
	Record(into Record, id int64) error
	List(kind Record, column string, key, into any) error
	// Moved returns the movements of each batch that has any.
	Moved() ([]Moved, error)
	// Version changes with every change of the records.
	Version() (string, error)
	// BedVersion changes with every change of a bed's own records, and of what affects all beds:
	// place, measured soil temperatures, crops. That of bed 0 changes with the latter alone.
	BedVersion(bed int64) (string, error)
	// BedsVersion changes when any bed's version does.
	BedsVersion() (string, error)
	// Cache returns the cache of derived values; nil within a change.
	Cache() *cache.Cache
	// Journal returns entries older than `before`, newest first; 0: the newest.
	Journal(before int64, limit int) ([]Line, error)
	// JournalOf returns the last entries that touch a bed, newest first.
	JournalOf(bed int64, limit int) ([]Line, error)
	// Empty reports whether there is no record besides the garden.
	Empty() (bool, error)
	// Each calls f with each record of a table, a new value each time.
	Each(table string, f func(Record) error) error
}

// record is a pointer to a record of type T.
type record[T any] interface {
	*T
	Record
}

// Get returns a record by its number; ErrMissing if there is none.
func Get[T any, P record[T]](r Reader, id int64) (rec T, err error) {
	err = r.Record(P(&rec), id)
	return rec, err
}

// All returns a whole table.
func All[T any, P record[T]](r Reader) ([]T, error) { return Where[T, P](r, "", nil) }

// Where returns the records whose column has a value.
func Where[T any, P record[T]](r Reader, column string, key any) ([]T, error) {
	out := []T{}
	err := r.List(P(new(T)), column, key, &out)
	return out, err
}

// One returns the first record whose column has a value; ErrMissing if there is none.
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

// Writer changes records. Insert sets the record's id and version; Update and Delete need the
// version that was read and return ErrStale otherwise.
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

// Ask reads one snapshot with a package's own queries: R, which the store must implement.
func Ask[R Reader](ctx context.Context, s Store, f func(R) error) error {
	return s.Read(ctx, func(r Reader) error {
		own, ok := r.(R)
		if !ok {
			return fmt.Errorf("store does not implement %T", *new(R))
		}
		return f(own)
	})
}

// Do runs one change with a package's own queries.
func Do[T Tx](ctx context.Context, s Store, c Change, f func(T) (what string, err error)) (Receipt, error) {
	return s.Change(ctx, c, func(tx Tx) (string, error) {
		own, ok := tx.(T)
		if !ok {
			return "", fmt.Errorf("store does not implement %T", *new(T))
		}
		return f(own)
	})
}

// Session is a signed-in session: since when, last seen, and from where. ID identifies it without
// granting access.
type Session struct {
	ID     string `db:"id"`
	Made   string `db:"made"`
	Seen   string `db:"seen"`
	Whence string `db:"whence"`
}
