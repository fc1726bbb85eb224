package help_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/dose"
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
	for _, q := range dose.Questions {
		assert.Contains(t, says, text.Question(q.Name))
		for _, id := range q.Habits {
			assert.Contains(t, says, text.Why(id), id)
		}
	}
}
