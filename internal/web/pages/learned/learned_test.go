package learned_test

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/webtest"
)

// The table of promises is that of the lesson, and a reset is shown until it is undone.
func TestPageMatchesLesson(t *testing.T) {
	s := webtest.New(t, true)
	shown := 0
	v, err := s.App.BedState.View(t.Context(), s.Today)
	require.NoError(t, err)
	for i := range v.Beds {
		bed := v.Beds[i].Bed
		lesson := s.Record(bed.ID).Lesson
		if lesson == nil {
			continue
		}
		page := s.Page(site.ShownHref(bed.ID))
		assert.Contains(t, webtest.Wording(webtest.Pieces(page, "says")[0].Node), text.Shown(*lesson.Learned(), lesson.Method))
		cells := map[string]bool{}
		for _, x := range webtest.Pieces(page, "num") {
			cells[x.Says] = true
		}
		for _, k := range lesson.Checks() {
			assert.True(t, cells[text.PH2(k.Promised)] && cells[text.PH2(k.Measured)], "%s %v", bed.Name, k.Date)
			shown++
		}
	}
	assert.Greater(t, shown, 3, "the demo has tested promises")

	b := s.Bed("Kale and roots").Bed
	path := webtest.BedPath(b.ID) + "/learned"
	before := webtest.Wording(webtest.ByID(t, s.Page(path), "based-on"))
	s.Saved(s.Post(path, url.Values{"key": {"reset"}, "version": {webtest.ID(b.Version)}, "from": {"today"}}))
	assert.Equal(t, s.Today, s.Bed(b.Name).Bed.LearnsFrom)
	assert.NotEqual(t, before, webtest.Wording(webtest.ByID(t, s.Page(path), "based-on")))
	s.Saved(s.Post(path, url.Values{"key": {"undo"}, "version": {webtest.ID(b.Version + 1)}, "from": {""}}))
	assert.Equal(t, before, webtest.Wording(webtest.ByID(t, s.Page(path), "based-on")))
}

// A bed without a reading leads to the form of one.
func TestUntestedBedAsksForReading(t *testing.T) {
	s := webtest.New(t, true)
	page := s.Page(site.ShownHref(s.Bed("New ground").Bed.ID))
	assert.Empty(t, webtest.Pieces(page, "course-chart"))
	href, _ := webtest.Attr(webtest.Pieces(page, "button")[0].Node, "href")
	assert.Equal(t, "/bench?bed="+webtest.ID(s.Bed("New ground").Bed.ID), href)
}
