package place_test

import (
	"fmt"
	"net/http"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/webtest"
)

func TestPlaceAffectsComputation(t *testing.T) {
	s := webtest.New(t, true)
	need := func() string {
		return regexp.MustCompile(`It needs \d+ g/m²`).FindString(s.Get("/beds/2/dose").Body.String())
	}
	assert.Equal(t, "It needs 257 g/m²", need())
	first := s.PlaceForm("table", "warm", "act", "at-6")
	require.Equal(t, http.StatusSeeOther, s.Post("/place", first).Code)
	// 0.8 × 1.0 × 224.17 × 15 / 17.78
	assert.Equal(t, "It needs 151 g/m²", need())
	assert.Equal(t, http.StatusConflict, s.Post("/place", first).Code, "a stale window is told")
	for field, c := range map[string]struct{ typed, says string }{
		"name": {" ", "give the garden a name"}, "climate": {"lunar", "nearest"}, "t3": {"warm", "not a number"}, "t4": {"7",
			"all twelve months"}, "act": {"never", "choose an approach"},
	} {
		w := s.Post("/place", s.PlaceForm(field, c.typed))
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		assert.Regexp(t, "(?i)"+c.says, w.Body.String())
	}
	own := s.PlaceForm()
	for m := range 12 {
		own.Set(fmt.Sprint("t", m+1), fmt.Sprint(m+1))
	}
	require.Equal(t, http.StatusSeeOther, s.Post("/place", own).Code)
	assert.Equal(t, "12", webtest.Fields(s.Page("/place")).Get("t12"))
	assert.Contains(t, s.Get("/beds/2/dose.json").Body.String(), "soil_temp_c")
	assert.Contains(t, s.Get("/").Body.String(), "11 °C soil")
}
