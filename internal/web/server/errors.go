package server

import (
	"net/http"

	"github.com/gin-gonic/gin"
)

// foreignPost refuses a cross-site post.
func (s *Server) foreignPost(w http.ResponseWriter, _ *http.Request) {
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.WriteHeader(http.StatusForbidden)
	_, _ = w.Write(s.BarePage("That was sent from another site, and nothing was done."))
}

// handleError turns the error of a handler into a page; every handler's errors go through it.
func (s *Server) handleError(page func(*gin.Context) error) gin.HandlerFunc {
	return func(c *gin.Context) {
		if err := page(c); err != nil {
			s.FailWith(c, err)
		}
	}
}
