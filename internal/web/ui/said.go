package ui

import (
	"html/template"

	"zephyrfield/agronomy/words"
	"zephyrfield/internal/web/ink"
)

// Guards writes what is to be minded, each with what would lift it.
func Guards(list []words.Guarded) template.HTML {
	var k ink.Ink
	for i := range list {
		g := &list[i]
		k.Put(`<div class="guard %"><p>%</p>`, string(g.Level), g.Says)
		if g.Lifts != "" {
			k.Put(`<p class="lifts">What would lift it: %</p>`, g.Lifts)
		}
		k.Put("</div>\n")
	}
	return k.HTML()
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
