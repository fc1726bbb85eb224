package server_test

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/webtest"
)

// TestNothingIsShownBeforeSignIn asks in every way that is refused before anybody
// has signed in: nothing of the garden shows, and the headers are whole.
func TestNothingIsShownBeforeSignIn(t *testing.T) {
	s := webtest.Gated(t)
	large := strings.NewReader(strings.Repeat("a", 3<<20))
	foreign := httptest.NewRequest(http.MethodPost, "http://localhost/undo/1", nil)
	foreign.Header.Set("Sec-Fetch-Site", "cross-site")
	for name, r := range map[string]*http.Request{
		"a method that is not known": httptest.NewRequest(http.MethodPut, "http://localhost/?said=3", nil),
		"too large":                  httptest.NewRequest(http.MethodPost, "http://localhost/sign-in?said=3", large),
		"another name":               httptest.NewRequest(http.MethodGet, "http://elsewhere.example/?said=3", nil),
		"another site":               foreign,
		"a post":                     httptest.NewRequest(http.MethodPost, "http://localhost/undo/1?said=3", nil),
		"no such page":               httptest.NewRequest(http.MethodDelete, "http://localhost/nowhere?said=3", nil),
		"the form":                   httptest.NewRequest(http.MethodGet, "http://localhost/sign-in?said=3", nil),
		"a page":                     httptest.NewRequest(http.MethodGet, "http://localhost/?said=3", nil),
		"a method nobody knows":      httptest.NewRequest("BREW", "http://localhost/sign-in?said=3", nil),
	} {
		w := s.Do(r)
		for _, of := range []string{"Hollin", "ledge", "Middle", "Put ", "Added", "records"} {
			assert.NotContains(t, w.Body.String(), of, name)
		}
		for _, h := range []string{"Content-Security-Policy", "X-Content-Type-Options", "Referrer-Policy", "Cache-Control",
			"Cross-Origin-Opener-Policy"} {
			assert.NotEmpty(t, w.Header().Get(h), "%s: %s", name, h)
		}
		assert.Less(t, w.Code, 500, name)
		if name != "the form" && name != "a page" {
			assert.GreaterOrEqual(t, w.Code, 400, name)
			assert.Len(t, webtest.Elements(webtest.Parsed(w.Body.String()), "h1"), 1, name)
		}
	}
}

func TestSignInIsRateLimited(t *testing.T) {
	s := webtest.Gated(t)
	wrong := func(from string) *httptest.ResponseRecorder {
		r := httptest.NewRequest(http.MethodPost, "http://localhost/sign-in", strings.NewReader("passphrase=wrong"))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.RemoteAddr = from
		return s.Do(r)
	}
	for range 4 {
		assert.Equal(t, http.StatusUnauthorized, wrong("192.0.2.1:1").Code)
	}
	w := wrong("192.0.2.1:2")
	assert.Equal(t, http.StatusTooManyRequests, w.Code)
	assert.Equal(t, "1", w.Header().Get("Retry-After"))
	assert.Contains(t, w.Body.String(), "in 1 second")
	assert.Equal(t, http.StatusUnauthorized, wrong("192.0.2.2:1").Code, "another address waits for itself only")
	// Of IPv6 a household counts as one, and many addresses together wait too.
	for i := range 4 {
		wrong(fmt.Sprintf("[2001:db8::%d]:1", i))
	}
	assert.Equal(t, http.StatusTooManyRequests, wrong("[2001:db8::ff]:1").Code)
	for i := range 20 {
		wrong(fmt.Sprintf("198.51.100.%d:1", i))
	}
	assert.Equal(t, http.StatusTooManyRequests, wrong("203.0.113.9:1").Code)
}

