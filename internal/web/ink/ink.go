// Package ink writes the small marks that a page has by the hundred, with what is written
// into them escaped: html/template finds each figure of each mark by reflection, which
// takes most of a page's time where there are that many.
package ink

import (
	"bytes"
	"html/template"
	"math"
	"strconv"
	"strings"
	"sync"

	"zephyrfield/agronomy/quantity"
)

// Markup is the shape of a mark, with a % for each figure or word that is written into it:
// in the text of an element, or within an attribute's quotes. It is a constant of the
// program's own; what comes from the garden is always one of the parts.
type Markup string

// Px is a coordinate in a picture's own units, written to a tenth.
type Px float64

// String rounds to a tenth.
func (p Px) String() string { return string(p.appendTo(nil)) }

// widest is the largest coordinate that is written: a picture ends long before it.
const widest = 1e9

func (p Px) appendTo(b []byte) []byte {
	if !(math.Abs(float64(p)) < widest) {
		return append(b, '0')
	}
	tenths := int64(quantity.Round(10*float64(p), 0))
	if tenths < 0 {
		b, tenths = append(b, '-'), -tenths
	}
	b = strconv.AppendInt(b, tenths/10, 10)
	if tenths%10 != 0 {
		b = append(b, '.', byte('0'+tenths%10))
	}
	return b
}

// sheets are what is written on: they have grown to a page's size before, and serve again.
var sheets = sync.Pool{New: func() any { return new([]byte) }}

// largest is how large a sheet may be that is kept for the next, bytes: the plan of a large
// garden takes more, once.
const largest = 1 << 17

// Ink is what was written so far. The zero Ink is empty.
type Ink struct{ sheet *[]byte }

// Put writes a mark. Its parts are words, whole numbers, coordinates, addresses, or what was
// written with ink before; there must be as many as the shape has places.
func (k *Ink) Put(m Markup, parts ...any) {
	if k.sheet == nil {
		k.sheet = sheets.Get().(*[]byte)
	}
	b, rest := *k.sheet, string(m)
	for _, p := range parts {
		before, after, found := strings.Cut(rest, "%")
		if !found {
			panic("ink: more parts than places in " + string(m))
		}
		b = part(append(b, before...), p)
		rest = after
	}
	if strings.Contains(rest, "%") {
		panic("ink: fewer parts than places in " + string(m))
	}
	*k.sheet = append(b, rest...)
}

// part knows kinds, not interfaces: what is put then needs no memory of its own.
func part(b []byte, p any) []byte {
	switch v := p.(type) {
	case string:
		return words(b, v)
	case Px:
		return v.appendTo(b)
	case int:
		return strconv.AppendInt(b, int64(v), 10)
	case int64:
		return strconv.AppendInt(b, v, 10)
	case template.HTML:
		return append(b, v...)
	case template.URL:
		return words(b, string(v))
	}
	panic("ink: a part of no known kind")
}

// escapes are written in place of what would end a text or an attribute.
var escapes = [256]string{'<': "&lt;", '>': "&gt;", '&': "&amp;", '"': "&#34;", '\'': "&#39;", 0: "\uFFFD"}

func words(b []byte, s string) []byte {
	from := 0
	for i := range len(s) {
		if e := escapes[s[i]]; e != "" {
			b = append(append(b, s[from:i]...), e...)
			from = i + 1
		}
	}
	return append(b, s[from:]...)
}

// HTML is all that was written; the ink is empty again.
func (k *Ink) HTML() (all template.HTML) {
	k.done(func(b []byte) { all = template.HTML(b) })
	return all
}

// Into adds all that was written to a page; the ink is empty again.
func (k *Ink) Into(page *bytes.Buffer) { k.done(func(b []byte) { page.Write(b) }) }

// done hands out what was written, and gives the sheet back.
func (k *Ink) done(take func([]byte)) {
	if k.sheet == nil {
		return
	}
	take(*k.sheet)
	if cap(*k.sheet) <= largest {
		*k.sheet = (*k.sheet)[:0]
		sheets.Put(k.sheet)
	}
	k.sheet = nil
}
