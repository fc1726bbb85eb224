package store

import (
	"context"

	"zephyrfield/internal/store/migrations"
)

// Pragma sets something on the writing connection, as a failing disk would.
func (s *Store) Pragma(ctx context.Context, says string) error {
	_, err := s.write.ExecContext(ctx, "PRAGMA "+says)
	return err
}

// Synchronous returns how the writing connection flushes: 2 is before each commit returns.
func (s *Store) Synchronous(ctx context.Context) (mode int, err error) {
	return mode, s.write.QueryRowxContext(ctx, "PRAGMA synchronous").Scan(&mode)
}

// Readers is how many may read at once.
const Readers = readers

// Migrations are the steps, for tests that stop half way.
var (
	Migrations = migrations.FS
	Steps      = migrations.Steps()
)