func TestSessions(t *testing.T) {
	s := webtest.Gated(t)
	desk, phone := s.SignIn("Some browser"), s.SignIn("Some browser (Mobile)")
	page := desk.Get("/keep").Body.String()
	assert.Contains(t, page, "a phone or tablet")
	assert.Contains(t, webtest.Wording(webtest.Parsed(page)), "a computer (you)")
	all, err := s.Store.Sessions(context.Background(), time.Now())
	require.NoError(t, err)
	require.Len(t, all, 2)
	for _, x := range all {
		if strings.Contains(x.Whence, "phone") {
			assert.Equal(t, http.StatusSeeOther, desk.Post("/sessions/"+x.ID+"/end", nil).Code)
		}
	}
	assert.Equal(t, "/sign-in", phone.Get("/").Header().Get("Location"))
	assert.Equal(t, http.StatusOK, desk.Get("/").Code)

	// Another passphrase ends the others and keeps the one that set it.
	phone = s.SignIn("Some browser (Mobile)")
	bad := desk.Post("/passphrase", url.Values{"passphrase": {"guess"}, "new_passphrase": {"lime in autumn"}, "again": {"lime in autumn"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "That is not the passphrase.")
	assert.Contains(t, desk.Post("/passphrase", url.Values{"passphrase": {webtest.Passphrase}, "new_passphrase": {"short"},
		"again": {"short"}}).Body.String(), "At least 10 letters")
	assert.Contains(t, desk.Post("/passphrase", url.Values{"passphrase": {webtest.Passphrase}, "new_passphrase": {"lime in autumn"},
		"again": {"lime"}}).Body.String(), "not the same")
	require.Equal(t, http.StatusOK, phone.Get("/").Code)
	require.Equal(t, http.StatusSeeOther, desk.Post("/passphrase",
		url.Values{"passphrase": {webtest.Passphrase}, "new_passphrase": {"lime in autumn"}, "again": {"lime in autumn"}}).Code)
	assert.Equal(t, http.StatusOK, desk.Get("/").Code)
	assert.Equal(t, "/sign-in", phone.Get("/").Header().Get("Location"))
}

func TestHeadAsGet(t *testing.T) {
	s := webtest.New(t, true)
	for _, p := range []string{"/", "/sheet", "/nowhere", "/keep"} {
		r := httptest.NewRequest(http.MethodHead, "http://localhost"+p, nil)
		assert.Equal(t, s.Get(p).Code, s.Do(r).Code, p)
	}
}

func TestPostRedirects(t *testing.T) {
	s := webtest.New(t, true)
	for to, want := range map[string]string{"/sheet": "/sheet", "/sheet?on=2026-11-01": "/sheet?on=2026-11-01", "//evil.example/": "/",
		"/\\evil.example": "/", "/\tevil": "/", "/\nevil": "/",
		"https://evil.example/": "/", "javascript:alert(1)": "/", "": "/", "sheet": "/", "/ x": "/", "/%2f%2fevil": "/%2f%2fevil"} {
		assert.Equal(t, want, s.Post("/demo/day", url.Values{"back": {to}}).Header().Get("Location"), "%q", to)
	}
}

// failing is a store whose changes fail.
type failing struct {
	garden.Store
	err error
}

func (f failing) Change(context.Context, garden.Change, func(garden.Tx) (string, error)) (garden.Receipt, error) {
	return garden.Receipt{}, fmt.Errorf("%w: row (1, 'Middle ledge')", f.err)
}

func (f failing) Snapshot() (garden.Store, func() error) {
	snapshot, end := f.Store.Snapshot()
	return failing{snapshot, f.err}, end
}

func TestErrorPages(t *testing.T) {
	for _, x := range []struct {
		err    error
		status int
		says   string
	}{
		{garden.ErrFull, http.StatusInsufficientStorage, "The disk is full"},
		{garden.ErrReadOnly, http.StatusServiceUnavailable, "cannot be written to"},
		{garden.ErrBusy, http.StatusServiceUnavailable, "Another program has"},
		{garden.ErrDamaged, http.StatusInternalServerError, "zephyrfield restore"},
		{garden.ErrDisk, http.StatusInternalServerError, "daily copies"},
		{errors.New("boom"), http.StatusInternalServerError, "Something went wrong here"},
	} {
		var log bytes.Buffer
		s := webtest.New(t, true, func(c *site.Config) {
			c.Store, c.Log = failing{c.Store, x.err}, slog.New(slog.NewTextHandler(&log, nil))
		})
		w := s.Post("/marks/1/drop", url.Values{"version": {"1"}, "key": {"k"}})
		assert.Equal(t, x.status, w.Code)
		assert.Contains(t, w.Body.String(), x.says)
		assert.NotContains(t, w.Body.String(), "row (1")
		if x.says != "Something went wrong here" {
			assert.Contains(t, w.Body.String(), "safe", "what is safe is said")
			assert.NotContains(t, log.String(), "row (1", "no row of the file is told")
		}
	}
}

func TestLogHasNoSecrets(t *testing.T) {
	var log bytes.Buffer
	s := webtest.New(t, true, func(c *site.Config) { c.SignIn, c.Requests = true, slog.New(slog.NewJSONHandler(&log, nil)) })
	require.NoError(t, s.Store.SetPassphraseHash(context.Background(), site.HashPassphrase(webtest.Passphrase), ""))
	w := s.Post("/sign-in", url.Values{"passphrase": {webtest.Passphrase}})
	in := *s
	in.Jar = w.Result().Cookies()
	in.Get("/find?q=very+private")
	lines := strings.Split(strings.TrimSpace(log.String()), "\n")
	require.Len(t, lines, 2)
	for _, l := range lines {
		var line struct {
			ID, Method, Route string
			Status            int
		}
		require.NoError(t, json.Unmarshal([]byte(l), &line))
		assert.NotEmpty(t, line.ID)
		assert.NotZero(t, line.Status)
	}
	for _, secret := range []string{webtest.Passphrase, "gloves", "private", in.Jar[0].Value} {
		assert.NotContains(t, log.String(), secret)
	}
	assert.Contains(t, lines[1], w.Header().Get("Nothing")+`"route":"/find"`)
}

// TestReusedKeyWithOtherContent: a form changed and sent again under the same key is refused.
func TestReusedKeyWithOtherContent(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Top lawn").Bed.ID
	form := url.Values{"what": {"wood-ash-hardwood"}, "put_date": {"2026-10-01"}, "put_amount": {"0.3"}, "key": {"once"}}
	path := fmt.Sprintf("/beds/%d/applications", bed)
	first := s.Post(path, form)
	if first.Code == http.StatusUnprocessableEntity {
		form.Set("sure", webtest.Hidden(first.Body.String(), "sure"))
		first = s.Post(path, form)
	}
	require.Equal(t, http.StatusSeeOther, first.Code, first.Body.String())
	n := len(s.Record(bed).Applications)
	assert.Equal(t, http.StatusSeeOther, s.Post(path, form).Code, "the very same is taken once")
	assert.Len(t, s.Record(bed).Applications, n)
	form.Set("put_amount", "0.6")
	w := s.Post(path, form)
	assert.Equal(t, http.StatusConflict, w.Code)
	assert.Contains(t, w.Body.String(), "sent once already, with other content")
	assert.Len(t, s.Record(bed).Applications, n)
}

func TestEveryEntryIsUndoneOrSaysWhyNot(t *testing.T) {
	s := webtest.New(t, false)
	place := s.PlaceForm("name", "Upper field")
	s.Saved(s.Post("/place", place))
	for i := range 45 {
		form := url.Values{"name": {fmt.Sprintf("Strip %02d", i)}, "kind": {"bed"}, "shape": {"rect"}, "w": {"4"}, "h": {"1"},
			"x": {"1"}, "y": {fmt.Sprint(2 * i)}, "texture": {"loam"}, "depth": {"15"},
			"worked": {"dug"}, "crop": {"carrot"}, "sown": {"2027-04-20"}, "key": {fmt.Sprint("bed", i)}}
		s.Saved(s.Post("/beds", form))
	}
	page := s.Get("/keep").Body.String()
	assert.Equal(t, 40, strings.Count(page, `action="/undo/`))
	older := webtest.Grep(page, `href="(/keep\?before=\d+)#journal"`)
	require.NotEmpty(t, older)
	page = s.Get(older).Body.String()
	assert.Equal(t, 6, strings.Count(page, `action="/undo/`), "the first line too, of the place")
	assert.Contains(t, page, "The newest")

	// A crop that is planted keeps its line.
	crop := url.Values{"name": {"Moon cabbage"}, "low": {"6.5"}, "high": {"7.2"}, "aim": {"6.8"}, "removal": {"12"}, "key": {"crop"}}
	added := s.Post("/crops", crop)
	s.Saved(added)
	id := webtest.Grep(added.Header().Get("Location"), `said=(\d+)`)
	bed := s.Bed("Strip 03").Bed.ID
	planted := s.Post(fmt.Sprintf("/beds/%d/plantings", bed),
		url.Values{"crop": {"moon-cabbage"}, "sown": {"2027-05-01"}, "key": {"plant"}})
	s.Saved(planted)
	w := s.Post("/undo/"+id, url.Values{"key": {"u1"}})
	assert.Equal(t, http.StatusConflict, w.Code)
	assert.Contains(t, w.Body.String(), "1 crop on a bed in the records rest on it")
	s.Saved(s.Post("/undo/"+webtest.Grep(planted.Header().Get("Location"), `said=(\d+)`), url.Values{"key": {"u2"}}))
	s.Saved(s.Post("/undo/"+id, url.Values{"key": {"u3"}}))

	// What something rests on says what.
	w = s.Post("/undo/2", url.Values{"key": {"u4"}})
	s.Saved(w)
	s.Saved(s.Post("/readings", url.Values{"bed": {fmt.Sprint(bed)}, "date": {"2026-11-20"}, "method": {"lab"}, "basis": {"water"},
		"ph": {"6.1"}, "cores": {"12"}, "depth": {"15"}, "key": {"r"}}))
	w = s.Post("/undo/5", url.Values{"key": {"u5"}})
	assert.Equal(t, http.StatusConflict, w.Code)
	assert.Contains(t, w.Body.String(), "1 reading in the records rest on it")
}

func TestNamesAreFolded(t *testing.T) {
	s := webtest.New(t, false)
	add := func(name, key string) *httptest.ResponseRecorder {
		return s.Post("/beds", url.Values{"name": {name}, "kind": {"bed"}, "shape": {"rect"}, "w": {"4"}, "h": {"1"}, "x": {"1"},
			"y": {"1"}, "texture": {"loam"}, "depth": {"15"},
			"worked": {"dug"}, "crop": {"carrot"}, "sown": {"2027-04-20"}, "key": {key}})
	}
	s.Saved(add("Ärmel", "1"))
	for i, name := range []string{"ärmel", "ÄRMEL", "A\u0308rmel", " ärmel ", "Ärmel\u00a0"} {
		w := add(name, fmt.Sprint("again", i))
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, "%q", name)
		assert.Contains(t, w.Body.String(), "There is a bed of that name already", "%q", name)
	}
	for i, name := range []string{"a\x00b", "a\nb", "a\u202eb", "a\u2028b", "a\x1bb"} {
		assert.Equal(t, http.StatusUnprocessableEntity, add(name, fmt.Sprint("sign", i)).Code, "%q", name)
	}
	assert.Contains(t, s.Get("/find?q=%C3%84RM").Header().Get("Location")+s.Get("/find?q=%C3%84RM").Body.String(), "1")
}

// TestStuckRequestDoesNotBlockShutdown: a stuck request is cut off, and shutdown succeeds.
func TestStuckRequestDoesNotBlockShutdown(t *testing.T) {
	server.StopWithin(50 * time.Millisecond)
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	under := make(chan struct{})
	h := http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		close(under)
		<-r.Context().Done()
	})
	ctx, end := context.WithCancel(context.Background())
	ended := make(chan error, 1)
	go func() { ended <- server.Serve(ctx, l, h, "", "") }()
	go func() {
		if r, err := http.Get("http://" + l.Addr().String()); err == nil {
			_ = r.Body.Close()
		}
	}()
	<-under
	end()
	require.NoError(t, <-ended)
}

