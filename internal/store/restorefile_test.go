package store_test

import (
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
)

// names lists what lies in a folder, its folders' contents too.
func names(t *testing.T, dir string) (out []string) {
	t.Helper()
	require.NoError(t, filepath.WalkDir(dir, func(p string, _ os.DirEntry, err error) error {
		out = append(out, p)
		return err
	}))
	return out
}

// opened is what lets somebody in.
func opened(t *testing.T, s *store.Store, token string) (hash, diary string, inside bool) {
	t.Helper()
	ctx := context.Background()
	hash, err := s.PassphraseHash(ctx)
	require.NoError(t, err)
	diary, err = s.DiarySecret(ctx)
	require.NoError(t, err)
	inside, err = s.HasSession(ctx, token, noon)
	require.NoError(t, err)
	return hash, diary, inside
}

// What was revoked since a copy does not come back with it.
func TestRestoreKeepsAccessOfNow(t *testing.T) {
	ctx := context.Background()
	s := hollin(t)
	require.NoError(t, s.SetPassphraseHash(ctx, "given away", ""))
	require.NoError(t, s.SetDiarySecret(ctx, "given away"))
	copied, err := s.DailyCopy(ctx, quantity.Date(2026, 11, 23))
	require.NoError(t, err)
	require.NoError(t, s.SetPassphraseHash(ctx, "new", ""))
	require.NoError(t, s.SetDiarySecret(ctx, "new"))
	require.NoError(t, s.AddSession(ctx, "token", "192.0.2.1, a phone or tablet", noon, noon.AddDate(0, 0, 30)))
	_, err = s.PutBack(ctx, change("put"), "2026-11-23.db")
	require.NoError(t, err)
	hash, diary, inside := opened(t, s, "token")
	assert.Equal(t, []any{"new", "new", true}, []any{hash, diary, inside}, "while it is served")

	at := killed(t, s)
	was, err := store.RestoreFile(ctx, at, copied, noon)
	require.NoError(t, err)
	assert.False(t, was.NoAccess)
	again := open(t, at)
	hash, diary, inside = opened(t, again, "token")
	assert.Equal(t, []any{"new", "new", true}, []any{hash, diary, inside}, "with the program stopped")
	require.NoError(t, again.Close())

	// One that cannot be read lets nobody in; a garden that is new here is as it was.
	require.NoError(t, os.WriteFile(at, append([]byte("SQLite format 3\x00"), make([]byte, 50_000)...), 0o600))
	was, err = store.RestoreFile(ctx, at, copied, noon)
	require.NoError(t, err)
	assert.True(t, was.NoAccess)
	broken := open(t, at)
	hash, diary, inside = opened(t, broken, "token")
	assert.Equal(t, []any{"", "", false}, []any{hash, diary, inside})
	fresh := filepath.Join(t.TempDir(), "garden.db")
	was, err = store.RestoreFile(ctx, fresh, copied, noon)
	require.NoError(t, err)
	assert.Equal(t, store.Restored{}, was)
	hash, _, _ = opened(t, open(t, fresh), "token")
	assert.Equal(t, "given away", hash)
}

func TestTwoRestoresInOneSecondKeepBoth(t *testing.T) {
	ctx := context.Background()
	s := hollin(t)
	copied, err := s.DailyCopy(ctx, quantity.Date(2026, 11, 23))
	require.NoError(t, err)
	states := map[string]bool{}
	for _, name := range []string{"One", "Two"} {
		add(t, s, "", name)
		states[string(recordsOf(archive(t, s)))] = true
		_, err = s.PutBack(ctx, change("back to before "+name), "2026-11-23.db")
		require.NoError(t, err)
	}
	again, err := s.PutBack(ctx, change("back to before Two"), "2026-11-23.db")
	require.NoError(t, err)
	assert.True(t, again.Repeated, "the same press twice")
	copies, err := s.Copies()
	require.NoError(t, err)
	require.Len(t, copies, 3)
	for _, name := range copies[:2] {
		require.NotEqual(t, "2026-11-23.db", name)
		delete(states, string(recordsOf(archive(t, open(t, filepath.Join(s.CopiesDir(), name))))))
	}
	assert.Empty(t, states, "both states are kept")

	at := killed(t, s)
	kept := map[string]bool{}
	for range 3 {
		was, err := store.RestoreFile(ctx, at, copied, noon)
		require.NoError(t, err)
		require.FileExists(t, was.Kept)
		kept[was.Kept] = true
	}
	assert.Len(t, kept, 3)
}

func TestFailedRestoreLeavesNothing(t *testing.T) {
	ctx := context.Background()
	s := hollin(t)
	copied, err := s.DailyCopy(ctx, quantity.Date(2026, 11, 23))
	require.NoError(t, err)
	raw, err := os.ReadFile(copied)
	require.NoError(t, err)
	for i := 5000; i < 60_000; i++ {
		raw[i] = 0xa5
	}
	bad := filepath.Join(s.CopiesDir(), "2026-11-22.db")
	require.NoError(t, os.WriteFile(bad, raw, 0o600))
	want, before := archive(t, s), names(t, filepath.Dir(s.Path()))
	_, err = s.PutBack(ctx, change("bad"), "2026-11-22.db")
	require.ErrorIs(t, err, garden.ErrDamaged)
	assert.Equal(t, before, names(t, filepath.Dir(s.Path())))
	assert.Equal(t, string(want), string(archive(t, s)))
	gone, leave := context.WithCancel(ctx)
	leave()
	_, err = s.PutBack(gone, change("gone"), "2026-11-23.db")
	require.Error(t, err)
	assert.Equal(t, before, names(t, filepath.Dir(s.Path())), "of one that was left neither")

	// One whose last step fails: its key stands in the copy.
	add(t, s, "landed", "In the later copy")
	_, err = s.DailyCopy(ctx, quantity.Date(2026, 11, 24))
	require.NoError(t, err)
	_, err = s.PutBack(ctx, change("back"), "2026-11-23.db")
	require.NoError(t, err)
	want, before = archive(t, s), names(t, filepath.Dir(s.Path()))
	_, err = s.PutBack(ctx, change("landed"), "2026-11-24.db")
	require.Error(t, err)
	assert.Equal(t, before, names(t, filepath.Dir(s.Path())))
	assert.Equal(t, string(want), string(archive(t, s)))

	at := killed(t, s)
	before = names(t, filepath.Dir(at))
	for _, from := range []string{bad, at, filepath.Join(t.TempDir(), "nowhere.db")} {
		_, err = store.RestoreFile(ctx, at, from, noon)
		require.Error(t, err)
	}
	soon, leave := context.WithTimeout(ctx, time.Nanosecond)
	defer leave()
	_, err = store.RestoreFile(soon, at, copied, noon)
	require.Error(t, err)
	after := names(t, filepath.Dir(at))
	assert.Subset(t, append(before, at+"-lock", at+"-shm"), after, "nothing but the lock")
	assert.Equal(t, string(want), string(archive(t, open(t, at))))
}
