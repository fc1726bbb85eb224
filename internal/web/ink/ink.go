// Package ink writes the small marks that a page has by the hundred, with what is written
// into them escaped: html/template finds each figure of each mark by reflection, which
// takes most of a page's time where there are that many.
package ink

import (
	"html/template"
	"math"
	"strconv"
	"strings"

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

// Ink is what was written so far. The zero Ink is empty.
type Ink struct {
	b strings.Builder
	// figure is where a figure is written before it goes in.
	figure [32]byte
}

// Grow makes room for so many letters.
func (k *Ink) Grow(letters int) { k.b.Grow(letters) }

// Put writes a mark. Its parts are words, whole numbers, coordinates, addresses, or what was
// written with ink before; there must be as many as the shape has places.
func (k *Ink) Put(m Markup, parts ...any) {
	rest := string(m)
	for _, p := range parts {
		before, after, found := strings.Cut(rest, "%")
		if !found {
			panic("ink: more parts than places in " + string(m))
		}
		k.b.WriteString(before)
		k.part(p)
		rest = after
	}
	if strings.Contains(rest, "%") {
		panic("ink: fewer parts than places in " + string(m))
	}
	k.b.WriteString(rest)
}

// part knows kinds, not interfaces: what is put then needs no memory of its own.
func (k *Ink) part(p any) {
	switch v := p.(type) {
	case string:
		k.words(v)
	case Px:
		k.b.Write(v.appendTo(k.figure[:0]))
	case int:
		k.b.Write(strconv.AppendInt(k.figure[:0], int64(v), 10))
	case int64:
		k.b.Write(strconv.AppendInt(k.figure[:0], v, 10))
	case template.HTML:
		k.b.WriteString(string(v))
	case template.URL:
		k.words(string(v))
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
			k.b.WriteString(s[from:i])
			k.b.WriteString(e)
			from = i + 1
		}
	}
	k.b.WriteString(s[from:])
}

// HTML is all that was written.
func (k *Ink) HTML() template.HTML { return template.HTML(k.b.String()) }
