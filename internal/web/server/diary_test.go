package server_test

import (
	"bytes"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/site"
)

// events are those of a calendar by their ids, each read by rules of its own beside the
// parser's.
func events(t *testing.T, text string) map[string]*ics.VEvent {
	t.Helper()
	for _, line := range strings.Split(strings.TrimSuffix(text, "\r\n"), "\r\n") {
		require.LessOrEqual(t, len(line), 75, "a line is folded at 75 octets")
		require.NotContains(t, line, "\n")
	}
	c, err := ics.ParseCalendar(bytes.NewBufferString(text))
	require.NoError(t, err)
	out := map[string]*ics.VEvent{}
	for _, e := range c.Events() {
		require.NotContains(t, out, e.Id(), "one event of each")
		out[e.Id()] = e
		from, err := e.GetAllDayStartAt()
		require.NoError(t, err)
		to, err := e.GetAllDayEndAt()
		require.NoError(t, err)
		require.Equal(t, from.AddDate(0, 0, 1), to, "a whole day")
		for _, must := range []ics.ComponentProperty{ics.ComponentPropertyDtstamp, ics.ComponentPropertySummary,
			ics.ComponentPropertyDescription} {
			require.NotNil(t, e.GetProperty(must))
		}
	}
	return out
}

func property(e *ics.VEvent, p ics.ComponentProperty) string { return e.GetProperty(p).Value }

func TestADiaryThatReadsAgainSeesOneEventMovedAndWhatIsDone(t *testing.T) {
	s := newSite(t, true)
	before := events(t, s.get("/export/tasks.ics").Body.String())
	task := s.open(garden.TaskRetest)
	id := ""
	for x := range before {
		if strings.HasPrefix(x, fmt.Sprintf("task-%d@", task.ID)) {
			id = x
		}
	}
	require.NotEmpty(t, id)
	assert.Len(t, before[id].Alarms(), 1)
	s.saved(s.post(fmt.Sprintf("/tasks/%d/move", task.ID), url.Values{"version": {vers(task.Version)}, "to": {"2027-12-01"}}))
	after := events(t, s.get("/export/tasks.ics").Body.String())
	require.Len(t, after, len(before))
	moved := 0
	for x, e := range after {
		if property(e, ics.ComponentPropertyDtStart) != property(before[x], ics.ComponentPropertyDtStart) {
			moved++
			assert.Contains(t, []string{id}, x)
		}
	}
	assert.Equal(t, 1, moved)
	assert.Equal(t, "20271201", property(after[id], ics.ComponentPropertyDtStart))
	assert.Greater(t, property(after[id], ics.ComponentPropertySequence), property(before[id], ics.ComponentPropertySequence))
	// In the gardener's own measure.
	all := s.get("/export/tasks.ics").Body.String()
	assert.Contains(t, strings.ReplaceAll(all, "\r\n ", ""), "Lower ledge: 12 level scoops (1.2 kg) of oven ash\\, autumn batch")
	assert.Regexp(t, `The rest of the dose\\, about \d+ level scoops \([\d.]+ kg\) of oven ash\\, autumn batch\\, waits for this test`,
		strings.ReplaceAll(all, "\r\n ", ""))
	ash := s.openTasks(s.bed("Lower ledge").Bed.ID)[0]
	s.saved(s.post(fmt.Sprintf("/tasks/%d/put-on", ash.ID), url.Values{"version": {vers(ash.Version)}, "planned": {"yes"},
		"day": {"2026-11-23"}}))
	done := events(t, s.get("/export/tasks.ics").Body.String())
	for x, e := range done {
		if strings.HasPrefix(x, fmt.Sprintf("task-%d@", ash.ID)) {
			assert.Contains(t, property(e, ics.ComponentPropertySummary), "Done: Lower ledge")
			assert.Equal(t, "20261123", property(e, ics.ComponentPropertyDtStart), "on the day on which it went on")
			assert.Empty(t, e.Alarms(), "what is done reminds of nothing")
		}
	}
}

func TestTheDiarysAddressIsASecretThatCanBeRenewedAndEnded(t *testing.T) {
	s := newSite(t, true, func(c *site.Config) { c.SignIn = true })
	open := newSite(t, true)
	assert.Equal(t, http.StatusNotFound, open.get("/diary/.ics").Code, "none was made")
	address := func() string {
		return grep(open.get("/keep").Body.String(), `value="http://localhost(/diary/[^"]+\.ics)"`)
	}
	open.post("/diary/address", url.Values{})
	first := address()
	assert.Greater(t, len(first), 40)
	w := open.get(first)
	assert.Equal(t, http.StatusOK, w.Code)
	assert.NotEmpty(t, events(t, w.Body.String()))
	open.post("/diary/address", url.Values{})
	assert.NotEqual(t, first, address())
	assert.Equal(t, http.StatusNotFound, open.get(first).Code, "the old one is shut")
	assert.NotContains(t, open.get("/export/garden.json").Body.String(), address()[7:20], "no archive tells it")
	open.post("/diary/address", url.Values{"end": {"yes"}})
	assert.NotContains(t, open.get("/keep").Body.String(), "/diary/"+first[7:12])
	// Where pages want a passphrase, the diary wants its secret only, and nothing else opens by it.
	require.NoError(t, s.store.SetDiarySecret(t.Context(), "0123456789abcdef0123456789abcdef"))
	assert.Equal(t, http.StatusOK, s.get("/diary/0123456789abcdef0123456789abcdef.ics").Code)
	assert.Equal(t, http.StatusNotFound, s.get("/diary/0123456789abcdef0123456789abcdee.ics").Code)
	assert.Equal(t, http.StatusSeeOther, s.get("/export/tasks.ics").Code)
}
