package crops_test

import (
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/internal/web/webtest"
)

func TestOwnCrops(t *testing.T) {
	s := webtest.New(t, true)
	p := s.Bed("Upper ledge")
	path := fmt.Sprintf("/beds/%d", p.Bed.ID)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(path+"/plantings", url.Values{"crop": {"triffid"}, "sown": {"2027-05-01"}}).Code)
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(path+"/plantings", url.Values{"crop": {"tomato"}, "sown": {"May"}}).Code)
	require.Equal(t, http.StatusSeeOther, s.Post(path+"/plantings", url.Values{"crop": {"tomato"}, "sown": {"2027-03-01"}}).Code)
	assert.Equal(t, "tomato", s.Bed("Upper ledge").Crop.ID, "the next one counts")
	next := s.Bed("Upper ledge").Next[0]
	clearing := func(day string) int {
		return s.Post(fmt.Sprintf("/plantings/%d/clear", next.ID),
			url.Values{"cleared": {day}, "version": {strconv.FormatInt(next.Version, 10)}}).Code
	}
	assert.Equal(t, http.StatusUnprocessableEntity, clearing("2027-02-01"), "not before it was sown")
	assert.Equal(t, http.StatusSeeOther, clearing("2027-09-01"))
	assert.Equal(t, http.StatusConflict, clearing("2027-10-01"), "a stale window is told")
}

func TestLibraryIsEditable(t *testing.T) {
	s := webtest.New(t, true)
	page := s.Get("/crops").Body.String()
	assert.Contains(t, page, "Ranunculus")
	bad := s.Post("/crops", url.Values{"name": {"Stock"}, "low": {"7"}, "high": {"6"}, "removal": {"8"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "The top of the range lies above its bottom")
	assert.Contains(t, bad.Body.String(), `value="Stock"`)
	s.Saved(s.Post("/crops", url.Values{"name": {"Stock"}, "low": {"6.4"}, "high": {"7,4"}, "removal": {"8"}, "flag-not-food": {"yes"}}))
	assert.Contains(t, webtest.Options(s.Page("/beds/new"), "crop")["stock"], "Stock, 6.4 to 7.4")
	form := webtest.Filled(s.Get("/crops?crop=dahlia").Body.String())
	form.Set("low", "5.4")
	form.Set("aim", "")
	s.Saved(s.Post("/crops", form))
	b := s.Bed("Middle ledge")
	assert.Equal(t, bed.InRange, b.Standing, "5.7 is in the band of its own")
	body := s.Get("/crops?crop=dahlia").Body.String()
	assert.Contains(t, body, "Back to the book’s figures")
	form = webtest.Filled(body)
	s.Saved(s.Post("/crops/drop", url.Values{"code": {"dahlia"}, "version": {form.Get("version")}}))
	assert.Equal(t, bed.Sour, s.Bed("Middle ledge").Standing)
	assert.Equal(t, http.StatusNotFound, s.Get("/crops?crop=triffid").Code)
}
