package ui

import (
	"bytes"
	"embed"
	"fmt"
	"html/template"
	"io/fs"
	"path"
	"strings"

	"zephyrfield/agronomy/words"
)

//go:embed templates
var frameFS embed.FS

// Pages are the parsed templates, one set a page.
type Pages map[string]*template.Template

// Load parses the frame, the parts in a folder’s parts/ that all pages may use, and
// its pages/; asset gives the address of a static file.
func Load(folder fs.FS, asset func(name string) string) (Pages, error) {
	base, err := template.New("").Funcs(template.FuncMap{"asset": asset, "capital": words.Capital, "options": Options}).
		ParseFS(frameFS, "templates/*.html")
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
	out := Pages{}
	for _, f := range files {
		t, err := base.Clone()
		if err == nil {
			t, err = t.ParseFS(folder, f)
		}
		if err != nil {
			return nil, err
		}
		out[strings.TrimSuffix(path.Base(f), ".html")] = t
	}
	return out, nil
}

// Whole lays out a page, whose forms get their keys when it is sent.
func (p Pages) Whole(name string, view any) ([]byte, error) { return p.Part(name, "layout", view) }

// Part lays out one named part of a page.
func (p Pages) Part(page, name string, view any) ([]byte, error) {
	t, ok := p[page]
	if !ok {
		return nil, fmt.Errorf("there is no page %q", page)
	}
	var b bytes.Buffer
	if err := t.ExecuteTemplate(&b, name, view); err != nil {
		return nil, err
	}
	return b.Bytes(), nil
}
