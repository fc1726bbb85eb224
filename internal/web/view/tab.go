package view

import "slices"

// Tab is a tab of the navigation.
type Tab struct {
	Name, Href, Key string
	Open            bool
	// Count is the number of waiting items; 0 is not shown.
	Count int
	// Rare is set for a tab under the garden's name; Foot for one at the foot of a phone, where the
	// rest is under More.
	Rare, Foot bool
}

// Usual returns the tabs in the header.
func (p *Page) Usual() []Tab { return p.standing(func(t *Tab) bool { return !t.Rare }) }

// Rare returns the tabs under the garden's name.
func (p *Page) Rare() []Tab { return p.standing(func(t *Tab) bool { return t.Rare }) }

// AtFoot returns the tabs at the foot of a small screen.
func (p *Page) AtFoot() []Tab { return p.standing(func(t *Tab) bool { return t.Foot }) }

// Folded returns the tabs under More on a small screen.
func (p *Page) Folded() []Tab { return p.standing(func(t *Tab) bool { return !t.Foot }) }

func (p *Page) standing(there func(*Tab) bool) (out []Tab) {
	for i := range p.Tabs {
		if there(&p.Tabs[i]) {
			out = append(out, p.Tabs[i])
		}
	}
	return out
}

// MoreOpen reports whether the current page is under More.
func (p *Page) MoreOpen() bool {
	return slices.ContainsFunc(p.Tabs, func(t Tab) bool { return t.Open && !t.Foot })
}
