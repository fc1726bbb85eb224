package server_test

import (
	"fmt"
	"net/http"
	"net/http/httptest"
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
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/site"
)

func (s *harness) queued(path string, form url.Values) *httptest.ResponseRecorder {
	s.t.Helper()
	r := httptest.NewRequest(http.MethodPost, "http://localhost"+path, strings.NewReader(form.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	r.Header.Set("X-Queued", "1")
	return s.do(r)
}

func TestATickThatWaitedIsTakenOnceAndOnItsDay(t *testing.T) {
	s := newSite(t, true)
	bed := s.bed("Lower ledge").Bed.ID
	g := s.openTasks(bed)[0]
	day := s.today - 2
	form := url.Values{"key": {"kept-here"}, "version": {strconv.FormatInt(g.Version, 10)}, "planned": {"yes"}, "day": {day.String()}}
	path := fmt.Sprintf("/tasks/%d/put-on", g.ID)
	before := len(s.record(bed).Applications)
	for range 2 {
		w := s.queued(path, form)
		require.Equal(t, http.StatusNoContent, w.Code)
		assert.Contains(t, w.Header().Get("X-Done"), "/sheet?said=")
	}
	all := s.record(bed).Applications
	require.Len(t, all, before+1, "sent twice, put on once")
	assert.Equal(t, day, all[len(all)-1].Date, "the day on which it was ticked")
	// The next one from the queue would be too soon.
	next := s.openTasks(bed)[0]
	form = url.Values{"key": {"kept-too"}, "version": {strconv.FormatInt(next.Version, 10)}, "planned": {"yes"}, "day": {s.today.String()}}
	w := s.queued(fmt.Sprintf("/tasks/%d/put-on", next.ID), form)
	require.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Len(t, s.record(bed).Applications, before+1)
}

func TestTheSheetCountsBedsAndReadsBackAmounts(t *testing.T) {
	s := newSite(t, true)
	bed := s.bed("Lower ledge").Bed
	for range 2 {
		s.add(&garden.Task{BedID: bed.ID, Kind: garden.TaskRetest, Due: s.today, State: garden.Open, Method: soil.Lab, Depth: 0.15})
	}
	kale := s.bed("Kale and roots").Bed
	s.add(&garden.Task{BedID: kale.ID, Kind: garden.TaskApplication, Due: s.today, What: material.PotassiumSulfate, Rate: 10, Total: 211,
		State: garden.Open, Depth: 0.15})
	page := s.get("/sheet").Body.String()
	assert.Contains(t, page, "2 beds, 7.1 kg", "three goes on two beds")
	for _, g := range s.openTasks(bed.ID) {
		if g.Kind == garden.TaskRetest && g.Due == s.today {
			require.Equal(t, http.StatusSeeOther, s.post(fmt.Sprintf("/tasks/%d/skip", g.ID),
				url.Values{"version": {strconv.FormatInt(g.Version, 10)}, "why": {"Frost."}}).Code)
			break
		}
	}
	g := s.openTasks(bed.ID)[0]
	s.saved(s.post(fmt.Sprintf("/tasks/%d/put-on", g.ID), url.Values{"version": {strconv.FormatInt(g.Version, 10)}, "amount": {"18"},
		"measure": {"scoops"}, "note": {"Calm day."}}))
	page = s.get("/sheet").Body.String()
	assert.Contains(t, page, "18 level scoops (1.8 kg) put on: Calm day.")
	assert.Contains(t, page, "skipped: Frost.")
	assert.Contains(t, s.get(bedPath(bed.ID)).Body.String(),
		"<h1>Lower ledge: 18 level scoops (1.8 kg) of oven ash, autumn batch put on, 24 Nov 2026</h1>")
}

func (s *harness) add(rs ...garden.Record) {
	s.t.Helper()
	_, err := s.store.Change(s.t.Context(), garden.Change{}, func(tx garden.Tx) (string, error) {
		for _, r := range rs {
			if err := tx.Insert(r); err != nil {
				return "", err
			}
		}
		return "added", nil
	})
	require.NoError(s.t, err)
}

func bedPath(id int64) string { return "/beds/" + strconv.FormatInt(id, 10) }

func TestAnOlderDosePagePlansNoOtherMaterial(t *testing.T) {
	s := newSite(t, true)
	id := s.bed("Middle ledge").Bed.ID
	w, err := s.app.Dosing.Dose(t.Context(), id, dosing.Choice{}, s.today)
	require.NoError(t, err)
	key := w.Key(w.Answer.Options[0])
	batch := w.Shelf[w.Answer.Options[0].Parts[0].Batch]
	kind := w.Answer.Options[0].Parts[0].Kind
	require.NotNil(t, batch)
	// The shelf changes after the page was made: another batch takes the first place.
	b := garden.Batch{Name: "Another lime", Kind: material.DolomiticLime, Condition: material.Dry, Source: material.Clean}
	s.add(&b)
	old, err := s.app.Dosing.Dose(t.Context(), id, dosing.Choice{}, s.today)
	require.NoError(t, err)
	require.Greater(t, len(old.Request.Materials), 1)
	s.saved(s.post(bedPath(id)+"/plan", s.planForm(id, "use", key)))
	g := s.openTasks(id)[0]
	assert.Equal(t, kind, g.What)
	assert.Equal(t, batch.ID, *g.BatchID)
	assert.Equal(t, http.StatusConflict, s.post(bedPath(id)+"/plan", s.planForm(id, "key", "other", "use", "0")).Code,
		"a place in a list names nothing")
	assert.Equal(t, http.StatusConflict, s.post(bedPath(id)+"/plan",
		s.planForm(id, "key", "third", "use", "b"+strconv.FormatInt(batch.ID+99, 10))).Code)
}

func TestTwoJarsAreToldAsNoFigure(t *testing.T) {
	s := newSite(t, true)
	bed := s.bed("New ground").Bed.ID
	s.add(&garden.Reading{BedID: bed, Date: s.today - 3, Method: soil.Fizz, Basis: soil.Water, Vinegar: soil.LimeNone,
		Soda: soil.LimeClear, Cores: 1, Depth: 0.15})
	page := s.get("/?bed=" + strconv.FormatInt(bed, 10)).Body.String()
	assert.Contains(t, page, "New ground, sour by two jars, no figure")
	assert.Contains(t, page, "Two jars say")
	assert.Contains(t, page, "Nothing is dosed on it.")
}

func TestABedWithLimeAtWorkIsNotCalledSourWithoutIt(t *testing.T) {
	s := newSite(t, true)
	bed := s.bed("Kale and roots").Bed.ID
	g := s.openTasks(bed)[0]
	s.saved(s.post(fmt.Sprintf("/tasks/%d/put-on", g.ID), url.Values{"version": {strconv.FormatInt(g.Version, 10)}, "planned": {"yes"}}))
	for range 9 {
		s.post("/demo/day", url.Values{"by": {"week"}, "back": {"/"}})
	}
	page := s.get("/?bed=" + strconv.FormatInt(bed, 10)).Body.String()
	assert.Regexp(t, `lime at work, about 6\.\d now`, page)
	assert.Contains(t, page, "(1 treated)")
	assert.Regexp(t, `Lime at work, about 6\.\d now`, s.get(bedPath(bed)+"/dose").Body.String())
}

// A go whose window closes within a fortnight says so; one that missed it stands on Ground and on the sheet, with where it went, until
// that was seen.
func TestALastChanceIsToldAndWhatMissedItIsSeen(t *testing.T) {
	var clock *site.DemoClock
	s := newSite(t, true, func(c *site.Config) {
		clock = site.NewDemoClock(quantity.Date(2027, 7, 20))
		c.Clock, c.Demo = clock, clock
	})
	onwards := func(days quantity.Day) {
		_, err := clock.MoveOn(days)
		require.NoError(t, err)
		s.today = clock.Today()
	}
	s.today = clock.Today()
	b := s.bed("New ground").Bed
	s.add(&garden.Task{BedID: b.ID, Kind: garden.TaskApplication, Due: quantity.Date(2027, 7, 20), What: material.SulfurPowder, Rate: 30,
		Total: 180,
		State: garden.Open, Depth: 0.15})
	told := regexp.MustCompile(`last chance \d+ Aug`)
	seen := false
	for s.today < quantity.Date(2027, 8, 31) && !seen {
		seen = told.MatchString(s.get("/sheet").Body.String())
		onwards(7)
	}
	require.True(t, seen)
	onwards(quantity.Date(2027, 10, 10) - s.today)
	missed := regexp.MustCompile(`on New ground missed its window\. The next day is \d+ \w+ 2028`)
	assert.Regexp(t, missed, s.get("/").Body.String())
	page := s.get("/sheet").Body.String()
	require.Regexp(t, missed, page)
	at := strings.Index(page, "on New ground missed its window")
	form := formAt(page, at)
	var id int64
	_, err := fmt.Sscanf(regexp.MustCompile(`/tasks/\d+/move`).FindString(page[at:]), "/tasks/%d/move", &id)
	require.NoError(t, err)
	s.saved(s.post(fmt.Sprintf("/tasks/%d/move", id), form))
	assert.NotRegexp(t, missed, s.get("/").Body.String())
	assert.NotRegexp(t, missed, s.get("/sheet").Body.String())
}
