package web

import (
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/view"
	"zephyrfield/internal/year"
)

var _ = pagesAt(
	get("/log", (*server).log),
	get("/log/:id", (*server).logEntry),
	post("/log", (*server).addToLog),
	post("/log/:id", (*server).correctLog),
	post("/log/:id/remove", (*server).removeFromLog),
)

type logView struct {
	view.Page
	// Filter is what is asked for, Form what is typed of an entry.
	Filter, Form         form.Form
	Beds, Kinds, Seasons []view.Option
	Into, What, Measures []view.Option
	Rows                 []logRow
	Sums                 []logSum
	Max                  string
	More                 string
	Export               string
	// ID and Version are those of the entry that is put right; 0: a new one.
	ID, Version int64
	// Fixed says what it is of, where that stays.
	Fixed, Bed string
}

type logRow struct{ Day, Bed, Href, What, Amount, Brings, Note, Change string }

type logSum struct {
	Season, Bed, Href string
	Brought           []string
}

// brings are what an entry may bring, in the order in which it is told.
var brings = []struct {
	name string
	of   func(ledger.Brought) quantity.Rate
}{
	{"lime’s worth", func(b ledger.Brought) quantity.Rate { return b.CaCO3 }},
	{"N", func(b ledger.Brought) quantity.Rate { return b.N }},
	{"P₂O₅", func(b ledger.Brought) quantity.Rate { return b.P2O5 }},
	{"K₂O", func(b ledger.Brought) quantity.Rate { return b.K2O }},
	{"Mg", func(b ledger.Brought) quantity.Rate { return b.Magnesium }},
}

// leastTold is what is still worth telling, g/m².
const leastTold = 0.05

// mostRows is how many entries a page shows.
const mostRows = 200

var logFields = []string{"bed", "what", "put_date", "put_amount", "measure", "put_note"}

func (s *server) log(c *gin.Context) error { return s.showLog(c, http.StatusOK, form.NoForm()) }

func (s *server) showLog(c *gin.Context, status int, typed form.Form) error {
	f := form.Asked(c, "bed", "what", "season")
	bed, _ := strconv.ParseInt(f.Value("bed"), 10, 64)
	on := s.on(c)
	ask := year.Filter{Bed: bed, What: material.Kind(f.Value("what")), Season: f.Value("season")}
	l, err := s.keep.Year.Log(c.Request.Context(), ask, on)
	if err != nil {
		return err
	}
	u := l.Garden.Units()
	v := logView{Filter: f, Form: typed, Max: s.Clock.Today().String(), Measures: measureOptions(u),
		Export: "/export/log.csv?" + url.Values{"bed": {f.Value("bed")}, "what": {f.Value("what")},
			"season": {f.Value("season")}}.Encode()}
	v.lists(l, on)
	for i := range l.Entries {
		if i == mostRows {
			v.More = "The " + words.Count(len(l.Entries)-mostRows, "older entry is", "older entries are") + " in the file."
			break
		}
		v.Rows = append(v.Rows, logRowOf(&l.Entries[i], u))
	}
	for _, x := range l.Sums {
		row := logSum{Season: x.Season, Bed: x.Bed.Name, Href: bedHref(x.Bed.ID)}
		for _, b := range brings {
			row.Brought = append(row.Brought, rateOrDash(b.of(x.Brought), u))
		}
		v.Sums = append(v.Sums, row)
	}
	v.Page = s.page(c, l.Garden, sheetTab, words.Count(len(l.Entries), "thing", "things")+" put on")
	typed.Usual("put_date", on.String())
	typed.Sentences()
	if err := s.undated(c, &v.Page); err != nil {
		return err
	}
	s.render(c, status, "log", v)
	return nil
}

func rateOrDash(r quantity.Rate, u words.Units) string {
	if max(r, -r) < leastTold {
		return "–"
	}
	return u.Rate(r)
}

