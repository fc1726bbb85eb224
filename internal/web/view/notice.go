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
func NoticesOf(list []text.Guarded) Notices { return NoticesBeside(list, 0, 0) }

// NoticesBeside sorts notices, gravest first, on a page on which others are open already, and which
// folds more notes of its own with them.
func NoticesBeside(list []text.Guarded, open, notes int) Notices {
	list = slices.Clone(list)
	slices.SortStableFunc(list, func(a, b text.Guarded) int { return gravity(a.Level) - gravity(b.Level) })
	n := min(len(list), max(0, mostOpen-open))
	v := Notices{Open: list[:n], Folded: list[n:]}
	if notes += len(v.Folded); notes > 0 {
		v.More = text.Count(notes, "more note", "more notes")
	}
	return v
}

// gravity is the sort key of levels, gravest first.
func gravity(l guard.Level) int {
	return slices.Index([]guard.Level{guard.Stop, guard.Caution, guard.Note}, l)
}
