package web

import (
	"cmp"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/ui"
	"zephyrfield/internal/web/view"
)

var _ = pagesAt(
	post("/undo/:id", (*server).undo),
	post("/demo/day", (*server).moveDay).when(ownCalendar),
)

// units are those of the garden, for a form that is read before its page is
// made.
func (s *server) units(c *gin.Context) words.Units {
	g, err := s.keep.Place(c.Request.Context())
	if err != nil {
		s.Log.Error("reading the units", "error", err)
	}
	return g.Units()
}

// How far the date handle goes.
const (
	handleBackMonths  = 48
	handleAheadMonths = 18
)

// stepped puts the day that an address steps to (?on= with months and days from it) in the
// address, so that a page is asked for in one way only.
func (s *server) stepped(c *gin.Context) {
	q := c.Request.URL.Query()
	months, errM := strconv.Atoi(cmp.Or(q.Get("months"), "0"))
	days, errD := strconv.Atoi(cmp.Or(q.Get("days"), "0"))
	on, err := quantity.ParseDay(q.Get("on"))
	if c.Request.Method != http.MethodGet || errM != nil || errD != nil || err != nil || months == 0 && days == 0 ||
		max(months, -months) > mostSteps || max(days, -days) > mostSteps {
		return
	}
	q.Del("months")
	q.Del("days")
	q.Del("on")
	if on = s.bounded(on.AddMonths(months) + quantity.Day(days)); on != s.Clock.Today() {
		q.Set("on", on.String())
	}
	c.Request.URL.RawQuery = q.Encode()
}

// mostSteps is how many months or days one address steps over.
const mostSteps = 10_000

// on is the day that a page is asked to show; today when none or a wrong one
// is given.
func (s *server) on(c *gin.Context) quantity.Day {
	today := s.Clock.Today()
	d, err := quantity.ParseDay(c.Query("on"))
	if err != nil {
		return today
	}
	return s.bounded(d)
}

// bounded keeps a day to those that the handle reaches.
func (s *server) bounded(d quantity.Day) quantity.Day {
	today := s.Clock.Today()
	return min(max(d, today.AddMonths(-handleBackMonths)), today.AddMonths(handleAheadMonths))
}

const (
	sheetTab   = "Day sheet"
	seasonsTab = "Seasons"
)

// tabs are the pages of the work in the soil line, then those that are rarer, under the garden's name.
var tabs = []view.Tab{
	{Name: "Ground", Href: "/", Key: "g", Foot: true}, {Name: "Walk", Href: "/walk", Key: "w", Foot: true},
	{Name: "Bench", Href: "/bench", Key: "b", Foot: true}, {Name: "Dose", Href: "/dose", Key: "d"}, {Name: shedTab, Href: "/shed", Key: "e"},
	{Name: sheetTab, Href: "/sheet", Key: "s", Foot: true},
	{Name: seasonsTab, Href: "/seasons", Key: "y"},
	{Name: "Beds", Href: "/beds", Key: "a", Rare: true}, {Name: "Place", Href: "/place", Key: "p", Rare: true},
	{Name: "Crops", Href: "/crops", Key: "c", Rare: true},
	{Name: "Year by year", Href: "/years", Key: "r", Rare: true}, {Name: "What went on", Href: "/log", Key: "l", Rare: true},
	{Name: "Safe keeping", Href: "/keep", Key: "k", Rare: true}, {Name: "Help", Href: "/help", Key: "h", Rare: true},
}

// home is the address of an open label.
func home(tab string) string {
	for _, t := range tabs {
		if t.Name == tab {
			return t.Href
		}
	}
	return "/"
}

// formAt is where the form of an address that is posted to stands.
var formAt = map[string]string{"/beds": "/beds/new", "/beds/:id": "/beds/:id/edit", "/marks": "/marks", "/marks/:id": "/marks/:id/edit",
	"/bench/lab": "/bench/lab", "/bench/lab/:id": "/bench/lab/:id"}

// opened is the address at which the page of a request can be opened again.
func opened(c *gin.Context, tab string) string {
	if c.Request.Method == http.MethodGet {
		return c.Request.URL.Path
	}
	if form, ok := formAt[c.FullPath()]; ok {
		return strings.ReplaceAll(form, ":id", c.Param("id"))
	}
	return home(tab)
}

// page starts a view: the garden's name, the day, the message of the last
// change.
func (s *server) page(c *gin.Context, g garden.Garden, tab, title string) view.Page {
	today := s.Clock.Today()
	climate := g.Warmth()
	p := view.Page{Title: title, Tab: tab, Garden: g.Name, Today: today, DayText: today.Time().Format("Mon 2 Jan 2006"),
		Sky: words.Temperature(climate.At(today)) + " soil", SkyFrom: skyFrom(climate, today),
		Demo: s.Demo != nil, Rehearsal: s.Rehearsal != nil, SignedIn: s.SignIn, Key: form.NewKey(), Units: g.Units()}
	p.Path = opened(c, tab)
	if c.Request.Method == http.MethodGet {
		p.Path = ui.OwnPath(c)
	}
	due, err := s.keep.Year.DueCount(c.Request.Context(), today)
	if err != nil {
		s.Log.Error("counting what is due", "error", err)
	}
	for _, t := range tabs {
		t.Open = t.Name == tab
		if t.Name == sheetTab {
			t.Count = due
		}
		p.Tabs = append(p.Tabs, t)
	}
	p.Show(today)
	p.Message = s.message(c, p.Path)
	return p
}

