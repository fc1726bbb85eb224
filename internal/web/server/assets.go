package server

import (
	"crypto/sha256"
	"encoding/hex"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"

	"github.com/gin-gonic/gin"

	static "zephyrfield/internal/web/static"
)

// assetHash is a short hash over all static files: their addresses contain it and are cached for a year.
var assetHash = func() string {
	h := sha256.New()
	err := fs.WalkDir(static.FS, ".", func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		b, err := static.FS.ReadFile(p)
		h.Write([]byte(p))
		h.Write(b)
		return err
	})
	if err != nil {
		panic(err) // embedded files cannot fail to be read
	}
	return hex.EncodeToString(h.Sum(nil))[:12]
}()

// modules are the addresses of the scripts that app.js imports: the head preloads them.
var modules = func() (out []string) {
	names, err := fs.Glob(static.FS, "js/*.js")
	if err != nil {
		panic(err) // the pattern is valid
	}
	for _, n := range names {
		out = append(out, asset(n))
	}
	return out
}()

// asset returns the address of a static file.
func asset(name string) string { return "/static/" + assetHash + "/" + name }

func (s *Server) static(c *gin.Context) {
	name := strings.TrimPrefix(path.Clean(c.Param("file")), "/")
	b, err := static.FS.ReadFile(name)
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

// kinds are MIME types missing on some systems.
var kinds = map[string]string{".woff2": "font/woff2", ".webmanifest": "application/manifest+json"}

// worker serves the service worker, at the root since its scope is its folder.
func (s *Server) worker(c *gin.Context) {
	b, err := static.FS.ReadFile("worker.js")
	if err != nil {
		c.Status(http.StatusNotFound)
		return
	}
	c.Header("Cache-Control", "no-cache")
	c.Data(http.StatusOK, "text/javascript; charset=utf-8", b)
}

func (s *Server) favicon(c *gin.Context) {
	b, err := static.FS.ReadFile("favicon.svg")
	if err != nil {
		c.Status(http.StatusNotFound)
		return
	}
	c.Header("Cache-Control", "public, max-age=86400")
	c.Data(http.StatusOK, "image/svg+xml", b)
}
