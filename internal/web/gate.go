package web

import (
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/crypto/argon2"

	"zephyrfield/agronomy/words"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/view"
)

var _ = pagesAt(
	post("/sign-out", (*server).signOut),
)

// argon2id as recommended for a small server: about 100 ms.
const (
	argonTime   = 2
	argonMemory = 19 * 1024
	argonLanes  = 1
	argonKey    = 32
)

// HashPassphrase makes the argon2id hash that is stored.
func HashPassphrase(pass string) string {
	salt := make([]byte, 16)
	_, _ = rand.Read(salt) // never fails
	key := argon2.IDKey([]byte(pass), salt, argonTime, argonMemory, argonLanes, argonKey)
	b := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonTime, argonLanes,
		b.EncodeToString(salt), b.EncodeToString(key))
}

var errHash = errors.New("the stored passphrase cannot be read; set it again")

// CheckPassphrase compares a passphrase with a stored hash.
func CheckPassphrase(hash, pass string) (bool, error) {
	f := strings.Split(hash, "$")
	if len(f) != 6 || f[1] != "argon2id" {
		return false, errHash
	}
	var m, t uint32
	var p uint8
	if _, err := fmt.Sscanf(f[3], "m=%d,t=%d,p=%d", &m, &t, &p); err != nil {
		return false, errHash
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(f[4])
	want, err2 := base64.RawStdEncoding.DecodeString(f[5])
	if err1 != nil || err2 != nil || len(want) == 0 {
		return false, errHash
	}
	got := argon2.IDKey([]byte(pass), salt, t, m, p, uint32(len(want)))
	return subtle.ConstantTimeCompare(got, want) == 1, nil
}

// A session ends by itself after these days.
const (
	sessionDays = 30
	cookieName  = "zephyrfield"
)

func hashToken(token string) string {
	h := sha256.Sum256([]byte(token))
	return hex.EncodeToString(h[:])
}

// signedIn lets only those through who have signed in, when that is asked for.
func (s *server) signedIn(c *gin.Context) {
	if !s.SignIn {
		c.Next()
		return
	}
	if token, err := c.Cookie(cookieName); err == nil && token != "" {
		ok, err := s.Gate.HasSession(c.Request.Context(), hashToken(token), time.Now())
		if err != nil {
			s.failWith(c, err)
			return
		}
		if ok {
			c.Set(insideKey, true)
			c.Next()
			return
		}
	}
	if c.Request.Method == http.MethodGet {
		c.Redirect(http.StatusSeeOther, "/sign-in")
		c.Abort()
		return
	}
	s.bare(c, http.StatusUnauthorized, "Sign in first.")
}

type signInView struct {
	view.Page
	Says string
}

func (s *server) signInForm(c *gin.Context) { s.showSignIn(c, http.StatusOK, "") }

func (s *server) showSignIn(c *gin.Context, status int, says string) {
	s.render(c, status, "signin", signInView{view.Page{Title: "Sign in", Garden: "", Today: s.Clock.Today()}, says})
}

func (s *server) signIn(c *gin.Context) error {
	who := askerOf(c.Request.RemoteAddr)
	if wait := s.tries.take(who, time.Now()); wait > 0 {
		seconds := int(math.Ceil(wait.Seconds()))
		c.Header("Retry-After", strconv.Itoa(seconds))
		s.showSignIn(c, http.StatusTooManyRequests, "Too many wrong tries. The next can be made in "+waitWords(seconds)+".")
		return nil
	}
	ok, err := s.right(c, c.PostForm("passphrase"))
	switch {
	case errors.Is(err, errNoPassphrase):
		s.showSignIn(c, http.StatusForbidden, "No passphrase is set. Set one with: zephyrfield passphrase --data FILE")
		return nil
	case err != nil:
		return err
	case !ok:
		s.showSignIn(c, http.StatusUnauthorized, "That is not the passphrase.")
		return nil
	}
	s.tries.forget(who)
	token, now := form.Secret()+form.Secret(), time.Now()
	whence := who + ", " + deviceOf(c.Request.UserAgent())
	if err := s.Gate.AddSession(c.Request.Context(), hashToken(token), whence, now, now.AddDate(0, 0, sessionDays)); err != nil {
		return err
	}
	s.cookie(c, token, sessionDays*24*3600)
	c.Redirect(http.StatusSeeOther, "/")
	return nil
}

var errNoPassphrase = errors.New("no passphrase is set")

// right tells whether a passphrase is the garden's. Few are tried at a time: each
// takes its share of memory.
func (s *server) right(c *gin.Context, pass string) (bool, error) {
	hash, err := s.Gate.PassphraseHash(c.Request.Context())
	if err != nil {
		return false, err
	}
	if hash == "" {
		return false, errNoPassphrase
	}
	select {
	case s.hashing <- struct{}{}:
		defer func() { <-s.hashing }()
	case <-c.Request.Context().Done():
		return false, c.Request.Context().Err()
	}
	return CheckPassphrase(hash, pass)
}

// waitWords says how long, in seconds or minutes.
func waitWords(seconds int) string {
	if seconds < 90 {
		return words.Count(seconds, "second", "seconds")
	}
	return words.Count((seconds+59)/60, "minute", "minutes")
}

func (s *server) cookie(c *gin.Context, value string, seconds int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: cookieName, Value: value, Path: "/", MaxAge: seconds,
		HttpOnly: true, Secure: s.TLS, SameSite: http.SameSiteStrictMode})
}

func (s *server) signOut(c *gin.Context) error {
	if token, err := c.Cookie(cookieName); err == nil {
		if err := s.Gate.EndSession(c.Request.Context(), hashToken(token)); err != nil {
			return err
		}
	}
	s.cookie(c, "", -1)
	c.Redirect(http.StatusSeeOther, "/sign-in")
	return nil
}
