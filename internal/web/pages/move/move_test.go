package move_test

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/webtest"
)

// A day that a rule blocks is refused with the rule and the nearest allowed days, which can be taken at one press.
func TestBlockedDayOffersNearest(t *testing.T) {
	s := webtest.New(t, true)
	task := s.OpenTask(garden.TaskApplication)
	path := "/tasks/" + webtest.ID(task.ID) + "/move"
	var blocked quantity.Day
	for d := s.Today + 1; d < s.Today+365 && blocked == 0; d++ {
		m, err := s.App.Schedule.Moving(t.Context(), task.ID, d, s.Today)
		require.NoError(t, err)
		if !m.Serves() && m.Trial.After > 0 {
			blocked = d
		}
	}
	require.NotZero(t, blocked, "some day of a year is blocked")
	page := s.Page(path + "?to=" + blocked.String())
	assert.Len(t, webtest.Pieces(webtest.ByID(t, page, "move-answer"), "stop"), 1)
	m, err := s.App.Schedule.Moving(t.Context(), task.ID, blocked, s.Today)
	require.NoError(t, err)
	var offered []string
	for x := range page.Descendants() {
		if name, _ := webtest.Attr(x, "name"); name == "to" && x.Data == "input" {
			if kind, _ := webtest.Attr(x, "type"); kind == "hidden" {
				to, _ := webtest.Attr(x, "value")
				offered = append(offered, to)
			}
		}
	}
	assert.Contains(t, offered, m.Trial.After.String())
	assert.NotContains(t, offered, blocked.String(), "no button moves it to the blocked day")

	due := func() quantity.Day {
		for _, x := range s.OpenTasks(task.BedID) {
			if x.ID == task.ID {
				return x.Due
			}
		}
		return 0
	}
	refused := s.Post(path, url.Values{"key": {"m1"}, "version": {webtest.ID(task.Version)}, "to": {blocked.String()}})
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Code)
	assert.Equal(t, task.Due, due())
	s.Saved(s.Post(path, url.Values{"key": {"m2"}, "version": {webtest.ID(task.Version)}, "to": {m.Trial.After.String()}}))
	assert.Equal(t, m.Trial.After, due())
	stale := s.Post(path, url.Values{"key": {"m3"}, "version": {webtest.ID(task.Version)}, "to": {m.Trial.After.String()}})
	assert.Equal(t, http.StatusConflict, stale.Code)
}
