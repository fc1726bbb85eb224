package text_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/text"
	"zephyrfield/agronomy/working"
)

// What ends a guard is said by what it is: a refusal has a way out, a warning is removed.
func TestWayOut(t *testing.T) {
	for want, g := range map[string]text.Guarded{
		"The way out: use lime, or another crop.": {Level: guard.Stop, Lifts: "Use lime, or another crop."},
		"To remove this warning: a lab test.":     {Level: guard.Caution, Lifts: "A lab test."},
		"To change this: rain water.":             {Level: guard.Note, Lifts: "Rain water."},
		"":                                        {Level: guard.Stop},
	} {
		assert.Equal(t, want, g.WayOut())
	}
}

// The far end of the likely pH is told only where it lies beyond the limit that is told.
func TestOvershootTellsFurtherEnd(t *testing.T) {
	says := func(id string, p95 float64) string {
		return text.Guard(guard.Finding{ID: id, Level: guard.Caution, With: working.Values{working.Num("chance", working.None, 20.0),
			working.Num("high", working.PH, 6.8), working.Num("low", working.PH, 6.2), working.Num("past", working.PH, 0.2),
			working.Num("p95", working.PH, p95)}}).Says
	}
	assert.Equal(t, "20 in 100 would end at 7.0 or more, 0.2 past the range, some at 7.4.", says("overshoot", 7.4))
	assert.Equal(t, "20 in 100 would end at 7.0 or more, 0.2 past the range.", says("overshoot", 6.9))
	assert.Equal(t, "20 in 100 would end at 6.0 or less, 0.2 under the range, some at 5.6.", says("undershoot", 5.6))
	assert.Equal(t, "20 in 100 would end at 6.0 or less, 0.2 under the range.", says("undershoot", 6.1))
}