// lists fills in what there is to choose from.
func (v *logView) lists(l year.Log, on quantity.Day) {
	v.Beds, v.Kinds, v.Seasons = []view.Option{{Text: "all beds"}}, []view.Option{{Text: "all of it"}},
		[]view.Option{{Text: "all seasons"}}
	for _, b := range l.Beds {
		o := view.Option{Value: strconv.FormatInt(b.ID, 10), Text: b.Name}
		v.Beds = append(v.Beds, o)
		if b.Retired == 0 || b.Retired > on {
			v.Into = append(v.Into, o)
		}
	}
	for _, k := range l.Kinds {
		v.Kinds = append(v.Kinds, view.Option{Value: string(k), Text: words.Material(k)})
	}
	for _, x := range l.Seasons {
		v.Seasons = append(v.Seasons, view.Option{Value: x, Text: x})
	}
	for i := range l.Shelf {
		v.What = append(v.What, view.Option{Value: desk.BatchKey(l.Shelf[i].ID), Text: l.Shelf[i].Name})
	}
	v.What = append(v.What, materialOptions()...)
}

func materialOptions() (out []view.Option) {
	for _, m := range material.Table {
		out = append(out, view.Option{Value: string(m.Kind), Text: words.Capital(m.Name)})
	}
	return out
}

// measureOptions are the ways to say an amount: by weight first.
func measureOptions(u words.Units) []view.Option {
	kg := u.Weights()
	out := []view.Option{{Value: kg.Name, Text: kg.Name}}
	out = append(out, view.Option{Value: inScoops, Text: "level scoops of a bag or bin"}, view.Option{Value: inBags,
		Text: "bags of the shelf"})
	for _, m := range material.Measures {
		out = append(out, view.Option{Value: string(m), Text: words.MeasureName(m)})
	}
	return out
}

func logRowOf(e *year.Entry, u words.Units) logRow {
	x := logRow{Day: words.DayYear(e.Date), Bed: e.Bed.Name, Href: bedHref(e.BedID), What: words.Capital(words.Material(e.What)),
		Note:   e.Note,
		Change: "/log/" + strconv.FormatInt(e.ID, 10)}
	var scoop *words.Scoop
	if e.Batch != nil {
		x.What, scoop = e.Batch.Name, e.Batch.Measure()
	}
	x.Amount = u.Amount(e.Total, scoop) + ", " + u.Rate(e.Rate)
	if e.Told != "" && scoop == nil {
		x.Amount = e.Told + ", about " + x.Amount
	}
	x.Brings = broughtWords(e.Brought, u)
	return x
}

// broughtWords say what went on brings, as far as it is worth telling.
func broughtWords(all ledger.Brought, u words.Units) string {
	var says []string
	for _, b := range brings {
		if r := b.of(all); max(r, -r) >= leastTold {
			says = append(says, b.name+" "+u.Rate(r))
		}
	}
	return strings.Join(says, " · ")
}

// entryOf reads an entry from its form; faults stand in it. batch is what it is of, nil
// where nothing of the shelf went on.
func (s *server) entryOf(c *gin.Context, f form.Form, what material.Kind, batch *garden.Batch, bed garden.Bed) garden.Application {
	x := garden.Application{BedID: bed.ID, What: what, Date: f.Day("put_date"), Note: f.Value("put_note")}
	if batch != nil {
		x.What, x.BatchID = batch.Kind, &batch.ID
		what = batch.Kind
	}
	in := s.units(c).Weights()
	n := f.Needed("put_amount", "How much went on?")
	x.Total = quantity.Mass(n * in.Size)
	switch by := f.Value("measure"); {
	case by == in.Name || by == "" || n <= 0:
	case by == inScoops && batch != nil && batch.Measure() != nil:
		scoop := batch.Measure()
		x.Total, x.Told = quantity.Mass(n)*scoop.Of, words.Tell(n, scoop.Name, scoop.Name+"s")
	case by == inBags && batch != nil && batch.Bag != nil:
		x.Total, x.Told = quantity.Mass(n)**batch.Bag, words.Tell(n, "bag", "bags")
	case by == inBags:
		f.Faults["put_amount"] = "what a bag of it holds is not known; choose another measure"
	case by == inScoops:
		f.Faults["put_amount"] = "no scoop of it was weighed; choose another measure"
	default:
		m, _ := material.Find(what)
		g, ok := m.Weigh(n, material.Measure(by), bed.Area())
		if !ok {
			f.Faults["put_amount"] = "choose a measure of the list"
			return x
		}
		x.Total, x.Told = g, words.TellMeasure(n, material.Measure(by))
	}
	return x
}

