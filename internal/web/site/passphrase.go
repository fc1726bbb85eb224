package site

import (
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"
	"golang.org/x/crypto/argon2"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// argon2id as recommended for a small server: about 100 ms.
const (
	argonTime   = 2
	argonMemory = 19 * 1024
	argonLanes  = 1
	argonKey    = 32
)

// HashPassphrase returns the argon2id hash that is stored.
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

// The lifetime of a session in days.
const (
	SessionDays = 30
	CookieName  = "zephyrfield"
)

// HashToken returns the hash of a session's token that is stored, so that the store holds no usable
// token.
func HashToken(token string) string {
	h := sha256.Sum256([]byte(token))
	return hex.EncodeToString(h[:])
}

// ErrNoPassphrase is returned when the garden has no passphrase.
var ErrNoPassphrase = errors.New("no passphrase is set")

// Right reports whether a passphrase is the garden's. The number of concurrent checks is limited: each takes its
// share of memory.
func (s *Site) Right(c *gin.Context, pass string) (bool, error) {
	hash, err := s.GateOf(c).PassphraseHash(c.Request.Context())
	if err != nil {
		return false, err
	}
	if hash == "" {
		return false, ErrNoPassphrase
	}
	select {
	case s.Hashing <- struct{}{}:
		defer func() { <-s.Hashing }()
	case <-c.Request.Context().Done():
		return false, c.Request.Context().Err()
	}
	return CheckPassphrase(hash, pass)
}

// WaitWords writes a wait in seconds or minutes.
func WaitWords(seconds int) string {
	if seconds < 90 {
		return text.Count(seconds, "second", "seconds")
	}
	return text.Count((seconds+59)/60, "minute", "minutes")
}

// Cookie sets the session's cookie for that many seconds; a negative number ends it.
func (s *Site) Cookie(c *gin.Context, value string, seconds int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: CookieName, Value: value, Path: "/", MaxAge: seconds,
		HttpOnly: true, Secure: s.TLS, SameSite: http.SameSiteStrictMode})
}

// shortestPassphrase and longestPassphrase bound it in letters.
const (
	shortestPassphrase = 10
	longestPassphrase  = 200
)

// PassphraseFault returns the message for an unsuitable new passphrase, or "".
func PassphraseFault(pass string) string {
	switch n := len([]rune(pass)); {
	case n < shortestPassphrase:
		return "at least " + text.Count(shortestPassphrase, "letter is",
			"letters are") + " needed; a few words together are easiest to remember"
	case n > longestPassphrase:
		return garden.TextFault(pass, longestPassphrase, false)
	}
	return ""
}
