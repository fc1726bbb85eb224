package web_test

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
)

func TestANewGardenFromNothing(t *testing.T) {
	s := newSite(t, false)
	assert.Contains(t, s.get("/").Body.String(), "Three steps lead to the first dose")
	for _, p := range []string{"/sheet", "/keep", "/beds/new"} {
		assert.Equal(t, http.StatusOK, s.get(p).Code, p)
	}
	assert.Equal(t, http.StatusSeeOther, s.get("/dose").Code)
	form := url.Values{"name": {"Bean row"}, "kind": {"bed"}, "w": {"5"}, "h": {"1,5"}, "x": {"1"}, "y": {"1"},
		"texture": {"clay-loam"}, "depth": {"15"}, "worked": {"dug"}, "crop": {"bean"}, "sown": {"2027-05-20"}, "key": {"b"}}
	for field, c := range map[string]struct{ typed, says string }{
		"name": {" ", "give the bed a name"}, "w": {"0", "above 0 m"}, "h": {"wide", "is not a number"}, "texture": {"fudge",
			"choose a texture"},
		"crop": {"", "choose what grows"}, "sown": {"2027-02-30", "not a day of the calendar"}, "depth": {"90",
			"2 to 60 cm"}, "om": {"140", "0 to 100"},
	} {
		bad := url.Values{}
		for k, v := range form {
			bad[k] = v
		}
		bad.Set(field, c.typed)
		w := s.post("/beds", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		assert.Regexp(t, `(?i)id="`+field+`-fault"[^>]*>[^<]*`+c.says, w.Body.String())
	}
	bad := url.Values{}
	for k, v := range form {
		bad[k] = v
	}
	bad.Set("w", "900")
	bad.Set("h", "90")
	assert.Contains(t, s.post("/beds", bad).Body.String(), "more than 5 ha")
	require.Equal(t, http.StatusSeeOther, s.post("/beds", form).Code)
	form.Set("key", "c")
	assert.Contains(t, s.post("/beds", form).Body.String(), "a bed of that name already")
	p := s.bed("Bean row")
	assert.InDelta(t, 7.5, float64(p.Bed.Area()), 1e-9)
	assert.Equal(t, bed.Untested, p.Standing)
}

func TestTheBeginningEndsOnADose(t *testing.T) {
	s := newSite(t, false)
	assert.Contains(t, s.get("/place?begin=1").Body.String(), "<b>1 of 3</b>")
	w := s.post("/place", s.placeForm("name", "Back yard", "climate", "continental", "begin", "1"))
	require.Contains(t, w.Header().Get("Location"), "/beds/new?begin=1")
	bad := s.post("/beds", url.Values{"begin": {"1"}})
	assert.Contains(t, bad.Body.String(), "<b>2 of 3</b>", "a fault keeps the step")
	w = s.post("/beds", url.Values{"begin": {"1"}, "name": {"Bean row"}, "kind": {"bed"}, "w": {"5"}, "h": {"1.5"}, "x": {"1"},
		"y": {"1"}, "texture": {"loam"}, "depth": {"15"},
		"worked": {"dug"}, "crop": {"bean"}, "sown": {"2027-05-20"}})
	require.Contains(t, w.Header().Get("Location"), "/bench?begin=1&bed=1")
	assert.Contains(t, s.get("/bench?begin=1&bed=1").Body.String(), "<b>3 of 3</b>")
	w = s.post("/readings", url.Values{"begin": {"1"}, "bed": {"1"}, "date": {"2026-11-24"}, "method": {"kit"}, "basis": {"water"},
		"ph": {"5.4"}, "cores": {"6"}, "depth": {"15"}})
	require.Contains(t, w.Header().Get("Location"), "/beds/1/dose")
	assert.Contains(t, s.get("/beds/1/dose").Body.String(), "It needs 344 g/m² of pure lime")
}
