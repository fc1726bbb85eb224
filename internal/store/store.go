// Package store keeps a garden in one SQLite file.
package store

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"syscall"

	"github.com/jmoiron/sqlx"
	"modernc.org/sqlite" // the driver "sqlite"
	sqlite3 "modernc.org/sqlite/lib"

	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// Store is an open garden file. Writers go one at a time through one
// connection; readers have a pool of their own that cannot write.
type Store struct {
	*file
	// view is what a snapshot reads in; nil where each reading has a view of its own.
	view *view
}

// file is shared by a store and its snapshots.
type file struct {
	path   string
	write  *sqlx.DB
	read   *sqlx.DB
	asked  *statements
	tables registry
	lock   *os.File
	// cache keeps what was found out of the records.
	cache cache.Cache
	// notes are what was found and put right while it was opened.
	notes []string

	mu sync.Mutex
	// copyTrouble is why the last daily copy could not be written, "" when it was.
	copyTrouble string
}

// Errors of opening.
var (
	// ErrNewer is returned when a file was made by a newer version of the program.
	ErrNewer = errors.New("this garden was last opened by a newer version of Zephyr Field")
	// ErrForeign is returned for a file that is no garden; it is left as it is.
	ErrForeign = errors.New("that file is not a garden of Zephyr Field; it was left as it is")
	// ErrServed is returned when another process serves the file.
	ErrServed = errors.New("the garden is open in another Zephyr Field")
)

// readers is the number of read connections.
const readers = 4

// keptPages is the page cache of a connection: small, since the system caches the file too.
const keptPages = 32

func dsn(path string, pragmas ...string) string {
	q := url.Values{"_time_format": {"sqlite"}}
	for _, p := range append([]string{"foreign_keys(1)", "busy_timeout(5000)", "synchronous(FULL)",
		fmt.Sprintf("cache_size(%d)", keptPages)}, pragmas...) {
		q.Add("_pragma", p)
	}
	return "file:" + (&url.URL{Path: path}).EscapedPath() + "?" + q.Encode()
}

// Open opens a garden file, creates it if there is none, and migrates it.
func Open(ctx context.Context, path string) (*Store, error) { return open(ctx, path, nil) }

// OpenServing is Open for the process that serves the file; at is its address, reported to other processes that
// try.
func OpenServing(ctx context.Context, path, at string) (*Store, error) {
	path, err := settled(path)
	if err != nil {
		return nil, err
	}
	lock, err := lockFile(path, at)
	if err != nil {
		return nil, err
	}
	s, err := open(ctx, path, lock)
	if err != nil {
		return nil, errors.Join(err, lock.Close())
	}
	return s, nil
}

// settled returns the absolute path of a file with symbolic links resolved.
func settled(path string) (string, error) {
	path, err := filepath.Abs(path)
	if err != nil {
		return "", err
	}
	if real, err := filepath.EvalSymlinks(path); err == nil {
		path = real
	}
	return path, nil
}

func open(ctx context.Context, path string, lock *os.File) (*Store, error) {
	path, err := settled(path)
	if err != nil {
		return nil, err
	}
	s := &Store{file: &file{path: path, tables: newRegistry(), lock: lock}}
	if err := s.prepare(ctx); err != nil {
		return nil, err
	}
	if s.write, err = sqlx.Open("sqlite", dsn(path, "journal_mode(WAL)")+"&_txlock=immediate"); err != nil {
		return nil, err
	}
	s.write.SetMaxOpenConns(1)
	if err := migrate(ctx, s.write, path); err != nil {
		return nil, errors.Join(asFault(err), s.write.Close())
	}
	if s.read, err = sqlx.Open("sqlite", dsn(path, "query_only(1)")); err != nil {
		return nil, errors.Join(err, s.write.Close())
	}
	s.read.SetMaxOpenConns(readers)
	s.read.SetMaxIdleConns(readers)
	s.asked = newStatements(s.read)
	if err := s.known(ctx); err != nil {
		return nil, errors.Join(asFault(err), s.read.Close(), s.write.Close())
	}
	return s, nil
}

// Rest closes all idle read connections but one (each holds cached pages and statements) and clears the cache.
func (s *Store) Rest() {
	s.cache.Clear()
	s.read.SetMaxIdleConns(1)
	s.read.SetMaxIdleConns(readers)
}

// Close checkpoints the WAL into the garden's file and closes it. An error means that the checkpoint failed.
func (s *Store) Close() error {
	err := errors.Join(s.asked.close(), s.read.Close(), s.write.Close())
	if s.lock != nil {
		err = errors.Join(err, s.lock.Close())
	}
	return err
}

// Together returns the name of a WAL that belongs to the garden's file and could not be
// checkpointed, "" when there is none.
func (s *Store) Together() string {
	if info, err := os.Stat(s.path + walEnd); err == nil && info.Size() > 0 {
		return s.path + walEnd
	}
	return ""
}

// Path returns the path of the garden's file.
func (s *Store) Path() string { return s.path }

// Notes returns what was found and repaired on opening, in words.
func (s *Store) Notes() []string { return s.notes }

// troubles are failures of the file or its disk by SQLite's result codes.
var troubles = map[int]error{
	sqlite3.SQLITE_FULL: garden.ErrFull, sqlite3.SQLITE_READONLY: garden.ErrReadOnly, sqlite3.SQLITE_CANTOPEN: garden.ErrReadOnly,
	sqlite3.SQLITE_BUSY: garden.ErrBusy, sqlite3.SQLITE_LOCKED: garden.ErrBusy, sqlite3.SQLITE_IOERR: garden.ErrDisk,
	sqlite3.SQLITE_CORRUPT: garden.ErrDamaged, sqlite3.SQLITE_NOTADB: garden.ErrDamaged,
}

// asFault wraps SQLite's errors of the file or its disk in the package's own.
func asFault(err error) error {
	switch {
	case errors.Is(err, syscall.ENOSPC) && !errors.Is(err, garden.ErrFull):
		return fmt.Errorf("%w (%w)", garden.ErrFull, err)
	case (errors.Is(err, syscall.EROFS) || errors.Is(err, os.ErrPermission)) && !errors.Is(err, garden.ErrReadOnly):
		return fmt.Errorf("%w (%w)", garden.ErrReadOnly, err)
	}
	var e *sqlite.Error
	if errors.As(err, &e) {
		if is, ok := troubles[e.Code()&0xff]; ok && !errors.Is(err, is) {
			return fmt.Errorf("%w (%w)", is, err)
		}
	}
	return err
}

// constraint reports whether err is a violated constraint, by SQLite's code.
func constraint(err error) (broken string, ok bool) {
	var e *sqlite.Error
	if errors.As(err, &e) && e.Code()&0xff == sqlite3.SQLITE_CONSTRAINT {
		return e.Error(), true
	}
	return "", false
}

// isConstraint reports whether err is a violated constraint on a named column: the code says that it is one, only
// the text which.
func isConstraint(err error, on string) bool {
	broken, ok := constraint(err)
	return ok && strings.Contains(broken, on)
}
