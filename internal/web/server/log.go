package server

import (
	"log/slog"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/internal/web/form"
)

// requestID is the response header with the id of the request's line in the log.
const requestID = "X-Request-Id"

// logged writes one line a request, where requests are logged: never what was asked or sent, only the route and
// the status.
func (s *Server) logged(c *gin.Context) {
	if s.Requests == nil {
		c.Next()
		return
	}
	id, start := form.Secret()[:12], time.Now()
	c.Header(requestID, id)
	c.Next()
	route := c.FullPath()
	if route == "" {
		route = "none"
	}
	s.Requests.LogAttrs(c.Request.Context(), slog.LevelInfo, "request",
		slog.String("id", id), slog.String("method", c.Request.Method), slog.String("route", route),
		slog.Int("status", c.Writer.Status()), slog.Int("bytes", max(c.Writer.Size(), 0)),
		slog.Float64("ms", float64(time.Since(start).Microseconds())/1000))
}
