// Package observations is the page of what was seen on a bed.
package observations

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
