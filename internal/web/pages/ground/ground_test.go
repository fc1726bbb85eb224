package ground_test

import (
	"fmt"
	"net/url"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/webtest"
)

func TestOtherDays(t *testing.T) {
	s := webtest.New(t, true)
	past := webtest.Wording(s.Page("/?bed=7&on=2024-11-10"))
	assert.Contains(t, past, "Shown as of 10 Nov 2024")
	assert.Contains(t, past, "too sweet by 0.2")
	assert.NotContains(t, past, "12 Nov 2026", "nothing from after that day")
	ahead := s.Get("/?bed=3&on=2027-03-01").Body.String()
	assert.Contains(t, ahead, "Should read ")
	assert.Contains(t, ahead, "in range")
	for _, d := range []string{"2026-11-24", "soon", "", "2026-02-30"} {
		assert.NotContains(t, s.Get("/?on="+d).Body.String(), "Shown as of", d)
	}
	assert.Contains(t, webtest.Wording(s.Page("/?on=1999-01-01")), "Shown as of 24 Nov 2022", "four years back at most")
}

func TestReactingLimeIsMentioned(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Kale and roots").Bed.ID
	g := s.OpenTasks(bed)[0]
	s.Saved(s.Post(fmt.Sprintf("/tasks/%d/put-on", g.ID), url.Values{"version": {strconv.FormatInt(g.Version, 10)}, "planned": {"yes"}}))
	for range 9 {
		s.Post("/demo/day", url.Values{"by": {"week"}, "back": {"/"}})
	}
	page := s.Get("/?bed=" + strconv.FormatInt(bed, 10)).Body.String()
	assert.Regexp(t, `lime at work, about 6\.\d now`, page)
	assert.Contains(t, page, "(1 treated)")
	assert.Regexp(t, `Lime at work, about 6\.\d now`, s.Get(webtest.BedPath(bed)+"/dose").Body.String())
}

func TestConflictsAreNamed(t *testing.T) {
	s := webtest.New(t, true)
	b := s.Bed("New ground").Bed
	s.Saved(s.Post(fmt.Sprintf("/beds/%d/plantings", b.ID), url.Values{"crop": {"blueberry"}, "sown": {"2027-05-10"}, "together": {"yes"}}))
	body := s.Get(fmt.Sprintf("/?bed=%d", b.ID)).Body.String()
	assert.Contains(t, body, "1 clash of crops")
	assert.Contains(t, body, "New ground, untested; general vegetables and blueberry need different soil")
	assert.Contains(t, body, "General vegetables and blueberry need different soil: 6.0 to 7.0 and 4.5 to 5.2.")
	assert.Contains(t, body, "untested, general vegetables and blueberry clash", "in the table too")
}

func TestRemindersComeFirst(t *testing.T) {
	s := webtest.New(t, true)
	page := s.Get("/").Body.String()
	assert.Contains(t, page, "Due today: ash on Lower ledge.")
	assert.Contains(t, page, "Late since 21 Nov: lime on Kale and roots.")
	assert.NotContains(t, s.Get("/?on=2026-11-01").Body.String(), "Due today", "on another day it is for reading")
	kale := s.Bed("Kale and roots").Bed.ID
	// A go that no day serves says why: more lime than a year may have.
	// A newer reading of a bed goes before what was planned by an older one.
	ph := quantity.PH(6.6)
	lower := s.Bed("Lower ledge").Bed.ID
	newer := &garden.Reading{BedID: lower, Date: s.Today, Method: soil.Lab, Basis: soil.Water, PH: &ph, Cores: 12, Depth: 0.15}
	s.Add(newer)
	page = s.Get("/").Body.String()
	assert.NotContains(t, page, "Due today: ash on Lower ledge")
	assert.Contains(t, page, "Ash on Lower ledge was planned before it read 6.6 on 24 Nov: see what the dose is now.")
	s.Saved(s.Post(fmt.Sprintf("/readings/%d/strike", newer.ID), url.Values{"version": {"1"}, "back": {"/"}}))
	s.Add(&garden.Task{BedID: kale, Kind: garden.TaskApplication, Due: s.Today, What: material.CalciticLime, Rate: 1500, Total: 30_000,
		State: garden.Open, Depth: 0.15})
	page = s.Get("/").Body.String()
	assert.Contains(t, page,
		"Lime on Kale and roots: no day within a year is suitable: the year’s cap is reached; 500 g/m² of it would fit.")
	last := s.Record(s.Bed("Lower ledge").Bed.ID).Readings
	x := last[len(last)-1]
	s.Saved(s.Post(fmt.Sprintf("/readings/%d/strike", x.ID), url.Values{"version": {fmt.Sprint(x.Version)}, "back": {"/"}}))
	assert.Contains(t, s.Get("/").Body.String(), "Ash on Lower ledge is held back: its reading was deleted on 24 Nov.")
}

// What a test should read is foretold anew: half of the dose on, and other lime planned before the test, move it.
func TestTestIsForetoldAnew(t *testing.T) {
	s := webtest.New(t, true)
	bed := s.Bed("Kale and roots").Bed.ID
	foretold := func() (shown, line string) {
		season, err := s.App.Outlook.Bed(t.Context(), bed, s.Today)
		require.NoError(t, err)
		for _, task := range season.Record.Tasks {
			if task.State == garden.Open && task.Kind == garden.TaskRetest {
				line = "about " + text.PH(quantity.PH(forecast.On(season.Run.PH, task.Due).Median))
			}
		}
		for _, p := range webtest.Pieces(s.Page(fmt.Sprintf("/?bed=%d", bed)), "task-row") {
			if strings.Contains(p.Says, "Test") {
				shown = p.Says[strings.LastIndex(p.Says, "about "):]
			}
		}
		return shown, line
	}
	before, want := foretold()
	assert.Equal(t, want, before)
	g := s.OpenTasks(bed)[0]
	s.Saved(s.Post(fmt.Sprintf("/tasks/%d/put-on", g.ID), url.Values{"version": {strconv.FormatInt(g.Version, 10)},
		"amount": {strconv.FormatFloat(float64(g.Total)/2000, 'f', 3, 64)}}))
	half, want := foretold()
	assert.Equal(t, want, half)
	assert.NotEqual(t, before, half)
	s.Add(&garden.Task{BedID: bed, Kind: garden.TaskApplication, What: material.CalciticLime, Rate: 300, Total: 6300, Due: s.Today + 60,
		State: garden.Open, Depth: 0.15})
	more, want := foretold()
	assert.Equal(t, want, more)
	assert.NotEqual(t, half, more)
}

// What was done on a bed that is off the plan by now stands in the year with its name.
func TestYearNamesRetiredBed(t *testing.T) {
	s := webtest.New(t, true)
	plum := s.Bed("Plum row").Bed
	plum.Retired = s.Today
	s.Change(func(tx garden.Tx) error { return tx.Update(&plum) })
	page := webtest.Wording(s.Page("/"))
	assert.Contains(t, page, "Fresh manure on Plum row (done)")
}
