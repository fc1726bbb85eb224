package server_test

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
)

// A slurry lies between 0 and 50 °C, both ends in.
func TestTheTemperatureOfASlurryHasItsEnds(t *testing.T) {
	for temp, want := range map[string]int{"-0.1": http.StatusUnprocessableEntity, "0": http.StatusSeeOther, "50": http.StatusSeeOther,
		"50.1": http.StatusUnprocessableEntity} {
		s := newSite(t, true)
		w := s.post("/readings", url.Values{"bed": {"9"}, "method": {"meter"}, "basis": {"water"}, "date": {"2026-11-24"}, "cores": {"10"},
			"depth": {"15"}, "tries": {"6.4 6.4 6.4"}, "temp": {temp}, "fresh": {"no"}})
		assert.Equal(t, want, w.Code, "%s °C", temp)
	}
}
