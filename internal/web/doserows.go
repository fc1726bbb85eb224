package web

import (
	"html/template"

	"zephyrfield/internal/web/ink"
)

// WayRows writes the ways that are offered, each to be chosen.
func (v *answerView) WayRows() template.HTML {
	var k ink.Ink
	for i := range v.Options {
		o := &v.Options[i]
		on, checked := "", ""
		if o.On {
			on, checked = " on", " checked"
		}
		k.Put(`<label class="opt%" for="%"><span class="what"><input type="radio" id="%" name="use" value="%" form="dose-form"`, on, o.ID, o.ID,
			o.Key)
		k.Put(`%`, checked)
		k.Put(`><span><b class="name">%</b><span class="note">%`, o.Name, o.Note)
		if o.CautionText != "" {
			k.Put(` · <i>%</i>`, o.CautionText)
		}
		k.Put(`</span>`)
		if o.Unmet != "" {
			k.Put(`<span class="note unmet">%</span>`, o.Unmet)
		}
		k.Put(`</span></span> <span class="amt" data-grams="%" title="%">%</span>`, o.Exact, o.Exact, o.Amount)
		if o.Mini != nil {
			k.Put(`%`, o.Mini.Drawn())
		} else {
			k.Put(`<span></span>`)
		}
		k.Put(`<span class="amt k">%</span></label>`+"\n", o.Potassium)
	}
	return k.HTML()
}

// No writes a way that is refused, and why.
func (r refusedView) No() template.HTML {
	var k ink.Ink
	stop := ""
	if r.Stop {
		stop = " stop"
	}
	k.Put(`<div class="opt no"><span class="name">%</span><span class="why%">%`, r.Name, stop, r.Says)
	if r.Lifts != "" {
		k.Put(` <span class="lifts">What would lift it: %</span>`, r.Lifts)
	}
	k.Put("</span></div>\n")
	return k.HTML()
}

// GoRows writes the goes, one below the other.
func (v *chosenView) GoRows() template.HTML {
	var k ink.Ink
	for i := range v.Goes {
		g := &v.Goes[i]
		k.Put(`<div class="go"`)
		if g.Exact != "" {
			k.Put(` data-grams="%"`, g.Exact)
		}
		k.Put(`><b>%</b> <span>%`, g.When, g.Amount)
		if g.Measure != "" {
			k.Put(`, %`, g.Measure)
		}
		k.Put(` <span class="soft">%`, g.Rate)
		if g.Note != "" {
			k.Put(` · %`, g.Note)
		}
		if g.Retest {
			k.Put(` · only after a new test`)
		}
		k.Put("</span></span><span class=\"num\">%</span></div>\n", g.Then)
	}
	return k.HTML()
}
