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

// Clock reports the garden's day and the moment. The demo's day can be moved on.
type Clock interface {
	Now() time.Time
	Today() quantity.Day
}

// Gate keeps the passphrase and the sessions.
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
	// Copies are the names of the garden's copies; PutBack makes it what one says,
	// CopyTrouble is why today's could not be written.
	Copies() ([]string, error)
	PutBack(ctx context.Context, c garden.Change, name string) (garden.Receipt, error)
	CopyTrouble() string
	GardenID(context.Context) (string, error)
}

// Config is what a server needs.
type Config struct {
	Store garden.Store
	Gate  Gate
	Labs  Labs
	// Jobs runs what takes long.
	Jobs *job.Runner
	// Probe is a pH probe at hand, Lab one that answers by post; nil for none.
	Probe instrument.Probe
	Lab   instrument.Lab
	// Weather reports what the weather is and will be; nil where nobody does.
	Weather instrument.Weather
	Clock   Clock
	// Demo is the clock of the demo, Rehearsal that of a rehearsal; nil in the gardener's own garden.
	Demo, Rehearsal *DemoClock
	// Hosts are the names and addresses under which it may be asked for.
	Hosts []string
	// SignIn asks for the passphrase; TLS marks cookies secure.
	SignIn, TLS bool
	Log         *slog.Logger
	// Requests gets one line a request; nil: none is written.
	Requests *slog.Logger
}

// mostHashing is how many passphrases are tried at a time.
const mostHashing = 2

// Site is what all pages share: the garden and those who do the work on it, the clock, the instruments,
// and how pages are laid out. Handlers hand on the request's own context, never gin's: gin uses its
// contexts again, and the database watches the one it was given until its transaction has ended.
type Site struct {
	Config
	// base are those who do the work on the garden; App are the same in a request's own view of it.
	base      app.Services
	Templates *components.Set
	// Tries counts wrong passphrases, Hashing holds as many as may try one at a time.
	Tries   *rateLimit
	Hashing chan struct{}
}

// Templates are those of what any page may come to.
//
//go:embed *.html
var Templates embed.FS

// New makes the site of a garden.
func New(cfg Config, templates *components.Set) *Site {
	if cfg.Log == nil {
		cfg.Log = slog.Default()
	}
	return &Site{Config: cfg, base: app.Of(cfg.Store), Templates: templates, Tries: newTries(), Hashing: make(chan struct{}, mostHashing)}
}

// Where a request keeps its view of the garden, and the end of it.
const (
	snapshotKey = "snapshot"
	endKey      = "end of the snapshot"
)

// Open gives a request one view of the garden: all that it reads agrees.
func (s *Site) Open(c *gin.Context) {
	snapshot, end := s.Store.Snapshot()
	c.Set(snapshotKey, snapshot)
	c.Set(endKey, end)
}

// Close lets the view go: before an answer is sent, which may take as long as the line is slow.
func (s *Site) Close(c *gin.Context) {
	if end, ok := c.Get(endKey); ok {
		if err := end.(func() error)(); err != nil {
			s.Log.Error("ending a page’s view", "error", err)
		}
	}
}

// Garden is the store as a request sees it.
func (s *Site) Garden(c *gin.Context) garden.Store {
	if snapshot, ok := c.Get(snapshotKey); ok {
		return snapshot.(garden.Store)
	}
	return s.Store
}

// App are those who do the work on the garden, in the view of a request.
func (s *Site) App(c *gin.Context) app.Services {
	app := app.Of(s.Garden(c))
	app.Outlook.Work = s.base.Outlook.Work
	return app
}

// Base are the same outside of a request: for what is applied after it has ended.
func (s *Site) Base() app.Services { return s.base }

// GateOf and LabsOf answer in the view of a request: one that waited for a connection beside its view
// could wait for others that do the same.
func (s *Site) GateOf(c *gin.Context) Gate {
	if g, ok := s.Garden(c).(Gate); ok {
		return g
	}
	return s.Gate
}

// FindJob reports how a job stands, in the view of a request too.
func (s *Site) FindJob(c *gin.Context, name string) (j job.Status, ok bool, err error) {
	in, can := s.Garden(c).(job.Finder)
	if !can {
		return j, false, nil
	}
	return s.Jobs.Find(c.Request.Context(), in, name)
}

// LabsOf is reported with GateOf.
func (s *Site) LabsOf(c *gin.Context) Labs {
	if l, ok := s.Garden(c).(Labs); ok {
		return l
	}
	return s.Labs
}

// Labs keeps a lab's file between its coming in and its being taken, and how
// labs' columns were matched before.
type Labs interface {
	KeepLabFile(ctx context.Context, name string, cells [][]string, now time.Time) (int64, error)
	LabFile(ctx context.Context, id int64) (name string, cells [][]string, err error)
	DropLabFile(ctx context.Context, id int64) error
	KeepLayout(ctx context.Context, head string, layout []byte) error
	Layout(ctx context.Context, head string) ([]byte, error)
}
