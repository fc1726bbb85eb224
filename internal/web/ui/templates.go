package ui

import (
	"bytes"
	"embed"
	"fmt"
	"html/template"
	"io/fs"
	"path"
	"strings"
	"text/template/parse"

	"zephyrfield/agronomy/words"
)

//go:embed templates
var frameFS embed.FS

// Pages are the parsed templates, one set a page. A set has what its page comes to, and no
// more: each is escaped for itself. The set of name "" has all the parts.
type Pages map[string]*template.Template

// frame is the template that a whole page begins with.
const frame = "layout"

// Load parses the frame, the parts in a folder’s parts/ that all pages may use, and
// its pages/; asset gives the address of a static file.
func Load(folder fs.FS, asset func(name string) string) (Pages, error) {
	funcs := template.FuncMap{"asset": asset, "capital": words.Capital, "options": Options}
	base, err := template.New("").Funcs(funcs).ParseFS(frameFS, "templates/*.html")
	if err == nil {
		base, err = base.ParseFS(folder, "parts/*.html")
	}
	if err != nil {
		return nil, err
	}
	files, err := fs.Glob(folder, "pages/*.html")
	if err != nil {
		return nil, err
	}
	out := Pages{"": base}
	for _, f := range files {
		own, err := template.New("").Funcs(funcs).ParseFS(folder, f)
		if err != nil {
			return nil, err
		}
		set := template.New("").Funcs(funcs)
		roots := []string{frame}
		for _, t := range own.Templates() {
			roots = append(roots, t.Name())
		}
		if err := gather(set, roots, own, base); err != nil {
			return nil, err
		}
		out[strings.TrimSuffix(path.Base(f), ".html")] = set
	}
	return out, nil
}

// gather puts templates into a set with all that they call: of the page's own, else of the
// base, whose trees are copied since escaping changes them.
func gather(set *template.Template, names []string, own, base *template.Template) error {
	for _, name := range names {
		if set.Lookup(name) != nil {
			continue
		}
		t := own.Lookup(name)
		if t == nil || t.Tree == nil {
			t = base.Lookup(name)
		}
		if t == nil || t.Tree == nil {
			continue // a file's own name, or one that is not there: executing it says so
		}
		if _, err := set.AddParseTree(name, t.Tree.Copy()); err != nil {
			return err
		}
		if err := gather(set, calls(t.Tree.Root), own, base); err != nil {
			return err
		}
	}
	return nil
}

// calls are the templates that a piece of a template calls.
func calls(n parse.Node) (out []string) {
	branch := func(b *parse.BranchNode) {
		out = append(out, calls(b.List)...)
		if b.ElseList != nil {
			out = append(out, calls(b.ElseList)...)
		}
	}
	switch n := n.(type) {
	case *parse.ListNode:
		for _, x := range n.Nodes {
			out = append(out, calls(x)...)
		}
	case *parse.TemplateNode:
		out = append(out, n.Name)
	case *parse.IfNode:
		branch(&n.BranchNode)
	case *parse.RangeNode:
		branch(&n.BranchNode)
	case *parse.WithNode:
		branch(&n.BranchNode)
	}
	return out
}

// Whole lays out a page, whose forms get their keys when it is sent.
func (p Pages) Whole(name string, view any) ([]byte, error) { return p.Part(name, frame, view) }

// Part lays out one named part of a page.
func (p Pages) Part(page, name string, view any) ([]byte, error) {
	t, ok := p[page]
	if !ok {
		return nil, fmt.Errorf("there is no page %q", page)
	}
	if t.Lookup(name) == nil {
		t = p[""] // a part that the page does not come to
	}
	var b bytes.Buffer
	if err := t.ExecuteTemplate(&b, name, view); err != nil {
		return nil, err
	}
	return b.Bytes(), nil
}
