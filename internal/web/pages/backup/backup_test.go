package backup_test

import (
	"bytes"
	"context"
	"fmt"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/webtest"
)

// events returns those of a calendar by their ids, each read by rules of its own beside the
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

func TestDiaryFeedMovesEvents(t *testing.T) {
	s := webtest.New(t, true)
	before := events(t, s.Get("/export/tasks.ics").Body.String())
	task := s.OpenTask(garden.TaskRetest)
	id := ""
	for x := range before {
		if strings.HasPrefix(x, fmt.Sprintf("task-%d@", task.ID)) {
			id = x
		}
	}
	require.NotEmpty(t, id)
	assert.Len(t, before[id].Alarms(), 1)
	s.Saved(s.Post(fmt.Sprintf("/tasks/%d/move", task.ID), url.Values{"version": {webtest.ID(task.Version)}, "to": {"2027-12-01"}}))
	after := events(t, s.Get("/export/tasks.ics").Body.String())
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
	all := s.Get("/export/tasks.ics").Body.String()
	assert.Contains(t, strings.ReplaceAll(all, "\r\n ", ""), "Lower ledge: 12 level scoops (1.2 kg) of oven ash\\, autumn batch")
	assert.Regexp(t, `The rest of the dose\\, about \d+ level scoops \([\d.]+ kg\) of oven ash\\, autumn batch\\, waits for this test`,
		strings.ReplaceAll(all, "\r\n ", ""))
	ash := s.OpenTasks(s.Bed("Lower ledge").Bed.ID)[0]
	s.Saved(s.Post(fmt.Sprintf("/tasks/%d/put-on", ash.ID), url.Values{"version": {webtest.ID(ash.Version)}, "planned": {"yes"},
		"day": {"2026-11-23"}}))
	done := events(t, s.Get("/export/tasks.ics").Body.String())
	for x, e := range done {
		if strings.HasPrefix(x, fmt.Sprintf("task-%d@", ash.ID)) {
			assert.Contains(t, property(e, ics.ComponentPropertySummary), "Done: Lower ledge")
			assert.Equal(t, "20261123", property(e, ics.ComponentPropertyDtStart), "on the day on which it went on")
			assert.Empty(t, e.Alarms(), "what is done reminds of nothing")
		}
	}
}

func TestDiarySecret(t *testing.T) {
	s := webtest.New(t, true, func(c *site.Config) { c.SignIn = true })
	open := webtest.New(t, true)
	assert.Equal(t, http.StatusNotFound, open.Get("/diary/.ics").Code, "none was made")
	address := func() string {
		return webtest.Grep(open.Get("/keep").Body.String(), `value="http://localhost(/diary/[^"]+\.ics)"`)
	}
	open.Post("/diary/address", url.Values{})
	first := address()
	assert.Greater(t, len(first), 40)
	w := open.Get(first)
	assert.Equal(t, http.StatusOK, w.Code)
	assert.NotEmpty(t, events(t, w.Body.String()))
	open.Post("/diary/address", url.Values{})
	assert.NotEqual(t, first, address())
	assert.Equal(t, http.StatusNotFound, open.Get(first).Code, "the old one is shut")
	assert.NotContains(t, open.Get("/export/garden.json").Body.String(), address()[7:20], "no archive tells it")
	open.Post("/diary/address", url.Values{"end": {"yes"}})
	assert.NotContains(t, open.Get("/keep").Body.String(), "/diary/"+first[7:12])
	// Where pages want a passphrase, the diary wants its secret only, and nothing else opens by it.
	require.NoError(t, s.Store.SetDiarySecret(t.Context(), "0123456789abcdef0123456789abcdef"))
	assert.Equal(t, http.StatusOK, s.Get("/diary/0123456789abcdef0123456789abcdef.ics").Code)
	assert.Equal(t, http.StatusNotFound, s.Get("/diary/0123456789abcdef0123456789abcdee.ics").Code)
	assert.Equal(t, http.StatusSeeOther, s.Get("/export/tasks.ics").Code)
}

