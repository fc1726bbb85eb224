package store_test

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
)

// A page that reads before it changes something must not keep the log from being
// begun again: it would grow until the disk is full.
func TestWALIsResetUnderLoad(t *testing.T) {
	path := filepath.Join(t.TempDir(), "garden.db")
	s := open(t, path)
	for i := range 400 {
		page, end := s.Snapshot()
		ctx := context.Background()
		require.NoError(t, page.Read(ctx, func(r garden.Reader) error { _, err := r.Version(); return err }))
		b := bed(fmt.Sprintf("Bed %d", i))
		_, err := page.Change(ctx, change(""), func(tx garden.Tx) (string, error) { return "a bed", tx.Insert(b) })
		require.NoError(t, err)
		require.NoError(t, end())
	}
	log, err := os.Stat(path + "-wal")
	require.NoError(t, err)
	assert.Less(t, log.Size(), int64(6<<20))
}

// Pages that hold all connections ask for what nobody asked before, and for what is no
// record: none of them may wait for a connection that another holds.
func TestReadersDoNotBlockEachOther(t *testing.T) {
	s := fresh(t)
	ctx, stop := context.WithTimeout(context.Background(), time.Minute) // where it hangs, it ends
	defer stop()
	var open, done sync.WaitGroup
	open.Add(store.Readers)
	for range store.Readers {
		done.Go(func() {
			snapshot, end := s.Snapshot()
			page := snapshot.(*store.Store)
			assert.NoError(t, page.Read(ctx, func(garden.Reader) error { return nil }))
			open.Done()
			open.Wait()
			assert.NoError(t, page.Read(ctx, func(r garden.Reader) error { _, err := garden.All[garden.Mark](r); return err }))
			_, err := page.Sessions(ctx, time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC))
			assert.NoError(t, err)
			_, err = page.PassphraseHash(ctx)
			assert.NoError(t, err)
			_, err = page.Layout(ctx, "a head")
			assert.NoError(t, err)
			_, _, err = page.Job(ctx, "a job")
			assert.NoError(t, err)
			assert.NoError(t, end())
		})
	}
	done.Wait()
}
