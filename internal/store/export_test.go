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

// Readers is how many may read at once.
const Readers = readers

// Migrations are the steps, for tests that stop half way.
var (
	Migrations = migrations.FS
	Steps      = migrations.Steps()
)
