package sheet

import (
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/year"
)

// chance says when a go's window closes, where that is soon.
func (v *taskView) chance(sh year.Sheet, t garden.Task) {
	last, ok := sh.Last[t.ID]
	switch {
	case !ok:
	case v.Late != "":
		v.Late += ", " + words.LastChance(last)
	default:
		v.Late = words.LastChance(last)
	}
}
