package store

import (
	"context"
	"errors"
	"sync"

	"github.com/jmoiron/sqlx"
)

// statements are prepared statements by query, one set a connection: there are about fifty, and SQLite parses
// slower than it answers.
type statements struct {
	db *sqlx.DB
	mu sync.RWMutex
	by map[string]*sqlx.Stmt
	// begun are those that are being parsed: until ctx ends, which stop does.
	begun map[string]bool
	ctx   context.Context
	stop  context.CancelFunc
	wait  sync.WaitGroup
	// one is held while a query is parsed, so that this takes one connection more and not all.
	one sync.Mutex
}

func newStatements(db *sqlx.DB) *statements {
	s := &statements{db: db, by: map[string]*sqlx.Stmt{}, begun: map[string]bool{}}
	s.ctx, s.stop = context.WithCancel(context.Background())
	return s
}

// in returns a prepared statement bound to a transaction. On first use it is prepared for that transaction alone,
// and in the background for all: that takes a connection, which no transaction may wait for.
func (s *statements) in(ctx context.Context, tx *sqlx.Tx, query string) (*sqlx.Stmt, error) {
	s.mu.RLock()
	st, ok := s.by[query]
	s.mu.RUnlock()
	if ok {
		return tx.StmtxContext(ctx, st), nil
	}
	s.mu.Lock()
	if !s.begun[query] && s.ctx.Err() == nil {
		s.begun[query] = true
		s.wait.Go(func() { s.parse(query) })
	}
	s.mu.Unlock()
	return tx.PreparexContext(ctx, query)
}

func (s *statements) parse(query string) {
	s.one.Lock()
	defer s.one.Unlock()
	st, err := s.db.PreparexContext(s.ctx, query)
	s.mu.Lock()
	defer s.mu.Unlock()
	if err != nil {
		delete(s.begun, query) // the next one tries again
		return
	}
	s.by[query] = st
}

// close closes all statements and waits for those being prepared: a connection opened later would keep the file
// open.
func (s *statements) close() (err error) {
	s.mu.Lock()
	s.stop()
	s.mu.Unlock()
	s.wait.Wait()
	s.mu.Lock()
	defer s.mu.Unlock()
	for query, st := range s.by {
		err = errors.Join(err, st.Close())
		delete(s.by, query)
	}
	return err
}
