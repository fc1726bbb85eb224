package sidedressing_test

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/web/webtest"
)

// The page shows the use case's amount, or no button where it has none.
func TestPageMatchesSideDress(t *testing.T) {
	s := webtest.New(t, true)
	middle := s.Bed("Middle ledge").Bed.ID
	s.Saved(s.Post(webtest.BedPath(middle)+"/plantings", url.Values{"key": {"c"}, "crop": {"cucumber"}, "sown": {"2026-05-20"}}))
	v, err := s.App.BedState.View(t.Context(), s.Today)
	require.NoError(t, err)
	offered := 0
	for i := range v.Beds {
		bed := v.Beds[i].Bed
		if len(v.Beds[i].Now) == 0 {
			continue
		}
		path := webtest.BedPath(bed.ID) + "/side"
		x, err := s.App.Dosing.SideDress(t.Context(), bed.ID,
			dosing.SideDressingChoice{Ring: dose.Ring{Plants: 5, Across: 0.8}}, s.Today)
		may := err == nil && x.Dressing.May() && x.Dressing.Total > 0
		page := s.Page(path + "?plants=5&across=80")
		big := webtest.Pieces(page, "big")
		assert.Equal(t, may, len(big) == 1, bed.Name)
		if !may {
			continue
		}
		offered++
		assert.Contains(t, big[0].Says, x.Garden.Units().Carried(x.Request.Materials[x.At].Kind, x.Dressing.Each, nil).Big)
		before := len(s.Record(bed.ID).Applications)
		s.Saved(s.Post(path, url.Values{"key": {"s" + webtest.ID(bed.ID)}, "plants": {"5"}, "across": {"80"}, "ash": {x.Key}}))
		applied := s.Record(bed.ID).Applications
		require.Len(t, applied, before+1)
		assert.InDelta(t, float64(x.Dressing.Total), float64(applied[len(applied)-1].Total), 1)
	}
	assert.Positive(t, offered)
}

// An impossible ring is reported at its field and kept.
func TestInvalidRing(t *testing.T) {
	s := webtest.New(t, true)
	path := webtest.BedPath(s.Bed("Middle ledge").Bed.ID) + "/side"
	w := s.Post(path, url.Values{"plants": {"0"}, "across": {"80"}})
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Equal(t, "0", webtest.Filled(w.Body.String()).Get("plants"))
}
