package ui

import (
	"html/template"

	"zephyrfield/internal/web/ink"
)

// Framed is a view that a whole page can be laid out from: one that holds a Page.
type Framed interface{ Frame() *Page }

// Frame is what stands around the page.
func (p Page) Frame() *Page { return &p }

// before writes what stands before the page's own content: kind names the page to its looks,
// head is the part of it that is the same for all.
func (p *Page) before(k *ink.Ink, kind string, head template.HTML) {
	k.Put(`<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>% · Zephyr Field</title>
%</head>
<body class="page-%">
<a class="skip" href="#main">To the page</a>
`, p.titled(), head, kind)
	if !p.Plain {
		p.top(k)
	}
	p.Flash.write(k)
	k.Put(`<div id="page" data-today="%">
<div id="off-note">`, p.Today.String())
	if p.OffNote {
		k.Put(`
    <p class="off-today" role="status">Shown as of <b>%</b>: to read, not to act. <a id="back-to-today"
        href="%">Back to today</a></p>
  `, p.OnText, p.TodayPath())
	}
	k.Put(`</div>
<main id="main" tabindex="-1">`)
}

// top writes the line at the head: the garden, the labels, the day.
func (p *Page) top(k *ink.Ink) {
	k.Put(`<header class="top">
  <div class="brand"><a href="/"><b>Zephyr Field</b></a>`)
	if len(p.Tabs) == 0 {
		k.Put(`<span>`)
		p.garden(k)
		k.Put(`</span></div>
</header>`)
		return
	}
	k.Put(`<details class="more-pages"><summary>`)
	p.garden(k)
	k.Put(`</summary><nav id="rare-tabs"
      aria-label="More pages">`)
	p.labels(k, rare, true, false)
	k.Put(`</nav></details></div>
  <nav id="tabs" aria-label="Pages">`)
	p.labels(k, usual, true, true)
	k.Put(`</nav>
  <form class="find" action="/find" method="get" role="search">
    <label for="find">Find<span class="sr"> a bed</span></label><input id="find" name="q" type="search" placeholder="Find a bed   /"
        autocomplete="off"></form>
  <div class="sky">
    <p><span class="wide-only"><b>%</b> · %<br></span>`, p.Sky, p.SkyFrom)
	switch {
	case p.Demo:
		k.Put(`Demo calendar: <b id="demo-day">%</b></p>
    `, p.DayText)
		p.nextDay(k, "tiny")
	case p.Rehearsal:
		k.Put(rehearsal)
		k.Put(` <b id="demo-day">%</b></p>
    `, p.DayText)
		p.nextDay(k, "tiny")
	case p.SignedIn:
		k.Put(`%</p>
    <form method="post" action="/sign-out"><button class="tiny">Sign out</button></form>`, p.DayText)
	default:
		k.Put(`%</p>`, p.DayText)
	}
	k.Put(`
    <button type="button" class="tiny" data-keys hidden aria-label="Keys">?</button>
  </div>
</header>`)
}

// rehearsal marks a rehearsal: beside its name, on paper too, and on the phone beside its day.
const rehearsal = `<span class="rehearsal">Rehearsal</span>`

// garden writes the garden's name.
func (p *Page) garden(k *ink.Ink) {
	if p.Rehearsal {
		k.Put(rehearsal + " ")
	}
	k.Put(`%`, p.Garden)
}

// titled is the title of the page's tab: that of a rehearsal says that it is one.
func (p *Page) titled() string {
	if p.Rehearsal {
		return p.Title + " · Rehearsal"
	}
	return p.Title
}

// nextDay writes the buttons that move the demo's calendar.
func (p *Page) nextDay(k *ink.Ink, look string) {
	k.Put(`<form method="post" action="/demo/day"><input type="hidden" name="back" value="%">
      <button class="%" name="by" value="day">Next day</button><button class="%" name="by" value="week">Next week</button>`,
		p.Path, look, look)
	if p.Rehearsal {
		k.Put(`<button class="%" name="by" value="month">Next month</button>`, look)
	}
	k.Put(`</form>`)
}

// write says what was done, with a way back.
func (f *Flash) write(k *ink.Ink) {
	k.Put(`
<div id="flash" role="status">`)
	if f != nil {
		look := "flash"
		if f.Bad {
			look = "flash bad"
		}
		k.Put(`
  <div class="%"><p>%</p>`, look, f.Text)
		if f.Href != "" {
			k.Put(`<a class="button" href="%">%</a>`, f.Href, f.Next)
		}
		if f.Undo != 0 {
			k.Put(`<form method="post" action="/undo/%"><input type="hidden" name="key" value="%">
        <input type="hidden" name="back" value="%"><button class="quiet">Undo</button></form>`, f.Undo, f.Key, f.Back)
		}
		k.Put(`
  </div>`)
	}
	k.Put(`
</div>
`)
}

// after writes what stands after the page's own content; house is the words that can be
// tapped, which are the same for all.
func (p *Page) after(k *ink.Ink, house template.HTML) {
	k.Put(`</main>%
</div>`, p.Ribbon)
	if len(p.Tabs) > 0 {
		p.foot(k)
	}
	k.Put(`
<dialog id="keys" aria-labelledby="keys-title">
  <h2 id="keys-title">Keys</h2><p><a href="/help">Help: the words, the schools, how to sample, the tests, safety</a></p>
  <dl>`)
	for _, t := range p.Tabs {
		k.Put("<dt><kbd>g</kbd> <kbd>%</kbd></dt><dd>%</dd>\n", t.Key, t.Name)
	}
	k.Put(`
    <dt><kbd>[</kbd> <kbd>]</kbd></dt><dd>A month back, a month on</dd><dt><kbd>{</kbd> <kbd>}</kbd></dt>
    <dd>A year back, a year on</dd><dt><kbd>t</kbd></dt><dd>Today</dd>
    <dt><kbd>/</kbd></dt><dd>Find a bed</dd>
    <dt><kbd>n</kbd></dt><dd>New reading</dd><dt><kbd>?</kbd></dt><dd>This list</dd></dl>
  <p><label class="check"><input type="checkbox" id="keys-on" checked> Use these keys</label></p>
  <form method="dialog"><button>Close</button></form>
</dialog>`)
	if len(p.Tabs) > 0 {
		k.Put(`%`, house)
	}
	k.Put(`
</body>
</html>
`)
}

// foot writes the bar at the foot of a phone.
func (p *Page) foot(k *ink.Ink) {
	k.Put(`
<nav id="foot-bar" aria-label="Pages at the foot">`)
	p.labels(k, atFoot, false, true)
	k.Put(`
  <details`)
	if p.moreOpen() {
		k.Put(` class="open-page"`)
	}
	k.Put(`><summary>More</summary><div class="foot-more">
`)
	p.labels(k, folded, false, false)
	k.Put(`
    <p>%. %, %.</p>`, p.Garden, p.Sky, p.SkyFrom)
	switch {
	case p.Demo, p.Rehearsal:
		p.nextDay(k, "quiet")
	case p.SignedIn:
		k.Put(`<form method="post" action="/sign-out"><button class="quiet">Sign out</button></form>`)
	}
	k.Put(`</div></details>
</nav>`)
}
