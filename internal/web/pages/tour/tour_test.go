package tour_test

import (
	"fmt"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/web/webtest"
)

// A tour takes the figures of many beds in at once, or none of them; several figures of a bed are one reading.
func TestTourIsOneChange(t *testing.T) {
	s := webtest.New(t, true)
	a, b := s.Bed("New ground").Bed.ID, s.Bed("Seedling bench").Bed.ID
	before := s.Readings()
	form := url.Values{"method": {"meter-stale"}, "date": {s.Today.String()}, fmt.Sprint("bed-", a): {"5.6 5,8"},
		fmt.Sprint("bed-", b): {"62"}, "key": {"tour"}}
	w := s.Post("/bench/tour", form)
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), `value="5.6 5,8"`, "nothing typed is lost")
	assert.Equal(t, before, s.Readings())
	form.Set(fmt.Sprint("bed-", b), "6.2")
	require.Equal(t, http.StatusSeeOther, s.Post("/bench/tour", form).Code)
	assert.Equal(t, before+2, s.Readings())
	r := s.Record(a).Readings[0]
	assert.InDelta(t, 5.7, float64(*r.PH), 1e-9)
	assert.Equal(t, 2, r.Cores)
	assert.Equal(t, soil.MeterStale, r.Method)
	assert.Contains(t, r.Note, "5.6 5.8")
	form = url.Values{"method": {"lab"}, "date": {s.Today.String()}, "key": {"none"}}
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/bench/tour", form).Code)
}
