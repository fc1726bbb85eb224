package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// keepCopies is the number of daily copies that are kept.
const keepCopies = 14

// copiesEnd ends the name of the folder of copies; copyEnd that of a copy.
const (
	putBackEnd = "-before-putting-back-" // of how it stood before a copy was put back
	copiesEnd  = ".copies"
	copyEnd    = ".db"
)

// CopiesDir returns the folder of daily copies beside the garden's file. It is named after the
// whole file name, so that two gardens never share one.
func (s *Store) CopiesDir() string { return s.path + copiesEnd }

// oldCopies moves copies from the folder used by earlier versions, unless another garden may have written them.
func (s *Store) oldCopies() {
	stem := strings.TrimSuffix(s.path, filepath.Ext(s.path))
	if _, err := os.Stat(s.CopiesDir()); err == nil || stem == s.path || filepath.Ext(s.path) != ".db" {
		return
	}
	_ = os.Rename(stem+copiesEnd, s.CopiesDir()) // where there are none, nothing is moved
}

// DailyCopy writes the day's copy if there is none yet, deletes the oldest beyond fourteen (also of those kept
// before a restore), and returns the copy's path.
func (s *Store) DailyCopy(ctx context.Context, today quantity.Day) (string, error) {
	to, err := s.dailyCopy(ctx, today)
	s.mu.Lock()
	defer s.mu.Unlock()
	s.copyTrouble = ""
	if err != nil {
		s.copyTrouble = err.Error()
	}
	return to, err
}

// CopyTrouble returns the error of the last daily copy in words, "" when it succeeded.
func (s *Store) CopyTrouble() string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.copyTrouble
}

func (s *Store) dailyCopy(ctx context.Context, today quantity.Day) (string, error) {
	s.oldCopies()
	dir := s.CopiesDir()
	if err := os.MkdirAll(dir, ownFolder); err != nil {
		return "", err
	}
	if err := os.Chmod(dir, ownFolder); err != nil {
		return "", err
	}
	to := filepath.Join(dir, today.String()+copyEnd)
	if _, err := os.Stat(to); err != nil {
		if err := copyTo(ctx, s.write, to); err != nil {
			return "", err
		}
	}
	all, err := s.daily()
	if err != nil {
		return to, err
	}
	// Those dated ahead, by a clock that ran ahead, neither count nor go.
	all = slices.DeleteFunc(all, func(name string) bool { return name > today.String()+copyEnd })
	kept, err := s.named("????-??-??" + putBackEnd + "*" + copyEnd)
	if err != nil {
		return to, err
	}
	for _, old := range slices.Concat(all[min(keepCopies, len(all)):], kept[min(keepCopies, len(kept)):]) {
		if err := os.Remove(filepath.Join(dir, old)); err != nil {
			return to, err
		}
	}
	return to, nil
}

// daily lists the names of the daily copies, newest first.
func (s *Store) daily() ([]string, error) { return s.named("????-??-??" + copyEnd) }

func (s *Store) named(pattern string) ([]string, error) {
	// The folder's own name may hold what a pattern means something by.
	entries, err := os.ReadDir(s.CopiesDir())
	if errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	var found []string
	for _, e := range entries {
		if ok, _ := filepath.Match(pattern, e.Name()); ok && e.Type().IsRegular() {
			found = append(found, e.Name())
		}
	}
	slices.Sort(found)
	slices.Reverse(found)
	return found, err
}

// Copies lists the names of all copies, newest first: the daily ones, and those made before a restore.
func (s *Store) Copies() ([]string, error) { return s.named("????-??-??*" + copyEnd) }

