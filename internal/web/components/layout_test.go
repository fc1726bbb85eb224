package components_test

import (
	"html/template"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/web/components"
	"zephyrfield/internal/web/view"
)

type framedView struct {
	view.Page
	Says string
}

// set returns a made-up set of one page.
func set(t *testing.T) *components.Set {
	t.Helper()
	pages, err := components.Load(components.Assets{Address: func(name string) string { return "/static/" + name }},
		fstest.MapFS{"one.html": {Data: []byte(`{{define "content"}}<h1>{{.Says}}</h1>{{end}}`)}})
	require.NoError(t, err)
	return pages
}

// laidOut lays out a page with what a view says in it.
func laidOut(t *testing.T, p view.Page) string {
	t.Helper()
	page, err := set(t).Page("one", framedView{p, nasty})
	require.NoError(t, err)
	return string(page)
}

// part lays out a component, and reads it as a browser does.
func part(t *testing.T, name string, v any) map[string][]map[string]string {
	t.Helper()
	piece, err := set(t).Part(name, v)
	require.NoError(t, err)
	return parsed(t, template.HTML(piece))
}

// between returns what stands from one mark to the next.
func between(t *testing.T, page, from, to string) template.HTML {
	t.Helper()
	_, rest, found := strings.Cut(page, from)
	require.True(t, found, from)
	in, _, found := strings.Cut(rest, to)
	require.True(t, found, to)
	return template.HTML(in)
}

func TestEachTabIsShownOnce(t *testing.T) {
	p := view.Page{Tabs: []view.Tab{{Name: "Ground", Href: "/", Key: "g", Foot: true}, {Name: "Dose", Href: "/dose", Key: "d"},
		{Name: "Day sheet", Href: "/sheet?on=1&x", Key: "s", Foot: true, Count: 3, Open: true},
		{Name: "Help", Href: "/help", Key: "h", Group: "Files", Count: 2}}}
	page := laidOut(t, p)
	head := parsed(t, between(t, page, `aria-label="Pages"`, "</nav>"))
	rare := parsed(t, between(t, page, `"More pages"`, "</nav>"))
	foot, more := parsed(t, between(t, page, `"Pages at the foot"`, "<details")),
		parsed(t, between(t, page, `foot-more"`, "</div>"))
	assert.Len(t, head["a"], 3)
	assert.Len(t, rare["a"], 1)
	assert.Len(t, foot["a"], 2)
	assert.Len(t, more["a"], 2)
	assert.Equal(t, map[string]string{"class": "tab", "href": "/sheet?on=1&x", "aria-current": "page", "data-key": "s"}, head["a"][2])
	assert.NotContains(t, foot["a"][1], "data-key", "a key opens one label")
	assert.Contains(t, wordsOf(head), "Day sheet 3 due")
	assert.Len(t, foot["i"], 1)
	assert.Empty(t, append(rare["i"], more["i"]...))
	assert.Len(t, parsed(t, between(t, page, `<dl class=`, "</dl>"))["kbd"], 4*2+8)
	assert.NotContains(t, page, "open-page")
	p.Tabs[2].Open, p.Tabs[1].Open = false, true
	assert.Contains(t, laidOut(t, p), " open-page ")
}

func TestLayoutShowsOnlyGardenName(t *testing.T) {
	p := view.Page{Title: nasty, Garden: nasty, DayText: nasty, Sky: nasty, SkyFrom: nasty, Path: nasty, On: 1, OnText: nasty,
		OffNote: true,
		Tabs:    []view.Tab{{Name: nasty, Href: nasty, Key: nasty}}, Message: &view.Message{Text: nasty, Undo: 7, Key: nasty,
			Back: nasty, Bad: true}}
	for _, who := range []func(*view.Page){func(p *view.Page) { p.Demo = true }, func(p *view.Page) { p.SignedIn = true },
		func(*view.Page) {},
		func(p *view.Page) { p.Tabs = nil }, func(p *view.Page) { p.Plain = true }} {
		p := p
		who(&p)
		page := laidOut(t, p)
		got := parsed(t, between(t, page, "<body", "</body>"))
		assert.Empty(t, got["script"])
		assert.Len(t, got["h1"], 1)
		assert.Len(t, got["main"], 1)
		assert.Equal(t, !p.Plain, len(got["header"]) == 1)
		assert.Equal(t, len(p.Tabs) > 0, strings.Contains(page, `id="foot-bar"`))
		// At the head, and at the foot of a phone.
		at := map[bool]int{true: 2}
		assert.Equal(t, at[p.Demo], strings.Count(page, "/demo/day"))
		assert.Equal(t, at[p.SignedIn], strings.Count(page, "/sign-out"))
		assert.Regexp(t, `class="[^"]* flash bad"`, page)
		assert.Contains(t, page, `action="/undo/7"`)
		assert.Contains(t, page, "Back to today")
	}
	p.Message, p.OffNote, p.Off = &view.Message{Text: "That was another day."}, false, true
	page := laidOut(t, p)
	assert.Regexp(t, `class="[^"]* flash"`, page)
	assert.Contains(t, page, "That was another day.")
	assert.NotContains(t, page, "/undo/", "what cannot be taken back offers no way back")
	p.Message = nil
	page = laidOut(t, p)
	assert.NotContains(t, page, "/undo/")
	assert.NotContains(t, page, "Back to today", "another day is said only where the page does not say it")
}
