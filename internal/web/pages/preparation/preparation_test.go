package preparation_test

import (
	"fmt"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"zephyrfield/internal/web/webtest"
)

// What is wrong with a step of one's own is reported at its field, and what was typed stays.
func TestInvalidOwnStep(t *testing.T) {
	s := webtest.New(t, true)
	x := s.Preparation()
	w := s.Get(webtest.PreparationPath(x.BedID))
	require.Equal(t, http.StatusOK, w.Code)
	assert.NotContains(t, w.Body.String(), `aria-invalid`)
	w = s.Post(fmt.Sprintf("/turnings/%d/steps", x.ID), url.Values{"after": {webtest.ID(x.Steps[1].ID)}, "says": {"Lay boards"},
		"wait": {"soon"}})
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	page, err := html.Parse(w.Body)
	require.NoError(t, err)
	of := func(id, name string) string {
		value, _ := webtest.Attr(webtest.ByID(t, page, id), name)
		return value
	}
	assert.Equal(t, "soon", of("wait", "value"))
	assert.Equal(t, "true", of("wait", "aria-invalid"))
	assert.NotEmpty(t, webtest.Wording(webtest.ByID(t, page, of("wait", "aria-describedby"))))
	assert.Equal(t, "Lay boards", of("says", "value"))
}

// What keeps ash off a bed is no fault of the figures: no field is marked, and none takes the focus.
func TestNoPlantingIsNoFault(t *testing.T) {
	s := webtest.New(t, true)
	page := s.Page(fmt.Sprintf("/beds/%d/side", s.Bed("Middle ledge").Bed.ID))
	assert.Contains(t, webtest.Wording(webtest.ByID(t, page, "side-answer")), "Nothing stands there")
	for _, id := range []string{"plants", "across", "ash"} {
		_, bad := webtest.Attr(webtest.ByID(t, page, id), "aria-invalid")
		assert.False(t, bad, id)
	}
}
