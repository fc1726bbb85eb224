// Package view holds the plain structs that templates render, with every text resolved. It knows
// neither rules nor requests.
package view

import (
	"net/url"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/web/svg"
)

// Page is common to every view.
type Page struct {
	// Title is the page's heading, Tab the current tab.
	Title, Tab string
	Garden     string
	Today      quantity.Day
	// DayText is the day in words; Sky the soil temperature, SkyFrom its source.
	DayText, Sky, SkyFrom string
	Demo                  bool
	Rehearsal             bool
	SignedIn              bool
	Message               *Message
	Tabs                  []Tab
	// Ribbon is the year ribbon at the foot; nil for none.
	Ribbon *svg.Ribbon
	// Key is the idempotency key of the page's forms.
	Key string
	// Path is the page's address, to return to.
	Path string
	// On is the shown day, Off is set if it is not today; OnQuery is the query parameter that
	// carries it on.
	On      quantity.Day
	Off     bool
	OnText  string
	OnQuery string
	// OffNote is set when the page itself does not mention that another day is shown.
	OffNote bool
	// Plain is set for a page without navigation.
	Plain bool
	// Units are those of the garden.
	Units text.Units
}

// LengthIn returns the name of the length unit.
func (p Page) LengthIn() string { return p.Units.Lengths().Name }

// DepthIn returns the name of the depth unit.
func (p Page) DepthIn() string { return p.Units.Depths().Name }

// WeightIn returns the name of the weight unit.
func (p Page) WeightIn() string { return p.Units.Weights().Name }

// Show sets the shown day.
func (p *Page) Show(day quantity.Day) {
	p.On, p.Off = day, day != p.Today
	if p.Off {
		p.OnText, p.OnQuery = text.DayYear(day), "&on="+day.String()
		for i := range p.Tabs {
			p.Tabs[i].Href += "?on=" + day.String()
		}
	}
}

// TodayPath returns the page's address for today.
func (p Page) TodayPath() string {
	u, err := url.Parse(p.Path)
	if err != nil {
		return "/"
	}
	q := u.Query()
	q.Del("on")
	u.RawQuery = q.Encode()
	return u.RequestURI()
}

// Message is the result of the last change, with its undo.
type Message struct {
	Text string
	// Undo is the journal entry that can be undone; 0 for none.
	Undo int64
	Bad  bool
	Key  string
	Back string
	// Href leads to the next step, named Next; "" for none.
	Href, Next string
}

// Framed is the view of a whole page: one that embeds Page.
type Framed interface{ Frame() *Page }

// Frame returns the page's common view.
func (p Page) Frame() *Page { return &p }

// WindowTitle returns the document's title; that of a rehearsal says so.
func (p Page) WindowTitle() string {
	if p.Rehearsal {
		return p.Title + " · Rehearsal"
	}
	return p.Title
}

// OwnCalendar reports whether the garden's calendar is advanced by hand.
func (p Page) OwnCalendar() bool { return p.Demo || p.Rehearsal }
