// Package webtest drives a garden's interface in tests as a browser would.
package webtest

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/app"
	"zephyrfield/internal/demo"
	"zephyrfield/internal/job"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/site"
)

// Client is a browser on a served garden.
type Client struct {
	T       testing.TB
	Handler http.Handler
	Store   *store.Store
	App     app.Services
	Today   quantity.Day
	Jar     []*http.Cookie
}

// gardens create the files of an empty garden and of the demo once: most tests start from one.
var gardens = map[bool]func() ([]byte, error){
	false: sync.OnceValues(func() ([]byte, error) { return makeGarden(false) }),
	true:  sync.OnceValues(func() ([]byte, error) { return makeGarden(true) }),
}

// makeGarden makes such a file.
func makeGarden(hollin bool) ([]byte, error) {
	dir, err := os.MkdirTemp("", "zephyrfield-test-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(dir) }()
	ctx, path := context.Background(), filepath.Join(dir, "garden.db")
	st, err := store.Open(ctx, path)
	if err != nil {
		return nil, err
	}
	if hollin {
		err = demo.Build(ctx, st)
	}
	if err = errors.Join(err, st.Close()); err != nil {
		return nil, err
	}
	return os.ReadFile(path)
}

// New serves an empty garden or, with hollin, the demo, and returns a client.
func New(t testing.TB, hollin bool, change ...func(*site.Config)) *Client {
	t.Helper()
	ctx := context.Background()
	path := filepath.Join(t.TempDir(), "garden.db")
	raw, err := gardens[hollin]()
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(path, raw, 0o600))
	st, err := store.Open(ctx, path)
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	today, err := quantity.ParseDay(demo.Today)
	require.NoError(t, err)
	clock := site.NewDemoClock(today)
	cfg := site.Config{Store: st, Gate: st, Labs: st, Jobs: Runner(t, st), Clock: clock, Demo: clock, Hosts: []string{"localhost"},
		Log: slog.New(slog.NewTextHandler(io.Discard, nil))}
	for _, f := range change {
		f(&cfg)
	}
	h, err := server.New(cfg)
	require.NoError(t, err)
	return &Client{T: t, Handler: h, Store: st, App: app.Of(st), Today: today}
}

// Passphrase is that of a gated garden.
const Passphrase = "ash on her gloves"

// Gated serves the demo garden behind its passphrase.
func Gated(t *testing.T) *Client {
	t.Helper()
	s := New(t, true, func(c *site.Config) { c.SignIn = true })
	require.NoError(t, s.Store.SetPassphraseHash(context.Background(), site.HashPassphrase(Passphrase), ""))
	return s
}

// Runner runs background work until the test ends.
func Runner(t testing.TB, st *store.Store) *job.Runner {
	t.Helper()
	r, err := job.NewRunner(context.Background(), st, time.Now)
	require.NoError(t, err)
	t.Cleanup(r.Stop)
	return r
}