// skyFrom says where the soil’s temperature of a day is from.
func skyFrom(c soil.Climate, day quantity.Day) string {
	if _, ok := c.MeasuredOn(day); ok {
		return "measured today"
	}
	if c.At(day) != c.Usual(day) {
		return "by what was measured"
	}
	return "usual for the day"
}

// message reads the message that ?said= points at.
func (s *server) message(c *gin.Context, back string) *view.Message {
	id, err := strconv.ParseInt(c.Query("said"), 10, 64)
	if err != nil {
		return nil
	}
	e, err := s.keep.Entry(c.Request.Context(), id)
	if err != nil {
		return nil
	}
	f := &view.Message{Text: e.What + ".", Key: form.NewKey(), Back: back}
	if e.CanUndo() {
		f.Undo = e.ID
	}
	return f
}

// render writes a page.
func (s *server) render(c *gin.Context, status int, name string, v view.Framed) {
	page, err := s.pages.Page(name, v)
	s.send(c, status, name, page, err)
}

// renderPart writes one named part of a page.
func (s *server) renderPart(c *gin.Context, page, part string, v any) {
	b, err := s.pages.PartOf(page, part, v)
	s.send(c, http.StatusOK, part, b, err)
}

// send answers with what was laid out.
func (s *server) send(c *gin.Context, status int, name string, page []byte, err error) {
	s.unsteady(c)
	if err != nil {
		s.Log.Error("template", "name", name, "error", err)
		c.Data(http.StatusInternalServerError, "text/plain; charset=utf-8", []byte("Something went wrong here. Nothing was changed."))
		return
	}
	c.Data(status, "text/html; charset=utf-8", page)
}

// act says who posts.
func (s *server) act(c *gin.Context) garden.Act {
	return garden.Act{Who: "gardener", Key: c.PostForm("key"), At: s.Clock.Now(), Today: s.Clock.Today(),
		Sure: c.PostForm(garden.SureField), Digest: digest(c)}
}

// digest stands for what a form says, whatever order it was sent in. Files are
// told apart by their names and sizes.
func digest(c *gin.Context) string {
	h := sha256.New()
	_, _ = fmt.Fprintf(h, "%s\n", c.Request.URL.Path)
	for _, field := range slices.Sorted(maps.Keys(c.Request.PostForm)) {
		// The question of whether it is sure is no content.
		if field != "key" && field != garden.SureField && field != "back" {
			_, _ = fmt.Fprintf(h, "%q %q\n", field, c.Request.PostForm[field])
		}
	}
	if m := c.Request.MultipartForm; m != nil {
		for _, field := range slices.Sorted(maps.Keys(m.File)) {
			for _, f := range m.File[field] {
				_, _ = fmt.Fprintf(h, "%q %q %d\n", field, f.Filename, f.Size)
			}
		}
	}
	return base64.RawURLEncoding.EncodeToString(h.Sum(nil))
}

// done goes on to a page that tells what was done. Only places of our own are
// gone to.
func (s *server) done(c *gin.Context, to string, r garden.Receipt) {
	to = ui.Within(to)
	sep := "?"
	if strings.Contains(to, "?") {
		sep = "&"
	}
	to += sep + "said=" + strconv.FormatInt(r.Journal, 10)
	if c.GetHeader("X-Queued") != "" {
		c.Header("X-Done", to)
		c.Status(http.StatusNoContent)
		return
	}
	c.Redirect(http.StatusSeeOther, to)
}

func (s *server) undo(c *gin.Context) error {
	id, err := paramID(c)
	if err != nil {
		return err
	}
	more, err := moreOf(c)
	if err != nil {
		return err
	}
	r, err := s.keep.Undo(c.Request.Context(), s.act(c), id, more...)
	var faults garden.Faults
	switch {
	case errors.Is(err, garden.ErrStale):
		s.fail(c, http.StatusConflict, "That cannot be taken back: something it touched has been changed since.")
		return nil
	case errors.As(err, &faults):
		s.fail(c, http.StatusConflict, "That cannot be taken back: "+words.Sentence(ui.FirstFault(faults)))
		return nil
	}
	if err != nil {
		return err
	}
	s.done(c, c.PostForm("back"), r)
	return nil
}

// mostFolded is how many lines of the journal are taken back at one press.
const mostFolded = 500

// moreOf are the lines that are taken back with one.
func moreOf(c *gin.Context) (out []int64, err error) {
	for _, s := range strings.FieldsFunc(c.PostForm("more"), func(r rune) bool { return r == ',' }) {
		id, err := strconv.ParseInt(s, 10, 64)
		if err != nil || len(out) >= mostFolded {
			return nil, garden.ErrMissing
		}
		out = append(out, id)
	}
	return out, nil
}

func paramID(c *gin.Context) (int64, error) {
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return 0, garden.ErrMissing
	}
	return id, nil
}

// moveDay moves the calendar of the demo, or of a rehearsal, on.
func (s *server) moveDay(c *gin.Context) error {
	days := quantity.Day(1)
	switch c.PostForm("by") {
	case "week":
		days = 7
	case "month":
		days = s.Clock.Today().AddMonths(1) - s.Clock.Today()
	}
	if _, err := cmp.Or(s.Demo, s.Rehearsal).MoveOn(days); err != nil {
		return err
	}
	c.Redirect(http.StatusSeeOther, ui.Within(c.PostForm("back")))
	return nil
}
