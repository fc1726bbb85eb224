package view

import (
	"slices"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/text"
)

// Notices are what is to be minded, the gravest first: a few stand open, the rest are counted and folded.
type Notices struct {
	Open, Folded []text.Guarded
	// More counts those that are folded.
	More string
}

// mostOpen is how many notices stand open at once.
const mostOpen = 2

// NoticesOf puts the gravest first.
func NoticesOf(list []text.Guarded) Notices {
	list = slices.Clone(list)
	slices.SortStableFunc(list, func(a, b text.Guarded) int { return gravity(a.Level) - gravity(b.Level) })
	if len(list) <= mostOpen {
		return Notices{Open: list}
	}
	return Notices{list[:mostOpen], list[mostOpen:], text.Count(len(list)-mostOpen, "more note", "more notes")}
}

// gravity orders levels, the gravest first.
func gravity(l guard.Level) int {
	return slices.Index([]guard.Level{guard.Stop, guard.Caution, guard.Note}, l)
}
