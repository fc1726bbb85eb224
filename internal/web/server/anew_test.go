package server_test

import (
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/webtest"
)

var keyField = regexp.MustCompile(`name="key" value="([^"]+)"`)

// A page is the same each time, but for the keys of its forms.
func TestPageKeysAreUnique(t *testing.T) {
	s := webtest.New(t, true)
	first, second := s.Get("/beds/2").Body.String(), s.Get("/beds/2").Body.String()
	keys := map[string]bool{}
	for _, page := range []string{first, second} {
		found := keyField.FindAllStringSubmatch(page, -1)
		require.NotEmpty(t, found)
		for _, k := range found {
			assert.False(t, keys[k[1]], "%s twice", k[1])
			assert.Regexp(t, `^[A-Za-z0-9_-]{20,60}$`, k[1])
			keys[k[1]] = true
		}
	}
	assert.Equal(t, keyField.ReplaceAllString(first, ""), keyField.ReplaceAllString(second, ""))
}

// Every page shows a change at once, also one that is taken back, and
// another day.
func TestPagesShowChangesAtOnce(t *testing.T) {
	s := webtest.New(t, true)
	for _, path := range []string{"/", "/beds/2/dose", "/sheet", "/walk", "/bench?bed=2", "/beds/2", "/place", "/crops", "/marks",
		"/beds/2/edit", "/beds/new"} {
		before := s.Get(path).Body.String()
		require.Contains(t, before, "Hollin Terrace", path)
		w := s.Post("/place", s.PlaceForm("name", "Alder Bank"))
		s.Saved(w)
		assert.Contains(t, s.Get(path).Body.String(), "Alder Bank", path)
		undo := webtest.Grep(s.Get(w.Header().Get("Location")).Body.String(), `action="(/undo/\d+)"`)
		s.Saved(s.Post(undo, url.Values{"key": {strings.ReplaceAll(path, "/", "-") + "undo"}, "back": {"/"}}))
		after := s.Get(path).Body.String()
		assert.NotContains(t, after, "Alder Bank", path)
		assert.Contains(t, after, "Tue 24 Nov 2026", path)
	}
	require.Contains(t, s.Get("/place").Body.String(), "Tue 24 Nov 2026")
	s.Post("/demo/day", url.Values{"by": {"day"}, "back": {"/"}})
	assert.Contains(t, s.Get("/place").Body.String(), "Wed 25 Nov 2026")
	assert.Equal(t, http.StatusNotFound, s.Get("/beds/999/dose").Code)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Get("/beds/2/dose?target=99").Code)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Get("/beds/2/dose?target=99").Code, "a fault is told each time")
}

// A step from a day is computed here, once: the browser sends months and days.
func TestDateSteps(t *testing.T) {
	s := webtest.New(t, true)
	for steps, want := range map[string]string{
		"on=2026-01-31&months=1":              "Shown as of 28 Feb 2026",
		"on=2026-11-24&months=-12&days=7":     "Shown as of 1 Dec 2025",
		"on=2026-10-31&days=-7&bed=2":         "Shown as of 24 Oct 2026",
		"on=2026-11-24&months=-2000":          "Shown as of 24 Nov 2022",
		"on=2026-11-24&months=99999999999999": "",
		"on=2026-10-24&months=1":              "",
	} {
		page := webtest.Wording(s.Page("/?" + steps))
		if want == "" {
			assert.NotContains(t, page, "Shown as of", steps)
			continue
		}
		assert.Contains(t, page, want, steps)
	}
	assert.Contains(t, s.Get("/?on=2026-10-31&days=-7&bed=2").Body.String(), `href="/?bed=2"`, "the rest of the address stays")
}
