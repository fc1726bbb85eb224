// Package tour is the page on which many beds are read one after the other with a meter.
package tour

import (
	"embed"

	"zephyrfield/internal/web/site"
)

// Handler serves the page.
type Handler struct{ *site.Site }

// New makes the handler for a site.
func New(s *site.Site) *Handler { return &Handler{s} }

// Templates are the templates of the page.
//
//go:embed *.html
var Templates embed.FS
