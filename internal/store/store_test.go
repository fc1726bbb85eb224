package store_test

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/demo"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/site"
)

var noon = time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)

func open(t testing.TB, path string) *store.Store {
	t.Helper()
	s, err := store.Open(context.Background(), path)
	require.NoError(t, err)
	t.Cleanup(func() { _ = s.Close() })
	return s
}

func fresh(t testing.TB) *store.Store {
	t.Helper()
	return open(t, filepath.Join(t.TempDir(), "garden.db"))
}

// hollin returns a store that holds the demo garden.
func hollin(t testing.TB) *store.Store {
	t.Helper()
	raw, err := demoFile()
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "garden.db")
	require.NoError(t, os.WriteFile(path, raw, 0o600))
	return open(t, path)
}

// demoFile is the demo garden's file, made once.
var demoFile = sync.OnceValues(func() ([]byte, error) {
	dir, err := os.MkdirTemp("", "zephyrfield-test-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	ctx, path := context.Background(), filepath.Join(dir, "garden.db")
	s, err := store.Open(ctx, path)
	if err != nil {
		return nil, err
	}
	if err = errors.Join(demo.Build(ctx, s), s.Close()); err != nil {
		return nil, err
	}
	return os.ReadFile(path)
})

func bed(name string) *garden.Bed {
	return &garden.Bed{Name: name, Kind: garden.KindBed, Shape: garden.ShapeRect, W: 4, H: 1, Texture: "loam", Depth: 0.15,
		Worked: "dug", FreeLime: "unknown"}
}

func change(key string) garden.Change { return garden.Change{Key: key, Who: "test", At: noon} }

func add(t testing.TB, s *store.Store, key, name string) (*garden.Bed, garden.Receipt) {
	t.Helper()
	b := bed(name)
	r, err := s.Change(context.Background(), change(key), func(tx garden.Tx) (string, error) { return "Added " + name, tx.Insert(b) })
	require.NoError(t, err)
	return b, r
}

func beds(t testing.TB, s garden.Store) (out []garden.Bed) {
	t.Helper()
	require.NoError(t, s.Read(context.Background(), func(r garden.Reader) (err error) { out, err = garden.All[garden.Bed](r); return err }))
	return out
}

func archive(t testing.TB, s garden.Store) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, s.Read(context.Background(), func(r garden.Reader) error {
		return exchange.WriteArchive(&b, r)
	}))
	return b.Bytes()
}

func TestRepeatedKeyIsAppliedOnce(t *testing.T) {
	s := fresh(t)
	_, first := add(t, s, "k1", "North")
	_, second := add(t, s, "k1", "North again")
	assert.False(t, first.Repeated)
	assert.True(t, second.Repeated)
	assert.Equal(t, first.Journal, second.Journal)
	assert.Len(t, beds(t, s), 1)
}

func TestStaleVersionIsRefused(t *testing.T) {
	s := fresh(t)
	b, _ := add(t, s, "", "North")
	edit := func(version int64, note string) error {
		e := *b
		e.Version, e.Note = version, note
		_, err := s.Change(context.Background(), change(""), func(tx garden.Tx) (string, error) { return "Edited", tx.Update(&e) })
		return err
	}
	require.NoError(t, edit(1, "first window"))
	require.ErrorIs(t, edit(1, "second window"), garden.ErrStale)
	assert.Equal(t, "first window", beds(t, s)[0].Note)
	require.NoError(t, edit(2, "after looking again"))
}

func TestFailedChangeRollsBack(t *testing.T) {
	s := fresh(t)
	before := archive(t, s)
	boom := errors.New("boom")
	_, err := s.Change(context.Background(), change("k"), func(tx garden.Tx) (string, error) {
		if err := tx.Insert(bed("Half done")); err != nil {
			return "", err
		}
		return "", boom
	})
	require.ErrorIs(t, err, boom)
	assert.Equal(t, string(before), string(archive(t, s)))
	_, r := add(t, s, "k", "The key is still free")
	assert.False(t, r.Repeated)
}

func TestEveryChangeCanBeUndone(t *testing.T) {
	s := fresh(t)
	ctx := context.Background()
	b, added := add(t, s, "", "North")
	edited, err := s.Change(ctx, change(""), func(tx garden.Tx) (string, error) {
		b.Note = "heavy"
		return "Edited North", tx.Update(b)
	})
	require.NoError(t, err)
	_, err = s.Undo(ctx, change(""), added.Journal)
	var f garden.Faults
	require.ErrorAs(t, err, &f, "something changed it since")
	assert.Contains(t, f[garden.UndoField], "“Edited North” came after it")
	_, err = s.Undo(ctx, change(""), edited.Journal)
	require.NoError(t, err)
	assert.Empty(t, beds(t, s)[0].Note)
	_, err = s.Undo(ctx, change(""), edited.Journal)
	require.ErrorIs(t, err, garden.ErrUndone)
	stood := beds(t, s)[0]
	gone, err := s.Change(ctx, change(""), func(tx garden.Tx) (string, error) { return "Took out North", tx.Delete(&stood) })
	require.NoError(t, err)
	assert.Empty(t, beds(t, s))
	_, err = s.Undo(ctx, change(""), gone.Journal)
	require.NoError(t, err)
	back := beds(t, s)
	require.Len(t, back, 1)
	assert.Equal(t, "North", back[0].Name)
	assert.Greater(t, back[0].Version, stood.Version, "a window from before still counts as stale")
}

func TestDuplicateBedName(t *testing.T) {
	s := fresh(t)
	add(t, s, "", "North")
	_, err := s.Change(context.Background(), change(""), func(tx garden.Tx) (string, error) { return "", tx.Insert(bed("NORTH")) })
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f["name"], "already")
}