func TestRedirectsStayOnSite(t *testing.T) {
	for _, back := range []string{"https://evil.example/", "//evil.example/", "/\\evil.example", "javascript:alert(1)"} {
		s := webtest.New(t, true)
		w := s.Post("/beds/2/duplicate", url.Values{})
		require.Equal(t, http.StatusSeeOther, w.Code)
		said := w.Header().Get("Location")
		line := said[strings.LastIndex(said, "=")+1:]
		w = s.Post("/undo/"+line, url.Values{"back": {back}})
		require.Equal(t, http.StatusSeeOther, w.Code)
		assert.True(t, strings.HasPrefix(w.Header().Get("Location"), "/?said="), "%q leads to %q", back, w.Header().Get("Location"))
	}
}

// broken is a store that panics.
type broken struct{ garden.Store }

func (broken) Read(context.Context, func(garden.Reader) error) error { panic("a slip in the program") }

func (b broken) Snapshot() (garden.Store, func() error) { return b, func() error { return nil } }

func TestPanicIsPageAndLoggedStack(t *testing.T) {
	var log bytes.Buffer
	s := webtest.New(t, true, func(c *site.Config) {
		c.Store, c.SignIn = broken{c.Store}, false
		c.Log = slog.New(slog.NewTextHandler(&log, nil))
	})
	w := s.Get("/keep")
	assert.Equal(t, http.StatusInternalServerError, w.Code)
	assert.Contains(t, log.String(), "a slip in the program")
	assert.Contains(t, log.String(), "backup.go", "the stack says where")
}

