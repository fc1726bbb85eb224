package daysheet

import (
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
)

// chance sets when an application's window closes, if that is soon.
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
