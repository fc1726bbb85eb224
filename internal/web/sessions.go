package web

import (
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
)

var _ = pagesAt(
	post("/sessions/:id/end", (*server).endSession).when(signsIn),
	post("/passphrase", (*server).changePassphrase).when(signsIn),
)

// sessionRow is somebody who is signed in.
type sessionRow struct {
	ID, Whence, Since, Seen string
	Mine                    bool
}

// pocket are the words by which a browser says that it is a phone's.
var pocket = []string{"Mobile", "Android", "Phone"}

// deviceOf says what somebody signs in with, by what the browser tells of itself.
func deviceOf(agent string) string {
	for _, w := range pocket {
		if strings.Contains(agent, w) {
			return "a phone or tablet"
		}
	}
	return "a computer"
}

// sessions lists who is signed in; none where nobody has to.
func (s *server) sessions(c *gin.Context) (out []sessionRow, err error) {
	if !s.SignIn {
		return nil, nil
	}
	all, err := s.Gate.Sessions(c.Request.Context(), time.Now())
	token, _ := c.Cookie(cookieName)
	mine := hashToken(token)
	for _, x := range all {
		row := sessionRow{ID: x.ID, Whence: x.Whence, Since: momentWords(x.Made), Seen: momentWords(x.Seen),
			Mine: strings.HasPrefix(mine, x.ID)}
		if row.Whence == "" {
			row.Whence = "Before this was noted"
		}
		out = append(out, row)
	}
	return out, err
}

// momentWords is a moment as it is kept, for people.
func momentWords(at string) string {
	t, err := time.Parse(time.RFC3339, at)
	if err != nil {
		return ""
	}
	return t.UTC().Format("2 Jan 2006 15:04")
}

func (s *server) endSession(c *gin.Context) error {
	if err := s.Gate.EndSessionID(c.Request.Context(), c.Param("id")); err != nil {
		return err
	}
	c.Redirect(http.StatusSeeOther, "/keep#signed-in")
	return nil
}

// changePassphrase sets another passphrase; whoever else is signed in must sign in
// again.
func (s *server) changePassphrase(c *gin.Context) error {
	f := form.NoForm()
	was, is := c.PostForm("passphrase"), c.PostForm("new_passphrase")
	who := askerOf(c.Request.RemoteAddr)
	if wait := s.tries.take(who, time.Now()); wait > 0 {
		f.Faults["passphrase"] = "Too many wrong tries. The next can be made in " + waitWords(int(wait.Seconds())+1) + "."
		return s.showKeeping(c, http.StatusTooManyRequests, f)
	}
	ok, err := s.right(c, was)
	if err != nil {
		return err
	}
	if ok {
		s.tries.forget(who)
	} else {
		f.Faults["passphrase"] = "That is not the passphrase."
	}
	if why := PassphraseFault(is); why != "" {
		f.Faults["new_passphrase"] = words.Sentence(why)
	} else if is != c.PostForm("again") {
		f.Faults["again"] = "The two are not the same."
	}
	if len(f.Faults) > 0 {
		return s.showKeeping(c, http.StatusUnprocessableEntity, f)
	}
	token, _ := c.Cookie(cookieName)
	if err := s.Gate.SetPassphraseHash(c.Request.Context(), HashPassphrase(is), hashToken(token)); err != nil {
		return err
	}
	c.Redirect(http.StatusSeeOther, "/keep?changed=passphrase#signed-in")
	return nil
}

// shortestPassphrase and longestPassphrase are the fewest and the most letters that
// are taken.
const (
	shortestPassphrase = 10
	longestPassphrase  = 200
)

// PassphraseFault says what is wrong with a passphrase, "" when nothing is.
func PassphraseFault(pass string) string {
	switch n := len([]rune(pass)); {
	case n < shortestPassphrase:
		return "at least " + words.Count(shortestPassphrase, "letter is",
			"letters are") + " needed; a few words together are easiest to remember"
	case n > longestPassphrase:
		return garden.TextFault(pass, longestPassphrase, false)
	}
	return ""
}
