// Package site is what all pages share: rendering, errors, redirects after a post, and the
// addresses of pages.
package site

import (
	"context"
	"embed"
	"log/slog"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/app"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/job"
	"zephyrfield/internal/web/components"
)

// Clock is the garden's day and time. The demo's day can be advanced.
type Clock interface {
	Now() time.Time
	Today() quantity.Day
}

// Gate stores the passphrase and the sessions.
type Gate interface {
	PassphraseHash(context.Context) (string, error)
	// SetPassphraseHash ends every session but the one that is kept.
	SetPassphraseHash(ctx context.Context, hash, kept string) error
	// DiarySecret is the secret of the diary's address, "" for none.
	DiarySecret(context.Context) (string, error)
	SetDiarySecret(ctx context.Context, secret string) error
	AddSession(ctx context.Context, tokenHash, whence string, now, expires time.Time) error
	HasSession(ctx context.Context, tokenHash string, now time.Time) (bool, error)
	EndSession(ctx context.Context, tokenHash string) error
	Sessions(ctx context.Context, now time.Time) ([]garden.Session, error)
	EndSessionID(ctx context.Context, id string) error
	// Copies returns the names of the garden's backups; PutBack restores one, CopyTrouble is why
	// today's could not be written.
	Copies() ([]string, error)
	PutBack(ctx context.Context, c garden.Change, name string) (garden.Receipt, error)
	CopyTrouble() string
	GardenID(context.Context) (string, error)
}

// Config configures a Site.
type Config struct {
	Store garden.Store
	Gate  Gate
	Labs  Labs
	// Jobs runs long work.
	Jobs *job.Runner
	// Probe is a connected pH probe, Lab one that answers by post; nil for none.
	Probe instrument.Probe
	Lab   instrument.Lab
	// Weather supplies the weather; nil for none.
	Weather instrument.Weather
	Clock   Clock
	// Demo is the clock of the demo, Rehearsal that of a rehearsal; nil in the gardener's own garden.
	Demo, Rehearsal *DemoClock
	// Hosts are the allowed Host headers.
	Hosts []string
	// SignIn asks for the passphrase; TLS marks cookies secure.
	SignIn, TLS bool
	Log         *slog.Logger
	// Requests logs each request; nil for none.
	Requests *slog.Logger
}

// mostHashing is the number of passphrases checked at a time.
const mostHashing = 2

// Site is shared by all pages: the garden's store and services, the clock, the instruments and the templates.
// Handlers pass on the request's own context, never gin's: gin reuses its contexts, and the database watches the
// one that it was given.
type Site struct {
	Config
	// base are the services on the garden; App returns them on a request's snapshot.
	base      app.Services
	Templates *components.Set
	// Tries counts wrong passphrases, Hashing is a semaphore for checks.
	Tries   *rateLimit
	Hashing chan struct{}
	// heavy is a semaphore for files that are made or taken in.
	heavy chan struct{}
}

// Templates are those of pages that any page can lead to.
//
//go:embed *.html
var Templates embed.FS

// New makes a Site.
func New(cfg Config, templates *components.Set) *Site {
	if cfg.Log == nil {
		cfg.Log = slog.Default()
	}
	return &Site{Config: cfg, base: app.Of(cfg.Store), Templates: templates, Tries: newTries(),
		Hashing: make(chan struct{}, mostHashing), heavy: make(chan struct{}, mostHeavy)}
}

// The context keys of a request's snapshot and its end.
const (
	snapshotKey = "snapshot"
	endKey      = "end of the snapshot"
)

// Open gives a request a snapshot of the garden, so that all that it reads agrees.
func (s *Site) Open(c *gin.Context) {
	snapshot, end := s.Store.Snapshot()
	c.Set(snapshotKey, snapshot)
	c.Set(endKey, end)
}

// Close ends a request's snapshot; it is called before the answer is sent, which may take as long as the
// connection is slow.
func (s *Site) Close(c *gin.Context) {
	if end, ok := c.Get(endKey); ok {
		if err := end.(func() error)(); err != nil {
			s.Log.Error("ending a page’s view", "error", err)
		}
	}
}

// Garden returns the store in the request's snapshot.
func (s *Site) Garden(c *gin.Context) garden.Store {
	if snapshot, ok := c.Get(snapshotKey); ok {
		return snapshot.(garden.Store)
	}
	return s.Store
}

// App returns the services in the request's snapshot.
func (s *Site) App(c *gin.Context) app.Services {
	app := app.Of(s.Garden(c))
	app.Outlook.Work = s.base.Outlook.Work
	return app
}

// Base returns the services outside of a request, for background work.
func (s *Site) Base() app.Services { return s.base }

// GateOf returns the gate in the request's snapshot: a request that waited for a second connection
// beside its snapshot could deadlock with others doing the same.
func (s *Site) GateOf(c *gin.Context) Gate {
	if g, ok := s.Garden(c).(Gate); ok {
		return g
	}
	return s.Gate
}

// FindJob finds a job by name, in the request's snapshot.
func (s *Site) FindJob(c *gin.Context, name string) (j job.Status, ok bool, err error) {
	in, can := s.Garden(c).(job.Finder)
	if !can {
		return j, false, nil
	}
	return s.Jobs.Find(c.Request.Context(), in, name)
}

// LabsOf returns the lab files in the request's snapshot, as GateOf.
func (s *Site) LabsOf(c *gin.Context) Labs {
	if l, ok := s.Garden(c).(Labs); ok {
		return l
	}
	return s.Labs
}

// Labs stores uploaded lab files until they are imported, and how their columns were matched.
type Labs interface {
	KeepLabFile(ctx context.Context, name string, cells [][]string, now time.Time) (int64, error)
	LabFile(ctx context.Context, id int64) (name string, cells [][]string, err error)
	DropLabFile(ctx context.Context, id int64) error
	KeepLayout(ctx context.Context, head string, layout []byte) error
	Layout(ctx context.Context, head string) ([]byte, error)
}
