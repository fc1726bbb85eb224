// Package daysheet is the page of the day’s tasks.
package daysheet

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
