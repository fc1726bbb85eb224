package server_test

import (
	"compress/gzip"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/webtest"
)

var pagesOf = []string{"/", "/?bed=8", "/beds/2/dose", "/beds/6/dose", "/beds/9/dose", "/beds/12/dose", "/sheet", "/bench",
	"/bench?bed=2", "/beds/new", "/beds/2", "/beds/2/edit", "/place", "/keep", "/?bed=2&look=k", "/?bed=7&on=2025-03-01"}

func TestStrictContentPolicy(t *testing.T) {
	s := webtest.New(t, true)
	inline := regexp.MustCompile(`(?i)<script(?:[^>]*)>[^<]|<style|\sstyle=|\son[a-z]+=|javascript:|https?://(?:[^w]|w[^w])`)
	for _, p := range pagesOf {
		w := s.Get(p)
		require.Equal(t, http.StatusOK, w.Code, p)
		assert.Contains(t, w.Header().Get("Content-Security-Policy"), "script-src 'self'")
		assert.NotContains(t, w.Header().Get("Content-Security-Policy"), "unsafe")
		assert.Equal(t, "nosniff", w.Header().Get("X-Content-Type-Options"))
		assert.Empty(t, inline.FindAllString(w.Body.String(), -1), p)
		assert.NotContains(t, w.Body.String(), "<no value>", p)
		assert.NotContains(t, w.Body.String(), "NaN", p)
	}
	assert.Equal(t, http.StatusNotFound, s.Get("/nowhere").Code)
	assert.Equal(t, http.StatusNotFound, s.Get("/beds/999").Code)
}

func TestStaticFileHashes(t *testing.T) {
	s := webtest.New(t, true)
	page := s.Get("/").Body.String()
	for _, m := range regexp.MustCompile(`"(/static/[^"]+)"`).FindAllStringSubmatch(page, -1) {
		w := s.Get(m[1])
		assert.Equal(t, http.StatusOK, w.Code, m[1])
		assert.Contains(t, w.Header().Get("Cache-Control"), "immutable")
		assert.NotEmpty(t, w.Header().Get("Content-Type"))
	}
	assert.Equal(t, http.StatusNotFound, s.Get("/static/x/../server.go").Code)
	assert.Equal(t, http.StatusOK, s.Get("/favicon.ico").Code)
}

func TestCompressionOffLoopback(t *testing.T) {
	s := webtest.New(t, true)
	ask := func(from, path string) *httptest.ResponseRecorder {
		r := httptest.NewRequest(http.MethodGet, "http://localhost"+path, nil)
		r.RemoteAddr = from
		r.Header.Set("Accept-Encoding", "gzip")
		w := httptest.NewRecorder()
		s.Handler.ServeHTTP(w, r)
		require.Equal(t, http.StatusOK, w.Code)
		return w
	}
	for _, here := range []string{"127.0.0.1:4000", "[::1]:4000", "[::ffff:127.0.0.1]:4000"} {
		w := ask(here, "/place")
		assert.Empty(t, w.Header().Get("Content-Encoding"), here)
		assert.Contains(t, w.Body.String(), "</html>")
	}
	for _, phone := range []string{"192.168.1.20:4000", "[fe80::1%eth0]:4000"} {
		w := ask(phone, "/place")
		assert.Equal(t, "gzip", w.Header().Get("Content-Encoding"), phone)
		assert.Contains(t, w.Header().Values("Vary"), "Accept-Encoding")
		packed := w.Body.Len()
		z, err := gzip.NewReader(w.Body)
		require.NoError(t, err)
		page, err := io.ReadAll(z)
		require.NoError(t, err)
		assert.Contains(t, string(page), "</html>")
		assert.Less(t, 2*packed, len(page))
		// What is packed already is not packed again.
		assert.Empty(t, ask(phone, "/static/x/fonts/source-sans-3.woff2").Header().Get("Content-Encoding"))
		assert.Empty(t, ask(phone, "/static/x/icon-192.png").Header().Get("Content-Encoding"))
	}
}

func TestForeignHostsAndPostsAreRefused(t *testing.T) {
	s := webtest.New(t, true)
	r := httptest.NewRequest(http.MethodGet, "http://garden.example/", nil)
	assert.Equal(t, http.StatusMisdirectedRequest, s.Do(r).Code)
	r = httptest.NewRequest(http.MethodPost, "http://localhost/undo/1", nil)
	r.Header.Set("Sec-Fetch-Site", "cross-site")
	assert.Equal(t, http.StatusForbidden, s.Do(r).Code)
	r = httptest.NewRequest(http.MethodPost, "http://localhost/readings", strings.NewReader(strings.Repeat("a", 2<<20)))
	assert.Equal(t, http.StatusRequestEntityTooLarge, s.Do(r).Code)
	w := s.Post("/demo/day", url.Values{"by": {"day"}, "back": {"//evil.example/"}})
	assert.Equal(t, "/", w.Header().Get("Location"))
}

