package ui

import "zephyrfield/internal/web/ink"

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

// Where labels stand: in the line at the head or under the garden's name, and at the foot of a
// phone or folded there.
func usual(t *Tab) bool  { return !t.Rare }
func rare(t *Tab) bool   { return t.Rare }
func atFoot(t *Tab) bool { return t.Foot }
func folded(t *Tab) bool { return !t.Foot }

// moreOpen tells whether the open page is one of those that are folded at the foot of a phone.
func (p *Page) moreOpen() bool {
	for i := range p.Tabs {
		if t := &p.Tabs[i]; t.Open {
			return folded(t)
		}
	}
	return false
}

// labels writes those that are meant, with the keys that open them or without, with how
// much waits there or without.
func (p *Page) labels(k *ink.Ink, meant func(*Tab) bool, keys, counts bool) {
	for i := range p.Tabs {
		t := &p.Tabs[i]
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
}
