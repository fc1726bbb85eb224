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