func TestConcurrentWriters(t *testing.T) {
	s := fresh(t)
	var wg sync.WaitGroup
	for i := range 20 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			_, err := s.Change(context.Background(), change(fmt.Sprint("key", i%10)), func(tx garden.Tx) (string, error) {
				if _, err := garden.All[garden.Bed](tx); err != nil {
					return "", err
				}
				return "Added", tx.Insert(bed(fmt.Sprint("Bed ", i)))
			})
			assert.NoError(t, err)
		}()
	}
	wg.Wait()
	assert.Len(t, beds(t, s), 10, "each of ten keys landed once")
}

func raw(t testing.TB, path string) *sql.DB {
	t.Helper()
	db, err := sql.Open("sqlite", path)
	require.NoError(t, err)
	t.Cleanup(func() { _ = db.Close() })
	return db
}

func TestNewerSchemaIsRefused(t *testing.T) {
	path := filepath.Join(t.TempDir(), "garden.db")
	require.NoError(t, open(t, path).Close())
	_, err := raw(t, path).Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
	require.NoError(t, err)
	_, err = store.Open(context.Background(), path)
	require.ErrorIs(t, err, store.ErrNewer)
	assert.Contains(t, err.Error(), "newer version")
}

func TestOtherFileIsUntouched(t *testing.T) {
	path := filepath.Join(t.TempDir(), "letter.txt")
	require.NoError(t, os.WriteFile(path, []byte("Dear neighbour, about the ash"), 0o600))
	_, err := store.Open(context.Background(), path)
	require.Error(t, err)
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, "Dear neighbour, about the ash", string(b))
}

func TestSafeSettings(t *testing.T) {
	s := fresh(t)
	var mode string
	require.NoError(t, raw(t, s.Path()).QueryRow("PRAGMA journal_mode").Scan(&mode))
	assert.Equal(t, "wal", mode)
	flushes, err := s.Synchronous(context.Background())
	require.NoError(t, err)
	assert.Equal(t, 2, flushes, "what is answered is on the disk")
	_, err = s.Change(context.Background(), change(""), func(tx garden.Tx) (string, error) {
		return "", tx.Insert(&garden.Planting{BedID: 77, Crop: "tomato", Sown: quantity.Date(2026, 5, 1)})
	})
	assert.ErrorContains(t, err, "FOREIGN KEY", "foreign keys are on")
}

func TestDailyBackups(t *testing.T) {
	s := hollin(t)
	ctx := context.Background()
	day := quantity.Date(2026, 11, 1)
	for i := range quantity.Day(20) {
		_, err := s.DailyCopy(ctx, day+i)
		require.NoError(t, err)
	}
	copies, err := s.Copies()
	require.NoError(t, err)
	require.Len(t, copies, 14)
	assert.Equal(t, "2026-11-20.db", copies[0])
	before := archive(t, s)
	add(t, s, "", "After the copy")

	// The copy is put where the garden was, and serves.
	b, err := os.ReadFile(filepath.Join(s.CopiesDir(), copies[0]))
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "restored.db")
	require.NoError(t, os.WriteFile(path, b, 0o600))
	restored := open(t, path)
	assert.Equal(t, string(before), string(archive(t, restored)))
	h, err := server.New(site.Config{Store: restored, Gate: restored, Labs: restored, Clock: site.NewDemoClock(day),
		Hosts: []string{"localhost"}})
	require.NoError(t, err)
	rec := httptest.NewRecorder()
	h.ServeHTTP(rec, httptest.NewRequest(http.MethodGet, "http://localhost/", nil))
	assert.Equal(t, http.StatusOK, rec.Code)
	assert.Contains(t, rec.Body.String(), "Middle ledge")
}

func TestSessionsExpire(t *testing.T) {
	s := fresh(t)
	ctx := context.Background()
	require.NoError(t, s.AddSession(ctx, "h", "here", noon, noon.Add(time.Hour)))
	ok, err := s.HasSession(ctx, "h", noon)
	require.NoError(t, err)
	assert.True(t, ok)
	ok, _ = s.HasSession(ctx, "h", noon.Add(2*time.Hour))
	assert.False(t, ok)
	require.NoError(t, s.SetPassphraseHash(ctx, "x", ""))
	ok, _ = s.HasSession(ctx, "h", noon)
	assert.False(t, ok, "a new passphrase ends every session")
}

// TestEveryAcceptedRecordSurvivesArchive: the store validates finally, also what a form did not;
// but what an older version accepted can be changed.
func TestEveryAcceptedRecordSurvivesArchive(t *testing.T) {
	s := fresh(t)
	ctx := context.Background()
	b, _ := add(t, s, "", "North")
	put := func(rec garden.Record, update bool) error {
		_, err := s.Change(ctx, change(""), func(tx garden.Tx) (string, error) {
			if update {
				return "Changed", tx.Update(rec)
			}
			return "Added", tx.Insert(rec)
		})
		return err
	}
	wide := bed("Wide")
	wide.W = 6000
	var f garden.Faults
	require.ErrorAs(t, put(wide, false), &f)
	assert.Contains(t, f["w"], "5000 m")
	b.Rings, b.Shape = 501, garden.ShapeRings
	require.ErrorAs(t, put(b, true), &f)
	assert.Contains(t, f["rings"], "500 rings")

	_, err := raw(t, s.Path()).Exec("UPDATE beds SET w_m=6000 WHERE name='North'")
	require.NoError(t, err)
	old := beds(t, s)[0]
	old.Note = "Too wide, as it was typed once."
	require.NoError(t, put(&old, true))
}
