package site

import (
	"errors"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/view"
)

// InsideKey marks the context of a request that has passed the sign-in.
const InsideKey = "inside"

// Inside reports whether a request has passed the sign-in.
func (s *Site) Inside(c *gin.Context) bool { return !s.SignIn || c.GetBool(InsideKey) }

// BarePage returns the page of every refusal before the sign-in: it shows nothing of the garden.
func (s *Site) BarePage(says string) []byte {
	page, err := s.Templates.Part("bare", says)
	if err != nil {
		s.Log.Error("page", "name", "bare", "error", err)
		return []byte(says)
	}
	return page
}

// Bare sends a page without tabs that says one thing, for when the garden cannot be read.
func (s *Site) Bare(c *gin.Context, status int, says string) {
	s.Data(c, status, "text/html; charset=utf-8", s.BarePage(says))
	c.Abort()
}

// ownTroubles are all errors that a page can meet.
var ownTroubles = slices.Concat(Troubles, []Trouble{
	{Is: dosing.ErrNoOption, Status: http.StatusConflict},
	{Is: dosing.ErrNoReading, Status: http.StatusConflict},
})

// clientGone is logged for requests whose client did not wait for the answer.
const clientGone = 499

// FailWith answers an error that no form can show, with its status and sentence.
func (s *Site) FailWith(c *gin.Context, err error) {
	if c.Request.Context().Err() != nil {
		c.AbortWithStatus(clientGone) // nobody reads it
		return
	}
	for _, t := range ownTroubles {
		if errors.Is(err, t.Is) {
			if t.Status >= http.StatusInternalServerError {
				s.Log.Error("request", "path", c.Request.URL.Path, "error", t.Is) // not err: it may hold rows
			}
			says := t.Says
			if says == "" {
				says = text.Sentence(t.Is.Error())
			}
			s.Fail(c, t.Status, says)
			return
		}
	}
	var faults garden.Faults
	if errors.As(err, &faults) {
		s.Fail(c, http.StatusUnprocessableEntity, text.Sentence(FirstFault(faults)))
		return
	}
	s.Log.Error("request", "path", c.Request.URL.Path, "error", err)
	s.Fail(c, http.StatusInternalServerError, "Something went wrong here. Nothing was changed.")
}

// failView is a page that says what is wrong.
type failView struct {
	view.Page
	Says string
}

// Fail answers with an error page of a status and a sentence.
func (s *Site) Fail(c *gin.Context, status int, says string) {
	if !s.Inside(c) {
		s.Bare(c, status, says)
		return
	}
	g := garden.Garden{}
	g, _ = s.App(c).Place(c.Request.Context())
	s.Render(c, status, "fail", failView{s.Page(c, g, "", says), says})
	c.Abort()
}
