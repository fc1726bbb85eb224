package server

import (
	"errors"
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/internal/web/form"
	keeppage "zephyrfield/internal/web/pages/backup"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

// signedIn is the middleware that requires a session, where sign-in is on.
func (s *Server) signedIn(c *gin.Context) {
	if !s.SignIn {
		c.Next()
		return
	}
	if token, err := c.Cookie(site.CookieName); err == nil && token != "" {
		ok, err := s.GateOf(c).HasSession(c.Request.Context(), site.HashToken(token), time.Now())
		if err != nil {
			s.FailWith(c, err)
			return
		}
		if ok {
			c.Set(site.InsideKey, true)
			c.Next()
			return
		}
	}
	if c.Request.Method == http.MethodGet {
		c.Redirect(http.StatusSeeOther, "/sign-in")
		c.Abort()
		return
	}
	s.Bare(c, http.StatusUnauthorized, "Sign in first.")
}

type signInView struct {
	view.Page
	Says string
}

func (s *Server) signInForm(c *gin.Context) { s.showSignIn(c, http.StatusOK, "") }

func (s *Server) showSignIn(c *gin.Context, status int, says string) {
	s.Render(c, status, "signin", signInView{view.Page{Title: "Sign in", Garden: "", Today: s.Clock.Today()}, says})
}

func (s *Server) signIn(c *gin.Context) error {
	who := site.AskerOf(c.Request.RemoteAddr)
	if err := s.recognise(c, who); err != nil {
		return err
	}
	if wait := s.Tries.Take(who, time.Now()); wait > 0 {
		seconds := int(math.Ceil(wait.Seconds()))
		c.Header("Retry-After", strconv.Itoa(seconds))
		s.showSignIn(c, http.StatusTooManyRequests, "Too many wrong tries. The next can be made in "+site.WaitWords(seconds)+".")
		return nil
	}
	ok, err := s.Right(c, c.PostForm("passphrase"))
	switch {
	case errors.Is(err, site.ErrNoPassphrase):
		s.showSignIn(c, http.StatusForbidden, "No passphrase is set. Set one with: zephyrfield passphrase --data FILE")
		return nil
	case err != nil:
		return err
	case !ok:
		s.showSignIn(c, http.StatusUnauthorized, "That is not the passphrase.")
		return nil
	}
	s.Tries.Forget(who)
	token, now := form.Secret()+form.Secret(), time.Now()
	whence := who + whenceSep + keeppage.DeviceOf(c.Request.UserAgent())
	if err := s.GateOf(c).AddSession(c.Request.Context(), site.HashToken(token), whence, now, now.AddDate(0, 0,
		site.SessionDays)); err != nil {
		return err
	}
	s.Cookie(c, token, site.SessionDays*24*3600)
	c.Redirect(http.StatusSeeOther, "/")
	return nil
}

// whenceSep ends the address in the words of whence a session is.
const whenceSep = ", "

// recognise tells the rate limit of an address that has a session, since before a restart too.
func (s *Server) recognise(c *gin.Context, who string) error {
	sessions, err := s.GateOf(c).Sessions(c.Request.Context(), time.Now())
	for _, x := range sessions {
		if strings.HasPrefix(x.Whence, who+whenceSep) {
			s.Tries.Know(who)
		}
	}
	return err
}

// SignOut ends the session of this browser, in which nothing of the garden stays.
func (s *Server) SignOut(c *gin.Context) error {
	if token, err := c.Cookie(site.CookieName); err == nil {
		if err := s.GateOf(c).EndSession(c.Request.Context(), site.HashToken(token)); err != nil {
			return err
		}
	}
	s.Cookie(c, "", -1)
	// Browsers heed it over HTTPS and on this machine only; the page's script clears too (kept.js).
	c.Header("Clear-Site-Data", `"cache", "storage"`)
	c.Redirect(http.StatusSeeOther, "/sign-in")
	return nil
}
