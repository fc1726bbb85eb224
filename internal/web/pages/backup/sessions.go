package backup

import (
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
)

// sessionRow is a signed-in session.
type sessionRow struct {
	ID, Whence, Since, Seen string
	Mine                    bool
}

// pocket are user agent words of phones.
var pocket = []string{"Mobile", "Android", "Phone"}

// DeviceOf describes a device by its user agent.
func DeviceOf(agent string) string {
	for _, w := range pocket {
		if strings.Contains(agent, w) {
			return "a phone or tablet"
		}
	}
	return "a computer"
}

// sessions returns the sessions; none if there is no sign-in.
func (s *Handler) sessions(c *gin.Context) (out []sessionRow, err error) {
	if !s.SignIn {
		return nil, nil
	}
	all, err := s.GateOf(c).Sessions(c.Request.Context(), time.Now())
	token, _ := c.Cookie(site.CookieName)
	mine := site.HashToken(token)
	for _, x := range all {
		row := sessionRow{ID: x.ID, Whence: x.Whence, Since: present.MomentWords(x.Made), Seen: present.MomentWords(x.Seen),
			Mine: strings.HasPrefix(mine, x.ID)}
		if row.Whence == "" {
			row.Whence = "Before this was noted"
		}
		out = append(out, row)
	}
	return out, err
}

// EndSession ends another session.
func (s *Handler) EndSession(c *gin.Context) error {
	if err := s.GateOf(c).EndSessionID(c.Request.Context(), c.Param("id")); err != nil {
		return err
	}
	c.Redirect(http.StatusSeeOther, "/keep#signed-in")
	return nil
}

// ChangePassphrase sets a new passphrase and ends all other sessions.
func (s *Handler) ChangePassphrase(c *gin.Context) error {
	f := form.NoForm()
	was, is := c.PostForm("passphrase"), c.PostForm("new_passphrase")
	who := site.AskerOf(c.Request.RemoteAddr)
	if wait := s.Tries.Take(who, time.Now()); wait > 0 {
		f.Faults["passphrase"] = "Too many wrong tries. The next can be made in " + site.WaitWords(int(wait.Seconds())+1) + "."
		return s.showKeeping(c, http.StatusTooManyRequests, f)
	}
	ok, err := s.Right(c, was)
	if err != nil {
		return err
	}
	if ok {
		s.Tries.Forget(who)
	} else {
		f.Faults["passphrase"] = "That is not the passphrase."
	}
	if why := site.PassphraseFault(is); why != "" {
		f.Faults["new_passphrase"] = text.Sentence(why)
	} else if is != c.PostForm("again") {
		f.Faults["again"] = "The two are not the same."
	}
	if len(f.Faults) > 0 {
		return s.showKeeping(c, http.StatusUnprocessableEntity, f)
	}
	token, _ := c.Cookie(site.CookieName)
	if err := s.GateOf(c).SetPassphraseHash(c.Request.Context(), site.HashPassphrase(is), site.HashToken(token)); err != nil {
		return err
	}
	c.Redirect(http.StatusSeeOther, "/keep?changed=passphrase#signed-in")
	return nil
}
