package store

import (
	"context"
	"database/sql"
	"sync"

	"github.com/jmoiron/sqlx"
)

// steady is one view of the garden for all readings of a piece of work: a page.
type steady struct {
	mu sync.Mutex
	tx *sqlx.Tx
	// stamp is read once.
	stamp string
}

type steadyKey struct{}

// Steady makes all readings in a context answer from one view of the garden, which
// the first of them opens. A change made in it is seen by those after it. What is
// returned ends it.
func (s *Store) Steady(ctx context.Context) (context.Context, func() error) {
	st := &steady{}
	return context.WithValue(ctx, steadyKey{}, st), st.end
}

// within is the view that a context carries; nil for none.
func within(ctx context.Context) *steady {
	st, _ := ctx.Value(steadyKey{}).(*steady)
	return st
}

// open gives the view's transaction.
func (st *steady) open(ctx context.Context, db *sqlx.DB) (*sqlx.Tx, error) {
	st.mu.Lock()
	defer st.mu.Unlock()
	if st.tx != nil {
		return st.tx, nil
	}
	var err error
	st.tx, err = db.BeginTxx(ctx, &sql.TxOptions{ReadOnly: true})
	return st.tx, err
}

// end lets the view go.
func (st *steady) end() error {
	st.mu.Lock()
	defer st.mu.Unlock()
	if st.tx == nil {
		return nil
	}
	err := rollback(st.tx)
	st.tx, st.stamp = nil, ""
	return err
}
