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

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver "sqlite"

	"zephyrfield/internal/store/migrations"
)

// Store is an open garden file. Writers go one at a time through one
// connection; readers have a pool of their own that cannot write.
type Store struct {
	path   string
	write  *sqlx.DB
	read   *sqlx.DB
	tables registry
}

// ErrNewer is told when a file was made by a newer version of the program.
var ErrNewer = errors.New("this garden was last opened by a newer version of Zephyr Field")

// readers is how many may read at once.
const readers = 4

func dsn(path string, pragmas ...string) string {
	q := url.Values{"_time_format": {"sqlite"}}
	for _, p := range append([]string{"foreign_keys(1)", "busy_timeout(5000)", "synchronous(FULL)"}, pragmas...) {
		q.Add("_pragma", p)
	}
	return "file:" + (&url.URL{Path: path}).EscapedPath() + "?" + q.Encode()
}

// Open opens a garden file, makes it if there is none, and brings it up to
// date.
func Open(ctx context.Context, path string) (*Store, error) {
	path, err := filepath.Abs(path)
	if err != nil {
		return nil, err
	}
	fresh := false
	if info, err := os.Stat(path); errors.Is(err, os.ErrNotExist) || err == nil && info.Size() == 0 {
		fresh = true
	}
	write, err := sqlx.Open("sqlite", dsn(path, "journal_mode(WAL)")+"&_txlock=immediate")
	if err != nil {
		return nil, err
	}
	write.SetMaxOpenConns(1)
	if err := migrate(ctx, write, path, fresh); err != nil {
		return nil, errors.Join(err, write.Close())
	}
	read, err := sqlx.Open("sqlite", dsn(path, "query_only(1)"))
	if err != nil {
		return nil, errors.Join(err, write.Close())
	}
	read.SetMaxOpenConns(readers)
	read.SetMaxIdleConns(readers)
	return &Store{path: path, write: write, read: read, tables: newRegistry()}, nil
}

// migrate brings the file up to date; a file of a newer version is refused,
// and an older one is copied aside first.
func migrate(ctx context.Context, db *sqlx.DB, path string, fresh bool) error {
	p, err := goose.NewProvider(goose.DialectSQLite3, db.DB, migrations.FS)
	if err != nil {
		return err
	}
	has, err := p.GetDBVersion(ctx)
	if err != nil {
		return fmt.Errorf("%s cannot be read as a garden: %w", path, err)
	}
	sources := p.ListSources()
	newest := sources[len(sources)-1].Version
	switch {
	case has > newest:
		return fmt.Errorf("%w (it is at step %d, this version knows %d): get the newer version, or serve one of the copies beside it", ErrNewer, has, newest)
	case has == newest:
		return nil
	case !fresh && has > 0:
		if err := copyTo(ctx, db, fmt.Sprintf("%s.before-step-%d", path, newest)); err != nil {
			return fmt.Errorf("keeping a copy before the update: %w", err)
		}
	}
	_, err = p.Up(ctx)
	return err
}

// Close closes both pools.
func (s *Store) Close() error { return errors.Join(s.read.Close(), s.write.Close()) }

// Path is the garden's file.
func (s *Store) Path() string { return s.path }

// copyTo writes a whole copy of the database to a file that must not exist.
func copyTo(ctx context.Context, db *sqlx.DB, to string) error {
	_, err := db.ExecContext(ctx, "VACUUM INTO ?", to)
	return err
}

// isConstraint tells whether err is a broken constraint on something named.
func isConstraint(err error, on string) bool {
	return err != nil && strings.Contains(err.Error(), "constraint failed") && strings.Contains(err.Error(), on)
}
