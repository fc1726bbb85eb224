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

// file is what a store and its snapshots share.
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

// readers is how many may read at once.
const readers = 4

// keptPages is how many pages of the file a connection keeps: few, since the system keeps the
// file's pages too.
const keptPages = 32

func dsn(path string, pragmas ...string) string {
	q := url.Values{"_time_format": {"sqlite"}}
	for _, p := range append([]string{"foreign_keys(1)", "busy_timeout(5000)", "synchronous(FULL)",
		fmt.Sprintf("cache_size(%d)", keptPages)}, pragmas...) {
		q.Add("_pragma", p)
	}
	return "file:" + (&url.URL{Path: path}).EscapedPath() + "?" + q.Encode()
}

// Open opens a garden file, makes it if there is none, and brings it up to
// date.
func Open(ctx context.Context, path string) (*Store, error) { return open(ctx, path, nil) }

// OpenServing opens it for the one process that serves it; at says where, for
// another that wants to.
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

// settled is the whole path of a file, links followed.
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
		return nil, errors.Join(told(err), s.write.Close())
	}
	if s.read, err = sqlx.Open("sqlite", dsn(path, "query_only(1)")); err != nil {
		return nil, errors.Join(err, s.write.Close())
	}
	s.read.SetMaxOpenConns(readers)
	s.read.SetMaxIdleConns(readers)
	s.asked = newStatements(s.read)
	if err := s.known(ctx); err != nil {
		return nil, errors.Join(told(err), s.read.Close(), s.write.Close())
	}
	return s, nil
}

// Rest gives up the connections that nobody reads by, but one (each holds pages of the
// file and statements of its own), and what was found out of the records.
func (s *Store) Rest() {
	s.cache.Clear()
	s.read.SetMaxIdleConns(1)
	s.read.SetMaxIdleConns(readers)
}

// Close writes everything back into the garden's file and closes it. What could
// not be written back is reported.
func (s *Store) Close() error {
	err := errors.Join(s.asked.close(), s.read.Close(), s.write.Close())
	if s.lock != nil {
		err = errors.Join(err, s.lock.Close())
	}
	return err
}

// Together names the file that belongs to the garden's beside it, "" when all is
// in the one: a -wal that could not be written back.
func (s *Store) Together() string {
	if info, err := os.Stat(s.path + walEnd); err == nil && info.Size() > 0 {
		return s.path + walEnd
	}
	return ""
}

// Path is the garden's file.
func (s *Store) Path() string { return s.path }

// Notes are what was found and put right while it was opened, in words.
func (s *Store) Notes() []string { return s.notes }

// troubles are what can be wrong with the file or its disk, by SQLite's codes.
var troubles = map[int]error{
	sqlite3.SQLITE_FULL: garden.ErrFull, sqlite3.SQLITE_READONLY: garden.ErrReadOnly, sqlite3.SQLITE_CANTOPEN: garden.ErrReadOnly,
	sqlite3.SQLITE_BUSY: garden.ErrBusy, sqlite3.SQLITE_LOCKED: garden.ErrBusy, sqlite3.SQLITE_IOERR: garden.ErrDisk,
	sqlite3.SQLITE_CORRUPT: garden.ErrDamaged, sqlite3.SQLITE_NOTADB: garden.ErrDamaged,
}

// told gives what is wrong with the file or its disk its name.
func told(err error) error {
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

// constraint reports whether err is a broken rule of the file, by SQLite's code.
func constraint(err error) (broken string, ok bool) {
	var e *sqlite.Error
	if errors.As(err, &e) && e.Code()&0xff == sqlite3.SQLITE_CONSTRAINT {
		return e.Error(), true
	}
	return "", false
}

// isConstraint reports whether err is a rule of the file broken on something named: the
// code reports that one is, only the text which.
func isConstraint(err error, on string) bool {
	broken, ok := constraint(err)
	return ok && strings.Contains(broken, on)
}