func TestFirstArchiveVersionIsRead(t *testing.T) {
	old := `{"format":"zephyrfield-archive","edition":1,
"garden":[{"id":1,"version":1,"name":"Old","climate":"maritime","hemisphere":"north",
"soil_table":"cool","buffering":"table","ash_school":"equivalence","act_school":"below-band","soil_temp_c":null,"started":""}],
"beds":[{"id":1,"version":1,"name":"A","kind":"bed","shape":"rect",
"x_m":0,"y_m":0,"w_m":4,"h_m":1,"rings":0,"turn_deg":0,"corners_m":null,"texture":"loam","depth_m":0.15,"worked":"dug",
"organic_matter_pct":null,"clay_pct":null,"cec":null,"free_lime":"unknown","note":"","retired":""}],
"plantings":[],"batches":[],"readings":[],"plans":[],"tasks":[],"applications":[],"journal":[]}`
	s := webtest.New(t, false)
	_, err := s.Store.Restore(context.Background(), garden.Change{}, func(put func(garden.Record) error) error {
		return exchange.ReadArchive(strings.NewReader(old), put)
	})
	require.NoError(t, err)
	assert.Contains(t, s.Get("/").Body.String(), "4 m²")
}

func TestPutBack(t *testing.T) {
	s := webtest.New(t, true)
	_, err := s.Store.DailyCopy(context.Background(), quantity.Date(2026, 11, 23))
	require.NoError(t, err)
	form := url.Values{"version": {"1"}, "key": {"gone"}}
	marks := s.Get("/marks").Body.String()
	s.Saved(s.Post(webtest.Grep(marks, `action="(/marks/\d+/drop)"`), form))
	require.NotEqual(t, strings.Count(marks, "/drop"), strings.Count(s.Get("/marks").Body.String(), "/drop"))
	page := s.Get("/keep").Body.String()
	assert.Contains(t, page, "23 Nov 2026")
	w := s.Post("/keep/put-back", url.Values{"copy": {"2026-11-23.db"}, "key": {"put"}})
	s.Saved(w)
	page = s.Get(w.Header().Get("Location")).Body.String()
	assert.Contains(t, page, "Restored the copy 2026-11-23")
	assert.Contains(t, page, "as it was before another was restored")
	assert.Equal(t, strings.Count(marks, "/drop"), strings.Count(s.Get("/marks").Body.String(), "/drop"))
	assert.Equal(t, http.StatusNotFound, s.Post("/keep/put-back", url.Values{"copy": {"../garden.db"}, "key": {"bad"}}).Code)
}

func TestArchiveRoundTrip(t *testing.T) {
	out := webtest.New(t, true).Get("/export/garden.json")
	require.Equal(t, http.StatusOK, out.Code)
	s := webtest.New(t, false)
	upload := func(content []byte) *httptest.ResponseRecorder {
		var b bytes.Buffer
		m := multipart.NewWriter(&b)
		part, err := m.CreateFormFile("archive", "garden.json")
		require.NoError(t, err)
		_, err = part.Write(content)
		require.NoError(t, err)
		require.NoError(t, m.Close())
		r := httptest.NewRequest(http.MethodPost, "http://localhost/import", &b)
		r.Header.Set("Content-Type", m.FormDataContentType())
		return s.Do(r)
	}
	assert.Contains(t, upload([]byte("{}")).Body.String(), "not an archive of Zephyr Field")
	require.Equal(t, http.StatusSeeOther, upload(out.Body.Bytes()).Code)
	records := func(archive string) string { before, _, _ := strings.Cut(archive, `"journal": [`); return before }
	assert.Equal(t, records(out.Body.String()), records(s.Get("/export/garden.json").Body.String()))
	assert.Equal(t, http.StatusUnprocessableEntity, upload(out.Body.Bytes()).Code, "not over a garden with beds")
	assert.Contains(t, s.Get("/export/tasks.ics").Body.String(), "BEGIN:VEVENT")
}
