package webtest

import (
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// BedPath returns the path of a bed's record.
func BedPath(id int64) string { return "/beds/" + strconv.FormatInt(id, 10) }

// PreparationPath returns the address of the preparation of a bed.
func PreparationPath(bed int64) string { return BedPath(bed) + "/turn" }

// ID writes an id.
func ID(v int64) string { return strconv.FormatInt(v, 10) }

// Piece is an element of a page, with its classes and its text.
type Piece struct {
	*html.Node
	Class, Says string
}

// Pieces returns the elements under a node that have a class, in document order.
func Pieces(n *html.Node, class string) (out []Piece) {
	for x := range n.Descendants() {
		has, _ := Attr(x, "class")
		if x.Type != html.ElementNode || !strings.Contains(" "+has+" ", " "+class+" ") {
			continue
		}
		out = append(out, Piece{x, has, strings.Join(strings.Fields(text(x)), " ")})
	}
	return out
}

// Elements returns the elements of a tag under a node, in document order.
func Elements(n *html.Node, tag string) (out []Piece) {
	for x := range n.Descendants() {
		if x.Type == html.ElementNode && x.Data == tag {
			has, _ := Attr(x, "class")
			out = append(out, Piece{x, has, strings.Join(strings.Fields(text(x)), " ")})
		}
	}
	return out
}

// Rows returns the rows of the tables under a node, the text of their cells joined by " | ".
func Rows(n *html.Node) (out []string) {
	for _, tr := range Elements(n, "tr") {
		cells := append(Elements(tr.Node, "th"), Elements(tr.Node, "td")...)
		says := make([]string, len(cells))
		for i, x := range cells {
			says[i] = x.Says
		}
		out = append(out, strings.Join(says, " | "))
	}
	return out
}

// Ticked returns the values of the checked boxes and radios of a name under a node.
func Ticked(n *html.Node, name string) (out []string) {
	for _, x := range Elements(n, "input") {
		is, _ := Attr(x.Node, "name")
		if _, checked := Attr(x.Node, "checked"); checked && is == name {
			value, _ := Attr(x.Node, "value")
			out = append(out, value)
		}
	}
	return out
}

// Options returns the options of the select of a name under a node: their texts by value.
func Options(n *html.Node, name string) map[string]string {
	out := map[string]string{}
	for _, list := range Elements(n, "select") {
		if is, _ := Attr(list.Node, "name"); is != name {
			continue
		}
		for _, x := range Elements(list.Node, "option") {
			value, _ := Attr(x.Node, "value")
			out[value] = x.Says
		}
	}
	return out
}

// Named returns the piece whose child of class "name" is name.
func Named(t *testing.T, list []Piece, name string) Piece {
	t.Helper()
	for _, p := range list {
		for _, n := range Pieces(p.Node, "name") {
			if n.Says == name {
				return p
			}
		}
	}
	require.Fail(t, "no such row", name)
	return Piece{}
}

// Attr returns an attribute of an element.
func Attr(n *html.Node, name string) (string, bool) {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val, true
		}
	}
	return "", false
}

// ByID finds the element of an id.
func ByID(t *testing.T, n *html.Node, id string) *html.Node {
	t.Helper()
	for x := range n.Descendants() {
		if is, ok := Attr(x, "id"); ok && is == id {
			return x
		}
	}
	require.Fail(t, "no such element", id)
	return nil
}

// Summary returns the summary of a folded part.
func Summary(n *html.Node) *html.Node {
	for x := range n.Descendants() {
		if x.DataAtom == atom.Summary {
			return x
		}
	}
	return n
}

// Wording returns the text of an element, its nodes separated by spaces.
func Wording(n *html.Node) string {
	var b strings.Builder
	for d := range n.Descendants() {
		if d.Type == html.TextNode {
			b.WriteString(d.Data + " ")
		}
	}
	return strings.Join(strings.Fields(b.String()), " ")
}

// text returns the text of an element unchanged.
func text(n *html.Node) string {
	var b strings.Builder
	for d := range n.Descendants() {
		if d.Type == html.TextNode {
			b.WriteString(d.Data)
		}
	}
	return b.String()
}

// Forms returns the forms of a page by their action.
func Forms(n *html.Node) map[string][]*html.Node {
	out := map[string][]*html.Node{}
	for x := range n.Descendants() {
		if x.Type == html.ElementNode && x.Data == "form" {
			to, _ := Attr(x, "action")
			out[to] = append(out[to], x)
		}
	}
	return out
}

// Filled reads the fields of a page, or of a part of one, as a browser would post them unchanged.
func Filled(page string) url.Values { return Fields(Parsed(page)) }

// Fields reads the fields under a node as a browser would post them unchanged.
func Fields(n *html.Node) url.Values {
	form := url.Values{}
	for x := range n.Descendants() {
		name, ok := Attr(x, "name")
		if x.Type != html.ElementNode || !ok {
			continue
		}
		value, _ := Attr(x, "value")
		switch kind, _ := Attr(x, "type"); {
		case x.Data == "select":
			form.Set(name, chosen(x))
		case x.Data == "textarea":
			form.Set(name, text(x))
		case x.Data == "input" && (kind == "radio" || kind == "checkbox"):
			if _, checked := Attr(x, "checked"); checked {
				form.Set(name, value)
			}
		case x.Data == "input":
			form.Set(name, value)
		}
	}
	return form
}

// chosen returns the value of a select: of the option that is selected, else of the first.
func chosen(n *html.Node) (value string) {
	first := true
	for x := range n.Descendants() {
		if x.Type != html.ElementNode || x.Data != "option" {
			continue
		}
		if _, selected := Attr(x, "selected"); selected || first {
			value, _ = Attr(x, "value")
		}
		first = false
	}
	return value
}

// Parsed returns a page, or a part of one, as elements.
func Parsed(page string) *html.Node {
	n, err := html.Parse(strings.NewReader(page))
	if err != nil {
		panic(err) // reading a string does not fail
	}
	return n
}

// Hidden returns the value of the last filled hidden field of a name in a page.
func Hidden(page, name string) (value string) {
	for x := range Parsed(page).Descendants() {
		kind, _ := Attr(x, "type")
		is, _ := Attr(x, "name")
		if v, _ := Attr(x, "value"); x.Data == "input" && kind == "hidden" && is == name && v != "" {
			value = v
		}
	}
	return value
}

// Grep returns the group of a pattern's first match, "" without one.
func Grep(text, pattern string) string {
	if m := regexp.MustCompile(pattern).FindStringSubmatch(text); m != nil {
		return m[1]
	}
	return ""
}
