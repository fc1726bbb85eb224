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
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/server"
	"zephyrfield/internal/web/site"
)

const rightWords = "ash on her gloves"

func gated(t *testing.T) *harness {
	t.Helper()
	s := newSite(t, true, func(c *site.Config) { c.SignIn = true })
	require.NoError(t, s.store.SetPassphraseHash(context.Background(), site.HashPassphrase(rightWords), ""))
	return s
}

func (s *harness) signIn(agent string) *harness {
	s.t.Helper()
	r := httptest.NewRequest(http.MethodPost, "http://localhost/sign-in",
		strings.NewReader(url.Values{"passphrase": {rightWords}}.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("User-Agent", agent)
	w := httptest.NewRecorder()
	s.h.ServeHTTP(w, r)
	require.Equal(s.t, http.StatusSeeOther, w.Code)
	in := *s
	in.jar = w.Result().Cookies()
	return &in
}

// TestBeforeTheGateNothingShows asks in every way that is refused before anybody
// has signed in: nothing of the garden shows, and the headers are whole.
func TestBeforeTheGateNothingShows(t *testing.T) {
	s := gated(t)
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
		w := s.do(r)
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
			assert.Contains(t, w.Body.String(), "<h1>", name)
		}
	}
}

func TestTriesWaitLonger(t *testing.T) {
	s := gated(t)
	wrong := func(from string) *httptest.ResponseRecorder {
		r := httptest.NewRequest(http.MethodPost, "http://localhost/sign-in", strings.NewReader("passphrase=wrong"))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.RemoteAddr = from
		return s.do(r)
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

func TestSessionsAreListedAndEnded(t *testing.T) {
	s := gated(t)
	desk, phone := s.signIn("Some browser"), s.signIn("Some browser (Mobile)")
	page := desk.get("/keep").Body.String()
	assert.Contains(t, page, "a phone or tablet")
	assert.Contains(t, page, "a computer <b>(you)</b>")
	all, err := s.store.Sessions(context.Background(), time.Now())
	require.NoError(t, err)
	require.Len(t, all, 2)
	for _, x := range all {
		if strings.Contains(x.Whence, "phone") {
			assert.Equal(t, http.StatusSeeOther, desk.post("/sessions/"+x.ID+"/end", nil).Code)
		}
	}
	assert.Equal(t, "/sign-in", phone.get("/").Header().Get("Location"))
	assert.Equal(t, http.StatusOK, desk.get("/").Code)

	// Another passphrase ends the others and keeps the one that set it.
	phone = s.signIn("Some browser (Mobile)")
	bad := desk.post("/passphrase", url.Values{"passphrase": {"guess"}, "new_passphrase": {"lime in autumn"}, "again": {"lime in autumn"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "That is not the passphrase.")
	assert.Contains(t, desk.post("/passphrase", url.Values{"passphrase": {rightWords}, "new_passphrase": {"short"},
		"again": {"short"}}).Body.String(), "At least 10 letters")
	assert.Contains(t, desk.post("/passphrase", url.Values{"passphrase": {rightWords}, "new_passphrase": {"lime in autumn"},
		"again": {"lime"}}).Body.String(), "not the same")
	require.Equal(t, http.StatusOK, phone.get("/").Code)
	require.Equal(t, http.StatusSeeOther, desk.post("/passphrase",
		url.Values{"passphrase": {rightWords}, "new_passphrase": {"lime in autumn"}, "again": {"lime in autumn"}}).Code)
	assert.Equal(t, http.StatusOK, desk.get("/").Code)
	assert.Equal(t, "/sign-in", phone.get("/").Header().Get("Location"))
}

func TestHeadAnswersAsGet(t *testing.T) {
	s := newSite(t, true)
	for _, p := range []string{"/", "/sheet", "/nowhere", "/keep"} {
		r := httptest.NewRequest(http.MethodHead, "http://localhost"+p, nil)
		assert.Equal(t, s.get(p).Code, s.do(r).Code, p)
	}
}

func TestWhereAPostLeads(t *testing.T) {
	s := newSite(t, true)
	for to, want := range map[string]string{"/sheet": "/sheet", "/sheet?on=2026-11-01": "/sheet?on=2026-11-01", "//evil.example/": "/",
		"/\\evil.example": "/", "/\tevil": "/", "/\nevil": "/",
		"https://evil.example/": "/", "javascript:alert(1)": "/", "": "/", "sheet": "/", "/ x": "/", "/%2f%2fevil": "/%2f%2fevil"} {
		assert.Equal(t, want, s.post("/demo/day", url.Values{"back": {to}}).Header().Get("Location"), "%q", to)
	}
}

// failing is a store whose changes end in a trouble.
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

func TestTroublesAreTold(t *testing.T) {
	for _, x := range []struct {
		err    error
		status int
		says   string
	}{
		{garden.ErrFull, http.StatusInsufficientStorage, "The disk is full"},
		{garden.ErrReadOnly, http.StatusServiceUnavailable, "cannot be written to"},
		{garden.ErrBusy, http.StatusServiceUnavailable, "Another program holds"},
		{garden.ErrDamaged, http.StatusInternalServerError, "zephyrfield restore"},
		{garden.ErrDisk, http.StatusInternalServerError, "daily copies"},
		{errors.New("boom"), http.StatusInternalServerError, "Something went wrong here"},
	} {
		var log bytes.Buffer
		s := newSite(t, true, func(c *site.Config) {
			c.Store, c.Log = failing{c.Store, x.err}, slog.New(slog.NewTextHandler(&log, nil))
		})
		w := s.post("/marks/1/drop", url.Values{"version": {"1"}, "key": {"k"}})
		assert.Equal(t, x.status, w.Code)
		assert.Contains(t, w.Body.String(), x.says)
		assert.NotContains(t, w.Body.String(), "row (1")
		if x.says != "Something went wrong here" {
			assert.Contains(t, w.Body.String(), "safe", "what is safe is said")
			assert.NotContains(t, log.String(), "row (1", "no row of the file is told")
		}
	}
}

func TestRequestsAreLoggedWithoutSecrets(t *testing.T) {
	var log bytes.Buffer
	s := newSite(t, true, func(c *site.Config) { c.SignIn, c.Requests = true, slog.New(slog.NewJSONHandler(&log, nil)) })
	require.NoError(t, s.store.SetPassphraseHash(context.Background(), site.HashPassphrase(rightWords), ""))
	w := s.post("/sign-in", url.Values{"passphrase": {rightWords}})
	in := *s
	in.jar = w.Result().Cookies()
	in.get("/find?q=very+private")
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
	for _, secret := range []string{rightWords, "gloves", "private", in.jar[0].Value} {
		assert.NotContains(t, log.String(), secret)
	}
	assert.Contains(t, lines[1], w.Header().Get("Nothing")+`"route":"/find"`)
}

// TestTheSameKeyWithOtherContentIsTold: a page that was sent, changed and sent again
// must not pass for done.
func TestTheSameKeyWithOtherContentIsTold(t *testing.T) {
	s := newSite(t, true)
	bed := s.bed("Top lawn").Bed.ID
	form := url.Values{"what": {"wood-ash-hardwood"}, "put_date": {"2026-10-01"}, "put_amount": {"0.3"}, "key": {"once"}}
	path := fmt.Sprintf("/beds/%d/applications", bed)
	first := s.post(path, form)
	if first.Code == http.StatusUnprocessableEntity {
		form.Set("sure", hidden(first.Body.String(), "sure"))
		first = s.post(path, form)
	}
	require.Equal(t, http.StatusSeeOther, first.Code, first.Body.String())
	n := len(s.record(bed).Applications)
	assert.Equal(t, http.StatusSeeOther, s.post(path, form).Code, "the very same is taken once")
	assert.Len(t, s.record(bed).Applications, n)
	form.Set("put_amount", "0.6")
	w := s.post(path, form)
	assert.Equal(t, http.StatusConflict, w.Code)
	assert.Contains(t, w.Body.String(), "sent once already, with other content")
	assert.Len(t, s.record(bed).Applications, n)
}

func TestEveryLineOfTheJournalCanBeTakenBackOrSaysWhyNot(t *testing.T) {
	s := newSite(t, false)
	place := s.placeForm("name", "Upper field")
	s.saved(s.post("/place", place))
	for i := range 45 {
		form := url.Values{"name": {fmt.Sprintf("Strip %02d", i)}, "kind": {"bed"}, "shape": {"rect"}, "w": {"4"}, "h": {"1"},
			"x": {"1"}, "y": {fmt.Sprint(2 * i)}, "texture": {"loam"}, "depth": {"15"},
			"worked": {"dug"}, "crop": {"carrot"}, "sown": {"2027-04-20"}, "key": {fmt.Sprint("bed", i)}}
		s.saved(s.post("/beds", form))
	}
	page := s.get("/keep").Body.String()
	assert.Equal(t, 40, strings.Count(page, `action="/undo/`))
	older := grep(page, `href="(/keep\?before=\d+)#journal"`)
	require.NotEmpty(t, older)
	page = s.get(older).Body.String()
	assert.Equal(t, 6, strings.Count(page, `action="/undo/`), "the first line too, of the place")
	assert.Contains(t, page, "The newest")

	// A crop that is planted keeps its line.
	crop := url.Values{"name": {"Moon cabbage"}, "low": {"6.5"}, "high": {"7.2"}, "aim": {"6.8"}, "removal": {"12"}, "key": {"crop"}}
	added := s.post("/crops", crop)
	s.saved(added)
	id := grep(added.Header().Get("Location"), `said=(\d+)`)
	bed := s.bed("Strip 03").Bed.ID
	planted := s.post(fmt.Sprintf("/beds/%d/plantings", bed),
		url.Values{"crop": {"moon-cabbage"}, "sown": {"2027-05-01"}, "key": {"plant"}})
	s.saved(planted)
	w := s.post("/undo/"+id, url.Values{"key": {"u1"}})
	assert.Equal(t, http.StatusConflict, w.Code)
	assert.Contains(t, w.Body.String(), "1 crop on a bed in the records rest on it")
	s.saved(s.post("/undo/"+grep(planted.Header().Get("Location"), `said=(\d+)`), url.Values{"key": {"u2"}}))
	s.saved(s.post("/undo/"+id, url.Values{"key": {"u3"}}))

	// What something rests on says what.
	w = s.post("/undo/2", url.Values{"key": {"u4"}})
	s.saved(w)
	s.saved(s.post("/readings", url.Values{"bed": {fmt.Sprint(bed)}, "date": {"2026-11-20"}, "method": {"lab"}, "basis": {"water"},
		"ph": {"6.1"}, "cores": {"12"}, "depth": {"15"}, "key": {"r"}}))
	w = s.post("/undo/5", url.Values{"key": {"u5"}})
	assert.Equal(t, http.StatusConflict, w.Code)
	assert.Contains(t, w.Body.String(), "1 reading in the records rest on it")
}

func TestTickedCoresAreOneLine(t *testing.T) {
	s := newSite(t, true)
	ctx := context.Background()
	bed := s.bed("Top lawn").Bed.ID
	w := s.post("/walk", url.Values{"asked": {"1"}, "bed": {fmt.Sprint(bed)}, "key": {"walk"}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	round := grep(w.Header().Get("Location"), `/walk/(\d+)`)
	stop := grep(s.get("/walk/"+round).Body.String(), `name="stop" value="(\d+)"`)
	for n := 1; n <= 5; n++ {
		form := url.Values{"stop": {stop}, "core": {fmt.Sprint(n)}, "key": {fmt.Sprint("core", n)}}
		require.Equal(t, http.StatusSeeOther, s.post("/walk/"+round+"/tick", form).Code)
	}
	page := s.get("/keep").Body.String()
	assert.Contains(t, page, "5 stops cored, the last of them: Core 5 of Top lawn")
	more := grep(page, `name="more" value="([\d,]+)"`)
	require.Len(t, strings.Split(more, ","), 4)
	first := grep(page, `action="/undo/(\d+)"`)
	s.saved(s.post("/undo/"+first, url.Values{"more": {more}, "key": {"all"}, "back": {"/keep"}}))
	id, err := s.app.Rounds.Rounds(ctx)
	require.NoError(t, err)
	walked, err := s.app.Rounds.Walk(ctx, id[0].ID)
	require.NoError(t, err)
	assert.Empty(t, walked.Taken)
	assert.Contains(t, s.get("/keep").Body.String(), "and 4 before it")
}

func TestNamesAreOneHoweverTheyAreWritten(t *testing.T) {
	s := newSite(t, false)
	add := func(name, key string) *httptest.ResponseRecorder {
		return s.post("/beds", url.Values{"name": {name}, "kind": {"bed"}, "shape": {"rect"}, "w": {"4"}, "h": {"1"}, "x": {"1"},
			"y": {"1"}, "texture": {"loam"}, "depth": {"15"},
			"worked": {"dug"}, "crop": {"carrot"}, "sown": {"2027-04-20"}, "key": {key}})
	}
	s.saved(add("Ärmel", "1"))
	for i, name := range []string{"ärmel", "ÄRMEL", "A\u0308rmel", " ärmel ", "Ärmel\u00a0"} {
		w := add(name, fmt.Sprint("again", i))
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, "%q", name)
		assert.Contains(t, w.Body.String(), "There is a bed of that name already", "%q", name)
	}
	for i, name := range []string{"a\x00b", "a\nb", "a\u202eb", "a\u2028b", "a\x1bb"} {
		assert.Equal(t, http.StatusUnprocessableEntity, add(name, fmt.Sprint("sign", i)).Code, "%q", name)
	}
	assert.Contains(t, s.get("/find?q=%C3%84RM").Header().Get("Location")+s.get("/find?q=%C3%84RM").Body.String(), "1")
}

func TestACopyIsPutBackFromThePage(t *testing.T) {
	s := newSite(t, true)
	_, err := s.store.DailyCopy(context.Background(), quantity.Date(2026, 11, 23))
	require.NoError(t, err)
	form := url.Values{"version": {"1"}, "key": {"gone"}}
	marks := s.get("/marks").Body.String()
	s.saved(s.post(grep(marks, `action="(/marks/\d+/drop)"`), form))
	require.NotEqual(t, strings.Count(marks, "/drop"), strings.Count(s.get("/marks").Body.String(), "/drop"))
	page := s.get("/keep").Body.String()
	assert.Contains(t, page, "23 Nov 2026")
	w := s.post("/keep/put-back", url.Values{"copy": {"2026-11-23.db"}, "key": {"put"}})
	s.saved(w)
	page = s.get(w.Header().Get("Location")).Body.String()
	assert.Contains(t, page, "Put back the copy 2026-11-23")
	assert.Contains(t, page, "as it stood before another was put back")
	assert.Equal(t, strings.Count(marks, "/drop"), strings.Count(s.get("/marks").Body.String(), "/drop"))
	assert.Equal(t, http.StatusNotFound, s.post("/keep/put-back", url.Values{"copy": {"../garden.db"}, "key": {"bad"}}).Code)
}

// grep gives the group of a pattern where it stands first, "" nowhere.
func grep(text, pattern string) string {
	if m := regexp.MustCompile(pattern).FindStringSubmatch(text); m != nil {
		return m[1]
	}
	return ""
}

// TestAStuckRequestDoesNotHoldTheEndUp: what is stuck is cut off, and the end is a
// good one.
func TestAStuckRequestDoesNotHoldTheEndUp(t *testing.T) {
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

func TestAfterAChangeOnlyPlacesOfOurOwnAreGoneTo(t *testing.T) {
	for _, back := range []string{"https://evil.example/", "//evil.example/", "/\\evil.example", "javascript:alert(1)"} {
		s := newSite(t, true)
		w := s.post("/beds/2/duplicate", url.Values{})
		require.Equal(t, http.StatusSeeOther, w.Code)
		said := w.Header().Get("Location")
		line := said[strings.LastIndex(said, "=")+1:]
		w = s.post("/undo/"+line, url.Values{"back": {back}})
		require.Equal(t, http.StatusSeeOther, w.Code)
		assert.True(t, strings.HasPrefix(w.Header().Get("Location"), "/?said="), "%q leads to %q", back, w.Header().Get("Location"))
	}
}

// broken is a store that falls over.
type broken struct{ garden.Store }

func (broken) Read(context.Context, func(garden.Reader) error) error { panic("a slip in the program") }

func (b broken) Snapshot() (garden.Store, func() error) { return b, func() error { return nil } }

func TestASlipInTheProgramIsAPageAndAStackInTheLog(t *testing.T) {
	var log bytes.Buffer
	s := newSite(t, true, func(c *site.Config) {
		c.Store, c.SignIn = broken{c.Store}, false
		c.Log = slog.New(slog.NewTextHandler(&log, nil))
	})
	w := s.get("/keep")
	assert.Equal(t, http.StatusInternalServerError, w.Code)
	assert.Contains(t, log.String(), "a slip in the program")
	assert.Contains(t, log.String(), "backup.go", "the stack says where")
}

func TestSignIn(t *testing.T) {
	s := newSite(t, true, func(c *site.Config) { c.SignIn, c.TLS = true, true })
	require.NoError(t, s.store.SetPassphraseHash(context.Background(), site.HashPassphrase("ash on her gloves"), ""))
	for _, p := range append(pagesOf, "/export/garden.json", "/nowhere") {
		assert.Equal(t, "/sign-in", s.get(p).Header().Get("Location"), p)
	}
	assert.Equal(t, http.StatusUnauthorized, s.post("/undo/1", nil).Code)
	assert.Equal(t, http.StatusUnauthorized, s.post("/sign-in", url.Values{"passphrase": {"wrong"}}).Code)
	w := s.post("/sign-in", url.Values{"passphrase": {"ash on her gloves"}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	s.jar = w.Result().Cookies()
	require.Len(t, s.jar, 1)
	assert.True(t, s.jar[0].HttpOnly && s.jar[0].Secure)
	assert.Equal(t, http.SameSiteStrictMode, s.jar[0].SameSite)
	assert.Equal(t, http.StatusOK, s.get("/").Code)
	require.Equal(t, http.StatusSeeOther, s.post("/sign-out", nil).Code)
	assert.Equal(t, "/sign-in", s.get("/").Header().Get("Location"))
	s.jar = nil
	for range 5 {
		s.post("/sign-in", url.Values{"passphrase": {"wrong"}})
	}
	assert.Equal(t, http.StatusTooManyRequests, s.post("/sign-in", url.Values{"passphrase": {"ash on her gloves"}}).Code)
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
