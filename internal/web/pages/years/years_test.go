package years_test

import (
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/web/webtest"
)

// rowOf returns the text of the cells of a bed's row: its heading, then one for each year.
func rowOf(t *testing.T, page *html.Node, bed string) (cells []string) {
	t.Helper()
	for tr := range page.Descendants() {
		if tr.Data != "tr" {
			continue
		}
		cells = nil
		for x := range tr.ChildNodes() {
			if x.Type == html.ElementNode {
				cells = append(cells, webtest.Wording(x))
			}
		}
		if len(cells) > 1 && strings.Contains(cells[0], bed) {
			return cells
		}
	}
	require.Fail(t, "no such row", bed)
	return nil
}

// A crop added for next year stands in its cell, with the hint on lime that follows; a faulty one stays in the form.
func TestAddCropToYear(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Quarry end").Bed
	next := s.Today.Year() + 1
	f := url.Values{"key": {"y1"}, "bed": {webtest.ID(bed.ID)}, "crop": {"cabbage"}, "sown": {quantity.Date(next, time.June, 10).String()}}
	assert.NotContains(t, strings.Join(rowOf(t, s.Page("/years"), bed.Name), " "), "abbage")

	wrong := s.Post("/years", url.Values{"key": {"y0"}, "bed": {webtest.ID(bed.ID)}, "crop": {"no such crop"}, "sown": f["sown"]})
	assert.Equal(t, http.StatusUnprocessableEntity, wrong.Code)
	form := webtest.Filled(wrong.Body.String())
	assert.Equal(t, f.Get("sown"), form.Get("sown"), "what was typed stays")

	s.Saved(s.Post("/years", f))
	row := rowOf(t, s.Page("/years"), bed.Name)
	assert.Contains(t, strings.Join(row, " "), "abbage")
	crops := s.Record(bed.ID).Plantings
	assert.Equal(t, "cabbage", crops[len(crops)-1].Crop)
}
