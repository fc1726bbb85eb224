package ui

import (
	"html/template"

	"zephyrfield/internal/web/ink"
)

// Tab is a label of the navigation.
type Tab struct {
	Name, Href, Key string
	Open            bool
	// Count is how much waits there; 0 is not shown.
	Count int
	// Rare is set where it stands under the garden's name; Foot where it stands at the foot
	// of a phone, the rest under More.
	Rare, Foot bool
}

// MoreOpen tells whether the open page stands under More at the foot of a phone.
func (p Page) MoreOpen() bool {
	for _, t := range p.Tabs {
		if t.Open {
			return !t.Foot
		}
	}
	return false
}

// MainTabs are the labels in the line at the head, RareTabs those under the garden’s name.
func (p Page) MainTabs() template.HTML {
	return p.labels(func(t Tab) bool { return !t.Rare }, true, true)
}

// RareTabs are the labels under the garden’s name.
func (p Page) RareTabs() template.HTML {
	return p.labels(func(t Tab) bool { return t.Rare }, true, false)
}

// FootTabs are the labels at the foot of a phone, MoreTabs those that are folded there.
func (p Page) FootTabs() template.HTML {
	return p.labels(func(t Tab) bool { return t.Foot }, false, true)
}

// MoreTabs are the labels that are folded at the foot of a phone.
func (p Page) MoreTabs() template.HTML {
	return p.labels(func(t Tab) bool { return !t.Foot }, false, false)
}

// labels writes those that are meant, with the keys that open them or without, with how
// much waits there or without.
func (p Page) labels(meant func(Tab) bool, keys, counts bool) template.HTML {
	var k ink.Ink
	for _, t := range p.Tabs {
		if !meant(t) {
			continue
		}
		k.Put(`<a href="%"`, t.Href)
		if t.Open {
			k.Put(` aria-current="page"`)
		}
		if keys {
			k.Put(` data-key="%"`, t.Key)
		}
		k.Put(`>%`, t.Name)
		if counts && t.Count > 0 {
			k.Put(` <i title="due">%<span class="sr"> due</span></i>`, t.Count)
		}
		k.Put("</a>\n")
	}
	return k.HTML()
}

// TabKeys is the list of the keys that open pages.
func (p Page) TabKeys() template.HTML {
	var k ink.Ink
	for _, t := range p.Tabs {
		k.Put("<dt><kbd>g</kbd> <kbd>%</kbd></dt><dd>%</dd>\n", t.Key, t.Name)
	}
	return k.HTML()
}
