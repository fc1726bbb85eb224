package svg

import (
	"html/template"
	"strconv"
	"strings"
)

// writer writes marks that a picture has by the hundred: html/template formats each attribute by
// reflection, which would take most of a page's time. Single elements are in templates. An
// element's method opens it inside the innermost open one; the attribute methods after it apply to
// it. The zero writer is empty.
type writer struct {
	out  []byte
	open []string
	// inTag is set while the innermost element takes attributes.
	inTag bool
}

// The elements that pictures are made of.
func (w *writer) group() *writer  { return w.start("g") }
func (w *writer) link() *writer   { return w.start("a") }
func (w *writer) path() *writer   { return w.start("path") }
func (w *writer) rect() *writer   { return w.start("rect") }
func (w *writer) circle() *writer { return w.start("circle") }
func (w *writer) text() *writer   { return w.start("text") }
func (w *writer) title() *writer  { return w.start("title") }

// The attributes: words, integers, coordinates and shapes.
func (w *writer) class(c string) *writer        { return w.str("class", c) }
func (w *writer) id(v string) *writer           { return w.str("id", v) }
func (w *writer) role(v string) *writer         { return w.str("role", v) }
func (w *writer) label(says string) *writer     { return w.str("aria-label", says) }
func (w *writer) current() *writer              { return w.str("aria-current", "true") }
func (w *writer) href(to string) *writer        { return w.str("href", to) }
func (w *writer) hxGet(from string) *writer     { return w.str("hx-get", from) }
func (w *writer) anchor(at string) *writer      { return w.str("text-anchor", at) }
func (w *writer) does(what string) *writer      { return w.str("data-does", what) }
func (w *writer) number(n int) *writer          { return w.int("data-n", int64(n)) }
func (w *writer) task(id int64) *writer         { return w.int("data-task", id) }
func (w *writer) day(n int) *writer             { return w.int("data-at", int64(n)) }
func (w *writer) focusable() *writer            { return w.int("tabindex", 0) }
func (w *writer) at(x, y Px) *writer            { return w.px("x", x).px("y", y) }
func (w *writer) right(by Px) *writer           { return w.px("dx", by) }
func (w *writer) down(by Px) *writer            { return w.px("dy", by) }
func (w *writer) size(width, high Px) *writer   { return w.px("width", width).px("height", high) }
func (w *writer) corner(r Px) *writer           { return w.px("rx", r) }
func (w *writer) centre(x, y, r Px) *writer     { return w.px("cx", x).px("cy", y).px("r", r) }
func (w *writer) stroke(width Px) *writer       { return w.px("stroke-width", width) }
func (w *writer) d(p Path) *writer              { return w.str("d", string(p)) }
func (w *writer) transform(t Transform) *writer { return w.str("transform", string(t)) }

// says adds the text of the innermost element.
func (w *writer) says(words string) *writer {
	w.endTag()
	w.escaped(words)
	return w
}

// titled adds a tooltip to the innermost element.
func (w *writer) titled(words string) *writer { return w.title().says(words).end() }

// end closes the innermost element.
func (w *writer) end() *writer {
	last := len(w.open) - 1
	if w.inTag {
		w.out = append(w.out, '/', '>')
		w.inTag = false
	} else {
		w.out = append(append(append(w.out, '<', '/'), w.open[last]...), '>')
	}
	w.open = w.open[:last]
	return w
}

// html returns the result; every element must have been closed.
func (w *writer) html() template.HTML {
	if len(w.open) > 0 {
		panic("svg: not closed: " + w.open[len(w.open)-1])
	}
	return template.HTML(w.out)
}

func (w *writer) start(element string) *writer {
	w.endTag()
	w.out = append(append(w.out, '<'), element...)
	w.open = append(w.open, element)
	w.inTag = true
	return w
}

func (w *writer) str(attribute, value string) *writer {
	w.name(attribute)
	w.escaped(value)
	w.out = append(w.out, '"')
	return w
}

func (w *writer) px(attribute string, value Px) *writer {
	w.name(attribute)
	w.out = append(value.appendTo(w.out), '"')
	return w
}

func (w *writer) int(attribute string, value int64) *writer {
	w.name(attribute)
	w.out = append(strconv.AppendInt(w.out, value, 10), '"')
	return w
}

func (w *writer) name(attribute string) {
	if !w.inTag {
		panic("svg: no element takes the attribute " + attribute)
	}
	w.out = append(append(append(w.out, ' '), attribute...), '=', '"')
}

func (w *writer) endTag() {
	if w.inTag {
		w.out = append(w.out, '>')
		w.inTag = false
	}
}

// escaper escapes text and attribute values.
var escaper = strings.NewReplacer("<", "&lt;", ">", "&gt;", "&", "&amp;", `"`, "&#34;", "'", "&#39;", "\x00", "\uFFFD")

func (w *writer) escaped(words string) {
	if strings.ContainsAny(words, "<>&\"'\x00") {
		words = escaper.Replace(words)
	}
	w.out = append(w.out, words...)
}
