// Package components holds the layout and the named templates that pages share, each over a
// plain struct of package view.
package components

import (
	"bytes"
	"embed"
	"fmt"
	"html/template"
	"io/fs"
	"strings"
	"sync"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/web/view"
)

//go:embed *.html
var files embed.FS

// Set are the templates of the components and of each page, which may use all of them.
type Set struct {
	parts *template.Template
	pages map[string]parsed
}

// parsed gives a template that is parsed when it is first asked for: each page has a copy of all
// components, and most starts are followed by few pages.
type parsed func() (*template.Template, error)

// Assets reports what the layout links to.
type Assets struct {
	// Address gives the address of a static file; Modules are those of the scripts that every page
	// asks for.
	Address func(name string) string
	Modules []string
}

// htmxConfig is what htmx follows: what a strict content policy forbids is off, and an answer that
// says what is wrong is shown like any other.
const htmxConfig = `{"includeIndicatorStyles":false,"allowEval":false,"allowScriptTags":false,"historyCacheSize":0,` +
	`"refreshOnHistoryMiss":true,"scrollIntoViewOnBoost":false,"responseHandling":[{"code":"204","swap":false},` +
	`{"code":"[23]..","swap":true},{"code":"4..","swap":true},{"code":"5..","swap":true,"error":true}]}`

// Load parses the components and finds the pages: each file of a folder is one, and defines the
// template "content".
func Load(assets Assets, folders ...fs.FS) (*Set, error) {
	funcs := template.FuncMap{"asset": assets.Address, "capital": text.Capital, "notices": view.NoticesOf,
		"modules": func() []string { return assets.Modules },
		"house":   func() []text.Term { return text.House }, "htmxConfig": func() string { return htmxConfig }}
	parts, err := template.New("").Funcs(funcs).Option("missingkey=error").ParseFS(files, "*.html")
	if err != nil {
		return nil, err
	}
	s := &Set{pages: map[string]parsed{}}
	if s.parts, err = parts.Clone(); err != nil { // what was laid out once cannot be copied any more
		return nil, err
	}
	for _, folder := range folders {
		names, err := fs.Glob(folder, "*.html")
		if err != nil {
			return nil, err
		}
		for _, name := range names {
			s.pages[strings.TrimSuffix(name, ".html")] = sync.OnceValues(func() (*template.Template, error) {
				page, err := parts.Clone()
				if err != nil {
					return nil, err
				}
				return page.ParseFS(folder, name)
			})
		}
	}
	return s, nil
}

// page returns the parsed template of a page.
func (s *Set) page(name string) (*template.Template, error) {
	page, ok := s.pages[name]
	if !ok {
		return nil, fmt.Errorf("there is no page %q", name)
	}
	return page()
}

// layout is what the layout is laid out from: Kind names the page to its looks.
type layout struct {
	Kind string
	Page *view.Page
	View any
}

// Page lays out a whole page.
func (s *Set) Page(name string, v view.Framed) ([]byte, error) {
	page, err := s.page(name)
	if err != nil {
		return nil, err
	}
	return laidOut(page, "layout", layout{name, v.Frame(), v})
}

// PartOf lays out a part that a page's file defines.
func (s *Set) PartOf(page, name string, v any) ([]byte, error) {
	t, err := s.page(page)
	if err != nil {
		return nil, err
	}
	return laidOut(t, name, v)
}

// Part lays out a component.
func (s *Set) Part(name string, v any) ([]byte, error) { return laidOut(s.parts, name, v) }

func laidOut(t *template.Template, name string, v any) ([]byte, error) {
	var b bytes.Buffer
	err := t.ExecuteTemplate(&b, name, v)
	return b.Bytes(), err
}
