package store_test

import (
	"bytes"
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
)

func TestRehearsalIsPermanent(t *testing.T) {
	ctx, day := context.Background(), quantity.Date(2026, 3, 1)
	s := fresh(t)
	require.NoError(t, s.BeginRehearsal(ctx, day))
	add(t, s, "", "Bean row")
	require.NoError(t, s.SetRehearsal(ctx, day+31))
	path := s.Path()
	require.NoError(t, s.Close())
	s = open(t, path)
	on, err := s.Rehearsal(ctx)
	require.NoError(t, err)
	assert.Equal(t, day+31, on, "its calendar goes on where it stood")
	rehearsal := func(s *store.Store) bool {
		var g garden.Garden
		require.NoError(t, s.Read(ctx, func(r garden.Reader) (err error) { g, err = r.Garden(); return err }))
		return g.Rehearsal
	}
	assert.True(t, rehearsal(s))
	// It does not come into a garden that is none, nor does a garden's archive take the mark away.
	own := fresh(t)
	_, err = bringIn(own, archive(t, s))
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f["archive"], "rehearsal")
	assert.False(t, rehearsal(own))
	real := fresh(t)
	add(t, real, "", "Plum row")
	other := fresh(t)
	require.NoError(t, other.BeginRehearsal(ctx, day))
	_, err = bringIn(other, archive(t, real))
	require.NoError(t, err)
	assert.True(t, rehearsal(other))
	assert.True(t, bytes.Contains(archive(t, other), []byte("Plum row")))
}

func TestGardenIsNeverRunAsRehearsal(t *testing.T) {
	ctx := context.Background()
	s := fresh(t)
	add(t, s, "", "Bean row")
	require.ErrorIs(t, s.BeginRehearsal(ctx, quantity.Date(2026, 3, 1)), store.ErrNoRehearsal)
	_, r := add(t, s, "", "Plum row")
	_, err := s.Undo(ctx, change(""), r.Journal)
	require.NoError(t, err)
	require.ErrorIs(t, s.BeginRehearsal(ctx, quantity.Date(2026, 3, 1)), store.ErrNoRehearsal)
	day, err := s.Rehearsal(ctx)
	require.NoError(t, err)
	assert.Zero(t, day)
}
