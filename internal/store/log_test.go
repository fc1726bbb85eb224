package store_test

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/garden"
)

// A page that reads before it changes something must not keep the log from being
// begun anew: it would grow until the disk is full.
func TestTheLogIsBegunAnewUnderPages(t *testing.T) {
	path := filepath.Join(t.TempDir(), "garden.db")
	s := open(t, path)
	for i := range 400 {
		ctx, end := s.Steady(context.Background())
		require.NoError(t, s.Read(ctx, func(r garden.Reader) error { _, err := r.Stamp(); return err }))
		b := bed(fmt.Sprintf("Bed %d", i))
		_, err := s.Change(ctx, change(""), func(tx garden.Tx) (string, error) { return "a bed", tx.Insert(b) })
		require.NoError(t, err)
		require.NoError(t, end())
	}
	log, err := os.Stat(path + "-wal")
	require.NoError(t, err)
	assert.Less(t, log.Size(), int64(6<<20))
}
