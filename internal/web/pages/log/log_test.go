package log_test

import (
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/webtest"
)

// The log's forms stand on today; where nothing on the shelf will do, Dose says that it is to be bought, and what becomes of the ash.
func TestLogAndPurchases(t *testing.T) {
	s := webtest.New(t, true)
	day := regexp.MustCompile(`name="put_date"[^>]*value="2026-11-24"|value="2026-11-24"[^>]*name="put_date"`)
	assert.Regexp(t, day, s.Get("/log").Body.String())
	assert.Regexp(t, day, s.Get("/beds/2").Body.String())
	assert.NotContains(t, s.Get("/beds/2/dose").Body.String(), `id="buy"`, "lime is on the shelf")
	s.Change(func(tx garden.Tx) error {
		for _, id := range []int64{1, 2, 3, 4, 5, 6} {
			b, err := garden.Get[garden.Batch](tx, id)
			if err != nil {
				return err
			}
			if m, _ := material.Find(b.Kind); m.Family == material.Ash {
				b.Source = material.Coal
			} else {
				b.Gone = s.Today - 1
			}
			if err := tx.Update(&b); err != nil {
				return err
			}
		}
		return nil
	})
	page := s.Get("/beds/2/dose").Body.String()
	assert.Contains(t, page, "Nothing on your shelf will do: this has to be bought.")
	assert.Contains(t, page, "is not to be used on any bed: take it to the local waste collection.")
}

func TestHouseholdMeasures(t *testing.T) {
	s := webtest.New(t, true)
	lawn := s.Bed("Top lawn").Bed
	log := func(key, what, amount, measure string) {
		s.Saved(s.Post("/log", url.Values{"bed": {webtest.ID(lawn.ID)}, "what": {what}, "put_date": {"2026-11-02"}, "put_amount": {amount},
			"measure": {measure}, "key": {key}}))
	}
	log("a", "leaves", "1,5", "barrows")
	log("b", "bone-meal", "50", "g-m2")
	log("c", "gypsum", "2", "kg")
	var told []string
	for _, a := range s.Record(lawn.ID).Applications {
		if a.Date.String() == "2026-11-02" {
			told = append(told, fmt.Sprintf("%s %.0f %q", a.What, float64(a.Total), a.Told))
		}
	}
	assert.ElementsMatch(t, []string{`leaves 9600 "1.5 barrows"`, fmt.Sprintf(`bone-meal %.0f "50 g/m²"`, 50*float64(lawn.Area())),
		`gypsum 2000 ""`}, told, "what was told is kept")
	before := *s.Stock("Oven ash, autumn batch").Left
	s.Saved(s.Post("/log", url.Values{"bed": {webtest.ID(lawn.ID)}, "what": {"b1"}, "put_date": {"2026-11-24"}, "put_amount": {"3"},
		"measure": {"scoops"}, "key": {"d"}}))
	assert.InDelta(t, float64(before)-300, float64(*s.Stock("Oven ash, autumn batch").Left), 1e-6, "it leaves the bin")
	for what, why := range map[string]string{"b4": "no scoop of it was weighed", "b3": "driftwood"} {
		w := s.Post("/log", url.Values{"bed": {webtest.ID(lawn.ID)}, "what": {what}, "put_date": {"2026-11-02"}, "put_amount": {"3"},
			"measure": {map[string]string{"b4": "scoops", "b3": "kg"}[what]}, "key": {what}})
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, what)
		assert.Contains(t, strings.ToLower(w.Body.String()), why)
	}
	// Bags count by what their label says one holds: a quarter of 25 kg.
	lime := s.Stock("Ground limestone")
	limed := *lime.Left
	s.Saved(s.Post("/log", url.Values{"bed": {webtest.ID(lawn.ID)}, "what": {"b" + webtest.ID(lime.ID)}, "put_date": {"2026-11-23"},
		"put_amount": {"0.25"}, "measure": {"bags"}, "key": {"bags"}}))
	assert.InDelta(t, float64(limed)-6250, float64(*s.Stock("Ground limestone").Left), 1e-6)
	page := s.Get("/log?bed=" + webtest.ID(lawn.ID)).Body.String()
	assert.Contains(t, page, "3 level scoops (300 g), ")
	assert.Contains(t, page, "1.5 barrows, about 9.6 kg, ")
	for field, form := range map[string]url.Values{
		"choose the bed": {"what": {"gypsum"}, "put_date": {"2026-11-02"}, "put_amount": {"2"}, "measure": {"kg"}},
		"measure of the list": {"bed": {webtest.ID(lawn.ID)}, "what": {"gypsum"}, "put_date": {"2026-11-02"}, "put_amount": {"2"},
			"measure": {"sacks"}},
		"planned from the dose": {"bed": {webtest.ID(lawn.ID)}, "what": {"calcitic-lime"}, "put_date": {"2026-11-25"}, "put_amount": {"2"},
			"measure": {"kg"}},
		"How much was put on?": {"bed": {webtest.ID(lawn.ID)}, "what": {"gypsum"}, "put_date": {"2026-11-02"}, "put_amount": {""},
			"measure": {"kg"}},
	} {
		form.Set("key", field)
		form.Set("put_note", "what was typed stays")
		w := s.Post("/log", form)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		assert.Contains(t, strings.ToLower(w.Body.String()), strings.ToLower(field))
		assert.Contains(t, w.Body.String(), "what was typed stays")
	}
}

