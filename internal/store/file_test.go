package store_test

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
)

func copyOf(t testing.TB, from, to string) {
	t.Helper()
	b, err := os.ReadFile(from)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(to, b, 0o644))
}

// killed returns a garden's files as a process that was killed leaves them.
func killed(t testing.TB, s *store.Store) string {
	t.Helper()
	to := filepath.Join(t.TempDir(), "garden.db")
	copyOf(t, s.Path(), to)
	copyOf(t, s.Path()+"-wal", to+"-wal")
	if _, err := os.Stat(s.Path() + "-lock"); err == nil {
		copyOf(t, s.Path()+"-lock", to+"-lock")
	}
	return to
}

func TestFilesArePrivate(t *testing.T) {
	path := filepath.Join(t.TempDir(), "garden.db")
	require.NoError(t, os.WriteFile(path, nil, 0o644))
	s, err := store.OpenServing(context.Background(), path, "here")
	require.NoError(t, err)
	defer func() { _ = s.Close() }()
	add(t, s, "", "North")
	copied, err := s.DailyCopy(context.Background(), quantity.Date(2026, 11, 24))
	require.NoError(t, err)
	for _, f := range []string{path, path + "-wal", path + "-shm", path + "-lock", copied} {
		info, err := os.Stat(f)
		require.NoError(t, err)
		assert.Equal(t, "-rw-------", info.Mode().String(), f)
	}
	info, err := os.Stat(s.CopiesDir())
	require.NoError(t, err)
	assert.Equal(t, "drwx------", info.Mode().String())
	require.NoError(t, s.Close())
	require.NoError(t, os.Chmod(path, 0o644))
	open(t, path)
	info, err = os.Stat(path)
	require.NoError(t, err)
	assert.Equal(t, "-rw-------", info.Mode().String())
}

func TestForeignSQLiteFileIsUntouched(t *testing.T) {
	path := filepath.Join(t.TempDir(), "orders.db")
	db := raw(t, path)
	_, err := db.Exec("CREATE TABLE orders (id INTEGER PRIMARY KEY, seed TEXT); INSERT INTO orders (seed) VALUES ('kale')")
	require.NoError(t, err)
	require.NoError(t, db.Close())
	require.NoError(t, os.Chmod(path, 0o644))
	before, err := os.ReadFile(path)
	require.NoError(t, err)
	_, err = store.Open(context.Background(), path)
	require.ErrorIs(t, err, store.ErrForeign)
	after, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, before, after)
	info, err := os.Stat(path)
	require.NoError(t, err)
	assert.Equal(t, "-rw-r--r--", info.Mode().String(), "not even who may read it")

	// With changes of its own beside it, it is left alone all the same.
	db = raw(t, path)
	_, err = db.Exec("PRAGMA user_version=7; PRAGMA journal_mode=WAL; INSERT INTO orders (seed) VALUES ('beet')")
	require.NoError(t, err)
	at := filepath.Join(t.TempDir(), "orders.db")
	copyOf(t, path, at)
	copyOf(t, path+"-wal", at+"-wal")
	require.NoError(t, db.Close())
	_, err = store.Open(context.Background(), at)
	require.ErrorIs(t, err, store.ErrForeign)
	require.FileExists(t, at+"-wal")
	_, err = store.RestoreFile(context.Background(), filepath.Join(t.TempDir(), "garden.db"), path, noon)
	require.ErrorIs(t, err, store.ErrForeign)
}

func TestSecondServeIsRefused(t *testing.T) {
	path := filepath.Join(t.TempDir(), "garden.db")
	s, err := store.OpenServing(context.Background(), path, "127.0.0.1:8017")
	require.NoError(t, err)
	_, err = store.OpenServing(context.Background(), path, "127.0.0.1:9999")
	require.ErrorIs(t, err, store.ErrServed)
	assert.Contains(t, err.Error(), "127.0.0.1:8017")
	_, err = store.RestoreFile(context.Background(), path, path+".nowhere", noon)
	require.Error(t, err)
	other := open(t, path) // to take an archive out, say
	add(t, other, "", "From beside")
	require.NoError(t, other.Close())
	require.NoError(t, s.Close())
	again, err := store.OpenServing(context.Background(), path, "127.0.0.1:9999")
	require.NoError(t, err)
	require.NoError(t, again.Close())
}

