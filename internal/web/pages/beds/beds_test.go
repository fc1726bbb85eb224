package beds_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/webtest"
)

func TestBedsAsCSVAndByName(t *testing.T) {
	s := webtest.New(t, true)
	csv := s.Get("/export/beds.csv").Body.String()
	assert.Equal(t, 14, strings.Count(csv, "\n"))
	assert.Contains(t, csv, "Middle ledge,bed,9.60,loam,15.0,dug,dahlia,2026-11-24,5.70,false,2026-11-12,lab,sour,0.50,81.9,short\n")
	assert.Equal(t, "/?bed=8", s.Get("/find?q=KALE").Header().Get("Location"))
	assert.Equal(t, "/?bed=9", s.Get("/find?q=ground").Header().Get("Location"))
	assert.Equal(t, http.StatusNotFound, s.Get("/find?q=orchard").Code)
	assert.Equal(t, http.StatusNotFound, s.Get("/find?q=").Code)
}

func TestListIsSorted(t *testing.T) {
	s := webtest.New(t, true)
	names := func(sort string) (out []string) {
		for _, tr := range webtest.Elements(webtest.ByID(t, s.Page("/?sort="+sort), "beds"), "tr") {
			if links := webtest.Elements(tr.Node, "td"); len(links) > 0 {
				out = append(out, webtest.Elements(links[0].Node, "a")[0].Says)
			}
		}
		require.Len(t, out, 13)
		return out
	}
	assert.Equal(t, []string{"Blueberry pocket", "Compost heap"}, names("bed")[:2])
	assert.Equal(t, "Upper ledge", names("-bed")[0])
	assert.Equal(t, "Middle ledge", names("ph")[0], "5.7 is the lowest")
	assert.Equal(t, "Quarry end", names("-ph")[0])
	last := []string{"Compost heap", "New ground", "Seedling bench"}
	assert.ElementsMatch(t, last, names("ph")[10:], "untested last")
	assert.ElementsMatch(t, last, names("-ph")[10:], "either way")
	assert.Equal(t, []string{"Kale and roots", "Lower ledge", "Blueberry pocket"}, names("due")[:3])
	assert.Contains(t, s.Get("/?sort=ph").Body.String(), `aria-sort="ascending"`)
	assert.Contains(t, s.Get("/?sort=-ph").Body.String(), `aria-sort="descending"`)
}
