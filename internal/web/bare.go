package web

import (
	"bytes"
	"errors"
	"net/http"
	"net/url"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
)

// insideKey marks a request that has passed the gate.
const insideKey = "inside"

// inside tells whether a request may see something of the garden.
func (s *server) inside(c *gin.Context) bool { return !s.SignIn || c.GetBool(insideKey) }

// barePage is the page of every refusal before the gate: it shows nothing of the
// garden.
func (s *server) barePage(says string) []byte {
	var b bytes.Buffer
	if err := s.pages["fail"].ExecuteTemplate(&b, "bare", says); err != nil {
		s.Log.Error("page", "name", "bare", "error", err)
		return []byte(says)
	}
	return b.Bytes()
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

// headAsGet answers a HEAD as a GET is answered; the server leaves the body out.
func headAsGet(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodHead {
			asked := r.Clone(r.Context())
			asked.Method = http.MethodGet
			r = asked
		}
		next.ServeHTTP(w, r)
	})
}

// within gives an address that a post leads to, when it is one of this garden's own
// pages; else the ground plan's.
func within(to string) string {
	u, err := url.Parse(to)
	switch {
	case err != nil, u.Scheme != "", u.Host != "", u.Opaque != "":
		return "/"
	case !strings.HasPrefix(to, "/"), strings.HasPrefix(to, "//"), strings.ContainsRune(to, '\\'):
		return "/"
	case strings.ContainsFunc(to, func(r rune) bool { return r <= ' ' || r == 0x7f }):
		return "/"
	}
	return to
}

// troubles are the errors that a page has its own words for; "" has the error's own.
// What can be wrong with the file or its disk says which, what is safe, and what to
// do.
var troubles = []struct {
	is     error
	status int
	says   string
}{
	{garden.ErrFull, http.StatusInsufficientStorage,
		"The disk is full, so this was not saved. All that was saved before is safe. Make room on the " +
			"disk that holds the garden’s file, then go back and send this once more."},
	{garden.ErrReadOnly, http.StatusServiceUnavailable,
		"The garden’s file cannot be written to, so this was not saved. All that was saved before is safe and can be read. " +
			"See that the disk and the file may be written to, then go back and send this once more."},
	{garden.ErrBusy, http.StatusServiceUnavailable,
		"Another program holds the garden’s file, so this was not saved. All that was saved before is safe. " +
			"Close that program, or wait a moment, then go back and send this once more."},
	{garden.ErrDamaged, http.StatusInternalServerError,
		"The garden’s file is damaged. Nothing was changed, and the daily copies are safe. Stop the program and put one in its " +
			"place: zephyrfield restore --data FILE --from COPY. What is there now is kept beside it."},
	{garden.ErrDisk, http.StatusInternalServerError,
		"The disk cannot be read or written, so this was not done. All that was saved before is safe as long as the disk " +
			"holds; look after it first. The daily copies lie in the folder beside the garden’s file."},
	{garden.ErrMissing, http.StatusNotFound, "That is not in this garden."},
	{garden.ErrStale, http.StatusConflict,
		"This was changed meanwhile in another window. Nothing was done here. Go back, look at how it stands now, " +
			"and do it again if it is still wanted."},
	{garden.ErrOtherContent, http.StatusConflict,
		"This form was sent once already, with other content; what was sent first stands. Open the page anew, " +
			"and send it again from there."},
	{garden.ErrUndone, http.StatusConflict, ""},
	{desk.ErrNoOption, http.StatusConflict, ""},
	{desk.ErrNoReading, http.StatusConflict, ""},
}

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
	for _, t := range troubles {
		if errors.Is(err, t.is) {
			if t.status >= http.StatusInternalServerError {
				s.Log.Error("request", "path", c.Request.URL.Path, "error", t.is) // not err: it may hold rows
			}
			says := t.says
			if says == "" {
				says = words.Sentence(t.is.Error())
			}
			s.fail(c, t.status, says)
			return
		}
	}
	var faults garden.Faults
	if errors.As(err, &faults) {
		s.fail(c, http.StatusUnprocessableEntity, words.Sentence(firstFault(faults)))
		return
	}
	s.Log.Error("request", "path", c.Request.URL.Path, "error", err)
	s.fail(c, http.StatusInternalServerError, "Something went wrong here. Nothing was changed.")
}

// failView is a page that says what is wrong.
type failView struct {
	Page
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
