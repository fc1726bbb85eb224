package web

import (
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/crypto/argon2"
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

// Sign-in limits.
const (
	mostTries   = 5
	triesWindow = 15 * time.Minute
	sessionDays = 30
	cookieName  = "zephyrfield"
)

// tries counts wrong passphrases by address.
type tries struct {
	mu   sync.Mutex
	seen map[string][]time.Time
}

func newTries() *tries { return &tries{seen: map[string][]time.Time{}} }

// recent drops what is old; the caller holds the lock.
func (t *tries) recent(who string, now time.Time) []time.Time {
	var keep []time.Time
	for _, at := range t.seen[who] {
		if now.Sub(at) < triesWindow {
			keep = append(keep, at)
		}
	}
	if len(keep) == 0 {
		delete(t.seen, who)
	} else {
		t.seen[who] = keep
	}
	return keep
}

// take counts a try and tells whether it may be made; a right one is given
// back. Counting first keeps many tries at once from slipping through.
func (t *tries) take(who string, now time.Time) bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	if len(t.recent(who, now)) >= mostTries {
		return false
	}
	t.seen[who] = append(t.seen[who], now)
	return true
}

func (t *tries) forget(who string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	delete(t.seen, who)
}

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
	token, err := c.Cookie(cookieName)
	if err == nil && token != "" {
		ok, err := s.Gate.HasSession(c.Request.Context(), hashToken(token), time.Now())
		if err != nil {
			s.failWith(c, err)
			return
		}
		if ok {
			c.Next()
			return
		}
	}
	c.Abort()
	if c.Request.Method == http.MethodGet {
		c.Redirect(http.StatusSeeOther, "/sign-in")
		return
	}
	c.Data(http.StatusUnauthorized, "text/plain; charset=utf-8", []byte("Sign in first."))
}

type signInView struct {
	Page
	Says string
}

func (s *server) signInForm(c *gin.Context) { s.showSignIn(c, http.StatusOK, "") }

func (s *server) showSignIn(c *gin.Context, status int, says string) {
	s.render(c, status, "signin", signInView{Page{Title: "Sign in", Garden: "", Today: s.Clock.Today()}, says})
}

func (s *server) signIn(c *gin.Context) {
	who, _, err := net.SplitHostPort(c.Request.RemoteAddr)
	if err != nil {
		who = c.Request.RemoteAddr
	}
	if !s.tries.take(who, time.Now()) {
		s.showSignIn(c, http.StatusTooManyRequests, "Too many wrong tries. Wait a quarter of an hour.")
		return
	}
	hash, err := s.Gate.PassphraseHash(c.Request.Context())
	if err != nil || hash == "" {
		s.showSignIn(c, http.StatusForbidden, "No passphrase is set. Set one with: zephyrfield passphrase --data FILE")
		return
	}
	ok, err := CheckPassphrase(hash, c.PostForm("passphrase"))
	if err != nil {
		s.failWith(c, err)
		return
	}
	if !ok {
		s.showSignIn(c, http.StatusUnauthorized, "That is not the passphrase.")
		return
	}
	s.tries.forget(who)
	token, now := newKey()+newKey(), time.Now()
	if err := s.Gate.AddSession(c.Request.Context(), hashToken(token), now, now.AddDate(0, 0, sessionDays)); err != nil {
		s.failWith(c, err)
		return
	}
	s.cookie(c, token, sessionDays*24*3600)
	c.Redirect(http.StatusSeeOther, "/")
}

func (s *server) cookie(c *gin.Context, value string, seconds int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: cookieName, Value: value, Path: "/", MaxAge: seconds,
		HttpOnly: true, Secure: s.TLS, SameSite: http.SameSiteStrictMode})
}

func (s *server) signOut(c *gin.Context) {
	if token, err := c.Cookie(cookieName); err == nil {
		if err := s.Gate.EndSession(c.Request.Context(), hashToken(token)); err != nil {
			s.failWith(c, err)
			return
		}
	}
	s.cookie(c, "", -1)
	c.Redirect(http.StatusSeeOther, "/sign-in")
}
