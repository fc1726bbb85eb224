// Package view holds the plain structs that templates render, with every text resolved. It
// knows no rules and no requests.
package view

import (
	"net/url"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/web/svg"
)

// Page is what every view carries.
type Page struct {
	// Title is the finding that heads the page, Tab the open label of the nav.
	Title, Tab string
	Garden     string
	Today      quantity.Day
	// DayText is the day in words; Sky the soil temperature, SkyFrom where that is from.
	DayText, Sky, SkyFrom string
	Demo                  bool
	Rehearsal             bool
	SignedIn              bool
	Message               *Message
	Tabs                  []Tab
	// Ribbon is the year at the foot; nil where there is none.
	Ribbon *svg.Ribbon
	// Key makes the page's posts land once.
	Key string
	// Path is this page's own address, to come back to.
	Path string
	// On is the day that is shown, Off set when it is not today; OnQuery carries
	// it on in addresses.
	On      quantity.Day
	Off     bool
	OnText  string
	OnQuery string
	// OffNote is set where the page itself does not say that another day is
	// shown.
	OffNote bool
	// Plain is set where nothing of the other pages stands around it.
	Plain bool
	// Units are those of the garden.
	Units text.Units
}

// LengthIn, DepthIn and WeightIn name the units of a form's fields.
func (p Page) LengthIn() string { return p.Units.Lengths().Name }

// DepthIn names the unit of depths.
func (p Page) DepthIn() string { return p.Units.Depths().Name }

// WeightIn names the unit of weights.
func (p Page) WeightIn() string { return p.Units.Weights().Name }

// Show sets the day that is shown.
func (p *Page) Show(day quantity.Day) {
	p.On, p.Off = day, day != p.Today
	if p.Off {
		p.OnText, p.OnQuery = text.DayYear(day), "&on="+day.String()
		for i := range p.Tabs {
			p.Tabs[i].Href += "?on=" + day.String()
		}
	}
}

// TodayPath is this page's address without another day.
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

// Message says what was done, with a way back.
type Message struct {
	Text string
	// Undo is the journal line that can be taken back; 0 when none.
	Undo int64
	Bad  bool
	Key  string
	Back string
	// Href leads on to what follows from it, which Next names; "" where nothing does.
	Href, Next string
}

// Framed is a view that a whole page can be laid out from: one that holds a Page.
type Framed interface{ Frame() *Page }

// Frame returns what stands around the page.
func (p Page) Frame() *Page { return &p }

// WindowTitle returns the title of the page's tab: that of a rehearsal says that it is one.
func (p Page) WindowTitle() string {
	if p.Rehearsal {
		return p.Title + " · Rehearsal"
	}
	return p.Title
}

// OwnCalendar reports whether the garden runs on a calendar that is moved on by hand.
func (p Page) OwnCalendar() bool { return p.Demo || p.Rehearsal }
