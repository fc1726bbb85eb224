package mix_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/internal/web/webtest"
)

// Where no material was chosen the first stands in the list, and bounds its slider.
func TestSlidersAreBounded(t *testing.T) {
	s := webtest.New(t, true)
	page := s.Page("/beds/2/mix?ash_of=&lime_of=&ash_on=1&lime_on=1")
	for _, id := range []string{"ash_on", "lime_on"} {
		most, _ := webtest.Attr(webtest.ByID(t, page, id), "max")
		assert.NotEmpty(t, most, id)
	}
}
