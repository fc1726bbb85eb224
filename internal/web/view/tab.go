package view

import "slices"

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

// Usual, Rare, AtFoot and Folded are the labels of the line at the head, under the garden's name, at
// the foot of a phone, and folded there.
func (p *Page) Usual() []Tab { return p.standing(func(t *Tab) bool { return !t.Rare }) }

// Rare returns the tabs of what is seldom opened.
func (p *Page) Rare() []Tab { return p.standing(func(t *Tab) bool { return t.Rare }) }

// AtFoot returns the tabs at the foot of a small screen.
func (p *Page) AtFoot() []Tab { return p.standing(func(t *Tab) bool { return t.Foot }) }

// Folded returns the tabs that a small screen folds away.
func (p *Page) Folded() []Tab { return p.standing(func(t *Tab) bool { return !t.Foot }) }

func (p *Page) standing(there func(*Tab) bool) (out []Tab) {
	for i := range p.Tabs {
		if there(&p.Tabs[i]) {
			out = append(out, p.Tabs[i])
		}
	}
	return out
}

// MoreOpen reports whether the open page is one of those that are folded at the foot of a phone.
func (p *Page) MoreOpen() bool {
	return slices.ContainsFunc(p.Tabs, func(t Tab) bool { return t.Open && !t.Foot })
}