// A garden that was killed has its last changes beside it, and keeps them.
func TestWALBelongsToItsFile(t *testing.T) {
	for _, serving := range []bool{true, false} {
		path := filepath.Join(t.TempDir(), "garden.db")
		s, err := store.Open(context.Background(), path)
		if serving {
			require.NoError(t, s.Close())
			s, err = store.OpenServing(context.Background(), path, "here")
		}
		require.NoError(t, err)
		add(t, s, "", "Just before the end")
		at := killed(t, s)
		require.NoError(t, s.Close())
		again := open(t, at)
		assert.Empty(t, again.Notes())
		assert.Len(t, beds(t, again), 1)
	}
	// The very first moments: nothing but the -wal holds the garden yet.
	s := fresh(t)
	at := killed(t, s)
	require.NoError(t, os.Remove(at+"-lock"))
	assert.Empty(t, open(t, at).Notes())
}

// TestCopyBesideForeignWAL puts a daily copy over the file of a garden that was
// killed: its -wal is the old file's, and would make a ruin of the copy.
func TestCopyBesideForeignWAL(t *testing.T) {
	for name, noted := range map[string]bool{"with what the last process noted": true, "without": false} {
		s := hollin(t)
		ctx := context.Background()
		copied, err := s.DailyCopy(ctx, quantity.Date(2026, 11, 23))
		require.NoError(t, err)
		want := archive(t, s)
		for range 30 {
			b, r := add(t, s, "", "Not in the copy")
			_ = b
			_, err := s.Undo(ctx, change(""), r.Journal)
			require.NoError(t, err)
		}
		add(t, s, "", "After the copy")
		at := killed(t, s)
		if !noted {
			require.NoError(t, os.Remove(at+"-lock"))
		}
		copyOf(t, copied, at)
		again := open(t, at)
		require.Len(t, again.Notes(), 1, name)
		assert.Contains(t, again.Notes()[0], "set aside")
		assert.Equal(t, string(want), string(archive(t, again)), name)
		aside, err := filepath.Glob(at + "-wal.set-aside-*")
		require.NoError(t, err)
		assert.Len(t, aside, 1, "nothing is thrown away")
	}
}

func TestRestoreFile(t *testing.T) {
	ctx := context.Background()
	s := hollin(t)
	copied, err := s.DailyCopy(ctx, quantity.Date(2026, 11, 23))
	require.NoError(t, err)
	want := archive(t, s)
	add(t, s, "", "After the copy")
	newest := archive(t, s)
	at := killed(t, s)
	was, err := store.RestoreFile(ctx, at, copied, noon)
	require.NoError(t, err)
	again := open(t, at)
	assert.Empty(t, again.Notes())
	assert.Equal(t, string(want), string(archive(t, again)))
	assert.Equal(t, string(newest), string(archive(t, open(t, was.Kept))), "what was there is kept whole")

	// One that is damaged, or no garden, leaves everything as it was.
	bad := filepath.Join(t.TempDir(), "bad.db")
	raw, err := os.ReadFile(copied)
	require.NoError(t, err)
	for i := 5000; i < 60_000; i++ {
		raw[i] = 0xa5
	}
	require.NoError(t, os.WriteFile(bad, raw, 0o600))
	_, err = store.RestoreFile(ctx, at, bad, noon)
	require.ErrorIs(t, err, garden.ErrDamaged)
	assert.NotContains(t, err.Error(), "ledge", "no row of it is told")
	assert.Equal(t, string(want), string(archive(t, again)))
}

