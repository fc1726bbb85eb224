package daysheet

import (
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
)

// chance returns when an application's window closes, where that is soon.
func (v *taskView) chance(sh schedule.Sheet, t garden.Task) {
	last, ok := sh.Last[t.ID]
	switch {
	case !ok:
	case v.Late != "":
		v.Late += ", " + text.LastChance(last)
	default:
		v.Late = text.LastChance(last)
	}
}
