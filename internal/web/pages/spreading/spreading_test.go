package spreading_test

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/dosing"
	"zephyrfield/internal/web/webtest"
)

// The beds that can be given ash today are those of the use case, and one press records it.
func TestPageMatchesPlaces(t *testing.T) {
	s := webtest.New(t, true)
	ash := s.Stock("Oven ash, autumn batch")
	what := dosing.BatchKey(ash.ID)
	places, err := s.App.Spreading.Places(t.Context(), what, s.Today)
	require.NoError(t, err)
	page := s.Page("/bucket?what=" + what)
	forms, today := webtest.Forms(page), 0
	for _, p := range places.Places {
		_, offered := forms["/bucket/"+webtest.ID(p.Dose.Record.Bed.ID)]
		assert.Equal(t, p.Today(s.Today) && (p.Application != nil || p.Task != nil), offered, p.Dose.Record.Bed.Name)
		if offered {
			today++
			press := webtest.Fields(forms["/bucket/"+webtest.ID(p.Dose.Record.Bed.ID)][0])
			assert.Len(t, press, 2, "one press, without an amount to type: %v", press)
			assert.Equal(t, what, press.Get("what"))
		}
	}
	require.Positive(t, today, "some bed of the demo takes ash today")
	for action := range forms {
		if len(action) > len("/bucket/") && action[:8] == "/bucket/" {
			before := *s.Stock(ash.Name).Left
			f := webtest.Fields(forms[action][0])
			s.Saved(s.Post(action, f))
			assert.Less(t, *s.Stock(ash.Name).Left, before)
			left := *s.Stock(ash.Name).Left
			s.Saved(s.Post(action, f))
			assert.Equal(t, left, *s.Stock(ash.Name).Left, "a repeated post counts once")
			break
		}
	}
}

// Barred ash is offered to no bed, with the reason.
func TestBarredMaterialHasNoForm(t *testing.T) {
	s := webtest.New(t, true)
	s.Saved(s.Post("/shed", webtest.AshForm("Painted boards", "treated")))
	what := dosing.BatchKey(s.Stock("Painted boards").ID)
	page := s.Page("/bucket?what=" + what)
	assert.Len(t, webtest.Pieces(page, "stop"), 1)
	bed := webtest.ID(s.Bed("Kale and roots").Bed.ID)
	assert.NotContains(t, webtest.Forms(page), "/bucket/"+bed)
	w := s.Post("/bucket/"+bed, url.Values{"key": {"b"}, "what": {what}})
	assert.Equal(t, 422, w.Code)
}
