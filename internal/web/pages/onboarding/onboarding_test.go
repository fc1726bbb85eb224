package onboarding_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/onboarding"
	"zephyrfield/internal/web/webtest"
)

func TestFirstGarden(t *testing.T) {
	s := webtest.New(t, false)
	assert.Contains(t, s.Get("/").Body.String(), "Three steps lead to the first dose")
	for _, p := range []string{"/sheet", "/keep", "/beds/new"} {
		assert.Equal(t, http.StatusOK, s.Get(p).Code, p)
	}
	assert.Equal(t, http.StatusSeeOther, s.Get("/dose").Code)
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
		w := s.Post("/beds", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		at := field
		if at == "h" {
			at = "w" // the two sides share one message
		}
		assert.Regexp(t, `(?i)id="`+at+`-fault"[^>]*>[^<]*`+c.says, w.Body.String())
	}
	bad := url.Values{}
	for k, v := range form {
		bad[k] = v
	}
	bad.Set("w", "900")
	bad.Set("h", "90")
	assert.Contains(t, s.Post("/beds", bad).Body.String(), "more than 5 ha")
	require.Equal(t, http.StatusSeeOther, s.Post("/beds", form).Code)
	form.Set("key", "c")
	assert.Contains(t, s.Post("/beds", form).Body.String(), "a bed of that name already")
	p := s.Bed("Bean row")
	assert.InDelta(t, 7.5, float64(p.Bed.Area()), 1e-9)
	assert.Equal(t, bed.Untested, p.Standing)
}

