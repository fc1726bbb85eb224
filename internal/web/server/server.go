// Package server is the HTTP server: the router with all addresses, sessions, the gate before
// the pages, error handling. Handlers parse, call a use case, and fill a view; they hold no rules.
package server

import (
	"context"
	"embed"
	"errors"
	"io"
	"io/fs"
	"net"
	"net/http"
	"net/netip"
	"runtime/debug"
	"strings"
	"syscall"
	"time"

	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/components"
	"zephyrfield/internal/web/form"
	keeppage "zephyrfield/internal/web/pages/backup"
	"zephyrfield/internal/web/site"
)

// Request limits.
const (
	maxForm    = 1 << 20
	maxArchive = 64 << 20
)

// Server is the whole web interface: the sign-in, and the pages behind it.
type Server struct{ *site.Site }

// ownTemplates are those of pages before the sign-in.
//
//go:embed *.html
var ownTemplates embed.FS

// New makes the handler of the whole interface.
func New(cfg site.Config) (http.Handler, error) {
	folders := []fs.FS{ownTemplates}
	for _, p := range pages {
		folders = append(folders, p.templates)
	}
	templates, err := components.Load(components.Assets{Address: asset, Modules: modules}, folders...)
	if err != nil {
		return nil, err
	}
	s := &Server{site.New(cfg, templates)}
	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.HandleMethodNotAllowed = true
	r.RedirectTrailingSlash = false // gin's own redirects pass no middleware
	r.MaxMultipartMemory = maxForm
	r.Use(s.logged, s.recovered(), s.onlyHosts, s.limit, site.KeepWriter, packed())
	s.routes(r)
	guard := http.NewCrossOriginProtection()
	guard.SetDenyHandler(http.HandlerFunc(s.foreignPost))
	return s.headers(site.HeadAsGet(guard.Handler(r))), nil
}

// packed compresses answers, except on loopback, where that would take longer than it saves.
func packed() gin.HandlerFunc {
	pack := gzip.Gzip(gzip.BestSpeed, gzip.WithExcludedExtensions([]string{".woff2", ".png", ".ico", ".xlsx"}))
	return func(c *gin.Context) {
		if at, err := netip.ParseAddrPort(c.Request.RemoteAddr); err == nil && at.Addr().IsLoopback() {
			return
		}
		pack(c)
	}
}

// routes registers all routes: those before the sign-in, and the pages behind it.
func (s *Server) routes(r *gin.Engine) {
	r.GET("/static/:hash/*file", s.static)
	r.GET("/favicon.ico", s.favicon)
	r.GET("/worker.js", s.worker)
	r.GET(keeppage.DiaryPath+":secret", s.steady, s.handleError(keeppage.New(s.Site).DiaryFeed))
	r.GET("/sign-in", s.signInForm)
	r.POST("/sign-in", s.handleError(s.signIn))
	in := r.Group("/", s.stepped, s.steady, s.signedIn, s.received)
	in.POST("/sign-out", s.handleError(s.SignOut))
	for _, p := range pages {
		for _, x := range p.routes {
			if x.only == nil || x.only(s.Site) {
				in.Handle(x.method, x.path, s.handleError(x.page(s.Site)))
			}
		}
	}
	r.NoRoute(s.steady, s.signedIn, func(c *gin.Context) {
		s.Fail(c, http.StatusNotFound, "There is nothing at this address.")
	})
	r.NoMethod(s.steady, s.signedIn, func(c *gin.Context) {
		s.Fail(c, http.StatusMethodNotAllowed, "That cannot be done at this address.")
	})
}

// steady gives a page one snapshot of the garden.
func (s *Server) steady(c *gin.Context) {
	s.Open(c)
	defer s.Close(c)
	c.Next()
}

// recovered turns a panic into a page and a log line with its stack. A connection that the client closed is not
// logged as one: gin distinguishes the two.
func (s *Server) recovered() gin.HandlerFunc {
	return gin.CustomRecoveryWithWriter(io.Discard, func(c *gin.Context, p any) {
		s.Log.Error("panic", "path", c.Request.URL.Path, "panic", p, "stack", string(debug.Stack()))
		// The bare page uses nothing that may have failed.
		s.Bare(c, http.StatusInternalServerError, "Something went wrong here. Nothing was changed.")
	})
}

const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; " +
	"connect-src 'self'; form-action 'self'; worker-src 'self'; manifest-src 'self'; base-uri 'none'; frame-ancestors 'none'"

// headers sets the headers that every answer bears, of whatever it is answered by.
func (s *Server) headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		s.setHeaders(w.Header())
		next.ServeHTTP(w, r)
	})
}

func (s *Server) setHeaders(h http.Header) {
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

// onlyHosts refuses requests for other host names, which prevents DNS rebinding.
func (s *Server) onlyHosts(c *gin.Context) {
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
	s.Bare(c, http.StatusMisdirectedRequest, "This garden does not go by that name.")
}

// limit bounds what a request may carry.
func (s *Server) limit(c *gin.Context) {
	most := int64(maxForm)
	switch c.Request.URL.Path {
	case "/import":
		most = maxArchive + maxForm
	case "/bench/lab":
		most = exchange.MaxLabFile + maxForm
	}
	if strings.HasSuffix(c.Request.URL.Path, "/seen") {
		most = site.MaxPhoto + maxForm
	}
	if c.Request.ContentLength > most {
		s.Fail(c, http.StatusRequestEntityTooLarge, "That is too large to be imported here.")
		return
	}
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, most)
	c.Next()
}

// received reads an upload to its end before its handler takes or holds anything: it comes as slowly as the sender
// sends it.
func (s *Server) received(c *gin.Context) {
	if c.ContentType() != "multipart/form-data" {
		return
	}
	err := c.Request.ParseMultipartForm(maxForm)
	if errors.Is(err, syscall.ENOSPC) {
		s.FailWith(c, garden.ErrFull)
		return
	}
	form.KeepUploadError(c, err)
}

// longestStop is how long requests in flight may take to end on shutdown.
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
		// Stuck requests are cut off; changes are transactions.
		return srv.Close()
	}
}
