package store

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"github.com/jmoiron/sqlx"
)

// Restored is what a restore leaves besides the copy in its place.
type Restored struct {
	// Kept is the file that was there, kept beside; "" when there was none.
	Kept string
	// NoAccess is set when passphrase, diary address and sessions of the file that was there could not be read.
	NoAccess bool
}

// RestoreFile puts a copy in the place of a garden's file while no process serves it. The file that was there is
// kept beside it. Passphrase, diary address and sessions stay those of the file that was there: what was revoked is
// not brought back; where they cannot be read, there are none. A failure leaves everything as it was.
func RestoreFile(ctx context.Context, path, from string, now time.Time) (out Restored, err error) {
	path, err = settled(path)
	if err != nil {
		return out, err
	}
	if from, err = settled(from); err != nil {
		return out, err
	}
	if from == path {
		return out, errors.New("the copy is the garden’s own file")
	}
	if _, err := os.Stat(from); err != nil {
		return out, err
	}
	if !startsAsSQLite(from) {
		return out, fmt.Errorf("%s: %w", from, ErrForeign)
	}
	lock, err := lockFile(path, "restore")
	if err != nil {
		return out, err
	}
	defer func() { err = errors.Join(err, lock.Close()) }()
	part, placed := path+".restoring", false
	defer func() {
		if err != nil && !placed {
			err = errors.Join(err, removeWhole(part), removeWhole(out.Kept))
			out = Restored{}
		}
	}()
	if err := takenCopy(ctx, from, part); err != nil {
		return out, err
	}
	if out.NoAccess, err = keepAccess(ctx, path, part); err != nil {
		return out, err
	}
	// What lies beside the file belongs to what was there: should this be cut off,
	// the next process sees by the number that it is not the copy's.
	if was, err := numberOf(path); err == nil && was != 0 {
		if err := noteServed(lock, was); err != nil {
			return out, err
		}
	}
	if out.Kept, err = keepBeside(path, now); err != nil {
		return out, err
	}
	if err := os.Rename(part, path); err != nil {
		return out, err
	}
	placed = true
	return out, errors.Join(syncFile(filepath.Dir(path)), removeEnds(path, walEnd, shmEnd))
}

// removeWhole removes a file with what lies beside it, if there is one.
func removeWhole(path string) error {
	if path == "" {
		return nil
	}
	return removeEnds(path, "", "-journal", walEnd, shmEnd, lockEnd)
}

func removeEnds(path string, ends ...string) error {
	for _, end := range ends {
		if err := os.Remove(path + end); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	return nil
}

// access is who may enter a garden: settings, and the sessions under way.
type access struct {
	settings []struct {
		Name  string `db:"name"`
		Value string `db:"value"`
	}
	sessions []struct {
		Hash    string `db:"token_hash"`
		Expires string `db:"expires"`
		Made    string `db:"made"`
		Seen    string `db:"seen"`
		Whence  string `db:"whence"`
	}
}

// keepAccess gives the file part the access of the garden that is at path, if there is one; unread is set when it
// cannot be read.
func keepAccess(ctx context.Context, path, part string) (unread bool, err error) {
	if info, err := os.Stat(path); errors.Is(err, os.ErrNotExist) || err == nil && info.Size() == 0 {
		return false, nil
	}
	was, err := accessOf(ctx, path)
	if err != nil {
		unread, was = true, access{}
	}
	db, err := sqlx.Open("sqlite", dsn(part, "journal_mode(DELETE)"))
	if err != nil {
		return unread, err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	tx, err := db.BeginTxx(ctx, nil)
	if err != nil {
		return unread, asFault(err)
	}
	if err := was.write(ctx, tx); err != nil {
		return unread, errors.Join(asFault(err), rollback(tx))
	}
	return unread, asFault(tx.Commit())
}

// accessOf reads a garden's access from copies of its file and its WAL, so that these stay as they are.
func accessOf(ctx context.Context, path string) (a access, err error) {
	dir, err := os.MkdirTemp(filepath.Dir(path), ".zephyrfield-look-")
	if err != nil {
		return a, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	looked := filepath.Join(dir, "was.db")
	if err := copyFile(path, looked); err != nil {
		return a, err
	}
	if wal, err := os.Stat(path + walEnd); err == nil && wal.Size() > 0 {
		if err := copyFile(path+walEnd, looked+walEnd); err != nil {
			return a, err
		}
	}
	if err := broughtUp(ctx, looked); err != nil {
		return a, err
	}
	db, err := toRead(looked, true)
	if err != nil {
		return a, err
	}
	defer func() { _ = db.Close() }()
	return a, errors.Join(
		db.SelectContext(ctx, &a.settings, "SELECT name, value FROM settings WHERE name IN (?, ?)", passphraseSetting, diarySetting),
		db.SelectContext(ctx, &a.sessions, "SELECT token_hash, expires, made, seen, whence FROM sessions"))
}

// write puts it in place of a file's own.
func (a access) write(ctx context.Context, tx *sqlx.Tx) error {
	if _, err := tx.ExecContext(ctx, "DELETE FROM settings WHERE name IN (?, ?)", passphraseSetting, diarySetting); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, "DELETE FROM sessions"); err != nil {
		return err
	}
	for _, x := range a.settings {
		if _, err := tx.NamedExecContext(ctx, "INSERT INTO settings (name, value) VALUES (:name, :value)", x); err != nil {
			return err
		}
	}
	for _, x := range a.sessions {
		const add = "INSERT INTO sessions (token_hash, expires, made, seen, whence) VALUES (:token_hash, :expires, :made, :seen, :whence)"
		if _, err := tx.NamedExecContext(ctx, add, x); err != nil {
			return err
		}
	}
	return nil
}

// takenCopy copies a garden to a new single file without a WAL.
func takenCopy(ctx context.Context, from, part string) error {
	if err := removeWhole(part); err != nil {
		return err
	}
	if err := copyFile(from, part); err != nil {
		return err
	}
	if wal, err := os.Stat(from + walEnd); err == nil && wal.Size() > 0 {
		// A copy of a garden that was not closed is whole only with it.
		if err := copyFile(from+walEnd, part+walEnd); err != nil {
			return err
		}
	}
	return wholeCopy(ctx, part)
}

// wholeCopy checks that a file is a garden, checkpoints its WAL into it, and gives it a new file number.
func wholeCopy(ctx context.Context, path string) error {
	if err := broughtUp(ctx, path); err != nil {
		return err
	}
	if err := ownNumber(ctx, path); err != nil {
		return err
	}
	if err := removeEnds(path, walEnd, shmEnd, lockEnd); err != nil {
		return err
	}
	return syncFile(path)
}

// keepBeside copies a garden's file and its WAL to another name beside it; the original stays.
func keepBeside(path string, now time.Time) (string, error) {
	info, err := os.Stat(path)
	if errors.Is(err, os.ErrNotExist) || err == nil && info.Size() == 0 {
		return "", nil
	}
	kept, err := unused(path+".before-restore-"+now.UTC().Format("20060102T150405"), "")
	if err != nil {
		return "", err
	}
	if err := os.Link(path, kept); err != nil { // not every disk has links
		if err := copyFile(path, kept); err != nil {
			return kept, err
		}
	}
	if wal, err := os.Stat(path + walEnd); err == nil && wal.Size() > 0 {
		return kept, copyFile(path+walEnd, kept+walEnd)
	}
	return kept, nil
}
