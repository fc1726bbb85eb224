package web

import (
	"html/template"

	"zephyrfield/internal/web/ink"
	"zephyrfield/internal/web/ui"
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
		switch {
		case g.Note != "" && g.Rate != "":
			k.Put(` · %`, g.Note)
		case g.Note != "":
			k.Put(`%`, g.Note)
		}
		if g.Retest {
			k.Put(` · only after a new test`)
		}
		k.Put("</span></span><span class=\"num\">%</span></div>\n", g.Then)
	}
	return k.HTML()
}

// SchoolRows writes what growers differ on, each with its choices side by side.
func (v *doseView) SchoolRows() template.HTML {
	var k ink.Ink
	for i := range v.Schools {
		s := &v.Schools[i]
		k.Put(`<fieldset class="segments"><legend>%</legend><div class="seg">%</div>`, s.Label, ui.Segments(s.Name, s.Options))
		if s.Faulty {
			k.Put(`<p id="%-fault" class="fault" role="alert">%</p>`, s.Name, s.Fault)
		}
		k.Put("</fieldset>\n")
	}
	return k.HTML()
}

// Drawn writes the schools beside each other, each with its strip.
func (v *sidesView) Drawn() template.HTML {
	var k ink.Ink
	for i := range v.Rows {
		r := &v.Rows[i]
		if r.Heads != "" {
			k.Put(`<tr class="heads"><th scope="rowgroup" colspan="3">%</th></tr>`, r.Heads)
		}
		k.Put(`<tr`)
		if r.On {
			k.Put(` class="on"`)
		}
		k.Put(`><th scope="row">%</th><td>%</td><td class="num">%</td></tr>`, r.Name, r.Strip.Drawn(), r.Amount)
	}
	return k.HTML()
}

// KRows writes the ways to bring potassium, each to be put in the year.
func (v *doseView) KRows() template.HTML {
	var k ink.Ink
	list := v.Answer.Potassium.Options
	for i := range list {
		o := &list[i]
		k.Put(`<div class="go"><b>%</b><span>%: %`, o.Name, o.Amount, o.When)
		for _, says := range []string{o.Note, o.Both} {
			if says != "" {
				k.Put(` <span class="soft">%</span>`, says)
			}
		}
		k.Put(`</span>`)
		switch {
		case v.Off:
		case o.Ask != "":
			k.Put(`<a class="button quiet small" href="%">Say what ash it is</a>`, o.Ask)
		default:
			k.Put(`<form method="post" action="/beds/%/plan"><input type="hidden" name="key" value="%k%">`+
				`<input type="hidden" name="use" value="%">%<button class="quiet small" aria-label="Put % for potassium in the year">`+
				`Put in the year</button></form>`, v.ID, v.Key, i, o.Key, v.Carry, o.Name)
		}
		k.Put(`</div>`)
		if len(o.Guards) > 0 {
			k.Put(`<details class="k-more"><summary>%</summary>%</details>`, o.Mind, ui.Guards(o.Guards))
		}
	}
	return k.HTML()
}

// SafetyRows writes what is to be minded when it is put on.
func (v *chosenView) SafetyRows() template.HTML {
	var k ink.Ink
	if len(v.Safety) == 0 {
		return ""
	}
	k.Put(`<div class="guard safety"><p><b>When you put it on</b></p><ul>`)
	for _, s := range v.Safety {
		k.Put(`<li>%</li>`, s)
	}
	k.Put(`</ul></div>`)
	return k.HTML()
}
