package log

import (
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/view"
)

type logView struct {
	view.Page
	// Filter are the filters; Form is the entry's form, Fields its fields.
	Filter, Fields []view.Field
	File           view.Field
	Form           form.Form
	Rows           []logRow
	Sums           []logSum
	More           string
	Export         string
	// ID and Version are those of the corrected entry; 0: a new one.
	ID, Version int64
	// Fixed is its material, if it cannot be changed.
	Fixed, Bed string
}

type logRow struct {
	Day, Bed, Href, What, Amount, Brings, Note, Change string
	// DayFact and AmountFact name its day and amount.
	DayFact, AmountFact string
}

type logSum struct {
	Season, Bed, Href string
	Brought           []string
}

// mostRows is the largest number of entries on a page.
const mostRows = 200

// Log shows the applications, with sums by bed and season.
func (s *Handler) Log(c *gin.Context) error { return s.showLog(c, http.StatusOK, form.NoForm()) }

func (s *Handler) showLog(c *gin.Context, status int, typed form.Form) error {
	f := form.Asked(c)
	bed, _ := strconv.ParseInt(f.Value("bed"), 10, 64)
	day := s.On(c)
	ask := applications.Filter{Bed: bed, What: material.Kind(f.Value("what")), Season: f.Value("season")}
	l, err := s.App(c).Applications.Log(c.Request.Context(), ask, day)
	if err != nil {
		return err
	}
	u := l.Garden.Units()
	v := logView{Form: typed, Filter: f.Rows(filterTable(l)), Export: "/export/log.csv?" + url.Values{"bed": {f.Value("bed")},
		"what": {f.Value("what")}, "season": {f.Value("season")}}.Encode()}
	for i := range l.Entries {
		if i == mostRows {
			v.More = "The " + text.Count(len(l.Entries)-mostRows, "older entry is", "older entries are") + " in the file."
			break
		}
		v.Rows = append(v.Rows, logRowOf(&l.Entries[i], u))
	}
	for _, x := range l.Sums {
		row := logSum{Season: x.Season, Bed: x.Bed.Name, Href: site.BedHref(x.Bed.ID)}
		for _, b := range present.Brings {
			row.Brought = append(row.Brought, rateOrDash(b.Of(x.Brought), u))
		}
		v.Sums = append(v.Sums, row)
	}
	v.Page = s.Page(c, l.Garden, site.LogTab, text.Count(len(l.Entries), "thing", "things")+" put on")
	typed.Usual("put_date", day.String())
	typed.Sentences()
	v.Fields = typed.Rows(entryTable(l, day, s.Clock.Today()))
	v.File = typed.Resolve(form.Row{Name: "file", Label: "A file with the columns date, bed, material and amount_kg; note is optional",
		Mode: form.File, Accept: form.Sheets})
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "log", v)
	return nil
}

func rateOrDash(r quantity.Rate, u text.Units) string {
	if max(r, -r) < present.LeastShown {
		return "–"
	}
	return u.Rate(r)
}

// bedOptions are beds to choose from.
func bedOptions(beds []garden.Bed) (out []view.Option) {
	for _, b := range beds {
		out = append(out, view.Option{Value: strconv.FormatInt(b.ID, 10), Text: b.Name})
	}
	return out
}

// filterTable returns the filters' fields.
func filterTable(l applications.Log) form.Table {
	beds, kinds, seasons := []view.Option{{Text: "all beds"}}, []view.Option{{Text: "all of it"}}, []view.Option{{Text: "all seasons"}}
	for _, k := range l.Kinds {
		kinds = append(kinds, view.Option{Value: string(k), Text: text.Material(k)})
	}
	for _, x := range l.Seasons {
		seasons = append(seasons, view.Option{Value: x, Text: x})
	}
	return form.Table{{Name: "bed", ID: "of-bed", Label: "Bed", Options: append(beds, bedOptions(l.Beds)...)},
		{Name: "what", ID: "of-what", Label: "What", Options: kinds}, {Name: "season", ID: "of-season", Label: "Season", Options: seasons}}
}

