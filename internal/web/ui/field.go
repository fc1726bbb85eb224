package ui

import (
	"html/template"

	"zephyrfield/internal/web/ink"
)

// FieldView is a field as the page draws it: its label, what stands in it and what is wrong
// with it.
type FieldView struct {
	// Mode is date, or the keyboard that a phone shows; "" is the usual one.
	Name, Label, Aside, Mode string
	form                     Form
}

// Field is a field of the form for the page.
func (f Form) Field(name, label, aside, mode string) FieldView {
	return FieldView{name, label, aside, mode, f}
}

// Written writes the field.
func (v FieldView) Written() template.HTML { return v.write("") }

// Figure writes the field with the large letters of a figure that is read off.
func (v FieldView) Figure() template.HTML { return v.write(` class="figure"`) }

func (v FieldView) write(look template.HTML) template.HTML {
	var k ink.Ink
	k.Put(`<label for="%">%`, v.Name, v.Label)
	if v.Aside != "" {
		k.Put(` <span class="aside">%</span>`, v.Aside)
	}
	k.Put(`</label><input id="%" name="%"`, v.Name, v.Name)
	switch v.Mode {
	case "date":
		k.Put(` type="date"`)
	case "":
		k.Put(` autocomplete="off"`)
	default:
		k.Put(` inputmode="%" autocomplete="off"`, v.Mode)
	}
	k.Put(`% `, look)
	v.form.held(&k, v.Name, v.Name)
	k.Put(`><p class="fault" id="%-fault">%</p>`, v.Name, v.form.Fault(v.Name))
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
