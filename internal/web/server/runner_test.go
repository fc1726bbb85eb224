package server_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"zephyrfield/internal/job"
	"zephyrfield/internal/store"
)

// runner runs long work until the test ends.
func runner(t testing.TB, st *store.Store) *job.Runner {
	t.Helper()
	r, err := job.NewRunner(context.Background(), st, time.Now)
	require.NoError(t, err)
	t.Cleanup(r.Stop)
	return r
}
