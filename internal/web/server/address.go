package server

import (
	"cmp"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/web/site"
)

// stepped puts the day that an address steps to (?on= with months and days from it) in the
// address, so that a page is asked for in one way only.
func (s *Server) stepped(c *gin.Context) {
	q := c.Request.URL.Query()
	months, errM := strconv.Atoi(cmp.Or(q.Get("months"), "0"))
	days, errD := strconv.Atoi(cmp.Or(q.Get("days"), "0"))
	day, err := quantity.ParseDay(q.Get("on"))
	if c.Request.Method != http.MethodGet || errM != nil || errD != nil || err != nil || months == 0 && days == 0 ||
		max(months, -months) > site.MostSteps || max(days, -days) > site.MostSteps {
		return
	}
	q.Del("months")
	q.Del("days")
	q.Del("on")
	if day = s.Bounded(day.AddMonths(months) + quantity.Day(days)); day != s.Clock.Today() {
		q.Set("on", day.String())
	}
	c.Request.URL.RawQuery = q.Encode()
}
