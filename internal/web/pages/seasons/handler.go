// Package seasons is the page of a bed’s forecast.
package seasons

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
