package view

import (
	"slices"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/text"
)

// Notices are a page's notices, gravest first: a few are open, the rest are counted and folded.
type Notices struct {
	Open, Folded []text.Guarded
	// More is the count of the folded ones in words.
	More string
}

// mostOpen is the number of open notices.
const mostOpen = 2

// NoticesOf sorts notices, gravest first.
func NoticesOf(list []text.Guarded) Notices {
	list = slices.Clone(list)
	slices.SortStableFunc(list, func(a, b text.Guarded) int { return gravity(a.Level) - gravity(b.Level) })
	if len(list) <= mostOpen {
		return Notices{Open: list}
	}
	return Notices{list[:mostOpen], list[mostOpen:], text.Count(len(list)-mostOpen, "more note", "more notes")}
}

// gravity is the sort key of levels, gravest first.
func gravity(l guard.Level) int {
	return slices.Index([]guard.Level{guard.Stop, guard.Caution, guard.Note}, l)
}