// bedOf is the bed that was chosen; the zero bed with a fault where none was.
func (s *server) bedOf(c *gin.Context, f form.Form) (garden.Bed, error) {
	id, err := strconv.ParseInt(f.Value("bed"), 10, 64)
	if err != nil {
		f.Faults["bed"] = "choose the bed that it went on"
		return garden.Bed{}, nil
	}
	return s.keep.Plots.Named(c.Request.Context(), id)
}

// batchNamed is the batch of the shelf that a choice names; nil for a material.
func (s *server) batchNamed(c *gin.Context, choice string) (*garden.Batch, error) {
	id, err := strconv.ParseInt(strings.TrimPrefix(choice, "b"), 10, 64)
	if err != nil || !strings.HasPrefix(choice, "b") {
		return nil, nil
	}
	b, err := s.keep.Shelf.Batch(c.Request.Context(), id)
	return &b, err
}

func (s *server) addToLog(c *gin.Context) error {
	f := form.Posted(c, logFields...)
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
		keep, to := s.keep.Year.Note, "/log"
		if x.Date > s.Clock.Today() { // it is to go on, not on yet
			keep, to = s.keep.Year.PlanFeed, "/sheet"
		}
		r, err := keep(c.Request.Context(), s.act(c), x)
		if err == nil {
			s.done(c, to, r)
			return nil
		}
		if !f.Add(err) {
			return err
		}
		if why := f.Faults["amount"]; why != "" { // the shelf's own refusal
			f.Faults["put_amount"] = why
		}
	}
	return s.showLog(c, http.StatusUnprocessableEntity, f)
}

func (s *server) logEntry(c *gin.Context) error {
	id, err := paramID(c)
	if err != nil {
		return err
	}
	return s.showEntry(c, http.StatusOK, id, nil)
}

// showEntry is one entry to be put right; typed is nil where nothing was typed yet.
func (s *server) showEntry(c *gin.Context, status int, id int64, typed *form.Form) error {
	e, g, err := s.keep.Year.Entry(c.Request.Context(), id)
	if err != nil {
		return err
	}
	u := g.Units()
	v := logView{ID: id, Version: e.Version, Bed: e.Bed.Name, Max: s.Clock.Today().String(), Measures: measureOptions(u),
		What: materialOptions()}
	if e.TaskID != nil || e.BatchID != nil {
		v.Fixed = logRowOf(&e, u).What
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
	v.Page = s.page(c, g, sheetTab, words.Capital(words.Material(e.What))+" on "+e.Bed.Name+", "+words.DayYear(e.Date))
	if err := s.undated(c, &v.Page); err != nil {
		return err
	}
	s.render(c, status, "entry", v)
	return nil
}

func (s *server) correctLog(c *gin.Context) error {
	id, version, err := taskPost(c)
	if err != nil {
		return err
	}
	e, _, err := s.keep.Year.Entry(c.Request.Context(), id)
	if err != nil {
		return err
	}
	f := form.Posted(c, logFields...)
	what := e.What
	if e.TaskID == nil && e.BatchID == nil {
		what = material.Kind(f.Value("what"))
	}
	x := s.entryOf(c, f, what, e.Batch, e.Bed)
	if len(f.Faults) == 0 {
		r, err := s.keep.Year.Correct(c.Request.Context(), s.act(c), id, version, x)
		if err == nil {
			s.done(c, "/log", r)
			return nil
		}
		if !f.Add(err) {
			return err
		}
	}
	return s.showEntry(c, http.StatusUnprocessableEntity, id, &f)
}

func (s *server) removeFromLog(c *gin.Context) error {
	id, version, err := taskPost(c)
	if err != nil {
		return err
	}
	r, err := s.keep.Year.Remove(c.Request.Context(), s.act(c), id, version)
	if err != nil {
		return err
	}
	s.done(c, "/log", r)
	return nil
}
