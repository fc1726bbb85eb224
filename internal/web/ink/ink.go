// Package ink writes the small marks that a page has by the hundred, with what is written
// into them escaped: html/template finds each figure of each mark by reflection, which
// takes most of a page's time where there are that many.
package ink

import (
	"html/template"
	"strconv"
	"strings"
)

// Markup is the shape of a mark, with a % for each figure or word that is written into it:
// in the text of an element, or within an attribute's quotes. It is a constant of the
// program's own; what comes from the garden is always one of the parts.
type Markup string

// Ink is what was written so far. The zero Ink is empty.
type Ink struct{ b []byte }

// Put writes a mark. Its parts are words, whole numbers, addresses, what writes itself as a
// string, or what was written with ink before; there must be as many as the shape has places.
func (k *Ink) Put(m Markup, parts ...any) {
	rest := string(m)
	for _, p := range parts {
		before, after, found := strings.Cut(rest, "%")
		if !found {
			panic("ink: more parts than places in " + string(m))
		}
		k.b = append(k.b, before...)
		k.part(p)
		rest = after
	}
	if strings.Contains(rest, "%") {
		panic("ink: fewer parts than places in " + string(m))
	}
	k.b = append(k.b, rest...)
}

// appender is what writes itself without a string of its own.
type appender interface{ AppendTo(b []byte) []byte }

func (k *Ink) part(p any) {
	switch v := p.(type) {
	case string:
		k.words(v)
	case appender:
		k.b = v.AppendTo(k.b)
	case int:
		k.b = strconv.AppendInt(k.b, int64(v), 10)
	case int64:
		k.b = strconv.AppendInt(k.b, v, 10)
	case template.HTML:
		k.b = append(k.b, v...)
	case template.URL:
		k.words(string(v))
	case interface{ String() string }:
		k.words(v.String())
	default:
		panic("ink: a part of no known kind")
	}
}

// escapes are written in place of what would end a text or an attribute.
var escapes = [256]string{'<': "&lt;", '>': "&gt;", '&': "&amp;", '"': "&#34;", '\'': "&#39;", 0: "\uFFFD"}

func (k *Ink) words(s string) {
	from := 0
	for i := range len(s) {
		if e := escapes[s[i]]; e != "" {
			k.b = append(append(k.b, s[from:i]...), e...)
			from = i + 1
		}
	}
	k.b = append(k.b, s[from:]...)
}

// HTML is all that was written.
func (k *Ink) HTML() template.HTML { return template.HTML(k.b) }
