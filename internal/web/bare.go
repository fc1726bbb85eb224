package web

import (
	"errors"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/ui"
	"zephyrfield/internal/web/view"
)

// insideKey marks a request that has passed the gate.
const insideKey = "inside"

// inside tells whether a request may see something of the garden.
func (s *server) inside(c *gin.Context) bool { return !s.SignIn || c.GetBool(insideKey) }

// barePage is the page of every refusal before the gate: it shows nothing of the
// garden.
func (s *server) barePage(says string) []byte {
	page, err := s.pages.Part("bare", says)
	if err != nil {
		s.Log.Error("page", "name", "bare", "error", err)
		return []byte(says)
	}
	return page
}

func (s *server) bare(c *gin.Context, status int, says string) {
	c.Data(status, "text/html; charset=utf-8", s.barePage(says))
	c.Abort()
}

// foreignPost answers a post that another site sent.
func (s *server) foreignPost(w http.ResponseWriter, _ *http.Request) {
	s.setHeaders(w.Header())
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.WriteHeader(http.StatusForbidden)
	_, _ = w.Write(s.barePage("That was sent from another site, and nothing was done."))
}

// ownTroubles are all that a page can meet.
var ownTroubles = slices.Concat(ui.Troubles, []ui.Trouble{
	{Is: desk.ErrNoOption, Status: http.StatusConflict},
	{Is: desk.ErrNoReading, Status: http.StatusConflict},
})

// told is the one way from a page's error to what is said of it.
func (s *server) told(page func(*gin.Context) error) gin.HandlerFunc {
	return func(c *gin.Context) {
		if err := page(c); err != nil {
			s.failWith(c, err)
		}
	}
}

// failWith answers an error of the garden that no form can show.
func (s *server) failWith(c *gin.Context, err error) {
	for _, t := range ownTroubles {
		if errors.Is(err, t.Is) {
			if t.Status >= http.StatusInternalServerError {
				s.Log.Error("request", "path", c.Request.URL.Path, "error", t.Is) // not err: it may hold rows
			}
			says := t.Says
			if says == "" {
				says = words.Sentence(t.Is.Error())
			}
			s.fail(c, t.Status, says)
			return
		}
	}
	var faults garden.Faults
	if errors.As(err, &faults) {
		s.fail(c, http.StatusUnprocessableEntity, words.Sentence(ui.FirstFault(faults)))
		return
	}
	s.Log.Error("request", "path", c.Request.URL.Path, "error", err)
	s.fail(c, http.StatusInternalServerError, "Something went wrong here. Nothing was changed.")
}

// failView is a page that says what is wrong.
type failView struct {
	view.Page
	Says string
}

func (s *server) fail(c *gin.Context, status int, says string) {
	if !s.inside(c) {
		s.bare(c, status, says)
		return
	}
	g := garden.Garden{}
	g, _ = s.keep.Place(c.Request.Context())
	s.render(c, status, "fail", failView{s.page(c, g, "", says), says})
	c.Abort()
}
