package store

import (
	"context"
	"errors"
	"sync"

	"github.com/jmoiron/sqlx"
)

// statements are the queries that were asked before, each parsed once a connection:
// there are about fifty, and SQLite parses slower than it answers.
type statements struct {
	db *sqlx.DB
	mu sync.RWMutex
	by map[string]*sqlx.Stmt
}

func newStatements(db *sqlx.DB) *statements { return &statements{db: db, by: map[string]*sqlx.Stmt{}} }

// in is a query's statement inside a transaction.
func (s *statements) in(ctx context.Context, tx *sqlx.Tx, query string) (*sqlx.Stmt, error) {
	s.mu.RLock()
	st, ok := s.by[query]
	s.mu.RUnlock()
	if !ok {
		fresh, err := s.db.PreparexContext(context.WithoutCancel(ctx), query)
		if err != nil {
			return nil, err
		}
		s.mu.Lock()
		if st, ok = s.by[query]; ok {
			_ = fresh.Close() // another was first
		} else {
			st, s.by[query] = fresh, fresh
		}
		s.mu.Unlock()
	}
	return tx.StmtxContext(ctx, st), nil
}

func (s *statements) close() (err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for query, st := range s.by {
		err = errors.Join(err, st.Close())
		delete(s.by, query)
	}
	return err
}