// entryTable returns the fields of a new entry.
func entryTable(l applications.Log, day, today quantity.Day) form.Table {
	choose := []view.Option{{Text: "Choose"}}
	inUse := slices.DeleteFunc(slices.Clone(l.Beds), func(b garden.Bed) bool { return b.Retired != 0 && b.Retired <= day })
	what := slices.Clone(choose)
	for i := range l.Shelf {
		what = append(what, view.Option{Value: dosing.BatchKey(l.Shelf[i].ID), Text: l.Shelf[i].Name})
	}
	return append(form.Table{{Name: "bed", Label: "Bed", Options: append(choose, bedOptions(inUse)...)},
		{Name: "what", Label: "What", Options: append(what, present.MaterialOptions()...)}}, putTable(l.Garden.Units(), today)...)
}

// putTable returns the fields of day and amount, for new and corrected entries.
func putTable(u text.Units, today quantity.Day) form.Table {
	return form.Table{{Name: "put_date", Label: "On", Mode: form.Date, Max: today.String()},
		{Name: "put_amount", Label: "How much", Mode: form.Decimal}, {Name: "measure", Label: "in", Options: measureOptions(u)},
		{Name: "put_note", Label: "Note", Box: form.Wide, MaxLength: 200}}
}

// measureOptions returns the measures of an amount: weight first.
func measureOptions(u text.Units) []view.Option {
	kg := u.Weights()
	out := []view.Option{{Value: kg.Name, Text: kg.Name}}
	out = append(out, view.Option{Value: present.InScoops, Text: "level scoops of a bag or bin"}, view.Option{Value: present.InBags,
		Text: "bags of the shelf"})
	for _, m := range material.Measures {
		out = append(out, view.Option{Value: string(m), Text: text.MeasureName(m)})
	}
	return out
}

func logRowOf(e *applications.Entry, u text.Units) logRow {
	x := logRow{Day: text.DayYear(e.Date), Bed: e.Bed.Name, Href: site.BedHref(e.BedID), What: text.Capital(text.Material(e.What)),
		Note: e.Note, Change: "/log/" + strconv.FormatInt(e.ID, 10), DayFact: fact.PutOn(&e.Application), AmountFact: fact.Put(&e.Application)}
	var scoop *text.Scoop
	if e.Batch != nil {
		x.What, scoop = e.Batch.Name, e.Batch.Measure()
	}
	x.Amount = u.Amount(e.Total, scoop) + ", " + u.Rate(e.Rate)
	if e.Told != "" && scoop == nil {
		x.Amount = e.Told + ", about " + x.Amount
	}
	x.Brings = present.BroughtWords(e.Brought, u)
	return x
}

// entryOf reads an entry from its form; faults are in it. batch is its batch, or nil.
func (s *Handler) entryOf(c *gin.Context, f form.Form, what material.Kind, batch *garden.Batch, bed garden.Bed) garden.Application {
	x := garden.Application{BedID: bed.ID, What: what, Date: f.Day("put_date"), Note: f.Value("put_note")}
	if batch != nil {
		x.What, x.BatchID = batch.Kind, &batch.ID
		what = batch.Kind
	}
	in := s.Units(c).Weights()
	n := f.Needed("put_amount", "How much was put on?")
	x.Total = quantity.Mass(n * in.Size)
	switch by := f.Value("measure"); {
	case by == in.Name || by == "" || n <= 0:
	case by == present.InScoops && batch != nil && batch.Measure() != nil:
		scoop := batch.Measure()
		x.Total, x.Told = quantity.Mass(n)*scoop.Of, text.CountOf(n, scoop.Name, scoop.Name+"s")
	case by == present.InBags && batch != nil && batch.Bag != nil:
		x.Total, x.Told = quantity.Mass(n)**batch.Bag, text.CountOf(n, "bag", "bags")
	case by == present.InBags:
		f.Faults["put_amount"] = "what a bag of it holds is not known; choose another measure"
	case by == present.InScoops:
		f.Faults["put_amount"] = "no scoop of it was weighed; choose another measure"
	default:
		m, _ := material.Find(what)
		g, ok := m.Weigh(n, material.Measure(by), bed.Area())
		if !ok {
			f.Faults["put_amount"] = "choose a measure of the list"
			return x
		}
		x.Total, x.Told = g, text.MeasureCount(n, material.Measure(by))
	}
	return x
}

// bedOf returns the chosen bed; the zero bed with a fault if none.
func (s *Handler) bedOf(c *gin.Context, f form.Form) (garden.Bed, error) {
	id, err := strconv.ParseInt(f.Value("bed"), 10, 64)
	if err != nil {
		f.Faults["bed"] = "choose the bed that it was put on"
		return garden.Bed{}, nil
	}
	return s.App(c).BedState.Named(c.Request.Context(), id)
}