func TestSignIn(t *testing.T) {
	s := webtest.New(t, true, func(c *site.Config) { c.SignIn, c.TLS = true, true })
	require.NoError(t, s.Store.SetPassphraseHash(context.Background(), site.HashPassphrase("ash on her gloves"), ""))
	for _, p := range append(pagesOf, "/export/garden.json", "/nowhere") {
		assert.Equal(t, "/sign-in", s.Get(p).Header().Get("Location"), p)
	}
	assert.Equal(t, http.StatusUnauthorized, s.Post("/undo/1", nil).Code)
	assert.Equal(t, http.StatusUnauthorized, s.Post("/sign-in", url.Values{"passphrase": {"wrong"}}).Code)
	w := s.Post("/sign-in", url.Values{"passphrase": {"ash on her gloves"}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	s.Jar = w.Result().Cookies()
	require.Len(t, s.Jar, 1)
	assert.True(t, s.Jar[0].HttpOnly && s.Jar[0].Secure)
	assert.Equal(t, http.SameSiteStrictMode, s.Jar[0].SameSite)
	assert.Equal(t, http.StatusOK, s.Get("/").Code)
	require.Equal(t, http.StatusSeeOther, s.Post("/sign-out", nil).Code)
	assert.Equal(t, "/sign-in", s.Get("/").Header().Get("Location"))
	s.Jar = nil
	for range 5 {
		s.Post("/sign-in", url.Values{"passphrase": {"wrong"}})
	}
	assert.Equal(t, http.StatusTooManyRequests, s.Post("/sign-in", url.Values{"passphrase": {"ash on her gloves"}}).Code)
}

func TestPassphraseHashes(t *testing.T) {
	h := site.HashPassphrase("correct horse")
	assert.NotEqual(t, h, site.HashPassphrase("correct horse"), "salted")
	ok, err := site.CheckPassphrase(h, "correct horse")
	require.NoError(t, err)
	assert.True(t, ok)
	ok, err = site.CheckPassphrase(h, "correct house")
	require.NoError(t, err)
	assert.False(t, ok)
	_, err = site.CheckPassphrase("plain text", "plain text")
	assert.Error(t, err)
}
