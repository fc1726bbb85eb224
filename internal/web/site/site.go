// Package site is what all pages share: how a page begins and is laid out, how it says what is wrong,
// how a post goes on, and the addresses of pages.
package site

import (
	"context"
	"embed"
	"log/slog"
	"time"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/job"
	"zephyrfield/internal/keepers"
	"zephyrfield/internal/web/components"

	"github.com/gin-gonic/gin"
)

// Clock tells the garden's day and the moment. The demo's day can be moved on.
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
	// Weather tells what the weather is and will be; nil where nobody does.
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
	App       keepers.All
	Templates *components.Set
	// Tries counts wrong passphrases, Hashing holds as many as may try one at a time.
	Tries   *tries
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
	return &Site{Config: cfg, App: keepers.Of(cfg.Store), Templates: templates, Tries: newTries(), Hashing: make(chan struct{}, mostHashing)}
}

// EndSteady is where a request keeps the end of its view.
const EndSteady = "steady"

// Unsteady lets the view go: before an answer is sent, which may take as long as the
// line is slow.
func (s *Site) Unsteady(c *gin.Context) {
	if end, ok := c.Get(EndSteady); ok {
		if err := end.(func() error)(); err != nil {
			s.Log.Error("ending a page’s view", "error", err)
		}
	}
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