// batchNamed returns the chosen batch; nil for a material.
func (s *Handler) batchNamed(c *gin.Context, choice string) (*garden.Batch, error) {
	id, err := strconv.ParseInt(strings.TrimPrefix(choice, "b"), 10, 64)
	if err != nil || !strings.HasPrefix(choice, "b") {
		return nil, nil
	}
	b, err := s.App(c).Inventory.Batch(c.Request.Context(), id)
	return &b, err
}

// AddToLog records an unplanned application, or plans a coming feed.
func (s *Handler) AddToLog(c *gin.Context) error {
	f := form.Posted(c)
	bed, err := s.bedOf(c, f)
	if err != nil {
		return err
	}
	batch, err := s.batchNamed(c, f.Value("what"))
	if err != nil {
		return err
	}
	x := s.entryOf(c, f, material.Kind(f.Value("what")), batch, bed)
	if len(f.Faults) == 0 {
		keep, to := s.App(c).Applications.Note, "/log"
		if x.Date > s.Clock.Today() { // planned, not applied yet
			keep, to = s.App(c).Schedule.PlanFeed, "/sheet"
		}
		r, err := keep(c.Request.Context(), s.Actor(c), x)
		if err == nil {
			s.Done(c, to, r)
			return nil
		}
		if !f.Add(err) {
			return err
		}
		if why := f.Faults["amount"]; why != "" { // the shelf's fault
			f.Faults["put_amount"] = why
		}
	}
	return s.showLog(c, http.StatusUnprocessableEntity, f)
}

// LogEntry shows the form of an entry for correction.
func (s *Handler) LogEntry(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	return s.showEntry(c, http.StatusOK, id, nil)
}

// showEntry shows an entry for correction; typed is nil if nothing was typed yet.
func (s *Handler) showEntry(c *gin.Context, status int, id int64, typed *form.Form) error {
	e, g, err := s.App(c).Applications.Entry(c.Request.Context(), id)
	if err != nil {
		return err
	}
	u := g.Units()
	v := logView{ID: id, Version: e.Version, Bed: e.Bed.Name}
	var table form.Table
	if e.TaskID != nil || e.BatchID != nil {
		v.Fixed = logRowOf(&e, u).What
	} else {
		table = form.Table{{Name: "what", Label: "What was put on " + e.Bed.Name, Options: present.MaterialOptions(), Box: form.Wide}}
	}
	if typed != nil {
		v.Form = *typed
		v.Form.Sentences()
	} else {
		v.Form = form.NoForm()
		kg := u.Weights()
		v.Form.Values["what"], v.Form.Values["put_date"], v.Form.Values["put_note"] = string(e.What), e.Date.String(), e.Note
		v.Form.Values["put_amount"], v.Form.Values["measure"] = form.Figure(float64(e.Total), kg, 3), kg.Name
	}
	v.Fields = v.Form.Rows(append(table, putTable(u, s.Clock.Today())...))
	v.Page = s.Page(c, g, site.LogTab, text.Capital(text.Material(e.What))+" on "+e.Bed.Name+", "+text.DayYear(e.Date))
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "entry", v)
	return nil
}

// CorrectLog saves a corrected entry, or shows the conflict.
func (s *Handler) CorrectLog(c *gin.Context) error {
	id, version, err := site.TaskPost(c)
	if err != nil {
		return err
	}
	e, _, err := s.App(c).Applications.Entry(c.Request.Context(), id)
	if err != nil {
		return err
	}
	f := form.Posted(c)
	what := e.What
	if e.TaskID == nil && e.BatchID == nil {
		what = material.Kind(f.Value("what"))
	}
	x := s.entryOf(c, f, what, e.Batch, e.Bed)
	return s.Save(c, &f, site.Saving{
		To: "/log",
		Save: func() (garden.Receipt, error) {
			return s.App(c).Applications.Correct(c.Request.Context(), s.Actor(c), id, version, x)
		},
		Show: func(status int) error { return s.showEntry(c, status, id, &f) },
	})
}

// RemoveFromLog deletes an entry; it can be undone.
func (s *Handler) RemoveFromLog(c *gin.Context) error {
	return s.Press(c, "/log", s.App(c).Applications.Remove)
}
