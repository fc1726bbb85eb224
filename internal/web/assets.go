package web

import (
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"

	"github.com/gin-gonic/gin"
)

//go:embed static
var staticFS embed.FS

//go:embed templates
var templateFS embed.FS

// templates are the parts and pages.
var templates = func() fs.FS {
	sub, err := fs.Sub(templateFS, "templates")
	if err != nil {
		panic(err) // embedded files cannot fail to be read
	}
	return sub
}()

// assetHash is one short hash over all static files: embedded files carry no
// date, so their address changes when they do, and may be kept for a year.
var assetHash = func() string {
	h := sha256.New()
	err := fs.WalkDir(staticFS, "static", func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		b, err := staticFS.ReadFile(p)
		h.Write([]byte(p))
		h.Write(b)
		return err
	})
	if err != nil {
		panic(err) // embedded files cannot fail to be read
	}
	return hex.EncodeToString(h.Sum(nil))[:12]
}()

// modules are the addresses of the scripts that app.js is made of: told in the head, they
// are fetched at once.
var modules = func() (out []string) {
	names, err := fs.Glob(staticFS, "static/js/*.js")
	if err != nil {
		panic(err) // the pattern is a good one
	}
	for _, n := range names {
		out = append(out, asset(strings.TrimPrefix(n, "static/")))
	}
	return out
}()

// asset is the address of a static file.
func asset(name string) string { return "/static/" + assetHash + "/" + name }

func (s *server) static(c *gin.Context) {
	name := strings.TrimPrefix(path.Clean(c.Param("file")), "/")
	b, err := staticFS.ReadFile("static/" + name)
	if err != nil {
		c.Status(http.StatusNotFound)
		return
	}
	if c.Param("hash") == assetHash {
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
	}
	kind := mime.TypeByExtension(path.Ext(name))
	if own, ok := kinds[path.Ext(name)]; ok {
		kind = own
	}
	c.Data(http.StatusOK, kind, b)
}

// kinds are those that not every system knows.
var kinds = map[string]string{".woff2": "font/woff2", ".webmanifest": "application/manifest+json"}

// worker is the script that keeps the field's pages; it stands at the root, since it may
// keep only what lies below it.
func (s *server) worker(c *gin.Context) {
	b, err := staticFS.ReadFile("static/worker.js")
	if err != nil {
		c.Status(http.StatusNotFound)
		return
	}
	c.Header("Cache-Control", "no-cache")
	c.Data(http.StatusOK, "text/javascript; charset=utf-8", b)
}

func (s *server) favicon(c *gin.Context) {
	b, err := staticFS.ReadFile("static/favicon.svg")
	if err != nil {
		c.Status(http.StatusNotFound)
		return
	}
	c.Header("Cache-Control", "public, max-age=86400")
	c.Data(http.StatusOK, "image/svg+xml", b)
}