func TestPutBackWhileServing(t *testing.T) {
	ctx := context.Background()
	s := hollin(t)
	_, err := s.DailyCopy(ctx, quantity.Date(2026, 11, 23))
	require.NoError(t, err)
	want := archive(t, s)
	add(t, s, "landed", "After the copy")
	newest := archive(t, s)
	r, err := s.PutBack(ctx, change("put"), "2026-11-23.db")
	require.NoError(t, err)
	assert.Equal(t, recordsOf(want), recordsOf(archive(t, s)))
	e := entry(t, s, r.Journal)
	assert.Equal(t, "Restored the copy 2026-11-23", e.What)
	assert.False(t, e.CanUndo())
	_, again := add(t, s, "landed", "After the copy")
	assert.False(t, again.Repeated, "what the copy does not know has not landed in it")

	copies, err := s.Copies()
	require.NoError(t, err)
	require.Len(t, copies, 2)
	_, err = s.PutBack(ctx, change("back"), copies[0])
	require.NoError(t, err)
	assert.Equal(t, recordsOf(newest), recordsOf(archive(t, s)), "how it stood before can be put back too")
	for _, name := range []string{"../garden.db", "nowhere.db", ""} {
		_, err = s.PutBack(ctx, change(""), name)
		require.ErrorIs(t, err, garden.ErrMissing)
	}
}

func entry(t testing.TB, s garden.Store, id int64) (e garden.Entry) {
	t.Helper()
	require.NoError(t, s.Read(context.Background(), func(r garden.Reader) (err error) {
		e,
			err = garden.Get[garden.Entry](r, id)
		return err
	}))
	return e
}

func TestGardensHaveOwnBackups(t *testing.T) {
	dir := t.TempDir()
	a, b := open(t, filepath.Join(dir, "x.db")), open(t, filepath.Join(dir, "x.sqlite"))
	add(t, a, "", "Of a")
	for _, s := range []*store.Store{a, b} {
		_, err := s.DailyCopy(context.Background(), quantity.Date(2026, 11, 24))
		require.NoError(t, err)
	}
	assert.NotEqual(t, a.CopiesDir(), b.CopiesDir())
	assert.Empty(t, beds(t, open(t, filepath.Join(b.CopiesDir(), "2026-11-24.db"))))
	// Copies that lay under the shorter name are found again.
	old := open(t, filepath.Join(t.TempDir(), "y.db"))
	require.NoError(t, os.MkdirAll(strings.TrimSuffix(old.Path(), ".db")+".copies", 0o755))
	copyOf(t, a.Path(), strings.TrimSuffix(old.Path(), ".db")+".copies/2026-11-20.db")
	_, err := old.DailyCopy(context.Background(), quantity.Date(2026, 11, 24))
	require.NoError(t, err)
	copies, err := old.Copies()
	require.NoError(t, err)
	assert.Equal(t, []string{"2026-11-24.db", "2026-11-20.db"}, copies)
}

func TestFutureBackupsEvictNothing(t *testing.T) {
	s := fresh(t)
	ctx := context.Background()
	for i := range quantity.Day(16) { // a clock that ran three years ahead
		_, err := s.DailyCopy(ctx, quantity.Date(2029, 5, 1)+i)
		require.NoError(t, err)
	}
	for i := range quantity.Day(14) {
		_, err := s.DailyCopy(ctx, quantity.Date(2026, 11, 1)+i)
		require.NoError(t, err)
	}
	copies, err := s.Copies()
	require.NoError(t, err)
	assert.Len(t, copies, 28, "fourteen of the days ahead, which nothing pushes out, and fourteen that are real")
	assert.Contains(t, copies, "2026-11-01.db")
}

// older makes a garden file of an earlier step with a bed in it.
func older(t *testing.T, step int64) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "garden.db")
	db := raw(t, path)
	p, err := goose.NewProvider(goose.DialectSQLite3, db, store.Migrations, store.Steps)
	require.NoError(t, err)
	_, err = p.UpTo(context.Background(), step)
	require.NoError(t, err)
	// Names that are one now were two to the older steps.
	_, err = db.Exec(`INSERT INTO beds (version, name, kind, shape, x_m, y_m, w_m, h_m, rings,
		turn_deg, corners_m, texture, depth_m, worked, free_lime, note)
		VALUES (1, 'Ärmel', 'bed', 'rect', 0, 0, 4, 1, 0, 0, '', 'loam', 0.15, 'dug', 'unknown', ''),
			(1, 'ärmel', 'bed', 'rect', 0, 2, 4, 1, 0, 0, '', 'loam', 0.15, 'dug', 'unknown', '');
		INSERT INTO journal (version, at, who, what, changes) VALUES (1, '2026-01-01T00:00:00Z', 'gardener', 'Added two', '[]')`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	return path
}

