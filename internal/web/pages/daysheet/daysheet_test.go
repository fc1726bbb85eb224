package daysheet_test

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/webtest"
)

func TestQueuedTickIsAppliedOnce(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Lower ledge").Bed.ID
	g := s.OpenTasks(bed)[0]
	day := s.Today - 2
	form := url.Values{"key": {"kept-here"}, "version": {strconv.FormatInt(g.Version, 10)}, "planned": {"yes"}, "day": {day.String()}}
	path := fmt.Sprintf("/tasks/%d/put-on", g.ID)
	before := len(s.Record(bed).Applications)
	for range 2 {
		w := s.Queued(path, form)
		require.Equal(t, http.StatusNoContent, w.Code)
		assert.Contains(t, w.Header().Get("X-Done"), "/sheet?said=")
	}
	all := s.Record(bed).Applications
	require.Len(t, all, before+1, "sent twice, put on once")
	assert.Equal(t, day, all[len(all)-1].Date, "the day on which it was ticked")
	// The next one from the queue would be too soon.
	next := s.OpenTasks(bed)[0]
	form = url.Values{"key": {"kept-too"}, "version": {strconv.FormatInt(next.Version, 10)}, "planned": {"yes"}, "day": {s.Today.String()}}
	w := s.Queued(fmt.Sprintf("/tasks/%d/put-on", next.ID), form)
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Len(t, s.Record(bed).Applications, before+1)
}

func TestSheetShowsBedsAndAmounts(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Lower ledge").Bed
	for range 2 {
		s.Add(&garden.Task{BedID: bed.ID, Kind: garden.TaskRetest, Due: s.Today, State: garden.Open, Method: soil.Lab, Depth: 0.15})
	}
	kale := s.Bed("Kale and roots").Bed
	s.Add(&garden.Task{BedID: kale.ID, Kind: garden.TaskApplication, Due: s.Today, What: material.PotassiumSulfate, Rate: 10, Total: 211,
		State: garden.Open, Depth: 0.15})
	page := s.Get("/sheet").Body.String()
	assert.Contains(t, page, "2 beds, 7.1 kg", "three goes on two beds")
	for _, g := range s.OpenTasks(bed.ID) {
		if g.Kind == garden.TaskRetest && g.Due == s.Today {
			require.Equal(t, http.StatusSeeOther, s.Post(fmt.Sprintf("/tasks/%d/skip", g.ID),
				url.Values{"version": {strconv.FormatInt(g.Version, 10)}, "why": {"Frost."}}).Code)
			break
		}
	}
	g := s.OpenTasks(bed.ID)[0]
	s.Saved(s.Post(fmt.Sprintf("/tasks/%d/put-on", g.ID), url.Values{"version": {strconv.FormatInt(g.Version, 10)}, "amount": {"18"},
		"measure": {"scoops"}, "note": {"Calm day."}}))
	page = s.Get("/sheet").Body.String()
	assert.Contains(t, page, "18 level scoops (1.8 kg) put on: Calm day.")
	assert.Contains(t, page, "skipped: Frost.")
	assert.Equal(t, "Lower ledge: 18 level scoops (1.8 kg) of oven ash, autumn batch put on, 24 Nov 2026",
		webtest.Elements(s.Page(webtest.BedPath(bed.ID)), "h1")[0].Says)
}

// A go whose window closes within a fortnight says so; one that missed it stands on Ground and on the sheet, with where it went, until
// that was seen.
func TestLastChanceAndMissed(t *testing.T) {
	var clock *site.DemoClock
	s := webtest.New(t, true, func(c *site.Config) {
		clock = site.NewDemoClock(quantity.Date(2027, 7, 20))
		c.Clock, c.Demo = clock, clock
	})
	onwards := func(days quantity.Day) {
		_, err := clock.MoveOn(days)
		require.NoError(t, err)
		s.Today = clock.Today()
	}
	s.Today = clock.Today()
	b := s.Bed("New ground").Bed
	s.Add(&garden.Task{BedID: b.ID, Kind: garden.TaskApplication, Due: quantity.Date(2027, 7, 20), What: material.SulfurPowder, Rate: 30,
		Total: 180,
		State: garden.Open, Depth: 0.15})
	told := regexp.MustCompile(`last chance \d+ Aug`)
	seen := false
	for s.Today < quantity.Date(2027, 8, 31) && !seen {
		seen = told.MatchString(s.Get("/sheet").Body.String())
		onwards(7)
	}
	require.True(t, seen)
	onwards(quantity.Date(2027, 10, 10) - s.Today)
	missed := regexp.MustCompile(`on New ground missed its window\. The next day is \d+ \w+ 2028`)
	assert.Regexp(t, missed, s.Get("/").Body.String())
	require.Regexp(t, missed, s.Get("/sheet").Body.String())
	n := 0
	for _, job := range webtest.Pieces(s.Page("/sheet"), "job") {
		if strings.Contains(job.Says, "on New ground missed its window") {
			for to, forms := range webtest.Forms(job.Node) {
				s.Saved(s.Post(to, webtest.Fields(forms[0])))
				n++
			}
		}
	}
	require.Equal(t, 1, n, "the notice has its button")
	assert.NotRegexp(t, missed, s.Get("/").Body.String())
	assert.NotRegexp(t, missed, s.Get("/sheet").Body.String())
}

