package server_test

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/webtest"
)

// from posts a passphrase from an address.
func from(s *webtest.Client, addr, pass string) *httptest.ResponseRecorder {
	r := httptest.NewRequest(http.MethodPost, "http://localhost/sign-in", strings.NewReader(url.Values{"passphrase": {pass}}.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.RemoteAddr = addr
	return s.Do(r)
}

// No number of strangers keeps the gardener out of the garden, also after a restart.
func TestStrangersDoNotLockTheGardenerOut(t *testing.T) {
	s := webtest.Gated(t)
	require.Equal(t, http.StatusSeeOther, from(s, "192.0.2.1:1", webtest.Passphrase).Code)
	strangers := func(s *webtest.Client) {
		for i := range 60 {
			from(s, fmt.Sprintf("[2001:db8:%x::1]:1", i), "wrong")
		}
		require.Equal(t, http.StatusTooManyRequests, from(s, "[2001:db8:ffff::1]:1", webtest.Passphrase).Code, "strangers wait")
	}
	strangers(s)
	assert.Equal(t, http.StatusSeeOther, from(s, "192.0.2.1:2", webtest.Passphrase).Code)
	for range 4 {
		assert.Equal(t, http.StatusUnauthorized, from(s, "192.0.2.1:3", "wrong").Code)
	}
	assert.Equal(t, http.StatusTooManyRequests, from(s, "192.0.2.1:3", webtest.Passphrase).Code, "its own wrong tries count")
	// Another process on the same file knows the address by its session.
	again := webtest.New(t, true, func(c *site.Config) { c.SignIn, c.Store, c.Gate, c.Labs = true, s.Store, s.Store, s.Store })
	strangers(again)
	assert.Equal(t, http.StatusSeeOther, from(again, "192.0.2.1:9", webtest.Passphrase).Code)
}

func TestSignOutClearsTheBrowser(t *testing.T) {
	s := webtest.Gated(t)
	desk := s.SignIn("Some browser")
	w := desk.Post("/sign-out", nil)
	assert.Equal(t, http.StatusSeeOther, w.Code)
	assert.Equal(t, `"cache", "storage"`, w.Header().Get("Clear-Site-Data"))
	assert.Equal(t, "/sign-in", desk.Get("/").Header().Get("Location"))
}

// Every answer bears the headers, a redirect that no page makes too.
func TestEveryAnswerBearsTheHeaders(t *testing.T) {
	s := webtest.New(t, true)
	for _, path := range []string{"/", "/sheet/", "/SHEET", "//sheet", "/beds/1/", "/nowhere", "/static/x/app.css", "/static/x",
		"/export/beds.csv",
		"/log?season=x", "/shed/share/progress", "/favicon.ico", "/worker.js", "/sights/1/photo", "/bench/probe"} {
		for _, method := range []string{http.MethodGet, http.MethodHead, http.MethodPost, http.MethodDelete} {
			w := s.Do(httptest.NewRequest(method, "http://localhost"+path, nil))
			for _, h := range []string{"Content-Security-Policy", "X-Content-Type-Options", "Referrer-Policy", "Cache-Control"} {
				assert.NotEmpty(t, w.Header().Get(h), "%s %s: %s", method, path, h)
			}
			assert.Less(t, w.Code, 500, "%s %s", method, path)
		}
	}
}
