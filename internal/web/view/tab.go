package view

import "slices"

// Tab is a tab of the navigation.
type Tab struct {
	Name, Href, Key string
	Open            bool
	// Count is the number of waiting items; 0 is not shown.
	Count int
	// Group is the heading of a tab under the garden's name, "" for one in the header; Foot is set for
	// one at the foot of a phone, where the rest is under More.
	Group string
	Foot  bool
}

// TabGroup are the tabs of a heading under the garden's name.
type TabGroup struct {
	Name string
	Tabs []Tab
}

// Usual returns the tabs in the header.
func (p *Page) Usual() []Tab { return p.standing(func(t *Tab) bool { return t.Group == "" }) }

// Rare returns the tabs under the garden's name, by heading.
func (p *Page) Rare() (out []TabGroup) {
	for _, t := range p.standing(func(t *Tab) bool { return t.Group != "" }) {
		if n := len(out); n == 0 || out[n-1].Name != t.Group {
			out = append(out, TabGroup{Name: t.Group})
		}
		g := &out[len(out)-1]
		g.Tabs = append(g.Tabs, t)
	}
	return out
}

// Here returns the name of the current page where no tab of the header or the foot shows it.
func (p *Page) Here() string {
	for _, t := range p.Tabs {
		if t.Open && t.Group != "" {
			return t.Name
		}
	}
	return ""
}

// AtFoot returns the tabs at the foot of a small screen.
func (p *Page) AtFoot() []Tab { return p.standing(func(t *Tab) bool { return t.Foot }) }

// Folded returns the tabs of the header that are under More on a small screen.
func (p *Page) Folded() []Tab {
	return p.standing(func(t *Tab) bool { return !t.Foot && t.Group == "" })
}

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