func TestDoseToDiaryToRecord(t *testing.T) {
	s := webtest.New(t, true)
	id := s.Bed("Middle ledge").Bed.ID
	before := len(s.Record(id).Applications)
	form := s.PlanForm(id)
	first := s.Post(fmt.Sprintf("/beds/%d/plan", id), form)
	require.Equal(t, http.StatusSeeOther, first.Code, first.Body.String())
	again := s.Post(fmt.Sprintf("/beds/%d/plan", id), form)
	assert.Equal(t, first.Header().Get("Location"), again.Header().Get("Location"), "a double post lands once")
	tasks := s.OpenTasks(id)
	require.Len(t, tasks, 2, "one go and its retest")
	assert.Contains(t, s.Get(first.Header().Get("Location")).Body.String(),
		"Planned 1 application and a retest for Middle ledge; the rest waits for the test of 25 May 2027.")

	g := tasks[0]
	tick := url.Values{"key": {"tick"}, "version": {strconv.FormatInt(g.Version, 10)}, "amount": {"2,1"}}
	w := s.Post(fmt.Sprintf("/tasks/%d/put-on", g.ID), tick)
	require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
	s.Post(fmt.Sprintf("/tasks/%d/put-on", g.ID), tick)
	rec := s.Record(id)
	require.Len(t, rec.Applications, before+1)
	put := rec.Applications[before]
	assert.InDelta(t, 2100, float64(put.Total), 1e-9)
	assert.InDelta(t, 2100/9.6, float64(put.Rate), 1e-9)
	assert.Equal(t, g.ID, *put.TaskID)
	assert.Contains(t, s.Get(fmt.Sprintf("/beds/%d", id)).Body.String(), "24 Nov 2026: 2.1 kg of ground limestone", "a mark on the chart")

	tick.Set("key", "another window")
	assert.Equal(t, http.StatusConflict, s.Post(fmt.Sprintf("/tasks/%d/put-on", g.ID), tick).Code)

	said := regexp.MustCompile(`said=(\d+)`).FindStringSubmatch(w.Header().Get("Location"))
	require.Len(t, said, 2)
	w = s.Post("/undo/"+said[1], url.Values{"key": {"undo"}, "back": {"/sheet"}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.Len(t, s.Record(id).Applications, before)
	assert.Len(t, s.OpenTasks(id), 2)
}

func TestDemoDayAdvances(t *testing.T) {
	s := webtest.New(t, true)
	assert.Contains(t, s.Get("/").Body.String(), "Tue 24 Nov 2026")
	w := s.Post("/demo/day", url.Values{"by": {"week"}, "back": {"/sheet"}})
	assert.Equal(t, "/sheet", w.Header().Get("Location"))
	assert.Contains(t, s.Get("/sheet").Body.String(), "Tue 1 Dec 2026")
}

func TestEveryPageShowsRequestedDay(t *testing.T) {
	s := webtest.New(t, true)
	handle := regexp.MustCompile(`data-day="([^"]+)"`)
	for _, path := range []string{"/", "/beds/2/dose", "/sheet", "/bench", "/beds/2", "/place", "/keep", "/crops"} {
		body := s.Get(path + "?on=2026-06-01").Body.String()
		m := handle.FindStringSubmatch(body)
		require.NotNil(t, m, path)
		assert.Equal(t, "2026-06-01", m[1], path)
		assert.Contains(t, body, `href="/sheet?on=2026-06-01"`, "%s leads on to the same day", path)
		assert.Contains(t, body, fmt.Sprintf(`action=%q`, path), "the typed day comes back here")
	}
	then := s.Get("/beds/2?on=2024-06-01").Body.String()
	isRead := func(row string) bool { return strings.HasPrefix(row, "12 Nov 2026 |") }
	assert.True(t, slices.ContainsFunc(webtest.Rows(s.Page("/beds/2")), isRead))
	assert.False(t, slices.ContainsFunc(webtest.Rows(webtest.Parsed(then)), isRead), "that reading was still to come")
	assert.NotContains(t, then, "Change the bed", "another day is for reading")
	assert.NotContains(t, s.Get("/beds/2/dose?on=2026-10-01").Body.String(), `id="put"`)
	assert.Contains(t, s.Get("/beds/2/dose?on=2026-10-01").Body.String(), "uncalibrated meter, 4 Jul 2026")
	assert.NotContains(t, s.Get("/sheet?on=2026-11-25").Body.String(), "/put-on")
	// A form that was refused leads back to its page.
	bad := s.Post("/readings", url.Values{"bed": {"2"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Regexp(t, `class="day-form [^>]*action="/bench"`, bad.Body.String())
}