func TestWeatherMovesTasksOnlyOnRequest(t *testing.T) {
	s := webtest.New(t, true, webtest.Under(webtest.Gale))
	page := s.Get("/sheet").Body.String()
	assert.Contains(t, page, "Wind of 4 m/s or more today; the next good day is Thu 26 Nov.")
	assert.Contains(t, page, "Wind 9 m/s.")
	assert.Contains(t, page, "Move what waits to Thu 26 Nov")
	assert.Contains(t, page, "Weather of a test.")
	before := s.OpenTask(garden.TaskApplication)
	s.Saved(s.Post("/sheet/wait", url.Values{"to": {"2026-11-26"}}))
	assert.Contains(t, s.Get("/keep").Body.String(), "Moved 2 applications to 26 Nov 2026, for the weather")
	page = s.Get("/sheet").Body.String()
	assert.Contains(t, page, "Nothing due today")
	assert.NotContains(t, page, "Move what waits")
	assert.Equal(t, http.StatusConflict, s.Post("/sheet/wait", url.Values{"to": {"2026-11-27"}, "key": {"again"}}).Code, "nothing waits now")
	assert.NotEqual(t, before.Due, s.OpenTask(garden.TaskApplication).Due)
}

func TestUnknownWeatherIsNotShown(t *testing.T) {
	page := webtest.New(t, true).Get("/sheet").Body.String()
	assert.NotContains(t, page, "sky-ahead")
	assert.Contains(t, page, "Look for wind, rain and frost yourself.")
	page = webtest.New(t, true, webtest.Under(webtest.Weather{Err: errors.New("line 3: no date")})).Get("/sheet").Body.String()
	assert.Contains(t, page, "The weather could not be read: line 3: no date.")
	page = webtest.New(t, true, webtest.Under(webtest.Weather{Wind: []quantity.Speed{2, 2}, Late: 1})).Get("/sheet").Body.String()
	assert.NotContains(t, page, "Move what waits", "a day that nobody knows of moves nothing")
	page = webtest.New(t, true, webtest.Under(webtest.Weather{Wind: []quantity.Speed{2}})).Get("/sheet").Body.String()
	assert.Contains(t, page, "Good until Tue 24 Nov; then no forecast yet.")
	page = webtest.New(t, true, webtest.Under(instrument.FakeWeather{Seed: 1})).Get("/sheet").Body.String()
	assert.Contains(t, page, `class="late">Simulated station.`)
}

func TestHeadingWithWeather(t *testing.T) {
	page := webtest.New(t, true, webtest.Under(webtest.Gale)).Get("/sheet").Body.String()
	assert.Contains(t, page, "7 °C soil", "the head says the usual soil")
	assert.NotContains(t, page, "{[{", "no value is laid out as Go prints it")
}

func TestTickReducesStock(t *testing.T) {
	s := webtest.New(t, true)
	id := s.Bed("Lower ledge").Bed.ID
	g := s.OpenTasks(id)[0]
	stock := func() (m quantity.Mass) {
		require.NoError(t, s.Store.Read(context.Background(), func(r garden.Reader) error {
			shelf, err := garden.Shelf(r)
			for _, b := range shelf {
				if b.ID == *g.BatchID {
					m = *b.Left
				}
			}
			return err
		}))
		return m
	}
	full := stock()
	w := s.Post(fmt.Sprintf("/tasks/%d/put-on", g.ID), url.Values{"planned": {"yes"}, "version": {strconv.FormatInt(g.Version, 10)}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.InDelta(t, float64(full-g.Total), float64(stock()), 1e-6)
}

func TestInvalidAmountsAndSkips(t *testing.T) {
	s := webtest.New(t, true)
	g := s.OpenTasks(s.Bed("Kale and roots").Bed.ID)[0]
	version := strconv.FormatInt(g.Version, 10)
	for amount, says := range map[string]string{"": "How much was put on, in kg", "much": "is not a number", "-1": "above 0 kg"} {
		w := s.Post(fmt.Sprintf("/tasks/%d/put-on", g.ID), url.Values{"amount": {amount}, "version": {version}})
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		assert.Contains(t, w.Body.String(), says)
		assert.Contains(t, w.Body.String(), `value="`+amount+`"`)
	}
	w := s.Post(fmt.Sprintf("/tasks/%d/skip", g.ID), url.Values{"why": {"Too wet."}, "version": {version}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.Contains(t, s.Get("/sheet").Body.String(), "skipped: Too wet.")
}

// The soil's temperature of the day is one figure, at the head of the page and in the weather, whatever a stand-in says.
func TestSoilTemperatureIsOneFigure(t *testing.T) {
	for seed := range uint64(4) {
		s := webtest.New(t, true, webtest.Under(instrument.FakeWeather{Seed: seed}))
		page := webtest.Wording(s.Page("/sheet"))
		head := webtest.Grep(page, `(−?\d+ °C) soil`)
		require.NotEmpty(t, head)
		assert.Equal(t, head, webtest.Grep(page, `, soil (−?\d+ °C)`), seed)
	}
}
