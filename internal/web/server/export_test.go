package server

import (
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/internal/web/site"
)

// StopWithin sets how long requests under way may take to end, for a test.
func StopWithin(d time.Duration) { longestStop = d }

// Routes lists what the interface answers to, as "POST /beds/:id".
func Routes() []string {
	gin.SetMode(gin.ReleaseMode)
	s := &Server{site.New(site.Config{SignIn: true, Demo: &site.DemoClock{}}, nil)}
	r := gin.New()
	s.routes(r)
	var out []string
	for _, x := range r.Routes() {
		out = append(out, x.Method+" "+x.Path)
	}
	slices.Sort(out)
	return out
}
