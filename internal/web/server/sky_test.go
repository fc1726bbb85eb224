package server_test

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/instrument"
	"zephyrfield/internal/web/site"
)

// told is weather as a test tells it: the wind of each day from the demo's first.
type told struct {
	wind []quantity.Speed
	err  error
	// late is how many days after today it begins.
	late quantity.Day
}

func (told) Name() string    { return "Weather of a test" }
func (told) Simulated() bool { return false }
func (w told) Days(_ context.Context, _ instrument.Spot, from, to, today quantity.Day) (out calendar.Skies, err error) {
	for n := range w.wind {
		if d := today + w.late + quantity.Day(n); d >= from && d <= to {
			out = append(out, calendar.Sky{Day: d, Wind: &w.wind[n]})
		}
	}
	return out, w.err
}

func under(w instrument.Weather) func(*site.Config) { return func(c *site.Config) { c.Weather = w } }

// gale blows today and tomorrow.
var gale = told{wind: []quantity.Speed{9, 7, 2, 2, 2, 5, 2, 2, 2, 2}}

func TestTheWeatherMovesTheDayOnlyWhenAsked(t *testing.T) {
	s := newSite(t, true, under(gale))
	page := s.get("/sheet").Body.String()
	assert.Contains(t, page, "Wind of 4 m/s or more today; the next good day is Thu 26 Nov.")
	assert.Contains(t, page, "Wind 9 m/s.")
	assert.Contains(t, page, "Move what waits to Thu 26 Nov")
	assert.Contains(t, page, "Weather of a test.")
	before := s.open(garden.TaskApplication)
	s.saved(s.post("/sheet/wait", url.Values{"to": {"2026-11-26"}}))
	assert.Contains(t, s.get("/keep").Body.String(), "Moved 2 goes to 26 Nov 2026, for the weather")
	page = s.get("/sheet").Body.String()
	assert.Contains(t, page, "Nothing due today")
	assert.NotContains(t, page, "Move what waits")
	assert.Equal(t, http.StatusConflict, s.post("/sheet/wait", url.Values{"to": {"2026-11-27"}, "key": {"again"}}).Code, "nothing waits now")
	assert.NotEqual(t, before.Due, s.open(garden.TaskApplication).Due)
}

func TestWeatherThatIsNotKnownIsNotMadeUp(t *testing.T) {
	page := newSite(t, true).get("/sheet").Body.String()
	assert.NotContains(t, page, "sky-ahead")
	assert.Contains(t, page, "Look for wind, rain and frost yourself.")
	page = newSite(t, true, under(told{err: errors.New("line 3: no date")})).get("/sheet").Body.String()
	assert.Contains(t, page, "The weather could not be read: line 3: no date.")
	page = newSite(t, true, under(told{wind: []quantity.Speed{2, 2}, late: 1})).get("/sheet").Body.String()
	assert.NotContains(t, page, "Move what waits", "a day that nobody knows of moves nothing")
	page = newSite(t, true, under(told{wind: []quantity.Speed{2}})).get("/sheet").Body.String()
	assert.Contains(t, page, "Good until Tue 24 Nov; then nobody knows yet.")
	page = newSite(t, true, under(instrument.FakeWeather{Seed: 1})).get("/sheet").Body.String()
	assert.Contains(t, page, `class="late">Simulated station.`)
}

func TestThePagesHeadIsItsOwnBesideTheDaysAhead(t *testing.T) {
	page := newSite(t, true, under(gale)).get("/sheet").Body.String()
	assert.Contains(t, page, "7 °C soil", "the head says the usual soil")
	assert.NotContains(t, page, "{[{", "no value is laid out as Go prints it")
}