func TestInterruptedMigrationResumes(t *testing.T) {
	ctx := context.Background()
	for _, step := range []int64{1, 3, 5} {
		path := older(t, step)
		kept, err := os.ReadFile(path)
		require.NoError(t, err)
		// Killed while the copy was written, and killed right after it.
		require.NoError(t, os.WriteFile(path+".before-step-20.part", []byte("half of it"), 0o600))
		require.NoError(t, open(t, path).Close())
		require.FileExists(t, path+".before-step-20")
		require.NoFileExists(t, path+".before-step-20.part")
		require.NoError(t, os.Remove(path))
		require.NoError(t, os.WriteFile(path, kept, 0o600))
		s := open(t, path)
		assert.Equal(t, "Ärmel", beds(t, s)[0].Name)
		assert.Equal(t, "ärmel (2)", beds(t, s)[1].Name)
		require.NoFileExists(t, path+".before-step-20-2", "the same state is kept once")
		require.NoError(t, s.Close())

		// After going back to the copy and working on, another state is kept beside it.
		require.NoError(t, os.Remove(path))
		copyOf(t, path+".before-step-20", path)
		db := raw(t, path)
		_, err = db.Exec("INSERT INTO journal (version, at, who, what, changes) VALUES (1, '2026-02-01T00:00:00Z', 'gardener', 'Worked " +
			"on', '[]')")
		require.NoError(t, err)
		require.NoError(t, db.Close())
		require.NoError(t, open(t, path).Close())
		require.FileExists(t, path+".before-step-20-2")
		_, err = store.RestoreFile(ctx, path, path+".before-step-20", noon)
		require.NoError(t, err)
		assert.Len(t, beds(t, open(t, path)), 2)
	}
}

// TestDiskErrorsAreNamed: a full disk, a file that cannot be written to and one
// that another holds are each told, and nothing is changed.
func TestDiskErrorsAreNamed(t *testing.T) {
	ctx := context.Background()
	for says, want := range map[string]error{"max_page_count=1": garden.ErrFull, "query_only=1": garden.ErrReadOnly} {
		s := hollin(t)
		before := archive(t, s)
		require.NoError(t, s.Pragma(ctx, says))
		var err error
		for range 200 { // until the pages that are free are used up
			_, err = s.Change(ctx, change(""), func(tx garden.Tx) (string, error) {
				b := bed("North")
				b.Note = strings.Repeat("heavy ", 160)
				if err := tx.Insert(b); err != nil {
					return "", err
				}
				return strings.Repeat("long ", 700), tx.Delete(b)
			})
			if err != nil {
				break
			}
		}
		require.ErrorIs(t, err, want, says)
		assert.Equal(t, recordsOf(before), recordsOf(archive(t, s)))
	}
	s := hollin(t)
	require.NoError(t, s.Pragma(ctx, "busy_timeout=20"))
	other := raw(t, s.Path())
	_, err := other.Exec("BEGIN IMMEDIATE")
	require.NoError(t, err)
	_, err = s.Change(ctx, change(""), func(tx garden.Tx) (string, error) { return "", tx.Insert(bed("North")) })
	require.ErrorIs(t, err, garden.ErrBusy)
}

// TestFailedCheckpointIsNamed: where another still reads, the two files that
// belong together are reported.
func TestFailedCheckpointIsNamed(t *testing.T) {
	s := hollin(t)
	add(t, s, "", "The last")
	other := raw(t, s.Path())
	tx, err := other.Begin()
	require.NoError(t, err)
	var n int
	require.NoError(t, tx.QueryRow("SELECT count(*) FROM beds").Scan(&n))
	require.NoError(t, s.Close())
	assert.Equal(t, s.Path()+"-wal", s.Together())
	require.NoError(t, tx.Rollback())
	require.NoError(t, other.Close())
	again := open(t, s.Path())
	assert.Len(t, beds(t, again), n)
	require.NoError(t, again.Close())
	assert.Empty(t, again.Together())
}
