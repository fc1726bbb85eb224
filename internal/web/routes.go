package web

import (
	"net/http"

	"github.com/gin-gonic/gin"
)

// route is an address behind the gate with the page that answers there.
type route struct {
	method, path string
	page         func(*server, *gin.Context) error
	// only tells whether this server has it; nil: always.
	only func(*server) bool
}

func get(path string, page func(*server, *gin.Context) error) route {
	return route{method: http.MethodGet, path: path, page: page}
}

func post(path string, page func(*server, *gin.Context) error) route {
	return route{method: http.MethodPost, path: path, page: page}
}

// when makes a route one of some servers only.
func (r route) when(only func(*server) bool) route {
	r.only = only
	return r
}

func signsIn(s *server) bool { return s.SignIn }

func isDemo(s *server) bool { return s.Demo != nil }

// ownCalendar tells whether the garden runs on a calendar that is moved on by hand.
func ownCalendar(s *server) bool { return s.Demo != nil || s.Rehearsal != nil }

// silent is a page that has no error to tell.
func silent(page func(*server, *gin.Context)) func(*server, *gin.Context) error {
	return func(s *server, c *gin.Context) error {
		page(s, c)
		return nil
	}
}

// pageRoutes are those of all pages. A page’s file says its own with pagesAt, so that a
// new page is one file and one template.
var pageRoutes []route

func pagesAt(rs ...route) struct{} {
	pageRoutes = append(pageRoutes, rs...)
	return struct{}{}
}
