package record_test

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/webtest"
)

func TestLogApplication(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("New ground").Bed
	path := fmt.Sprintf("/beds/%d", b.ID)
	bad := s.Post(path+"/applications", url.Values{"what": {"calcitic-lime"}, "put_date": {"2031-01-01"}, "put_amount": {"2"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "That day is still to come.")
	assert.Contains(t, bad.Body.String(), `value="2031-01-01"`)
	long := url.Values{"what": {"calcitic-lime"}, "put_date": {"2019-03-01"}, "put_amount": {"2"}, "put_note": {"By the last tenant."}}
	asked := s.Post(path+"/applications", long)
	require.Equal(t, http.StatusUnprocessableEntity, asked.Code)
	assert.Contains(t, asked.Body.String(), "That is 7 years ago. Sure?")
	long.Set("sure", webtest.Hidden(asked.Body.String(), "sure"))
	s.Saved(s.Post(path+"/applications", long))
	long.Set("put_date", "2018-03-01")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post(path+"/applications", long).Code, "another day is another question")
	a := s.Record(b.ID).Applications[0]
	assert.InDelta(t, 2000, float64(a.Total), 1e-9)
	assert.Contains(t, s.Get(path).Body.String(), "By the last tenant.")
}

func TestRecordOffersActions(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("Middle ledge").Bed
	path := webtest.BedPath(b.ID)
	s.Post(path+"/plan", s.PlanForm(b.ID))
	now := s.Page(path)
	assert.Len(t, webtest.Forms(now)[path+"/retire"], 1)
	moves := func(n *html.Node) (out int) {
		for x := range n.Descendants() {
			if to, _ := webtest.Attr(x, "href"); strings.HasPrefix(to, "/tasks/") {
				out++
			}
		}
		return out
	}
	assert.NotZero(t, moves(now), "a go can be put on another day")
	assert.Zero(t, moves(s.Page(path+"?on=2026-11-30")), "but not from another day")

	// What was taken back says so and is not taken back twice; what was done since can be.
	line := s.LastLine()
	s.Post("/undo/"+strconv.FormatInt(line.ID, 10), url.Values{})
	journal := webtest.ByID(t, s.Page("/keep"), "journal").Parent
	assert.Contains(t, webtest.Wording(journal), "undone")
	assert.Empty(t, webtest.Forms(journal)["/undo/"+strconv.FormatInt(line.ID, 10)])

	w := s.Post(path+"/retire", url.Values{"version": {strconv.FormatInt(s.Bed("Middle ledge").Bed.Version, 10)}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.Empty(t, webtest.Forms(s.Page(path))[path+"/retire"], "it is off the plan already")
}

func TestHeldApplications(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("Lower ledge").Bed.ID
	require.NotEmpty(t, s.OpenTasks(b))
	assert.Contains(t, s.Get("/export/tasks.ics").Body.String(), "Lower ledge: ")
	all := s.Record(b).Readings
	last := all[len(all)-1]
	s.Saved(s.Post(fmt.Sprintf("/readings/%d/strike", last.ID), url.Values{"version": {fmt.Sprint(last.Version)}, "back": {"/"}}))
	sheet := s.Get("/sheet").Body.String()
	assert.Contains(t, sheet, "Held back: the reading that it rests on was deleted on 24 Nov 2026.")
	assert.Contains(t, sheet, fmt.Sprintf(`href="/beds/%d/dose"`, b))
	for _, task := range s.OpenTasks(b) {
		assert.NotContains(t, sheet, fmt.Sprintf("/tasks/%d/put-on", task.ID))
		if task.Kind == garden.TaskApplication {
			assert.Equal(t, http.StatusUnprocessableEntity, s.Post(fmt.Sprintf("/tasks/%d/put-on", task.ID),
				url.Values{"planned": {"yes"}, "version": {fmt.Sprint(task.Version)}}).Code)
		}
	}
	diary := s.Get("/export/tasks.ics").Body.String()
	assert.NotContains(t, diary, "SUMMARY:Lower ledge: ")
	assert.Contains(t, diary, "SUMMARY:Held back: Lower ledge: ")
	assert.Contains(t, s.Get(fmt.Sprintf("/?bed=%d", b)).Body.String(), "is held back. Open the dose and plan it anew.")
	assert.Contains(t, s.Get(fmt.Sprintf("/beds/%d", b)).Body.String(), "held back: its reading was deleted")
}

// A done task is told by what was put on, in the record as on the day sheet.
func TestDoneTaskTellsWhatWasPutOn(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("Lower ledge").Bed.ID
	open := s.OpenTasks(b)
	i := slices.IndexFunc(open, func(t garden.Task) bool { return t.Kind == garden.TaskApplication && t.Due <= s.Today })
	require.GreaterOrEqual(t, i, 0)
	task := open[i]
	s.Saved(s.Post(fmt.Sprintf("/tasks/%d/put-on", task.ID), url.Values{"version": {fmt.Sprint(task.Version)}, "amount": {"7"},
		"measure": {present.InScoops}, "on": {s.Today.String()}, "key": {"less"}}))
	assert.Contains(t, webtest.Wording(s.Page(fmt.Sprintf("/beds/%d", b))), "7 level scoops (700 g) of oven ash, autumn batch; "+
		"planned was 12 level scoops (1.2 kg) of oven ash, autumn batch, and the rest was left out done 24 Nov 2026")
	assert.Contains(t, webtest.Wording(s.Page("/sheet")), "7 level scoops (700 g) put on")
}

func TestReadingIsCorrectedAndStruck(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("Middle ledge").Bed.ID
	last := s.Record(b).Readings[8]
	path := fmt.Sprintf("/readings/%d", last.ID)
	page := s.Get(fmt.Sprintf("/bench?reading=%d", last.ID)).Body.String()
	assert.Contains(t, page, "Correct a reading")
	form := webtest.Filled(page[strings.Index(page, `id="reading-form"`):])
	assert.Equal(t, "5.7", form.Get("ph"))
	form.Set("ph", "5.3")
	s.Saved(s.Post(path, form))
	rec := s.Record(b)
	assert.InDelta(t, 5.3, float64(*rec.Readings[8].PH), 1e-9)
	require.Len(t, rec.Struck, 1)
	assert.Contains(t, s.Get(fmt.Sprintf("/beds/%d", b)).Body.String(), "Deleted 24 Nov 2026. Corrected on 24 Nov 2026.")
	form.Set("key", "stale")
	assert.Equal(t, http.StatusConflict, s.Post(path, form).Code)
	now := rec.Readings[8]
	s.Saved(s.Post(fmt.Sprintf("/readings/%d/strike", now.ID), url.Values{"version": {fmt.Sprint(now.Version)}, "why": {"Wrong bed."},
		"back": {"/"}}))
	assert.Len(t, s.Record(b).Readings, 8)
	wrong := func(layer2 string) *httptest.ResponseRecorder {
		return s.Post("/readings", url.Values{"bed": {fmt.Sprint(b)}, "method": {"lab"}, "basis": {"water"}, "date": {"2026-11-24"},
			"ph": {"6"}, "cores": {"10"}, "depth": {"15"}, "layer1_to": {"5"}, "layer1_ph": {"6.8"}, "layer2_to": {layer2},
			"layer2_ph": {"5.6"}, "buffer_ph": {"6.5"}})
	}
	assert.Contains(t, wrong("5").Body.String(), "Layer 2: it must be deeper than the one above.")
	bad := wrong("4")
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "Layer 2: it must be deeper than the one above.")
	assert.Contains(t, bad.Body.String(), `name="layer2_to" autocomplete="off" inputmode="decimal" `+
		`aria-label="Layer 2 goes down to, cm" value="4"`)
}
