package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/jmoiron/sqlx"

	"zephyrfield/internal/garden"
)

// Change implements garden.Store.
func (s *Store) Change(ctx context.Context, c garden.Change, f func(garden.Tx) (string, error)) (garden.Receipt, error) {
	return s.change(ctx, c, nil, func(t *tx) (string, error) { return f(t) })
}

func (s *Store) change(ctx context.Context, c garden.Change, undoes []int64, f func(*tx) (string, error)) (r garden.Receipt, err error) {
	// A view of its own that stayed open in the meantime would keep SQLite from ever
	// beginning its log again.
	if st := s.view; st != nil {
		if err := st.end(); err != nil {
			return r, err
		}
	}
	db, err := s.write.BeginTxx(ctx, nil)
	if err != nil {
		return r, asFault(err)
	}
	defer func() {
		if err != nil {
			err = errors.Join(asFault(err), rollback(db))
		}
	}()
	t := &tx{reader: reader{ctx: ctx, db: db, tables: s.tables, cache: &s.cache}, tx: db, beds: map[int64]bool{}}
	if c.Key != "" {
		var was string
		err = db.QueryRowxContext(ctx, "SELECT journal_id, digest FROM posted WHERE key=?", c.Key).Scan(&r.Journal, &was)
		if err == nil && was != "" && c.Digest != "" && was != c.Digest {
			return r, garden.ErrOtherContent
		}
		if err == nil {
			r.Repeated = true
			return r, db.Rollback()
		}
		if !errors.Is(err, sql.ErrNoRows) {
			return r, err
		}
	}
	what, err := f(t)
	if err != nil {
		return r, named(err)
	}
	if r.Journal, err = t.write(c, what, undoes); err != nil {
		return r, err
	}
	if err = db.Commit(); err != nil {
		return r, err
	}
	if st := s.view; st != nil {
		return r, st.end() // what is read after it sees it
	}
	return r, nil
}

func rollback(db *sqlx.Tx) error {
	if err := db.Rollback(); err != nil && !errors.Is(err, sql.ErrTxDone) {
		return err
	}
	return nil
}

// alone returns the column whose unique constraint an error is about; ok is false for other errors.
func alone(err error) (a garden.Alone, ok bool) {
	for _, t := range garden.Tables {
		for _, x := range t.Alone {
			if isConstraint(err, t.Name+"."+x.Column) {
				return x, true
			}
		}
	}
	return a, false
}

// named turns violated constraints that a person can cause into garden.Faults; other errors are returned as they
// are.
func named(err error) error {
	if a, ok := alone(err); ok {
		return garden.Faults{a.Field: a.Says + "; " + a.Instead}
	}
	return err
}

// write adds the change's line to the journal and stores its idempotency key.
func (t *tx) write(c garden.Change, what string, undoes []int64) (int64, error) {
	changes, err := json.Marshal(t.changes)
	if err != nil {
		return 0, err
	}
	at := c.At.UTC().Format(time.RFC3339)
	var first *int64
	if len(undoes) > 0 {
		first = &undoes[0]
	}
	res, err := t.tx.ExecContext(t.ctx,
		"INSERT INTO journal (version, at, who, what, changes, undoes) VALUES (1, ?, ?, ?, ?, ?)",
		at, c.Who, what, string(changes), first)
	if err != nil {
		return 0, fmt.Errorf("writing the journal: %w", err)
	}
	id, err := res.LastInsertId()
	if err != nil {
		return 0, err
	}
	if slices.ContainsFunc(t.changes, func(x garden.RecordChange) bool { return bearsOnAll[x.Table] }) {
		t.beds[noBed] = true
	}
	if err := t.touches(t.beds, id); err != nil {
		return 0, err
	}
	for _, line := range undoes {
		if err := t.exec("UPDATE journal SET undone_by=? WHERE id=?", id, line); err != nil {
			return 0, err
		}
	}
	if c.Key != "" {
		err = t.exec("INSERT INTO posted (key, at, journal_id, digest) VALUES (?, ?, ?, ?)", c.Key, at, id, c.Digest)
	}
	return id, err
}

// touch adds the bed that a record belongs to; a core belongs to the bed of its sample.
func (t *tx) touch(beds map[int64]bool, rec garden.Record) error {
	switch x := rec.(type) {
	case garden.OfBed:
		beds[x.OfBed()] = true
	case *garden.Core:
		var bed int64
		switch err := t.tx.GetContext(t.ctx, &bed, "SELECT bed_id FROM sample_beds WHERE id=?", x.SampleBedID); {
		case err == nil:
			beds[bed] = true
		case !errors.Is(err, sql.ErrNoRows):
			return err
		}
	}
	return nil
}

// touches stores which beds a line of the journal changed.
func (t *tx) touches(beds map[int64]bool, line int64) error {
	for bed := range beds {
		if _, err := t.tx.ExecContext(t.ctx, "INSERT OR IGNORE INTO journal_beds (bed_id, journal_id) VALUES (?, ?)", bed,
			line); err != nil {
			return fmt.Errorf("storing the beds of a change: %w", err)
		}
	}
	return nil
}
