// Package showcase is the page of the demo that shows all components.
package showcase

import (
	"embed"

	"zephyrfield/internal/web/site"
)

// Handler answers what is asked of it.
type Handler struct{ *site.Site }

// New gives the page of a site.
func New(s *site.Site) *Handler { return &Handler{s} }

// Templates are its pages.
//
//go:embed *.html
var Templates embed.FS
