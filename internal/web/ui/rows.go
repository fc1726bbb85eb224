package ui

import (
	"html/template"

	"zephyrfield/internal/web/ink"
)

// Row is a field in the table of a form's fields.
type Row struct {
	Name, Label string
	// Aside stands beside the label in grey.
	Aside string
	// Mode is how it is typed: Date, Lines, or the keyboard that a phone shows; "" is the
	// usual one.
	Mode string
	// Options are what it is chosen from, where it is chosen.
	Options []Option
	// Suggests are offered where it is typed.
	Suggests []string
	// Box are attributes of what the field stands in, Control those of what is typed into.
	Box, Control ink.Markup
	// Together are fields that stand in one place, in the place of a field.
	Together []Row
}

// Date is typed as a day, Lines as text of several lines, Decimal and Numeric as figures.
const (
	Date    = "date"
	Lines   = "lines"
	Decimal = "decimal"
	Numeric = "numeric"
)

// Wide lets a field take the whole line of its form.
const Wide ink.Markup = ` class="wide"`

// Rows writes fields, each with its label, what stands in it and what is wrong with it.
func (f Form) Rows(list []Row) template.HTML {
	var k ink.Ink
	f.rows(&k, list)
	return k.HTML()
}

func (f Form) rows(k *ink.Ink, list []Row) {
	for i := range list {
		r := &list[i]
		k.Put(`<div`)
		k.Put(r.Box)
		k.Put(`>`)
		if r.Together != nil {
			f.rows(k, r.Together)
		} else {
			f.row(k, r)
		}
		k.Put(`</div>`)
	}
}

// row writes what stands in the box of a field.
func (f Form) row(k *ink.Ink, r *Row) {
	k.Put(`<label for="%">%`, r.Name, r.Label)
	if r.Aside != "" {
		k.Put(` <span class="aside">%</span>`, r.Aside)
	}
	k.Put(`</label>`)
	switch {
	case r.Options != nil:
		k.Put(`<select id="%" name="%"`, r.Name, r.Name)
		k.Put(r.Control)
		f.wrong(k, r.Name, r.Name)
		k.Put(`>%</select>`, Options(r.Options, f.Value(r.Name)))
	case r.Mode == Lines:
		k.Put(`<textarea id="%" name="%"`, r.Name, r.Name)
		k.Put(r.Control)
		f.wrong(k, r.Name, r.Name)
		k.Put(`>%</textarea>`, f.Value(r.Name))
	default:
		f.input(k, r)
	}
	k.Put(`<p class="fault" id="%-fault">%</p>`, r.Name, f.Fault(r.Name))
}

func (f Form) input(k *ink.Ink, r *Row) {
	k.Put(`<input id="%" name="%"`, r.Name, r.Name)
	switch r.Mode {
	case Date:
		k.Put(` type="date"`)
	case "":
		k.Put(` autocomplete="off"`)
	default:
		k.Put(` inputmode="%" autocomplete="off"`, r.Mode)
	}
	k.Put(r.Control)
	if r.Suggests != nil {
		k.Put(` list="%s"`, r.Name)
	}
	k.Put(` value="%"`, f.Value(r.Name))
	f.wrong(k, r.Name, r.Name)
	k.Put(`>`)
	if r.Suggests != nil {
		k.Put(`<datalist id="%s">`, r.Name)
		for _, s := range r.Suggests {
			k.Put(`<option value="%"></option>`, s)
		}
		k.Put(`</datalist>`)
	}
}
