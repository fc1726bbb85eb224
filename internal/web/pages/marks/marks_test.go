package marks_test

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/webtest"
)

func TestMarks(t *testing.T) {
	s := webtest.New(t, true)
	plan := s.Get("/").Body.String()
	assert.Contains(t, plan, `class="mark path"`)
	assert.Contains(t, plan, `class="mark wall"`)
	bad := s.Post("/marks", url.Values{"kind": {"path"}, "width": {"wide"}, "corners": {"1 1"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Code)
	assert.Contains(t, bad.Body.String(), "“wide” is not a number.")
	assert.Equal(t, "1 1", webtest.Filled(bad.Body.String()).Get("corners"))
	bad = s.Post("/marks", url.Values{"kind": {"path"}, "width": {"1"}, "corners": {"1 1"}})
	assert.Contains(t, bad.Body.String(), "A line needs two points or more.")
	s.Saved(s.Post("/marks", url.Values{"kind": {"wall"}, "name": {"Hedge"}, "width": {"0.4"}, "corners": {"1 16\n9 16"}}))
	v, err := s.App.BedState.View(context.Background(), s.Today)
	require.NoError(t, err)
	m := v.Marks[len(v.Marks)-1]
	path := fmt.Sprintf("/marks/%d", m.ID)
	form := webtest.Filled(s.Get(path + "/edit").Body.String())
	assert.Equal(t, "1 16\n9 16", form.Get("corners"))
	form.Set("corners", "1 16\n9 17")
	s.Saved(s.Post(path, form))
	form.Set("key", "another window")
	assert.Equal(t, http.StatusConflict, s.Post(path, form).Code, "a stale window is told")
	s.Saved(s.Post(path+"/drop", url.Values{"version": {"2"}}))
	assert.Equal(t, http.StatusNotFound, s.Get(path+"/edit").Code)
}
