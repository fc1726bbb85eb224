// Package web is the interface: pages made on the server. Handlers parse, ask
// the garden, and lay out a view; they hold no rules.
package web

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"runtime/debug"
	"strings"
	"time"

	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/job"
	"zephyrfield/internal/keepers"
	"zephyrfield/internal/web/components"
	"zephyrfield/internal/web/ui"
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

// server holds what the handlers share. Handlers hand on the request's own
// context, never gin's: gin uses its contexts again, and the database watches
// the one it was given until its transaction has ended.
type server struct {
	Config
	keep  keepers.All
	pages *components.Set
	tries *tries
	// hashing holds as many as may try a passphrase at a time.
	hashing chan struct{}
}

// mostHashing is how many passphrases are tried at a time.
const mostHashing = 2

// Request limits.
const (
	maxForm    = 1 << 20
	maxArchive = 64 << 20
)

// New makes the handler of the whole interface.
func New(cfg Config) (http.Handler, error) {
	p, err := components.Load(templates, components.Assets{Address: asset, Modules: modules})
	if err != nil {
		return nil, err
	}
	if cfg.Log == nil {
		cfg.Log = slog.Default()
	}
	s := &server{Config: cfg, keep: keepers.Of(cfg.Store), pages: p, tries: newTries(), hashing: make(chan struct{}, mostHashing)}
	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.HandleMethodNotAllowed = true
	r.MaxMultipartMemory = maxForm
	r.Use(s.logged, s.recovered(), s.headers, s.onlyHosts, s.limit, packed())
	s.routes(r)
	guard := http.NewCrossOriginProtection()
	guard.SetDenyHandler(http.HandlerFunc(s.foreignPost))
	return ui.HeadAsGet(guard.Handler(r)), nil
}

// packed packs what goes over a wire. On this machine itself that would take longer than it
// saves.
func packed() gin.HandlerFunc {
	pack := gzip.Gzip(gzip.BestSpeed, gzip.WithExcludedExtensions([]string{".woff2", ".png", ".ico", ".xlsx"}))
	return func(c *gin.Context) {
		if at, err := netip.ParseAddrPort(c.Request.RemoteAddr); err == nil && at.Addr().IsLoopback() {
			return
		}
		pack(c)
	}
}

// routes are all that the interface answers to: what stands before the gate, and the
// pages, each of which says its addresses itself.
func (s *server) routes(r *gin.Engine) {
	r.GET("/static/:hash/*file", s.static)
	r.GET("/favicon.ico", s.favicon)
	r.GET("/worker.js", s.worker)
	r.GET(diaryPath+":secret", s.steady, s.told(s.diaryFeed))
	r.GET("/sign-in", s.signInForm)
	r.POST("/sign-in", s.told(s.signIn))
	in := r.Group("/", s.stepped, s.steady, s.signedIn)
	for _, x := range pageRoutes {
		if x.only == nil || x.only(s) {
			in.Handle(x.method, x.path, s.told(func(c *gin.Context) error { return x.page(s, c) }))
		}
	}
	r.NoRoute(s.steady, s.signedIn, func(c *gin.Context) {
		s.fail(c, http.StatusNotFound, "There is nothing at this address.")
	})
	r.NoMethod(s.steady, s.signedIn, func(c *gin.Context) {
		s.fail(c, http.StatusMethodNotAllowed, "That cannot be done at this address.")
	})
}

// endSteady is where a request keeps the end of its view.
const endSteady = "steady"

// steady gives a page one view of the garden: all that it reads agrees.
func (s *server) steady(c *gin.Context) {
	ctx, end := s.Store.Steady(c.Request.Context())
	c.Request = c.Request.WithContext(ctx)
	c.Set(endSteady, end)
	defer s.unsteady(c)
	c.Next()
}

// unsteady lets the view go: before an answer is sent, which may take as long as the
// line is slow.
func (s *server) unsteady(c *gin.Context) {
	if end, ok := c.Get(endSteady); ok {
		if err := end.(func() error)(); err != nil {
			s.Log.Error("ending a page’s view", "error", err)
		}
	}
}

// recovered turns a panic into a page and a line in the log with its stack. A line
// that the reader broke off is no fault: gin tells the two apart.
func (s *server) recovered() gin.HandlerFunc {
	return gin.CustomRecoveryWithWriter(io.Discard, func(c *gin.Context, p any) {
		s.Log.Error("panic", "path", c.Request.URL.Path, "panic", p, "stack", string(debug.Stack()))
		// The bare page asks nothing more of what may have fallen over.
		s.bare(c, http.StatusInternalServerError, "Something went wrong here. Nothing was changed.")
	})
}

const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; " +
	"connect-src 'self'; form-action 'self'; worker-src 'self'; manifest-src 'self'; base-uri 'none'; frame-ancestors 'none'"

func (s *server) headers(c *gin.Context) {
	s.setHeaders(c.Writer.Header())
	c.Next()
}

func (s *server) setHeaders(h http.Header) {
	h.Set("Content-Security-Policy", policy)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
	h.Set("Cache-Control", "no-store")
	if s.TLS {
		h.Set("Strict-Transport-Security", "max-age=31536000")
	}
}

// onlyHosts answers only to names that this server goes by, so that a foreign
// name pointed at it gets nothing.
func (s *server) onlyHosts(c *gin.Context) {
	host := c.Request.Host
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	host = strings.Trim(strings.ToLower(host), "[]")
	for _, ok := range s.Hosts {
		if host == ok {
			c.Next()
			return
		}
	}
	s.bare(c, http.StatusMisdirectedRequest, "This garden does not go by that name.")
}

// limit bounds what a request may carry.
func (s *server) limit(c *gin.Context) {
	most := int64(maxForm)
	switch c.Request.URL.Path {
	case "/import":
		most = maxArchive + maxForm
	case "/bench/lab":
		most = exchange.MaxLabFile + maxForm
	}
	if strings.HasSuffix(c.Request.URL.Path, "/seen") {
		most = maxPhoto + maxForm
	}
	if c.Request.ContentLength > most {
		s.fail(c, http.StatusRequestEntityTooLarge, "That is too large to be taken in here.")
		return
	}
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, most)
	c.Next()
}

// longestStop is how long requests under way may take to end when it stops.
var longestStop = 7 * time.Second

// Serve runs a handler on a listener until ctx ends, then stops gracefully.
func Serve(ctx context.Context, l net.Listener, h http.Handler, certFile, keyFile string) error {
	srv := &http.Server{Handler: h, ReadHeaderTimeout: 5 * time.Second, ReadTimeout: 60 * time.Second,
		WriteTimeout: 60 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10}
	done := make(chan error, 1)
	go func() {
		if certFile != "" {
			done <- srv.ServeTLS(l, certFile, keyFile)
			return
		}
		done <- srv.Serve(l)
	}()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
		stop, cancel := context.WithTimeout(context.Background(), longestStop)
		defer cancel()
		if err := srv.Shutdown(stop); !errors.Is(err, context.DeadlineExceeded) {
			return err
		}
		// What is stuck is cut off: nothing half done is kept.
		return srv.Close()
	}
}
