package days_test

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/internal/web/webtest"
)

func TestWorkingDaysRoundTrip(t *testing.T) {
	s := webtest.New(t, true)
	version := webtest.Filled(s.Get("/days").Body.String()).Get("version")
	s.Saved(s.Post("/days", url.Values{"version": {version}, "day": {"6"}, "from": {"2026-12-20", ""}, "to": {"2027-01-05", ""}}))
	page := s.Page("/days")
	for id, want := range map[string]string{"from-0": "2026-12-20", "to-0": "2027-01-05", "from-1": "", "to-1": ""} {
		value, _ := webtest.Attr(webtest.ByID(t, page, id), "value")
		assert.Equal(t, want, value, id)
	}
	_, saturday := webtest.Attr(webtest.ByID(t, page, "day-6"), "checked")
	_, sunday := webtest.Attr(webtest.ByID(t, page, "day-0"), "checked")
	assert.True(t, saturday)
	assert.False(t, sunday)
}