// Three short steps lead from nothing to a dose, and from there to the day sheet; missing answers
// are asked for at their fields, and no tap is lost.
func TestOnboardingEndsOnDose(t *testing.T) {
	s := webtest.New(t, false)
	assert.Contains(t, s.Get("/").Body.String(), `href="/begin"`)
	bad := s.Post("/begin", url.Values{"version": {"1"}, "climate": {"continental"}, "units": {"metric"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code, "the half of the earth is never guessed")
	assert.Contains(t, bad.Body.String(), "the seasons depend on it")
	assert.Regexp(t, `value="continental" checked`, bad.Body.String())
	w := s.Post("/begin", url.Values{"version": {"1"}, "hemisphere": {"north"}, "climate": {"continental"}, "units": {"metric"}, "key": {"a"}})
	require.Contains(t, w.Header().Get("Location"), "/begin/bed")
	assert.NotRegexp(t, `name="feel"[^>]*checked`, s.Get("/begin/bed").Body.String(), "no answer stands before the question")
	bed := url.Values{"name": {"Bean row"}, "w": {"5"}, "h": {"1.5"}, "depth": {"15"}, "worked": {"dug"}, "crop": {"bean"},
		"when": {"spring"}, "key": {"b"}}
	assert.Contains(t, s.Post("/begin/bed", bed).Body.String(), "tap what it does")
	bed.Set("feel", "crumbles")
	require.Contains(t, s.Post("/begin/bed", bed).Header().Get("Location"), "/begin/reading?bed=1")
	p := s.Bed("Bean row")
	assert.Equal(t, soil.Loam, p.Bed.Texture)
	rec, err := s.App.BedState.Bed(context.Background(), p.Bed.ID, s.Today)
	require.NoError(t, err)
	assert.Equal(t, "2027-05-05", rec.Plantings[0].Sown.String(), "after the last frost of a continental spring")
	read := url.Values{"bed": {"1"}, "date": {"2026-11-24"}, "method": {"kit"}, "basis": {"water"}, "cores": {"6"}, "depth": {"15"},
		"chips": {"5.5", "5"}, "have": {"lime", "ash"}, "key": {"c"}}
	bad = s.Post("/begin/reading", read)
	assert.Contains(t, bad.Body.String(), "what was burnt decides")
	assert.Regexp(t, `id="chip-5"[^>]* checked`, bad.Body.String())
	read["chips"] = []string{"5", "6"}
	assert.Contains(t, s.Post("/begin/reading", read).Body.String(), "two that lie beside each other")
	read["chips"] = []string{"5.5", "5"}
	read.Set("clean", "no")
	w = s.Post("/begin/reading", read)
	require.Contains(t, w.Header().Get("Location"), "/beds/1/dose?begin=1")
	assert.InDelta(t, 5.25, float64(s.Bed("Bean row").PH), 1e-9, "between two chips")
	page := s.Get(w.Header().Get("Location")).Body.String()
	assert.Contains(t, page, "of garden lime, today")
	for _, name := range webtest.Pieces(webtest.Parsed(page), "name") {
		assert.False(t, name.Data == "b" && strings.HasPrefix(name.Says, "Wood ash"), "ash of an unknown fire is not offered")
	}
	shed, err := s.App.Inventory.View(context.Background(), s.Today)
	require.NoError(t, err)
	require.Len(t, shed.Stock, 2)
	put := s.Post("/beds/1/plan", url.Values{"begin": {"1"}, "use": {dosing.BatchKey(shed.Stock[1].ID)}, "key": {"d"}})
	require.Contains(t, put.Header().Get("Location"), "/sheet", put.Body.String())
	// The same step sent again with another key adds no second bag.
	read.Set("key", "e")
	read.Set("chips", "5.5")
	s.Post("/begin/reading", read)
	shed, err = s.App.Inventory.View(context.Background(), s.Today)
	require.NoError(t, err)
	assert.Len(t, shed.Stock, 2)
}

// Ash declared clean and later uncertain is barred; a second answer does not unbar it.
func TestUncertainAshIsBarred(t *testing.T) {
	s := webtest.New(t, true)
	read := url.Values{"bed": {"2"}, "date": {"2026-11-24"}, "method": {"kit"}, "basis": {"water"}, "cores": {"6"}, "depth": {"15"},
		"chips": {"5.5"}, "have": {"ash"}}
	again := func(key, clean string) material.Source {
		read.Set("key", key)
		read.Set("clean", clean)
		require.Equal(t, http.StatusSeeOther, s.Post("/begin/reading", read).Code)
		return s.Stock("Wood ash").Source
	}
	assert.Equal(t, material.UnknownFire, again("ash0", "no"))
	assert.Equal(t, material.UnknownFire, again("ash1", "yes"))
	ash := s.Stock("Wood ash").Batch
	ash.Source = material.Clean
	act := garden.Actor{Who: "gardener", Key: "clean", At: time.Now(), Today: s.Today}
	_, err := s.App.Inventory.Set(context.Background(), act, ash)
	require.NoError(t, err)
	assert.Equal(t, material.Clean, again("ash2", "yes"))
	assert.Equal(t, material.UnknownFire, again("ash3", "no"))
}

// The browser's languages give the units; a language without a region is ignored.
func TestGuessUnits(t *testing.T) {
	for accept, want := range map[string]string{"en-US,en;q=0.9": "us", "en": "metric", "de-AT,en-US;q=0.5": "metric", "": "metric",
		"en,en-US;q=0.9": "us", ";;": "metric"} {
		s := webtest.New(t, false)
		r := httptest.NewRequest(http.MethodGet, "http://localhost/begin", nil)
		r.Header.Set("Accept-Language", accept)
		w := s.Do(r)
		assert.Regexp(t, `id="units-`+want+`"[^>]* checked`, w.Body.String(), accept)
		assert.NotRegexp(t, `name="hemisphere"[^>]*checked`, w.Body.String())
		s.Post("/begin", url.Values{"version": {"1"}, "hemisphere": {"south"}, "climate": {"maritime"}, "units": {want}, "key": {"a"}})
		g, err := s.App.Place(context.Background())
		require.NoError(t, err)
		assert.True(t, g.Units().Known())
		assert.Equal(t, want == "us", g.Units().Weights().Name == "lb")
		assert.Contains(t, s.Get("/begin/bed").Body.String(), map[string]string{"us": "Length, width, ft",
			"metric": "Length, width, m"}[want])
	}
}

// How soon a crop goes in: what grows counts as sown today; spring is the next last frost that is not upon us.
func TestWhenSown(t *testing.T) {
	north, south := soil.FindWeather("maritime", soil.North), soil.FindWeather("maritime", soil.South)
	hot := soil.FindWeather("subtropical", soil.North)
	for _, x := range []struct {
		when    onboarding.When
		weather soil.Weather
		today   string
		sown    string
	}{
		{onboarding.Grows, north, "2026-11-24", "2026-11-24"}, {onboarding.Soon, north, "2026-11-24", "2026-12-15"},
		{onboarding.Spring, north, "2026-11-24", "2027-04-25"}, {onboarding.Spring, north, "2027-03-28", "2027-04-25"},
		{onboarding.Spring, north, "2027-03-29", "2027-04-25"},
		// Just after the day this spring is still meant: the nearer sowing is the stricter one.
		{onboarding.Spring, north, "2027-04-26", "2027-05-17"}, {onboarding.Spring, north, "2027-06-24", "2027-07-15"},
		{onboarding.Spring, north, "2027-06-25", "2028-04-25"}, {onboarding.Spring, south, "2026-07-01", "2026-10-25"},
		{onboarding.Spring, hot, "2026-07-01", "2026-07-29"}, {onboarding.Autumn, hot, "2026-07-01", "2026-07-29"},
		// Six weeks before the first frost of 1 November.
		{onboarding.Autumn, north, "2026-08-23", "2026-09-20"}, {onboarding.Autumn, north, "2026-08-24", "2026-09-20"},
		{onboarding.Autumn, north, "2026-11-20", "2027-09-20"},
	} {
		today, err := quantity.ParseDay(x.today)
		require.NoError(t, err)
		assert.Equal(t, x.sown, x.when.Sown(x.weather, today).String(), "%s on %s", x.when, x.today)
	}
}
