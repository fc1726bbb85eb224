package store

import (
	"bytes"
	"context"
	"crypto/rand"
	"database/sql"
	"encoding/binary"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"

	"zephyrfield/internal/store/migrations"
)

// Names of the files that lie beside the garden's.
const (
	walEnd  = "-wal"
	shmEnd  = "-shm"
	lockEnd = "-lock"
)

// What only the gardener may read.
const (
	ownFile   = 0o600
	ownFolder = 0o700
)

// gardenSetting is the setting of the garden's id, which its copies share.
const gardenSetting = "garden"

// A number in the file's head, SQLite's user_version, tells this file from every
// other and from its own copies: by it a -wal is known that belongs to another. It
// stands where it can be read without opening the file: one that was cut off while
// its -wal was written back cannot be opened alone.
const numberAt = 60

// prepare inspects the file before it is opened: a file that is no garden is refused, and a WAL of another file is
// set aside.
func (s *Store) prepare(ctx context.Context) error {
	info, err := os.Stat(s.path)
	missing := errors.Is(err, os.ErrNotExist)
	switch {
	case missing:
		f, err := os.OpenFile(s.path, os.O_CREATE|os.O_RDWR|os.O_EXCL, ownFile)
		if err != nil {
			return err
		}
		if err := f.Close(); err != nil {
			return err
		}
	case err != nil:
		return err
	case info.IsDir():
		return fmt.Errorf("%s is a folder: %w", s.path, ErrForeign)
	}
	if missing || info.Size() == 0 {
		_ = os.Chmod(s.path, ownFile) // as far as it is ours to say
		return s.setAside()           // whatever lies beside a new file is not its own
	}
	if !startsAsSQLite(s.path) {
		return fmt.Errorf("%s: %w", s.path, ErrForeign)
	}
	if s.lock == nil && served(s.path) {
		return nil // in use: another process looked at it
	}
	alone := look(ctx, s.path, true)
	if alone.foreign() {
		return fmt.Errorf("%s: %w", s.path, ErrForeign)
	}
	if wal, err := os.Stat(s.path + walEnd); err == nil && wal.Size() > 0 {
		if err := s.ownWAL(ctx, alone); err != nil {
			return err
		}
	}
	for _, end := range []string{"", walEnd, shmEnd, lockEnd} {
		_ = os.Chmod(s.path+end, ownFile)
	}
	return nil
}

