package ui

import (
	"html/template"

	"zephyrfield/internal/web/ink"
)

// Field writes a field of the form with its label, what stands in it and what is wrong with
// it; mode is how it is typed, as in a Row.
func (f Form) Field(name, label, aside, mode string) template.HTML {
	return f.Rows([]Row{{Name: name, Label: label, Aside: aside, Mode: mode}})
}

// FieldIn writes the same within what holds it.
func (f Form) FieldIn(name, label, aside, mode string) template.HTML {
	var k ink.Ink
	f.row(&k, &Row{Name: name, Label: label, Aside: aside, Mode: mode})
	return k.HTML()
}

// Figure writes it with the large letters of a figure that is read off.
func (f Form) Figure(name, label, aside, mode string) template.HTML {
	var k ink.Ink
	f.row(&k, &Row{Name: name, Label: label, Aside: aside, Mode: mode, Control: ` class="figure"`})
	return k.HTML()
}

// Small writes a field of figures that stands in a row with others, with its label above it
// and what is usual in grey; the row has one sentence for what is wrong.
func (f Form) Small(name, label, usual, group string) template.HTML {
	var k ink.Ink
	k.Put(`<div><label for="%">%</label><input id="%" name="%" inputmode="decimal" autocomplete="off" placeholder="%" `,
		name, label, name, name, usual)
	f.held(&k, name, group)
	k.Put(`></div>`)
	return k.HTML()
}

// Bare writes a field of figures that stands in a row with others: what it is called is heard,
// not seen, and the row has one sentence for what is wrong.
func (f Form) Bare(name, called, group string) template.HTML {
	var k ink.Ink
	k.Put(`<input name="%" id="%" aria-label="%" inputmode="decimal" autocomplete="off" `, name, name, called)
	f.held(&k, name, group)
	k.Put(`>`)
	return k.HTML()
}
