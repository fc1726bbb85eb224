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
)

//go:embed templates
var frameFS embed.FS

// stillParts are the parts of the frame that are the same on every page.
const stillParts = "templates/still/*.html"

// Pages are the parsed templates: the frame, the parts, and what each page holds, all in
// one set, so that what many pages use is there once and is escaped once.
type Pages struct{ set *template.Template }

// content is the template that each page's file defines. In the set it is the content of
// its page, and the whole page stands beside it.
const (
	content   = "content"
	contentOf = "content of "
	wholeOf   = "whole of "
)

// framed is the whole page of a name: the frame, which knows the Page of every view, around
// what the page holds.
const framed = `{{with .Page}}{{template "frame-head" .}}<body class="page-%[1]s">{{template "frame-top" .}}{{end}}` +
	`{{template "` + contentOf + `%[1]s" .}}{{template "frame-foot" .Page}}`

// Load parses the frame, the parts in a folder’s parts/ that all pages may use, and
// its pages/; asset gives the address of a static file, modules are those of the scripts
// that every page asks for. Parts that a page’s file
// defines beside its content bear names of their own.
func Load(folder fs.FS, asset func(name string) string, modules []string) (Pages, error) {
	parts, err := still(asset, modules)
	if err != nil {
		return Pages{}, err
	}
	funcs := template.FuncMap{"asset": asset, "capital": words.Capital, "still": parts,
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
	return Pages{set}, nil
}

// still lays out the parts of the frame that are the same on every page, once for all, and
// gives each by its name.
func still(asset func(name string) string, modules []string) (func(name string) (template.HTML, error), error) {
	set, err := template.New("").Funcs(template.FuncMap{"asset": asset, "modules": func() []string { return modules },
		"house": func() []words.Term { return words.House }}).ParseFS(frameFS, stillParts)
	if err != nil {
		return nil, err
	}
	laid := map[string]template.HTML{}
	for _, t := range set.Templates() {
		var b bytes.Buffer
		if t.Tree == nil {
			continue // the set itself
		}
		if err := t.Execute(&b, nil); err != nil {
			return nil, err
		}
		laid[t.Name()] = template.HTML(b.String()) // the template has escaped what is in it
	}
	return func(name string) (template.HTML, error) {
		part, ok := laid[name]
		if !ok {
			return "", fmt.Errorf("there is no still part %q", name)
		}
		return part, nil
	}, nil
}

// add puts a page's templates into the set, and its whole page under its name.
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
	_, err = set.New(wholeOf + name).Parse(fmt.Sprintf(framed, name))
	return err
}

// desks are where pages are laid out: they have grown to a page's size before.
var desks = sync.Pool{New: func() any { return new(bytes.Buffer) }}

// Whole lays out a page, whose forms get their keys when it is sent.
func (p Pages) Whole(page string, view any) ([]byte, error) { return p.Part(wholeOf+page, view) }

// Part lays out one named part.
func (p Pages) Part(name string, view any) ([]byte, error) {
	b := desks.Get().(*bytes.Buffer)
	defer desks.Put(b)
	b.Reset()
	if err := p.set.ExecuteTemplate(b, name, view); err != nil {
		return nil, err
	}
	return bytes.Clone(b.Bytes()), nil
}
