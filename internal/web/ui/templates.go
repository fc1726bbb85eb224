package ui

import (
	"bytes"
	"embed"
	"fmt"
	"html/template"
	"io/fs"
	"path"
	"strings"
	"sync"

	"zephyrfield/agronomy/words"
	"zephyrfield/internal/web/ink"
)

//go:embed templates
var frameFS embed.FS

// stillParts are the parts of the frame that are the same on every page.
const stillParts = "templates/still/*.html"

// Pages are the parsed templates: the parts, and what each page holds, all in one set, so
// that what many pages use is there once and is escaped once.
type Pages struct {
	set *template.Template
	// head and house are the parts of the frame that are the same on every page.
	head, house template.HTML
}

// content is the template that each page's file defines. In the set it is the content of
// its page.
const (
	content   = "content"
	contentOf = "content of "
)

// Load parses the parts in a folder’s parts/ that all pages may use, and its pages/, and lays
// out what is the same around every page; asset gives the address of a static file, modules
// are those of the scripts that every page asks for. Parts that a page’s file defines beside
// its content bear names of their own.
func Load(folder fs.FS, asset func(name string) string, modules []string) (Pages, error) {
	funcs := template.FuncMap{"asset": asset, "capital": words.Capital,
		"options": Options, "segments": Segments, "radios": Radios, "checks": Checks, "guards": Guards, "steps": Steps}
	set, err := template.New("").Funcs(funcs).ParseFS(frameFS, "templates/*.html")
	if err == nil {
		set, err = set.ParseFS(folder, "parts/*.html")
	}
	if err != nil {
		return Pages{}, err
	}
	files, err := fs.Glob(folder, "pages/*.html")
	if err != nil {
		return Pages{}, err
	}
	for _, f := range files {
		if err := add(set, folder, f, funcs); err != nil {
			return Pages{}, fmt.Errorf("%s: %w", f, err)
		}
	}
	p := Pages{set: set}
	p.head, p.house, err = still(asset, modules)
	return p, err
}

// still lays out the parts of the frame that are the same on every page, once for all.
func still(asset func(name string) string, modules []string) (head, house template.HTML, err error) {
	set, err := template.New("").Funcs(template.FuncMap{"asset": asset, "modules": func() []string { return modules },
		"house": func() []words.Term { return words.House }}).ParseFS(frameFS, stillParts)
	if err != nil {
		return "", "", err
	}
	for name, to := range map[string]*template.HTML{"head": &head, "words": &house} {
		var b bytes.Buffer
		if err := set.ExecuteTemplate(&b, name, nil); err != nil {
			return "", "", err
		}
		*to = template.HTML(b.String()) // the template has escaped what is in it
	}
	return head, house, nil
}

// add puts a page's templates into the set.
func add(set *template.Template, folder fs.FS, file string, funcs template.FuncMap) error {
	name := strings.TrimSuffix(path.Base(file), ".html")
	own, err := template.New("").Funcs(funcs).ParseFS(folder, file)
	if err != nil {
		return err
	}
	for _, t := range own.Templates() {
		as := t.Name()
		switch {
		case as == content:
			as = contentOf + name
		case as == path.Base(file) || t.Tree == nil:
			continue // the file itself, beside its templates
		}
		if set.Lookup(as) != nil {
			return fmt.Errorf("there is a part %q already", as)
		}
		if _, err := set.AddParseTree(as, t.Tree); err != nil {
			return err
		}
	}
	return nil
}

// desks are where pages are laid out: they have grown to a page's size before.
var desks = sync.Pool{New: func() any { return new(bytes.Buffer) }}

// Whole lays out a page, whose forms get their keys when it is sent.
func (p Pages) Whole(page string, view Framed) ([]byte, error) {
	around := view.Frame()
	return p.laid(contentOf+page, view, func(k *ink.Ink) { around.before(k, page, p.head) },
		func(k *ink.Ink) { around.after(k, p.house) })
}

// Part lays out one named part.
func (p Pages) Part(name string, view any) ([]byte, error) {
	return p.laid(name, view, func(*ink.Ink) {}, func(*ink.Ink) {})
}

// laid lays out a part with what stands before and after it.
func (p Pages) laid(name string, view any, before, after func(*ink.Ink)) ([]byte, error) {
	b := desks.Get().(*bytes.Buffer)
	defer desks.Put(b)
	b.Reset()
	var k ink.Ink
	before(&k)
	k.Into(b)
	if err := p.set.ExecuteTemplate(b, name, view); err != nil {
		return nil, err
	}
	after(&k)
	k.Into(b)
	return bytes.Clone(b.Bytes()), nil
}
