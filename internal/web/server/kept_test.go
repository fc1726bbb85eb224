package server_test

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"
)

// A form that is refused, or opened again, holds what was chosen and typed in it.

func TestChosenBedsStayChosenAfterAFault(t *testing.T) {
	s := newSite(t, true)
	w := s.post("/beds/change", url.Values{"bed": {"2", "3"}, "set_depth": {"six"}, "do": {"change"}})
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	page, err := html.Parse(w.Body)
	require.NoError(t, err)
	for id, want := range map[string]bool{"b2": true, "b3": true, "b4": false} {
		_, chosen := attr(byID(t, page, id), "checked")
		assert.Equal(t, want, chosen, id)
	}
}

func TestOwnDaysAndTimesAwayAreOpenedAsKept(t *testing.T) {
	s := newSite(t, true)
	version := filled(s.get("/days").Body.String()).Get("version")
	s.saved(s.post("/days", url.Values{"version": {version}, "day": {"6"}, "from": {"2026-12-20", ""}, "to": {"2027-01-05", ""}}))
	page := s.page("/days")
	for id, want := range map[string]string{"from-0": "2026-12-20", "to-0": "2027-01-05", "from-1": "", "to-1": ""} {
		value, _ := attr(byID(t, page, id), "value")
		assert.Equal(t, want, value, id)
	}
	_, saturday := attr(byID(t, page, "day-6"), "checked")
	_, sunday := attr(byID(t, page, "day-0"), "checked")
	assert.True(t, saturday)
	assert.False(t, sunday)
}

func TestABinIsWeighedUnlessSomethingElseIsChosen(t *testing.T) {
	s := newSite(t, true)
	bin := s.stock("Oven ash, autumn batch").ID
	page := s.page("/shed/" + vers(bin))
	for id, want := range map[string]bool{"moved-weighed": true, "moved-in": false, "moved-out": false} {
		_, on := attr(byID(t, page, id), "checked")
		assert.Equal(t, want, on, id)
	}
}

// Where no material was chosen the first stands in the list, and bounds its slider.
func TestAMixBoundsItsSlidersWhereNoMaterialWasChosen(t *testing.T) {
	s := newSite(t, true)
	page := s.page("/beds/2/mix?ash_of=&lime_of=&ash_on=1&lime_on=1")
	for _, id := range []string{"ash_on", "lime_on"} {
		most, _ := attr(byID(t, page, id), "max")
		assert.NotEmpty(t, most, id)
	}
}
