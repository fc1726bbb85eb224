package site

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
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/view"
)

// Units returns the garden's units, for a form that is read before its page is made.
func (s *Site) Units(c *gin.Context) text.Units {
	g, err := s.App(c).Place(c.Request.Context())
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

// MostSteps is how many months or days one address may step over.
const MostSteps = 10_000

// On returns the day that a request asks to show; today when there is none or it is invalid.
func (s *Site) On(c *gin.Context) quantity.Day {
	today := s.Clock.Today()
	d, err := quantity.ParseDay(c.Query("on"))
	if err != nil {
		return today
	}
	return s.Bounded(d)
}

// Bounded limits a day to the range of the date handle.
func (s *Site) Bounded(d quantity.Day) quantity.Day {
	today := s.Clock.Today()
	return min(max(d, today.AddMonths(-handleBackMonths)), today.AddMonths(handleAheadMonths))
}

const (
	SheetTab   = "Day sheet"
	SeasonsTab = "Seasons"
	CropsTab   = "Crops"
	YearsTab   = "Year by year"
	// SettingsTab is the page of the garden's place, units and money, LogTab of what was put on, and
	// BackupTab of files and copies.
	SettingsTab = "Garden settings"
	LogTab      = "Log"
	BackupTab   = "Backup and files"
)

// Tabs are the pages of the main navigation, then those under the garden's name by their headings.
var Tabs = []view.Tab{
	{Name: "Ground", Href: "/", Key: "g", Foot: true}, {Name: "Walk", Href: "/walk", Key: "w", Foot: true},
	{Name: "Bench", Href: "/bench", Key: "b", Foot: true}, {Name: "Dose", Href: "/dose", Key: "d"}, {Name: ShedTab, Href: "/shed", Key: "e"},
	{Name: SheetTab, Href: "/sheet", Key: "s", Foot: true},
	{Name: SeasonsTab, Href: "/seasons", Key: "y"},
	{Name: "Beds", Href: "/beds", Key: "a", Group: "Garden"}, {Name: CropsTab, Href: "/crops", Key: "c", Group: "Garden"},
	{Name: SettingsTab, Href: "/place", Key: "p", Group: "Garden"},
	{Name: YearsTab, Href: "/years", Key: "r", Group: "Records"}, {Name: LogTab, Href: "/log", Key: "l", Group: "Records"},
	{Name: BackupTab, Href: "/keep", Key: "k", Group: "Files and help"}, {Name: "Help", Href: "/help", Key: "h", Group: "Files and help"},
}

// home returns the address of an open label.
func home(tab string) string {
	for _, t := range Tabs {
		if t.Name == tab {
			return t.Href
		}
	}
	return "/"
}

// formAt maps the address of a post to the page of its form.
var formAt = map[string]string{"/beds": "/beds/new", "/beds/:id": "/beds/:id/edit", "/marks": "/marks", "/marks/:id": "/marks/:id/edit",
	"/bench/lab": "/bench/lab", "/bench/lab/:id": "/bench/lab/:id"}

// opened returns the address at which the page of a request can be opened again.
func opened(c *gin.Context, tab string) string {
	if c.Request.Method == http.MethodGet {
		return c.Request.URL.Path
	}
	if form, ok := formAt[c.FullPath()]; ok {
		return strings.ReplaceAll(form, ":id", c.Param("id"))
	}
	return home(tab)
}

// Page starts the view of a page: the garden's name, the day, the message of the last change.
func (s *Site) Page(c *gin.Context, g garden.Garden, tab, title string) view.Page {
	today := s.Clock.Today()
	climate := g.Warmth()
	p := view.Page{Title: title, Tab: tab, Garden: g.Name, Today: today, DayText: today.Time().Format("Mon 2 Jan 2006"),
		Sky: text.Temperature(climate.At(today)) + " soil", SkyFrom: SkyFrom(climate, today),
		Demo: s.Demo != nil, Rehearsal: s.Rehearsal != nil, SignedIn: s.SignIn, Key: form.NewKey(), Units: g.Units()}
	p.Path = opened(c, tab)
	if c.Request.Method == http.MethodGet {
		p.Path = OwnPath(c)
	}
	due, err := s.App(c).Schedule.DueCount(c.Request.Context(), today)
	if err != nil {
		s.Log.Error("counting what is due", "error", err)
	}
	for _, t := range Tabs {
		t.Open = t.Name == tab
		if t.Name == SheetTab {
			t.Count = due
		}
		p.Tabs = append(p.Tabs, t)
	}
	p.Show(today)
	p.Message = s.Message(c, p.Path)
	return p
}

// SkyFrom returns the source of a day's soil temperature.
func SkyFrom(c soil.Climate, day quantity.Day) string {
	if _, ok := c.MeasuredOn(day); ok {
		return "measured today"
	}
	if c.At(day) != c.Usual(day) {
		return "by what was measured"
	}
	return "usual for the day"
}

// Message reads the journal line that ?said= names.
func (s *Site) Message(c *gin.Context, back string) *view.Message {
	id, err := strconv.ParseInt(c.Query("said"), 10, 64)
	if err != nil {
		return nil
	}
	e, err := s.App(c).Entry(c.Request.Context(), id)
	if err != nil {
		return nil
	}
	f := &view.Message{Text: e.What + ".", Key: form.NewKey(), Back: back}
	if e.CanUndo() {
		f.Undo = e.ID
	}
	return f
}

// Render answers with a page.
func (s *Site) Render(c *gin.Context, status int, name string, v view.Framed) {
	page, err := s.Templates.Page(name, v)
	s.Send(c, status, name, page, err)
}

// RenderPart answers with one named template of a page.
func (s *Site) RenderPart(c *gin.Context, page, part string, v any) {
	b, err := s.Templates.PartOf(page, part, v)
	s.Send(c, http.StatusOK, part, b, err)
}

// Send writes a rendered page.
func (s *Site) Send(c *gin.Context, status int, name string, page []byte, err error) {
	if err != nil {
		s.Log.Error("template", "name", name, "error", err)
		s.Data(c, http.StatusInternalServerError, "text/plain; charset=utf-8", []byte("Something went wrong here. Nothing was changed."))
		return
	}
	s.Data(c, status, "text/html; charset=utf-8", page)
}

// Actor returns who posts, when, and under which idempotency key.
func (s *Site) Actor(c *gin.Context) garden.Actor {
	return garden.Actor{Who: "gardener", Key: c.PostForm("key"), At: s.Clock.Now(), Today: s.Clock.Today(),
		Sure: c.PostForm(garden.SureField), Digest: digest(c)}
}

// digest hashes the fields of a form, whatever their order, and the names and sizes of its files.
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

// Done redirects to a page that shows what was done. Addresses of other sites are replaced.
func (s *Site) Done(c *gin.Context, to string, r garden.Receipt) {
	to = Within(to)
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

// Undo takes back a journal line.
func (s *Site) Undo(c *gin.Context) error {
	id, err := ParamID(c)
	if err != nil {
		return err
	}
	more, err := moreOf(c)
	if err != nil {
		return err
	}
	r, err := s.App(c).Undo(c.Request.Context(), s.Actor(c), id, more...)
	var faults garden.Faults
	switch {
	case errors.Is(err, garden.ErrStale):
		s.Fail(c, http.StatusConflict, "That cannot be undone: something in it has been changed since.")
		return nil
	case errors.As(err, &faults):
		s.Fail(c, http.StatusConflict, "That cannot be undone: "+text.Sentence(FirstFault(faults)))
		return nil
	}
	if err != nil {
		return err
	}
	s.Done(c, c.PostForm("back"), r)
	return nil
}

// mostFolded is how many journal lines one press may take back.
const mostFolded = 500

// moreOf returns the entries that are undone with one.
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

// ParamID returns the id in the address; garden.ErrMissing where it is not a number.
func ParamID(c *gin.Context) (int64, error) {
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return 0, garden.ErrMissing
	}
	return id, nil
}

// MoveDay advances the calendar of the demo or of a rehearsal.
func (s *Site) MoveDay(c *gin.Context) error {
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
	c.Redirect(http.StatusSeeOther, Within(c.PostForm("back")))
	return nil
}

// TaskPost reads the id of a record from the address and its version from the form; garden.ErrStale without a
// version.
func TaskPost(c *gin.Context) (id, version int64, err error) {
	if id, err = ParamID(c); err != nil {
		return 0, 0, err
	}
	version, err = strconv.ParseInt(c.PostForm("version"), 10, 64)
	if err != nil {
		return 0, 0, garden.ErrStale
	}
	return id, version, nil
}
