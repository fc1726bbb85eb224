package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"zephyrfield/internal/garden"
)

// Change implements garden.Store.
func (s *Store) Change(ctx context.Context, c garden.Change, f func(garden.Tx) (string, error)) (garden.Receipt, error) {
	return s.change(ctx, c, nil, func(t *tx) (string, error) { return f(t) })
}

func (s *Store) change(ctx context.Context, c garden.Change, undoes []int64, f func(*tx) (string, error)) (r garden.Receipt, err error) {
	db, err := s.write.BeginTxx(ctx, nil)
	if err != nil {
		return r, told(err)
	}
	defer func() {
		if err != nil {
			err = errors.Join(told(err), rollback(db))
		}
	}()
	t := &tx{reader: reader{ctx, db}, tx: db, tables: s.tables}
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
	return r, db.Commit()
}

func rollback(db *sqlx.Tx) error {
	if err := db.Rollback(); err != nil && !errors.Is(err, sql.ErrTxDone) {
		return err
	}
	return nil
}

// named gives the rules of the database that a person can break their words.
func named(err error) error {
	if isConstraint(err, "beds.name") {
		return garden.Faults{"name": "there is a bed of that name already; choose another"}
	}
	if isConstraint(err, "crops.code") {
		return garden.Faults{"name": "there is a crop of that name already; change that one"}
	}
	return err
}

// write puts the line in the journal and keeps the key.
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
