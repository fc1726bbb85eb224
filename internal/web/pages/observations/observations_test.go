package observations_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/internal/web/webtest"
)

// Seen so far on one bed is not told of another, in whatever order their records are opened.
func TestObservationsOfBed(t *testing.T) {
	s := webtest.New(t, true)
	seen := func(name string) string {
		return webtest.Wording(webtest.ByID(t, s.Page(webtest.BedPath(s.Bed(name).Bed.ID)), "seen").Parent)
	}
	assert.Contains(t, seen("Plum row"), "Pale all over")
	assert.NotContains(t, seen("Middle ledge"), "Pale all over")
	assert.Contains(t, seen("Plum row"), "Pale all over")
}
