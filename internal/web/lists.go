package web

import (
	"html/template"

	"zephyrfield/internal/web/ink"
)

// Lists that grow with the garden, of hundreds of beds or crops, are written as one piece.

// Table writes the lines of the crop library.
func (v cropsView) Table() template.HTML {
	var k ink.Ink
	for i := range v.Rows {
		r := &v.Rows[i]
		k.Put(`<tr`)
		if r.Open {
			k.Put(` class="open"`)
		}
		k.Put(`><td><a href="%">%</a>`, r.Href, r.Name)
		if r.Own {
			k.Put(` <span class="soft">yours</span>`)
		}
		k.Put(`</td><td class="num">%</td><td class="num">%</td><td class="num">%</td><td>%</td></tr>`+"\n",
			r.Band, r.Aim, r.Removal, r.Flags)
	}
	return k.HTML()
}

// Table writes the beds of the plan as lines.
func (v groundView) Table() template.HTML {
	var k ink.Ink
	for i := range v.List {
		r := &v.List[i]
		k.Put(`<tr><td><a href="%">%</a></td><td>%</td><td>%</td><td>%</td><td>%</td></tr>`+"\n",
			r.Href, r.Name, r.Crop, r.Value, r.Says, r.Due)
	}
	return k.HTML()
}

// Ticks writes the beds that a round may take, each with the letter of its sample.
func (v *walkView) Ticks() template.HTML {
	var k ink.Ink
	for i := range v.Beds {
		b := &v.Beds[i]
		k.Put(`<div class="round-bed"><label for="take-%"><input type="checkbox" id="take-%" name="bed" value="%"`, b.ID, b.ID, b.ID)
		if b.Chosen {
			k.Put(` checked`)
		}
		k.Put(`><span><b>%</b> `, b.Name)
		if b.Why != "" {
			k.Put(`<i>%</i>`, b.Why)
			if b.Facts != "" {
				k.Put(` · `)
			}
		}
		k.Put(`%</span></label>`, b.Facts)
		if b.Chosen && !v.Each {
			k.Put(`<label class="sr" for="%">Sample of %</label><input class="letter" id="%" name="%" value="%" maxlength="2"`+
				` autocomplete="off" autocapitalize="characters"><input type="hidden" name="proposed-%" value="%">`,
				b.LetterID, b.Name, b.LetterID, b.LetterID, b.Letter, b.Key, b.Proposed)
		}
		k.Put("</div>\n")
	}
	return k.HTML()
}

// Buttons writes one button for each stop of a bed's cores.
func (v stopView) Buttons(round int64) template.HTML {
	var k ink.Ink
	for i := range v.Cores {
		c := &v.Cores[i]
		k.Put(`<form method="post" action="/walk/%/tick" data-queue="tick"><input type="hidden" name="key" value="%">`+
			`<input type="hidden" name="stop" value="%"><input type="hidden" name="core" value="%">`, round, c.Key, v.ID, c.N)
		if c.Taken {
			k.Put(`<button class="core-button taken" aria-pressed="true" disabled`)
		} else {
			k.Put(`<button class="core-button" aria-pressed="false"`)
		}
		k.Put(` data-cores="%" aria-label="`, c.Each)
		if c.Each > 1 {
			k.Put(`Stop %, % cores,`, c.N, c.Each)
		} else {
			k.Put(`Core %`, c.N)
		}
		k.Put(` of %`, v.Name)
		if c.Taken {
			k.Put(`, taken %`, c.At)
		}
		k.Put(`">%`, c.N)
		if c.Each > 1 {
			k.Put(` <small>× %</small>`, c.Each)
		}
		k.Put("</button></form>\n")
	}
	return k.HTML()
}

// MonthFields writes a figure for each month.
func (v placeView) MonthFields(list []monthView, group string) template.HTML {
	var k ink.Ink
	for _, m := range list {
		k.Put(`%`, v.Form.Small(m.ID, m.Name, m.Usual, group))
	}
	return k.HTML()
}