// PutBack replaces the open garden's records by those of a copy from its folder. The state before is saved as a
// copy first; the journal records the restore. Passphrase, diary address and sessions are not records: they stay.
func (s *Store) PutBack(ctx context.Context, c garden.Change, name string) (r garden.Receipt, err error) {
	if r, err = s.posted(ctx, c.Key); err != nil || r.Repeated {
		return r, err
	}
	all, err := s.Copies()
	if err != nil {
		return garden.Receipt{}, err
	}
	if !slices.Contains(all, name) {
		return garden.Receipt{}, garden.ErrMissing
	}
	dir, err := os.MkdirTemp(s.CopiesDir(), ".putting-back-")
	if err != nil {
		return garden.Receipt{}, asFault(err)
	}
	defer func() { _ = os.RemoveAll(dir) }()
	from := filepath.Join(dir, "copy.db")
	if err := copyFile(filepath.Join(s.CopiesDir(), name), from); err != nil {
		return garden.Receipt{}, err
	}
	if err := broughtUp(ctx, from); err != nil {
		return garden.Receipt{}, err
	}
	at := c.At.UTC()
	kept, err := unused(filepath.Join(s.CopiesDir(), at.Format("2006-01-02")+putBackEnd+at.Format("150405")), copyEnd)
	if err != nil {
		return garden.Receipt{}, err
	}
	if err := copyTo(ctx, s.write, kept); err != nil {
		return garden.Receipt{}, err
	}
	if r, err = s.takeOver(ctx, c, from, "Restored the copy "+strings.TrimSuffix(name, copyEnd)); err != nil {
		return r, errors.Join(err, os.Remove(kept)) // nothing has changed: there is no state of before
	}
	return r, nil
}

// unused returns the first name of a file that there is not yet: stem and end, with a number between them from the
// second on.
func unused(stem, end string) (string, error) {
	for n := 1; ; n++ {
		name := stem + end
		if n > 1 {
			name = stem + "-" + strconv.Itoa(n) + end
		}
		if _, err := os.Lstat(name); errors.Is(err, os.ErrNotExist) {
			return name, nil
		} else if err != nil {
			return "", err
		}
	}
}

// posted returns the receipt of a change that was made under a key before.
func (s *Store) posted(ctx context.Context, key string) (r garden.Receipt, err error) {
	if key == "" {
		return r, nil
	}
	err = s.write.GetContext(ctx, &r.Journal, "SELECT journal_id FROM posted WHERE key=?", key)
	if errors.Is(err, sql.ErrNoRows) {
		return r, nil
	}
	r.Repeated = err == nil
	return r, asFault(err)
}

// broughtUp migrates a copy to the current schema and closes it as a single file without a WAL.
func broughtUp(ctx context.Context, path string) error {
	if look(ctx, path, false).foreign() {
		return fmt.Errorf("that copy: %w", ErrForeign)
	}
	if !sound(ctx, path, false) {
		return fmt.Errorf("that copy: %w", garden.ErrDamaged)
	}
	s, err := Open(ctx, path)
	if err != nil {
		return err
	}
	return s.Close()
}

// takeOver replaces every record, the journal and the idempotency keys by those of another file at the same schema
// version.
func (s *Store) takeOver(ctx context.Context, c garden.Change, from, what string) (r garden.Receipt, err error) {
	conn, err := s.write.Connx(ctx)
	if err != nil {
		return r, asFault(err)
	}
	defer func() { err = errors.Join(err, conn.Close()) }()
	if _, err := conn.ExecContext(ctx, "ATTACH DATABASE ? AS other", from); err != nil {
		return r, asFault(err)
	}
	defer func() {
		_, detach := conn.ExecContext(context.WithoutCancel(ctx), "DETACH DATABASE other")
		err = errors.Join(err, detach)
	}()
	db, err := conn.BeginTxx(ctx, nil)
	if err != nil {
		return r, asFault(err)
	}
	defer func() {
		if err != nil {
			err = errors.Join(asFault(err), rollback(db))
		}
	}()
	steps := []string{"PRAGMA defer_foreign_keys = ON", "DELETE FROM posted", "DELETE FROM journal_beds"}
	for _, t := range slices.Backward(garden.Tables) {
		steps = append(steps, "DELETE FROM "+t.Name)
	}
	for _, t := range garden.Tables {
		columns := strings.Join(s.tables.byName[t.Name].columns, ",")
		steps = append(steps, "INSERT INTO "+t.Name+" ("+columns+") SELECT "+columns+" FROM other."+t.Name)
	}
	steps = append(steps, "INSERT INTO posted SELECT * FROM other.posted", "INSERT INTO journal_beds SELECT * FROM other.journal_beds")
	for _, step := range steps {
		if _, err = db.ExecContext(ctx, step); err != nil {
			return r, err
		}
	}
	whole := garden.RecordChange{Table: garden.WholeCopy, Before: null, After: null}
	t := &tx{reader: reader{ctx: ctx, db: db, tables: s.tables}, tx: db, changes: []garden.RecordChange{whole},
		beds: map[int64]bool{}}
	if r.Journal, err = t.write(c, what, nil); err != nil {
		return r, err
	}
	return r, db.Commit()
}
