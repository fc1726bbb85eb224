package soiltemps_test

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/webtest"
)

// A measured day is listed and used, corrected by a second one, and can be taken out.
func TestMeasuredDay(t *testing.T) {
	s := webtest.New(t, true)
	measured := func() []garden.SoilDay {
		soil, err := s.App.Layout.Soil(t.Context())
		require.NoError(t, err)
		return soil.Days
	}
	n := len(measured())
	s.Saved(s.Post("/warmth", url.Values{"key": {"w1"}, "soil_c": {"11,5"}}))
	require.Len(t, measured(), n+1)
	first := measured()[0]
	assert.Equal(t, s.Today, first.Day)
	assert.InDelta(t, 11.5, float64(first.Soil), 1e-9)
	page := s.Page("/warmth")
	cells := ""
	for _, x := range webtest.Pieces(page, "num") {
		cells += x.Says + "|"
	}
	assert.Contains(t, cells, text.Temperature(first.Soil))
	assert.Contains(t, webtest.Forms(page), "/warmth/"+webtest.ID(first.ID)+"/out")

	s.Saved(s.Post("/warmth", url.Values{"key": {"w2"}, "soil_c": {"10"}}))
	require.Len(t, measured(), n+1, "the day is corrected, not repeated")
	f := webtest.Fields(webtest.Forms(s.Page("/warmth"))["/warmth/"+webtest.ID(first.ID)+"/out"][0])
	s.Saved(s.Post("/warmth/"+webtest.ID(first.ID)+"/out", f))
	assert.Len(t, measured(), n)
}

// Impossible values are reported at their fields and kept.
func TestInvalidTemperature(t *testing.T) {
	s := webtest.New(t, true)
	for _, x := range []struct{ field, soil, day string }{
		{"soil_c", "80", ""}, {"soil_c", "cold", ""}, {"soil_c", "", ""}, {"day", "8", (s.Today + 1).String()},
	} {
		field, f := x.field, url.Values{"soil_c": {x.soil}, "day": {x.day}}
		w := s.Post("/warmth", f)
		require.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		body := w.Body.String()
		page := webtest.Parsed(body)
		assert.NotEmpty(t, webtest.Wording(webtest.ByID(t, page, field+"-fault")), field)
		assert.Equal(t, f.Get("soil_c"), webtest.Filled(body).Get("soil_c"))
	}
}