func TestLogRoundTrip(t *testing.T) {
	s := webtest.New(t, true)
	csv := s.Get("/export/log.csv").Body.String()
	lines := strings.Split(strings.TrimSpace(csv), "\n")
	assert.Len(t, lines, 41)
	assert.Contains(t, csv, "2024-11-23,Lower ledge,wood-ash-hardwood,1.44,150,,75,,2.25,7.5,3,")
	w := s.Post("/log/csv", url.Values{"csv": {csv}, "key": {"all"}})
	assert.Contains(t, w.Body.String(), "All of it stands in the log already")
	bad := map[string]string{
		"date,bed,material\n2026-11-01,Top lawn,gypsum\n":                   "amount_kg is needed",
		"date,bed,material,amount_kg\n2026-11-01,Top lawn,gypsum,much\n":    "line 2, amount_kg",
		"date,bed,material,amount_kg\n2026-11-01,Nowhere,gypsum,1\n":        "line 2: no bed is called",
		"date,bed,material,amount_kg\n1.11.2026,Top lawn,gypsum,1\n":        "line 2, date",
		"date,bed,material,amount_kg\n2026-11-25,Top lawn,gypsum,1\n":       "line 2: that day is still to come",
		"date,bed,material,amount_kg\n2026-11-01,Top lawn,kryptonite,1\n":   "line 2: choose what was put on",
		"date,bed,material,amount_kg\n2026-11-01,Top lawn,gypsum,9000000\n": "line 2: ",
	}
	n := len(s.Record(s.Bed("Top lawn").Bed.ID).Applications)
	for text, says := range bad {
		good := strings.Replace(text, "\n", "\n2026-11-02,Top lawn,gypsum,1\n", 1)
		w := s.Post("/log/csv", url.Values{"csv": {text}, "key": {text}})
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, text)
		assert.Contains(t, strings.ToLower(w.Body.String()), says, text)
		s.Post("/log/csv", url.Values{"csv": {good}, "key": {good}})
	}
	require.Len(t, s.Record(s.Bed("Top lawn").Bed.ID).Applications, n, "all of a file, or nothing")
	s.Saved(s.Post("/log/csv", url.Values{"csv": {"Date, Bed ,material,amount_kg,note\n2019-10-05,top lawn,calcitic-lime,\"3,5\",=Old lime\n"},
		"key": {"in"}}))
	all := s.Record(s.Bed("Top lawn").Bed.ID).Applications
	require.Len(t, all, n+1)
	assert.Equal(t, material.Kind("calcitic-lime"), all[0].What)
	assert.InDelta(t, 3500, float64(all[0].Total), 1e-9)
	assert.Contains(t, s.Get("/export/log.csv?season=2019/20").Body.String(), "'=Old lime", "no formula goes out")
}

func TestCorrectionsUpdateStock(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Lower ledge").Bed.ID
	left := func() float64 { return float64(*s.Stock("Oven ash, autumn batch").Left) }
	before, g := left(), s.OpenTasks(bed)[0]
	s.Saved(s.Post(fmt.Sprintf("/tasks/%d/put-on", g.ID), url.Values{"version": {webtest.ID(g.Version)}, "planned": {"yes"}}))
	assert.InDelta(t, before-float64(g.Total), left(), 1e-6)
	all := s.Record(bed).Applications
	x := all[len(all)-1]
	s.Saved(s.Post(fmt.Sprintf("/log/%d", x.ID), url.Values{"version": {webtest.ID(x.Version)}, "what": {"gypsum"}, "put_date": {"2026-11-24"},
		"put_amount": {"1"}, "measure": {"kg"}, "key": {"right"}}))
	assert.InDelta(t, before-1000, left(), 1e-6)
	assert.Equal(t, g.What, s.Record(bed).Applications[len(all)-1].What)
	s.Saved(s.Post(fmt.Sprintf("/log/%d/remove", x.ID), url.Values{"version": {webtest.ID(x.Version + 1)}, "key": {"out"}}))
	assert.InDelta(t, before, left(), 1e-6)
	assert.Contains(t, s.Get("/sheet").Body.String(), fmt.Sprintf("/tasks/%d/put-on", g.ID), "it is to do again")
}