// ownWAL decides whether a WAL belongs to the file: by what the last process noted, else by the file number in its
// newest copy of page 1, else by trying both together on copies.
func (s *Store) ownWAL(ctx context.Context, alone looks) error {
	is, err := numberOf(s.path)
	if err != nil {
		return err
	}
	noted, within := servedNumber(s.path), numberInWAL(s.path+walEnd)
	known := is != 0 && len(alone.tables) > 0 // it shows that it is a garden
	switch {
	case is != 0 && within != 0 && within != is && (known || noted != 0):
		return s.setAside()
	case is != 0 && noted == is:
		return nil
	case is != 0 && noted != 0 && within == 0 && known:
		return s.setAside()
	case known && within == is:
		return nil
	}
	dir, err := os.MkdirTemp(filepath.Dir(s.path), ".zephyrfield-look-")
	if err != nil {
		return err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	tried := filepath.Join(dir, "tried.db")
	if err := errors.Join(copyFile(s.path, tried), copyFile(s.path+walEnd, tried+walEnd)); err != nil {
		return err
	}
	both := look(ctx, tried, false)
	switch whole := sound(ctx, tried, false); {
	case whole && both.foreign():
		return fmt.Errorf("%s: %w", s.path, ErrForeign)
	case whole:
		return nil
	}
	return s.setAside()
}

// numberOf reads the file number in a database header.
func numberOf(path string) (uint32, error) {
	f, err := os.Open(path)
	if err != nil {
		return 0, err
	}
	defer func() { _ = f.Close() }()
	var raw [4]byte
	_, err = f.ReadAt(raw[:], numberAt)
	return binary.BigEndian.Uint32(raw[:]), err
}

// numberInWAL reads the file number from the newest frame of page 1 in a WAL, 0 when it has none.
func numberInWAL(path string) (number uint32) {
	const head, frameHead = 32, 24
	f, err := os.Open(path)
	if err != nil {
		return 0
	}
	defer func() { _ = f.Close() }()
	var raw [head]byte
	if _, err := f.ReadAt(raw[:], 0); err != nil {
		return 0
	}
	page := int64(binary.BigEndian.Uint32(raw[8:]))
	if page < 512 || page > 1<<16 {
		return 0
	}
	salts := raw[16:24] // frames of an older round have others
	for at := int64(head); ; at += frameHead + page {
		var frame [frameHead]byte
		if _, err := f.ReadAt(frame[:], at); err != nil || !bytes.Equal(frame[8:16], salts) {
			return number
		}
		var is [4]byte
		if binary.BigEndian.Uint32(frame[:]) == 1 {
			if _, err := f.ReadAt(is[:], at+frameHead+numberAt); err != nil {
				return number
			}
			number = binary.BigEndian.Uint32(is[:])
		}
	}
}

// setAside renames a WAL that does not belong to the file, and adds a note.
func (s *Store) setAside() error {
	if err := os.Remove(s.path + shmEnd); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	to := s.path + walEnd + ".set-aside-" + time.Now().UTC().Format("20060102T150405.000")
	switch err := os.Rename(s.path+walEnd, to); {
	case errors.Is(err, os.ErrNotExist):
		return nil
	case err != nil:
		return err
	}
	s.notes = append(s.notes, fmt.Sprintf("%s lay beside the garden’s file and is not its own. It was set aside as %s; the file was "+
		"opened as it is.",
		filepath.Base(s.path)+walEnd, filepath.Base(to)))
	return nil
}

// looks is what a file's contents show before it is opened.
type looks struct {
	tables []string
	step   int64
}

// foreign reports whether it holds what no garden holds.
func (l looks) foreign() bool {
	if slices.Contains(l.tables, "garden") && slices.Contains(l.tables, "goose_db_version") {
		return false
	}
	// Cut off in its very first steps it holds nothing of anybody's yet.
	return slices.ContainsFunc(l.tables, func(t string) bool { return t != "goose_db_version" && !strings.HasPrefix(t, "sqlite_") })
}

// toRead opens a file read-only; with alone, without its WAL.
func toRead(path string, alone bool) (*sqlx.DB, error) {
	q := url.Values{"mode": {"ro"}}
	if alone {
		q.Set("immutable", "1")
	}
	return sqlx.Open("sqlite", "file:"+(&url.URL{Path: path}).EscapedPath()+"?"+q.Encode())
}

// sound reports whether SQLite's integrity check passes.
func sound(ctx context.Context, path string, alone bool) bool {
	db, err := toRead(path, alone)
	if err != nil {
		return false
	}
	defer func() { _ = db.Close() }()
	var check string
	err = db.GetContext(ctx, &check, "PRAGMA quick_check(1)")
	return err == nil && check == "ok"
}

// look inspects a file read-only.
func look(ctx context.Context, path string, alone bool) (l looks) {
	db, err := toRead(path, alone)
	if err != nil {
		return l
	}
	defer func() { _ = db.Close() }()
	_ = db.SelectContext(ctx, &l.tables, "SELECT name FROM sqlite_master WHERE type='table'")
	_ = db.GetContext(ctx, &l.step, "SELECT max(version_id) FROM goose_db_version")
	return l
}

func startsAsSQLite(path string) bool {
	f, err := os.Open(path)
	if err != nil {
		return true // opening it tells why
	}
	defer func() { _ = f.Close() }()
	const magic = "SQLite format 3\x00"
	head := make([]byte, len(magic))
	_, err = io.ReadFull(f, head)
	return err == nil && string(head) == magic
}

// copyFile copies a file and syncs the copy.
func copyFile(from, to string) (err error) {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer func() { _ = in.Close() }()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_WRONLY|os.O_EXCL, ownFile)
	if err != nil {
		return err
	}
	defer func() {
		if err != nil {
			_ = os.Remove(to) // half of it is of no use
		}
	}()
	if _, err := io.Copy(out, in); err != nil {
		return errors.Join(err, out.Close())
	}
	return errors.Join(out.Sync(), out.Close())
}

// known returns the file a file number if it has none, and notes it for the next process.
func (s *Store) known(ctx context.Context) error {
	var number int64
	if err := s.write.GetContext(ctx, &number, "PRAGMA user_version"); err != nil {
		return err
	}
	if number == 0 {
		number = int64(newNumber())
		if _, err := s.write.ExecContext(ctx, "PRAGMA user_version="+strconv.FormatInt(number, 10)); err != nil {
			return err
		}
		// The file itself must say so, not only what lies beside it.
		if _, err := s.write.ExecContext(ctx, "PRAGMA wal_checkpoint(TRUNCATE)"); err != nil {
			return err
		}
	}
	const once = "INSERT INTO settings (name, value) SELECT ?1, ?2 WHERE NOT EXISTS (SELECT 1 FROM settings WHERE name=?1)"
	if id, err := s.GardenID(ctx); err != nil || id == "" {
		if _, err := s.write.ExecContext(ctx, once, gardenSetting, newID()); err != nil {
			return err
		}
	}
	if s.lock != nil {
		return noteServed(s.lock, uint32(number))
	}
	if served(s.path) {
		return nil
	}
	f, err := os.OpenFile(s.path+lockEnd, os.O_CREATE|os.O_RDWR, ownFile)
	if err != nil {
		return err
	}
	return errors.Join(noteServed(f, uint32(number)), f.Close())
}

