// Package components holds the layout and the named templates that pages share, each rendering a
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

// Set is the components' templates and those of each page, which may use all components.
type Set struct {
	parts *template.Template
	pages map[string]parsed
}

// parsed returns a template parsed at first use: each page has a copy of all components, and most
// starts serve few pages.
type parsed func() (*template.Template, error)

// Assets are the files that the layout links to.
type Assets struct {
	// Address returns the address of a static file; Modules are the scripts of every page.
	Address func(name string) string
	Modules []string
}

// htmxConfig configures htmx: features that a strict content policy forbids are off, and error
// answers are swapped in like others.
const htmxConfig = `{"includeIndicatorStyles":false,"allowEval":false,"allowScriptTags":false,"historyCacheSize":0,` +
	`"refreshOnHistoryMiss":true,"scrollIntoViewOnBoost":false,"responseHandling":[{"code":"204","swap":false},` +
	`{"code":"[23]..","swap":true},{"code":"4..","swap":true},{"code":"5..","swap":true,"error":true}]}`

// Load parses the components and registers the pages: each file of a folder is one, and defines the
// template "content".
func Load(assets Assets, folders ...fs.FS) (*Set, error) {
	funcs := template.FuncMap{"asset": assets.Address, "capital": text.Capital, "lower": text.Lower, "notices": view.NoticesOf,
		"modules": func() []string { return assets.Modules },
		"house":   func() []text.Term { return text.House }, "htmxConfig": func() string { return htmxConfig }}
	parts, err := template.New("").Funcs(funcs).Option("missingkey=error").ParseFS(files, "*.html")
	if err != nil {
		return nil, err
	}
	s := &Set{pages: map[string]parsed{}}
	if s.parts, err = parts.Clone(); err != nil { // an executed template cannot be cloned
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
		return nil, fmt.Errorf("no page %q", name)
	}
	return page()
}

// layout is the data of the layout; Kind is the page's name, for its styles.
type layout struct {
	Kind string
	Page *view.Page
	View any
}

// Page renders a whole page.
func (s *Set) Page(name string, v view.Framed) ([]byte, error) {
	page, err := s.page(name)
	if err != nil {
		return nil, err
	}
	return render(page, "layout", layout{name, v.Frame(), v})
}

// PartOf renders a template defined in a page's file.
func (s *Set) PartOf(page, name string, v any) ([]byte, error) {
	t, err := s.page(page)
	if err != nil {
		return nil, err
	}
	return render(t, name, v)
}

// Part renders a component.
func (s *Set) Part(name string, v any) ([]byte, error) { return render(s.parts, name, v) }

func render(t *template.Template, name string, v any) ([]byte, error) {
	var b bytes.Buffer
	err := t.ExecuteTemplate(&b, name, v)
	return b.Bytes(), err
}
