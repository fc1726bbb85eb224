package web

import (
	"html/template"

	"zephyrfield/internal/web/ink"
	"zephyrfield/internal/web/ui"
)

const anotherNote ink.Markup = ` maxlength="200"`

// CropFields are those of the form of the next crop.
func (v *bedView) CropFields() template.HTML {
	return v.Form.Rows([]ui.Row{
		{Name: "crop", Label: "Next crop", Options: append([]ui.Option{{Value: "", Text: "Choose a crop"}}, v.CropOptions...)},
		{Name: "sown", Label: "Sown or planted on", Mode: ui.Date}})
}

// LogFields are those of what went on outside a plan.
func (v *bedView) LogFields() template.HTML {
	return v.Log.Rows([]ui.Row{{Name: "what", Label: "What", Options: append([]ui.Option{{Value: "", Text: "Choose"}}, v.Materials...)},
		{Name: "put_date", Label: "On", Mode: ui.Date}, {Name: "put_amount", Label: "In all, " + v.WeightIn(), Mode: ui.Decimal},
		{Name: "put_note", Label: "Note", Control: anotherNote}})
}

// Leads writes what can be done with the bed, and where it leads.
func (v *bedView) Leads() template.HTML {
	var k ink.Ink
	k.Put(`<a class="button" href="%">Open the dose</a>
<a class="button quiet" href="%">Add a reading</a>
<a class="button quiet" href="/beds/%/edit">Change the bed</a>
`, v.DoseHref, v.ReadingHref, v.ID)
	k.Put(`<details class="like"><summary class="button quiet">Another like it</summary><form method="post" action="/beds/%/duplicate">`+
		`<input type="hidden" name="key" value="%"><label for="copies">How many</label><input id="copies" name="copies" inputmode="numeric"`+
		` autocomplete="off" value="1"><label for="between">Path between, %</label><input id="between" name="between" inputmode="decimal"`+
		` autocomplete="off" value="%"><button>Lay them out</button></form></details>
`, v.ID, v.DuplicateKey, v.LengthIn(), v.Between)
	if v.Retired == "" {
		k.Put(`<form method="post" action="/beds/%/retire"><input type="hidden" name="key" value="%">`+
			`<input type="hidden" name="version" value="%"><button class="quiet">Retire it</button></form>
`, v.ID, v.Key, v.Version)
	}
	k.Put(`<a class="plain" href="%">On the plan</a>
<a class="plain" href="/beds/%/taught">What it has taught</a>`, v.PlanHref, v.ID)
	return k.HTML()
}

// PlantingRows writes the crops, the latest first, each with the day that it was cleared.
func (v *bedView) PlantingRows() template.HTML {
	var k ink.Ink
	for i := range v.Plantings {
		p := &v.Plantings[i]
		k.Put(`<tr><td>%</td><td>%</td><td><span class="print-only">%</span>`, p.Crop, p.Sown, p.Cleared)
		k.Put(`<form class="clear" method="post" action="/plantings/%/clear"><input type="hidden" name="key" value="%">`+
			`<input type="hidden" name="version" value="%"><label class="sr" for="cleared-%">%, cleared on</label>`+
			`<input id="cleared-%" name="cleared" type="date" value="%"><button class="tiny">Note</button></form></td></tr>`+"\n",
			p.ID, p.Key, p.Version, p.ID, p.Crop, p.ID, p.Cleared)
	}
	return k.HTML()
}

// PutRows writes what was put on, the latest first.
func (v *bedView) PutRows() template.HTML {
	var k ink.Ink
	for i := range v.Applications {
		a := &v.Applications[i]
		k.Put(`<tr><td>%</td><td>%</td><td class="num">%</td><td class="num">%</td><td>%</td></tr>`+"\n",
			a.Date, a.What, a.Total, a.Rate, a.Note)
	}
	return k.HTML()
}

// TaskRows writes what is planned, done and skipped, the latest first.
func (v *bedView) TaskRows() template.HTML {
	var k ink.Ink
	for i := range v.Tasks {
		t := &v.Tasks[i]
		k.Put(`<tr><td>%</td><td>%</td><td>`, t.Due, t.What)
		if t.Move != "" && !v.Off {
			k.Put(`<a href="%">%</a>`, t.Move, t.State)
		} else {
			k.Put(`%`, t.State)
		}
		k.Put(`</td><td>%</td></tr>`+"\n", t.Why)
	}
	return k.HTML()
}

// ReadingRows writes the readings of a bed.
func (v *bedView) ReadingRows() template.HTML {
	var k ink.Ink
	for i := range v.Readings {
		r := &v.Readings[i]
		k.Put(`<tr`)
		if r.Struck != "" {
			k.Put(` class="struck"`)
		}
		k.Put(`><td>%</td><td class="num">%`, r.Date, r.PH)
		if r.AsRead != "" {
			k.Put(` <span class="as-read">%</span>`, r.AsRead)
		}
		k.Put(`</td><td>%</td><td class="num">%</td><td class="num">%</td><td class="num">%</td><td>`, r.Method, r.Doubt, r.Cores, r.K)
		if r.Layers != "" {
			k.Put(`<span class="soft">layers %</span> `, r.Layers)
		}
		k.Put(`%`, r.Note)
		if r.Sample != "" {
			k.Put(` <span class="soft">sample %</span>`, r.Sample)
		}
		if r.Struck != "" {
			k.Put(` <span class="soft">%</span>`, r.Struck)
		}
		k.Put(`</td><td>`)
		if r.Struck == "" && !v.Off {
			k.Put(`<a class="tiny-link" href="/bench?reading=%">Put right</a> <form class="inline-form" method="post"`+
				` action="/readings/%/strike"><input type="hidden" name="key" value="%"><input type="hidden" name="version" value="%">`+
				`<input type="hidden" name="back" value="/beds/%"><button class="tiny" aria-label="Strike out the reading of %">`+
				`Strike out</button></form>`, r.ID, r.ID, r.Key, r.Version, v.ID, r.Date)
		}
		k.Put("</td></tr>\n")
	}
	return k.HTML()
}

// Lines writes what was changed, the newest first, each with the way back where there is one.
func (v journalView) Lines() template.HTML {
	var k ink.Ink
	for i := range v.Rows {
		l := &v.Rows[i]
		k.Put(`<tr><td>%</td><td>%</td><td>%`, l.At, l.Who, l.What)
		if l.Undone {
			k.Put(` <i>taken back</i>`)
		}
		k.Put(`</td><td>`)
		if l.Undo != 0 {
			k.Put(`<form method="post" action="/undo/%"><input type="hidden" name="key" value="%"><input type="hidden" name="back" value="%">`,
				l.Undo, l.Key, v.Back)
			if l.More != "" {
				k.Put(`<input type="hidden" name="more" value="%">`, l.More)
			}
			k.Put(`<button class="tiny">Undo<span class="sr">: %</span></button></form>`, l.What)
		}
		k.Put("</td></tr>\n")
	}
	return k.HTML()
}
