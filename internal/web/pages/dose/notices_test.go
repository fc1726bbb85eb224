package dose_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/internal/web/webtest"
)

// At most two notices are open; the need and what else is to be known are folded and counted.
func TestAtMostTwoNoticesAreOpen(t *testing.T) {
	s := webtest.New(t, true)
	notes := 0
	for id := int64(1); id <= 12; id++ {
		page := s.Get(webtest.BedPath(id) + "/dose").Body.String()
		_, answer, _ := strings.Cut(page, `id="answer"`)
		answer, _, _ = strings.Cut(answer, `id="ways"`)
		open, _, _ := strings.Cut(answer, "<details")
		_, folded, _ := strings.Cut(answer, `class="more-notes`)
		assert.LessOrEqual(t, strings.Count(open, `class="guard`), 2, "bed %d", id)
		if folded != "" {
			notes++
			assert.Regexp(t, `\d+ more notes?</summary>`, folded, "bed %d", id)
		}
	}
	assert.Positive(t, notes)
	assert.Contains(t, webtest.Wording(webtest.ByID(t, s.Page("/beds/2/dose"), "need")), "Recommended: ")
}

// Where a dose is planned already, the main button leads to the plan, and the other says what it will do.
func TestPlannedDoseLeadsToPlan(t *testing.T) {
	s := webtest.New(t, true)
	page := s.Page("/beds/8/dose")
	href, _ := webtest.Attr(webtest.ByID(t, page, "see-plan"), "href")
	assert.Equal(t, "/beds/8#tasks", href)
	assert.Equal(t, "Planned: 5.7 kg of ground limestone.", webtest.Wording(webtest.ByID(t, page, "planned")))
	assert.Regexp(t, `^Replace it: plan for 24 Nov and \d+ Jan 2027$`, webtest.Wording(webtest.ByID(t, page, "put")))
	assert.NotContains(t, s.Get("/beds/2/dose").Body.String(), `id="see-plan"`)
}
