package web

import (
	"strconv"

	"github.com/gin-gonic/gin"
)

// The beginning of an empty garden: the place, the first bed, the first
// reading, and then its dose. The steps are the usual pages, each leading on
// to the next.
const (
	beginPlace = iota + 1
	beginBed
	beginReading
)

// onFrom is where a saved page leads: on in the beginning, or where it leads
// otherwise.
func onFrom(c *gin.Context, n int, bed int64, usual string) string {
	if c.PostForm("begin") == "" {
		return usual
	}
	id := strconv.FormatInt(bed, 10)
	switch n {
	case beginPlace:
		return "/beds/new?begin=1"
	case beginBed:
		return "/bench?begin=1&bed=" + id
	}
	return "/beds/" + id + "/dose"
}
