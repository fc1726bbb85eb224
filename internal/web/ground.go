package web

import (
	"bytes"
	"errors"
	"html/template"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/draw"
)

// groundView is the plan with a bed's slip.
type groundView struct {
	Page
	Empty  bool
	Plan   draw.Plan
	Legend []draw.LegendRow
	Layers []layerLink
	Slip   *slip
	List   []listRow
	CSV    string
}

// layerLink is a way to look at the plan.
type layerLink struct {
	Name, Href string
	On         bool
}

// listRow is a bed in the plan's table.
type listRow struct{ Name, Href, Crop, Value, Says string }

// slip is a bed told on a strip of paper.
type slip struct {
	ID           int64
	Name         string
	Facts, Crops string
	Rule         *draw.Rule
	Potassium    *draw.KRule
	Verdict      []run
	Next         next
	Chart        draw.Chart
	Href         string
	DoseHref     string
	ReadingHref  string
	CanDose      bool
}

// run is a piece of a sentence; Class marks a word.
type run struct{ Text, Class string }

// next says what to do.
type next struct {
	Title, Aside string
	Lines        []nextLine
	Says         string
	Stops        []words.Guarded
}

type nextLine struct {
	When, What, Then string
	Due              bool
}

func (s *server) ground(c *gin.Context) {
	today, on := s.Clock.Today(), s.on(c)
	v, err := s.keep.On(c.Request.Context(), today, on, garden.Planned{})
	if err != nil {
		s.failWith(c, err)
		return
	}
	view := groundView{Page: s.page(c, v.Garden, "Ground", headline(v)), Empty: len(v.Plots) == 0}
	view.show(on)
	if view.Empty {
		s.render(c, http.StatusOK, "ground", view)
		return
	}
	due := map[int64]bool{}
	names := map[int64]string{}
	for _, t := range v.Tasks {
		if t.Due <= on && on >= today {
			due[t.BedID] = true
		}
	}
	for _, p := range v.Plots {
		names[p.Bed.ID] = p.Bed.Name
		row := listRow{Name: p.Bed.Name, Href: bedHref(p.Bed.ID) + view.OnQuery, Crop: words.Capital(p.Crop.Name), Says: standingWords(p)}
		if p.Reading != nil {
			row.Value = words.PH(p.PH) + ", " + words.DayYear(p.Reading.Date)
		}
		view.List = append(view.List, row)
	}
	chosen := choose(v, c.Query("bed"), due)
	layer := view.layers(c.Query("look"), chosen)
	view.Title = headlineOf(layer.ID, v, due)
	view.Plan = draw.PlanOf(v.Plots, layer, due, chosen, 846, 516)
	view.Plan.Query = template.URL(view.OnQuery)
	if layer.ID != "ph" {
		view.Plan.Query += template.URL("&look=" + layer.ID)
	}
	view.CSV = "/export/beds.csv?on=" + on.String()
	if view.Slip, err = s.slip(c, chosen, today, on); err != nil {
		s.failWith(c, err)
		return
	}
	if err := s.ribbon(c, &view.Page, names); err != nil {
		s.failWith(c, err)
		return
	}
	s.render(c, http.StatusOK, "ground", view)
}

// layers lists the ways to look and gives the one that was asked for.
func (v *groundView) layers(asked string, chosen int64) draw.Layer {
	all := draw.Layers(v.On)
	at := 0
	for i, l := range all {
		if l.ID == asked {
			at = i
		}
	}
	for i, l := range all {
		v.Layers = append(v.Layers, layerLink{l.Name, bedHref(chosen) + v.OnQuery + "&look=" + l.ID, i == at})
	}
	v.Legend = all[at].Legend
	return all[at]
}

// find opens the bed whose name holds what was typed; the plan when none does.
func (s *server) find(c *gin.Context) {
	v, err := s.keep.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		s.failWith(c, err)
		return
	}
	want := strings.ToLower(strings.TrimSpace(c.Query("q")))
	for _, starts := range []bool{true, false} {
		for _, p := range v.Plots {
			name := strings.ToLower(p.Bed.Name)
			if want != "" && (starts && strings.HasPrefix(name, want) || !starts && strings.Contains(name, want)) {
				c.Redirect(http.StatusSeeOther, bedHref(p.Bed.ID))
				return
			}
		}
	}
	s.fail(c, http.StatusNotFound, "No bed is called “"+c.Query("q")+"”.")
}

