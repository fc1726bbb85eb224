package store

import (
	"context"
	"database/sql"
	"sync"

	"github.com/jmoiron/sqlx"

	"zephyrfield/internal/garden"
)

// view is one view of the file, in which all readings of a piece of work answer alike.
type view struct {
	mu sync.Mutex
	tx *sqlx.Tx
	// version is the garden's, read once.
	version string
}

// Snapshot implements garden.Store: the first read opens the transaction; a change made through the snapshot is
// seen by the reads after it.
func (s *Store) Snapshot() (garden.Store, func() error) {
	v := &view{}
	return &Store{s.file, v}, v.end
}

// open returns the view's transaction.
func (v *view) open(ctx context.Context, db *sqlx.DB) (*sqlx.Tx, error) {
	v.mu.Lock()
	defer v.mu.Unlock()
	if v.tx != nil {
		return v.tx, nil
	}
	var err error
	v.tx, err = db.BeginTxx(ctx, &sql.TxOptions{ReadOnly: true})
	return v.tx, err
}

// end lets the view go.
func (v *view) end() error {
	v.mu.Lock()
	defer v.mu.Unlock()
	if v.tx == nil {
		return nil
	}
	err := rollback(v.tx)
	v.tx, v.version = nil, ""
	return err
}
