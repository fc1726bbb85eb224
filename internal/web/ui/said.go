package ui

import (
	"html/template"
	"slices"

	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/web/ink"
)

// mostOpen is how many notices stand open at once; the rest are folded.
const mostOpen = 2

// Guards writes what is to be minded, the gravest first, each with what would lift it: two of them open, the rest folded.
func Guards(list []words.Guarded) template.HTML {
	list = slices.Clone(list)
	slices.SortStableFunc(list, func(a, b words.Guarded) int { return gravity(a.Level) - gravity(b.Level) })
	var k ink.Ink
	for i := range list {
		g := &list[i]
		if i == mostOpen {
			k.Put(`<details class="more-notes"><summary>%</summary>`, words.Count(len(list)-mostOpen, "more note", "more notes"))
		}
		k.Put(`<div class="guard %"><p>%</p>`, string(g.Level), g.Says)
		if g.Lifts != "" {
			k.Put(`<p class="lifts">What would lift it: %</p>`, g.Lifts)
		}
		k.Put("</div>\n")
	}
	if len(list) > mostOpen {
		k.Put("</details>\n")
	}
	return k.HTML()
}

// gravity orders levels, the gravest first.
func gravity(l guard.Level) int {
	return slices.Index([]guard.Level{guard.Stop, guard.Caution, guard.Note}, l)
}

// Steps writes the lines of a working, each with the sum behind it and where it comes from.
func Steps(list []words.Line) template.HTML {
	var k ink.Ink
	for i := range list {
		l := &list[i]
		k.Put(`<details class="step"><summary><span>%</span> <b>%</b><small>%</small></summary>`+
			"<p>Source: %.</p></details>\n", words.Capital(l.Label), l.Value, l.How, l.Source)
	}
	return k.HTML()
}