// newNumber returns a random file number above 0.
func newNumber() uint32 {
	var b [4]byte
	_, _ = rand.Read(b[:]) // never fails
	return binary.BigEndian.Uint32(b[:])>>2 + 1
}

func newID() string {
	var b [12]byte
	_, _ = rand.Read(b[:]) // never fails
	return hex.EncodeToString(b[:])
}

// GardenID identifies this garden; its copies share it.
func (s *Store) GardenID(ctx context.Context) (id string, err error) {
	err = s.write.GetContext(ctx, &id, "SELECT value FROM settings WHERE name=?", gardenSetting)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return id, asFault(err)
}

// migrate runs the pending migrations. A file of a newer version is refused with ErrNewer; an older one is copied
// first.
func migrate(ctx context.Context, db *sqlx.DB, path string) error {
	p, err := goose.NewProvider(goose.DialectSQLite3, db.DB, migrations.FS, migrations.Steps())
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
		return fmt.Errorf("%w (it is at step %d, this version knows %d): get the newer version, or serve one of the copies beside it",
			ErrNewer, has, newest)
	case has == newest:
		return nil
	case has > 0:
		if err := copyBefore(ctx, db, path, has, newest); err != nil {
			return fmt.Errorf("keeping a copy before the update: %w", err)
		}
	}
	_, err = p.Up(ctx)
	return err
}

// copyBefore copies a file before its migration. A copy left by an interrupted migration is reused; one of another
// state is kept beside it.
func copyBefore(ctx context.Context, db *sqlx.DB, path string, has, newest int64) error {
	var last int64
	if err := db.GetContext(ctx, &last, "SELECT coalesce(max(id), 0) FROM journal"); err != nil {
		return err
	}
	for n := 1; ; n++ {
		to := path + ".before-step-" + strconv.FormatInt(newest, 10)
		if n > 1 {
			to += "-" + strconv.Itoa(n)
		}
		if _, err := os.Stat(to); errors.Is(err, os.ErrNotExist) {
			return copyTo(ctx, db, to)
		}
		if l := look(ctx, to, true); l.step <= has && lastLine(ctx, to) == last && sound(ctx, to, true) {
			return nil
		}
	}
}

// lastLine returns the last journal id of a copy, -1 when it cannot be read.
func lastLine(ctx context.Context, path string) (last int64) {
	db, err := toRead(path, true)
	if err != nil {
		return -1
	}
	defer func() { _ = db.Close() }()
	if err := db.GetContext(ctx, &last, "SELECT coalesce(max(id), 0) FROM journal"); err != nil {
		return -1
	}
	return last
}

// copyTo writes a complete copy of the database, aside and then renamed, so that an interrupted one is never taken
// for complete. The copy has a new file number and no sessions.
func copyTo(ctx context.Context, db *sqlx.DB, to string) error {
	part := to + ".part"
	for _, end := range []string{"", "-journal", walEnd, shmEnd} {
		if err := os.Remove(part + end); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	if _, err := db.ExecContext(ctx, "VACUUM INTO ?", part); err != nil {
		_ = os.Remove(part)
		return asFault(err)
	}
	if err := errors.Join(os.Chmod(part, ownFile), ownNumber(ctx, part), syncFile(part)); err != nil {
		_ = os.Remove(part)
		return asFault(err)
	}
	return errors.Join(os.Rename(part, to), syncFile(filepath.Dir(to)))
}

// ownNumber returns a copy a new file number.
func ownNumber(ctx context.Context, path string) (err error) {
	db, err := sqlx.Open("sqlite", dsn(path, "journal_mode(DELETE)"))
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	if _, err = db.ExecContext(ctx, "PRAGMA user_version="+strconv.FormatUint(uint64(newNumber()), 10)); err == nil {
		_, err = db.ExecContext(ctx, "DELETE FROM sessions")
	}
	return err
}

// syncFile syncs a file, or a directory, to disk.
func syncFile(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}