// bedsCSV is the list of beds on a day as a table for other programs.
func (s *server) bedsCSV(c *gin.Context) {
	on := s.on(c)
	v, err := s.keep.On(c.Request.Context(), s.Clock.Today(), on, garden.Planned{})
	if err != nil {
		s.failWith(c, err)
		return
	}
	var b bytes.Buffer
	if err := exchange.WriteBeds(&b, v); err != nil {
		s.failWith(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="beds-`+on.String()+`.csv"`)
	c.Data(http.StatusOK, "text/csv; charset=utf-8", b.Bytes())
}

func bedHref(id int64) string { return "/?bed=" + strconv.FormatInt(id, 10) }

// ribbonMonths are shown on the year ribbon, three of them past; it is panned
// by half years so that it stands still while the handle moves.
const (
	ribbonMonths = 18
	ribbonPast   = 3
	ribbonPan    = 6
	ribbonEdge   = quantity.Day(20)
)

// ribbonFrom is the month that the ribbon begins with, so that a day is in
// view.
func ribbonFrom(today, on quantity.Day) quantity.Day {
	from := quantity.Date(today.Year(), today.Month()-ribbonPast, 1)
	for on < from+ribbonEdge {
		from = from.AddMonths(-ribbonPan)
	}
	for on > from.AddMonths(ribbonMonths)-ribbonEdge {
		from = from.AddMonths(ribbonPan)
	}
	return from
}

func (s *server) ribbon(c *gin.Context, p *Page, names map[int64]string) error {
	from := ribbonFrom(p.Today, p.On)
	y, err := s.keep.Year(c.Request.Context(), p.Today, from, from.AddMonths(ribbonMonths)-1)
	if err != nil {
		return err
	}
	r := draw.RibbonOf(y, names, p.Today, p.On, 1280)
	p.Ribbon = &r
	return nil
}

// headline says the finding.
func headline(v garden.View) string {
	if len(v.Plots) == 0 {
		return "Nothing on the plan yet"
	}
	var parts []string
	for _, x := range []struct {
		s         garden.Standing
		one, many string
	}{{garden.Sour, "bed sour", "beds sour"}, {garden.TooSweet, "too sweet", "too sweet"}, {garden.Untested, "untested", "untested"}} {
		if n := v.Count(x.s); n > 0 {
			parts = append(parts, words.Count(n, x.one, x.many))
		}
	}
	if len(parts) == 0 {
		return "Every bed is in band"
	}
	return strings.Join(parts, ", ")
}

// headlineOf says the finding of a way to look.
func headlineOf(layer string, v garden.View, due map[int64]bool) string {
	switch layer {
	case "k":
		n := map[soil.Supply]int{}
		for _, p := range v.Plots {
			supply, _ := p.Supply()
			n[supply]++
		}
		switch {
		case n[soil.Short] > 0 && n[soil.TooMuch] > 0:
			return words.Count(n[soil.Short], "bed short", "beds short") + " of potassium, " + words.Count(n[soil.TooMuch], "with too much", "with too much")
		case n[soil.TooMuch] > 0:
			return words.Count(n[soil.TooMuch], "bed", "beds") + " with too much potassium"
		case n[soil.Short] > 0:
			return words.Count(n[soil.Short], "bed short", "beds short") + " of potassium"
		}
		return "No bed is short of potassium"
	case "tested":
		late := 0
		for _, p := range v.Plots {
			if p.Bed.Kind != garden.KindHeap && (p.Reading == nil || v.Today-p.Reading.Date > testedLong) {
				late++
			}
		}
		if late == 0 {
			return "Every bed was tested within a year"
		}
		return words.Count(late, "bed", "beds") + " not tested within a year"
	case "due":
		if len(due) == 0 {
			return "Nothing is due"
		}
		return words.Count(len(due), "bed has", "beds have") + " something due"
	}
	return headline(v)
}

// testedLong is when a test counts as long ago, in days.
const testedLong quantity.Day = 365

func standingWords(p garden.Plot) string {
	switch p.Standing {
	case garden.Sour:
		return "sour by " + words.PH(p.Off)
	case garden.TooSweet:
		return "too sweet by " + words.PH(p.Off)
	case garden.InBand:
		return "in band"
	}
	return "untested"
}

// choose picks the bed whose slip opens: the one asked for, else one with
// something due, else the one furthest off.
func choose(v garden.View, asked string, due map[int64]bool) int64 {
	if id, err := strconv.ParseInt(asked, 10, 64); err == nil {
		if _, ok := v.Plot(id); ok {
			return id
		}
	}
	best := v.Plots[0]
	for _, p := range v.Plots {
		if due[p.Bed.ID] && !due[best.Bed.ID] || due[p.Bed.ID] == due[best.Bed.ID] && p.Off > best.Off {
			best = p
		}
	}
	return best.Bed.ID
}

func (s *server) slip(c *gin.Context, bed int64, today, on quantity.Day) (*slip, error) {
	w, err := s.keep.Dose(c.Request.Context(), bed, garden.Choice{}, on)
	if errors.Is(err, garden.ErrNoReading) {
		err = nil
	}
	if err != nil {
		return nil, err
	}
	if ph, ok := (garden.Planned{}).Expect(w.Plot, openOnly(w.Tasks), on); ok && on > today {
		w.Stand(ph)
	}
	p := w.Plot
	out := &slip{ID: bed, Name: p.Bed.Name, Href: bedHref(bed), DoseHref: doseHref(bed),
		ReadingHref: "/bench?bed=" + strconv.FormatInt(bed, 10), CanDose: w.Used.ID != 0 && p.Bed.Kind != garden.KindHeap}
	out.Facts = facts(p.Bed)
	out.Crops = cropWords(p)
	out.Verdict = verdict(p)
	if p.Reading != nil {
		r := phRule(p, w)
		out.Rule = &r
	}
	if supply, scale := p.Supply(); supply != soil.Unknown {
		k := draw.KRuleOf(scale, p.Potassium.Potassium, "Potassium "+words.PPM(*p.Potassium.Potassium)+", "+words.Name(supply))
		out.Potassium = &k
	}
	out.Next = whatNext(w, today)
	if on != today {
		out.Next = around(w, today, on)
		out.CanDose = false
	}
	out.Chart = bedChart(w, on, 350, 118)
	return out, nil
}

func facts(b garden.Bed) string {
	f := words.Area(b.Area()) + " · " + words.Name(b.Texture)
	switch b.Kind {
	case garden.KindHeap:
		return words.Area(b.Area())
	case garden.KindPots:
		return words.Area(b.Area()) + " · pots"
	}
	return f + " · " + words.Short(b.Worked) + ", " + words.Depth(b.Depth)
}

func cropWords(p garden.Plot) string {
	name := func(x *garden.Planting) string { return words.Capital(words.Crop(x.Crop)) }
	switch {
	case p.Bed.Kind == garden.KindHeap:
		return "Compost heap"
	case p.Now != nil && p.Next != nil:
		return name(p.Now) + " now, then " + words.Crop(p.Next.Crop)
	case p.Next != nil:
		return name(p.Next) + " next, from " + words.DayYear(p.Next.Sown)
	case p.Now != nil:
		return name(p.Now) + " now"
	}
	return "No crop named"
}

// verdict is the finding in words.
func verdict(p garden.Plot) []run {
	if p.Reading == nil {
		if p.Bed.Kind == garden.KindHeap {
			return []run{{Text: p.Bed.Note}}
		}
		return []run{{Text: "No pH has been read here yet. "}, {Text: "Nothing is put on untested ground.", Class: "strong"}}
	}
	how := " by " + words.Short(p.Reading.Method) + ", " + words.DayYear(p.Reading.Date) + ". "
	read := "Reads "
	if p.Expected {
		read, how = "Should read ", " once the goes until then have acted. "
	}
	out := []run{{Text: read}, {words.PH(p.PH), "strong"}, {Text: how +
		"The " + bandName(p) + " is " + words.PH(p.Crop.Band.Low) + " to " + words.PH(p.Crop.Band.High) + ", so it is "}}
	switch p.Standing {
	case garden.Sour:
		out = append(out, run{"sour by " + words.PH(p.Off), "sour"})
	case garden.TooSweet:
		out = append(out, run{"too sweet by " + words.PH(p.Off), "sweet"})
	default:
		out = append(out, run{"in band", "moss"})
	}
	out = append(out, run{Text: ". "})
	supply, scale := p.Supply()
	if supply == soil.Unknown {
		return append(out, run{Text: "Potassium has not been tested."})
	}
	return append(out, run{Text: "Potassium is "}, run{words.Name(supply), "strong"},
		run{Text: " (" + words.PPM(*p.Potassium.Potassium) + "; enough is " + words.PPM(scale.Critical) + ")."})
}

func phRule(p garden.Plot, w garden.Worked) draw.Rule {
	label := bandName(p)
	target := quantity.PH(0)
	if w.Answer.Direction == dose.Raise || w.Answer.Direction == dose.Lower {
		target = w.Answer.Target
	}
	says := "pH " + words.PH(p.PH) + " against " + label + " " + words.PH(p.Crop.Band.Low) + " to " + words.PH(p.Crop.Band.High)
	return draw.RuleOf(350, p.Crop.Band, label, string(p.Standing), p.PH, p.Reading.Soil().SD(), target, says)
}

// bandName labels the crop's band; a crop of many names goes by its first.
func bandName(p garden.Plot) string {
	if p.Crop.ID == "" {
		return "band"
	}
	first, _, _ := strings.Cut(p.Crop.Name, ",")
	return first + " band"
}

// whatNext says what to do: what is in the year already, else what a dose
// would be, else why nothing.
func whatNext(w garden.Worked, today quantity.Day) next {
	if open := openOnly(w.Tasks); len(open) > 0 {
		return nextTasks(open, w, today)
	}
	if w.Used.ID == 0 {
		if w.Bed.Kind == garden.KindHeap {
			return next{Title: "Nothing to dose", Says: "What goes into the heap is mixed, not limed."}
		}
		return next{Title: "Take a sample", Says: "Six cores or more, " + words.Depth(w.Bed.Depth) + " deep, mixed in a clean plastic pail. Then add the reading."}
	}
	a := w.Answer
	switch a.Direction {
	case dose.Leave:
		look := calendar.Look(w.Bed.Texture, w.Used.Date)
		return next{Title: "Leave it alone", Says: "Test again by " + words.DayYear(look) + ", same depth and way. Until then no lime, no ash, no sulfur."}
	case dose.Refused:
		n := next{Title: "No dose for now"}
		n.Stops = words.Guards(a.Guards)
		for _, r := range a.Refused {
			for _, g := range words.Guards(r.Guards) {
				if g.Level == "stop" {
					n.Stops = append(n.Stops, g)
				}
			}
		}
		n.Stops = distinct(n.Stops)
		return n
	}
	return nextOption(w, a.Options[0], today)
}

func openOnly(ts []garden.Task) (open []garden.Task) {
	for _, t := range ts {
		if t.State == garden.Open {
			open = append(open, t)
		}
	}
	return open
}

// aroundDays is how far from another day tasks are still told.
const aroundDays quantity.Day = 75

// around tells what was, or is to be, done near another day. Off today the
// page is for reading.
func around(w garden.Worked, today, on quantity.Day) next {
	n := next{Title: "Around " + words.DayYear(on), Says: "Go back to today to act."}
	for _, t := range w.Tasks {
		if t.Due < on-aroundDays || t.Due > on+aroundDays {
			continue
		}
		n.Lines = append(n.Lines, nextLine{When: words.NearDay(t.Due, today), What: words.Capital(taskWords(t)),
			Then: map[string]string{garden.Done: "done", garden.Skipped: "skipped"}[t.State]})
	}
	if len(n.Lines) == 0 {
		n.Says = "Nothing was or is to be done then. Go back to today to act."
	}
	return n
}

func distinct(gs []words.Guarded) []words.Guarded {
	seen := map[string]bool{}
	var out []words.Guarded
	for _, g := range gs {
		if !seen[g.Says] {
			seen[g.Says] = true
			out = append(out, g)
		}
	}
	return out
}

func nextTasks(open []garden.Task, w garden.Worked, today quantity.Day) next {
	n := next{Title: "In the year"}
	for _, t := range open {
		l := nextLine{When: words.NearDay(t.Due, today), Due: t.Due <= today}
		if t.Kind == garden.TaskRetest {
			l.What = "Test again, same depth and way"
		} else {
			l.What = words.Mass(t.Total) + " of " + words.Material(t.What)
			if t.PHAfter != nil {
				l.Then = "pH " + words.PH(*t.PHAfter)
			}
		}
		n.Lines = append(n.Lines, l)
	}
	return n
}

func nextOption(w garden.Worked, o dose.Option, today quantity.Day) next {
	var total quantity.Mass
	for _, p := range o.Parts {
		total += p.Total
	}
	n := next{Title: optionName(w, o) + ", " + words.Spelled(len(o.Goes)) + " " + plural(len(o.Goes), "go", "goes"), Aside: words.Mass(total) + " in all"}
	test := nextLine{When: words.NearDay(o.Retest, today), What: "Test again, same depth and way"}
	tested := false
	for _, g := range o.Goes {
		if !tested && g.Date > o.Retest {
			tested = true
			n.Lines = append(n.Lines, test)
		}
		l := nextLine{When: words.NearDay(g.Date, today), What: words.Mass(g.Total), Then: "pH " + words.PH(g.PHAfter)}
		if len(o.Parts) > 1 {
			l.What += " of " + words.Material(g.Kind)
		}
		n.Lines = append(n.Lines, l)
	}
	if !tested {
		n.Lines = append(n.Lines, test)
	}
	n.Says = "Not in the year yet."
	return n
}

func plural(n int, one, many string) string {
	if n == 1 {
		return one
	}
	return many
}

// materialName is the shelf's own name of a material, or its plain name.
func materialName(w garden.Worked, batch int) string {
	if b := shelfOf(w, batch); b != nil {
		return b.Name
	}
	return words.Material(w.Request.Materials[batch].Kind)
}

// shelfOf is the batch on the shelf that a material of the request is; nil
// when it is not there.
func shelfOf(w garden.Worked, batch int) *garden.Batch { return w.Shelf[batch] }

// chartBack and chartAhead are how far a bed's chart reaches.
const (
	chartBackMonths  = 45
	chartAheadMonths = 12
)

func bedChart(w garden.Worked, today quantity.Day, width, height float64) draw.Chart {
	label := bandName(w.Plot)
	s := draw.Series{Band: w.Crop.Band, Label: label, Readings: w.Readings, Put: raisersAndSulfur(w.Applications), Today: today,
		From: today.AddMonths(-chartBackMonths), To: today.AddMonths(chartAheadMonths)}
	for _, t := range w.Tasks {
		if t.State == garden.Open && t.Kind == garden.TaskGo {
			s.Goes = append(s.Goes, t)
		}
	}
	c := draw.ChartOf(s, width, height)
	c.Title = chartTitle(w, today)
	c.Says = c.Title + ". The same figures stand in the table below."
	return c
}

// raisersAndSulfur leaves out what does not move pH.
func raisersAndSulfur(as []garden.Application) []garden.Application {
	var out []garden.Application
	for _, a := range as {
		if movesPH(a.What) {
			out = append(out, a)
		}
	}
	return out
}

// chartTitle says what the line did.
func chartTitle(w garden.Worked, upTo quantity.Day) string {
	var first, last *garden.Reading
	for i := range w.Readings {
		r := &w.Readings[i]
		if t, _ := soil.FindMethod(r.Method); r.PH == nil || t.Dose != soil.Freely || r.Date > upTo {
			continue
		}
		if first == nil {
			first = r
		}
		last = r
	}
	if first == nil {
		return "No line yet"
	}
	a, b := first.Soil().Water(), last.Soil().Water()
	since := " since " + first.Date.Time().Format("Jan 2006")
	switch d := b - a; {
	case first == last:
		return "pH " + words.PH(a) + ", one reading so far"
	case d >= 0.15:
		return "pH up from " + words.PH(a) + " to " + words.PH(b) + since
	case d <= -0.15:
		return "pH down from " + words.PH(a) + " to " + words.PH(b) + since
	default:
		return "pH steady near " + words.PH(b) + since
	}
}

// cropOptions lists the library for a form.
func cropOptions() []Option {
	out := make([]Option, len(crop.Library))
	for i, c := range crop.Library {
		out[i] = Option{c.ID, words.Capital(c.Name) + ", " + words.PH(c.Band.Low) + " to " + words.PH(c.Band.High)}
	}
	return out
}
