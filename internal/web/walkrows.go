package web

import (
	"html/template"

	"zephyrfield/internal/web/ink"
	"zephyrfield/internal/web/ui"
)

// CorerFields are the corer of a round and what the lab wants.
func (v *walkView) CorerFields() template.HTML {
	return v.Form.Rows([]ui.Row{
		{Name: "corer", Label: "Corer, " + v.Units.Corers().Name + " across", Mode: ui.Decimal, Suggests: append([]string{}, v.Corers...)},
		{Name: "wanted", Label: "The lab wants, " + v.Units.Samples().Name, Mode: ui.Decimal}})
}

// PickRow writes what ticks many beds at once.
func (v *walkView) PickRow() template.HTML {
	var k ink.Ink
	for _, p := range v.Picks {
		k.Put(`<button class="quiet small" name="pick" value="%" formaction="/walk" formmethod="get">%</button>`, p.Value, p.Text)
	}
	return k.HTML()
}

// RoundRows writes the rounds that were set out.
func (v *walkView) RoundRows() template.HTML {
	var k ink.Ink
	for _, r := range v.Rounds {
		k.Put(`<p class="guard note"><a href="%">Round of %</a>, %.</p>`, r.Href, r.Made, r.Says)
	}
	return k.HTML()
}

// SampleRows writes the samples of the round, each with a corer of its own where it has one.
func (v *walkView) SampleRows() template.HTML {
	var k ink.Ink
	in := v.Units.Corers().Name
	for i := range v.Samples {
		s := &v.Samples[i]
		k.Put(`<div class="sample"><b class="code">%</b><div><b>%</b><p class="soft">% · %</p>`, s.Letter, s.Beds, s.Says, s.Layers)
		k.Put(`<details class="own-corer keeps-open" id="own-%"`, s.Letter)
		if s.Corer != "" {
			k.Put(` open`)
		}
		k.Put(`><summary>Another corer for this one</summary><label for="%">Its corer, % across</label><input id="%" name="%"`+
			` form="round-form" inputmode="decimal" autocomplete="off" list="corers" value="%" hx-get="/walk" hx-trigger="change"`+
			` hx-include="#round-form" hx-target="#main" hx-select="#main" hx-swap="outerHTML"></details>`,
			s.CorerID, in, s.CorerID, s.CorerID, s.Corer)
		for _, l := range s.Lost {
			k.Put(`<p class="guard">Against the rules: %. The sample will be the mean of both and tell of neither.</p>`, l)
		}
		k.Put("</div></div>\n")
	}
	return k.HTML()
}

// ApartRows writes which beds must not share a sample, and why.
func (v *walkView) ApartRows() template.HTML {
	var k ink.Ink
	for _, p := range v.Apart {
		k.Put("<tr><td>%</td><td>%</td></tr>\n", p.Beds, p.Why)
	}
	if v.More > 0 {
		k.Put(`<tr><td colspan="2" class="soft">and % more; choose fewer beds to read them</td></tr>`, v.More)
	}
	return k.HTML()
}
