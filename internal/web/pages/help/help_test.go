package help_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/web/webtest"
)

// Help explains every term, and every method that a garden can have as its default.
func TestHelpIsComplete(t *testing.T) {
	page := webtest.New(t, true).Page("/help")
	says := webtest.Wording(page)
	for _, x := range text.House {
		assert.Contains(t, webtest.Wording(webtest.ByID(t, page, "word-"+x.ID)), x.Word)
		assert.Contains(t, says, x.Says)
	}
	for _, x := range text.Field {
		assert.Contains(t, webtest.Wording(webtest.ByID(t, page, "term-"+x.ID)), x.Word)
	}
	cells := strings.Join(webtest.Rows(page), "\n")
	for _, m := range soil.Methods {
		if r := (soil.Reading{Method: m.Method, Basis: soil.Water, Cores: 12}); m.SD > 0 {
			assert.Contains(t, cells, text.Capital(text.Name(m.Method))+" | ± "+text.PH2(quantity.PH(r.SD())), "as on a record")
		}
	}
	for _, q := range dose.Questions {
		assert.Contains(t, says, text.Question(q.Name))
		for _, id := range q.Habits {
			assert.Contains(t, says, text.Why(id), id)
		}
	}
}

// Each task leads to a page that there is; a search gives the tasks and terms that hold all of its words, and says when
// there are none.
func TestHelpIsFoundByTask(t *testing.T) {
	s := webtest.New(t, true)
	page := s.Page("/help")
	links := 0
	for _, a := range webtest.Elements(webtest.ByID(t, page, "tasks"), "a") {
		href, _ := webtest.Attr(a.Node, "href")
		path, anchor, _ := strings.Cut(href, "#")
		assert.Less(t, s.Get(path).Code, 400, path)
		if anchor != "" {
			webtest.ByID(t, s.Page(path), anchor)
		}
		links++
	}
	assert.Greater(t, links, 15)
	found := webtest.Wording(s.Page("/help?q=strong+ASH"))
	assert.Contains(t, found, "1 answer for “strong ASH”")
	assert.Contains(t, found, "test how strong my ash is")
	assert.NotContains(t, found, "Words used here")
	assert.Contains(t, webtest.Wording(s.Page("/help?q=buffer")), "What a lab reads after stirring", "terms are found too")
	assert.Contains(t, webtest.Wording(s.Page("/help?q=%3Cb%3Ekettle")), "0 answers for “<b>kettle”")
	webtest.ByID(t, s.Page("/help?q=kettle"), "none")
	assert.Contains(t, webtest.Wording(s.Page("/help?q=vinegar+test")), "test how strong my ash is", "by the answer too")
}
