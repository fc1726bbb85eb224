// Package spreading is the page that says where what is in the hand may go today.
package spreading

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
