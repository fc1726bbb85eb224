package server

import (
	"cmp"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/web/site"
)

// stepped canonicalises the date parameters of an address: on, months and days become the one day that they
// come to.
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
	if day = day.AddMonths(months) + quantity.Day(days); day != s.Clock.Today() { // kept within the handle's range
		q.Set("on", day.String())
	}
	c.Request.URL.RawQuery = q.Encode()
}
