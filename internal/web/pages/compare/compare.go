package compare

import (
	"errors"
	"net/http"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/outlook"
	"zephyrfield/internal/web/form"
	mixpage "zephyrfield/internal/web/pages/mix"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// mostTries is the largest number of alternatives.
const mostTries = 3

type tryView struct {
	view.Page
	ID                  int64
	Bed, Href, DoseHref string
	Form                form.Form
	Lines               []tryLine
	Materials, Crops    []view.Option
	Every               []view.Option
	Wide, Slim          *svg.Tries
	WaterLacks          string
	Surprise            *present.Surprise
}

// tryCell is a field of an alternative, under its column's heading.
type tryCell struct {
	Head string
	view.Field
}

// cells resolves the fields of each alternative.
func (v *tryView) cells(u text.Units) {
	first := func(words string, list []view.Option) []view.Option {
		return append([]view.Option{{Text: words}}, list...)
	}
	for i := range v.Lines {
		l := &v.Lines[i]
		way := "Way " + strconv.Itoa(l.N) + ": "
		add := func(head string, r form.Row) { l.Asked = append(l.Asked, tryCell{head, v.Form.Resolve(r)}) }
		add("What", form.Row{Name: l.What, Called: way + "what goes on", Options: first("–", v.Materials)})
		add("Each time, "+u.Weights().Name, form.Row{Name: l.Amount, Called: way + "amount each time", Mode: form.Decimal})
		add("From", form.Row{Name: l.Day, Called: way + "first day", Mode: form.Date})
		add("How often", form.Row{Name: l.Every, Called: way + "how often", Options: v.Every})
		add("Tap water, L/m² a year", form.Row{Name: l.Water, Called: way + "tap water", Mode: form.Decimal, Placeholder: "as now"})
		add("Crop each year", form.Row{Name: l.Crop, Called: way + "crop each year", Options: first("as now", v.Crops)})
	}
}

// tryLine is an alternative: its form fields and its outcome.
type tryLine struct {
	Asked                    []tryCell
	N                        int
	What, Amount, Day, Every string
	Water, Crop              string
	Says, Rate               string
	Cells                    []string
	Leaves, K                string
	// KeepTo is the address that plans its first application, with its fields; "" if that is done
	// elsewhere.
	KeepTo string
	Keeps  []view.Option
}

// Amounts that stand for nothing more, and for the plan.
const (
	tryNothing = "nothing"
	tryPlanned = "planned"
)

// Try compares up to three alternatives over five years.
func (s *Handler) Try(c *gin.Context) error {
	id, err := site.ParamID(c)
	if err != nil {
		return err
	}
	today := s.Clock.Today()
	t, err := s.App(c).Outlook.Bed(c.Request.Context(), id, today)
	if errors.Is(err, outlook.ErrNoReading) {
		c.Redirect(http.StatusSeeOther, site.SeasonsHref(id))
		return nil
	}
	if err != nil {
		return err
	}
	w, err := s.App(c).Dosing.Dose(c.Request.Context(), id, dosing.Choice{}, today)
	if err != nil {
		return err
	}
	f := form.Asked(c)
	startTry(f, &t, &w)
	v := tryView{ID: id, Bed: t.Record.Bed.Name, Href: site.SeasonsHref(id), DoseHref: site.DoseHref(id), Form: f,
		Crops: present.CropOptions(t.Record.Library),
		Every: often}
	v.Materials = []view.Option{{Value: tryNothing, Text: "Nothing more"}, {Value: tryPlanned, Text: "What is planned"}}
	for i := range w.Request.Materials {
		v.Materials = append(v.Materials, view.Option{Value: w.MaterialKey(i), Text: text.Capital(present.MaterialName(&w, i))})
	}
	for _, m := range tryFeeds(&w) {
		v.Materials = append(v.Materials, view.Option{Value: string(m.Kind), Text: text.Capital(m.Name)})
	}
	if t.Garden.Alkalinity() == nil {
		v.WaterLacks = "Tell the hardness of your tap water in the settings: without it, water changes nothing here."
	}
	v.Surprise = present.SurpriseOf(&t.Record)
	v.lay(&t, &w)
	title := "What if, on " + v.Bed
	v.Page = s.Page(c, t.Garden, site.SeasonsTab, title)
	status := http.StatusOK
	if len(f.Faults) > 0 {
		f.Sentences()
		status = http.StatusUnprocessableEntity
	}
	v.cells(t.Garden.Units())
	s.Render(c, status, "try", v)
	return nil
}

// feedKinds are the materials offered besides those of a dose: feeds and manure that move pH.
var feedKinds = []material.Kind{material.AmmoniumSulfate, material.Urea, "ammonium-nitrate", "calcium-nitrate", "rotted-manure"}

// tryFeeds returns those that the dose does not offer.
func tryFeeds(w *dosing.Dose) (out []material.Material) {
	for _, k := range feedKinds {
		own := slices.ContainsFunc(w.Request.Materials, func(b material.Batch) bool { return b.Kind == k })
		if m, ok := material.Find(k); ok && !own {
			out = append(out, m)
		}
	}
	return out
}

// startTry proposes alternatives: nothing more, and the plan or today's dose.
func startTry(f form.Form, t *outlook.Forecast, w *dosing.Dose) {
	if f.Value("what1")+f.Value("what2")+f.Value("what3") != "" {
		return
	}
	f.Values["what1"] = tryNothing
	if t.Planned > 0 {
		f.Values["what2"] = tryPlanned
		return
	}
	if len(w.Answer.Options) > 0 {
		o := &w.Answer.Options[0]
		g := &o.Applications[0]
		f.Values["what2"] = w.MaterialKey(o.Parts[g.Part].Batch)
		f.Values["amount2"] = form.Figure(float64(o.Parts[g.Part].Total), t.Garden.Units().Weights(), 2)
		f.Values["day2"] = g.Date.String()
	}
}

// lay computes and draws each chosen alternative.
func (v *tryView) lay(t *outlook.Forecast, w *dosing.Dose) {
	var drawn []svg.TryLine
	for n := 1; n <= mostTries; n++ {
		l := tryLine{N: n}
		no := strconv.Itoa(n)
		l.What, l.Amount, l.Day, l.Every = "what"+no, "amount"+no, "day"+no, "every"+no
		l.Water, l.Crop = "water"+no, "crop"+no
		try, ok := v.read(&l, t, w)
		if ok {
			done := t.Try(try)
			l.outcome(t, done)
			drawn = append(drawn, svg.TryLine{N: n, Name: no, PH: done.PH, K: done.K})
		}
		v.Lines = append(v.Lines, l)
	}
	if len(drawn) > 0 {
		wide, slim := svg.TriesOf(t, drawn, 860), svg.TriesOf(t, drawn, 440)
		v.Wide, v.Slim = &wide, &slim
	}
}

// read reads one alternative; false if nothing was chosen or something is invalid.
func (v *tryView) read(l *tryLine, t *outlook.Forecast, w *dosing.Dose) (try outlook.Try, ok bool) {
	f := v.Form
	if x, has := f.Number(l.Water); has {
		if !garden.LimitLitres.Holds(x) {
			f.Faults[l.Water] = garden.LimitLitres.Says()
		}
		try.Litres = &x
	}
	if f.Faults[l.Water] != "" {
		return try, false
	}
	if id := f.Value(l.Crop); id != "" {
		c, known := t.Record.Library.Find(id)
		if !known {
			f.Faults[l.Crop] = "choose a crop"
			return try, false
		}
		try.Crop = &c
	}
	switch f.Value(l.What) {
	case "":
		return try, false
	case tryNothing:
		l.Says = "nothing more put on"
		return try, true
	case tryPlanned:
		try.Plan = t.Planning()
		l.Says = text.Count(t.Planned, "application", "applications") + " as planned"
		return try, true
	}
	return v.readApplications(l, t, w, try)
}

// readApplications reads an alternative's applications.
func (v *tryView) readApplications(l *tryLine, t *outlook.Forecast, w *dosing.Dose, try outlook.Try) (outlook.Try, bool) {
	f, u := v.Form, t.Garden.Units()
	of, ok := offered(w, f.Value(l.What))
	x, has := f.Number(l.Amount)
	total := quantity.Mass(x * u.Weights().Size)
	day := f.Day(l.Day)
	switch {
	case !ok:
		f.Faults[l.What] = "choose what goes on"
	case !has || !garden.LimitAmount.Holds(float64(total)):
		f.Faults[l.Amount] = "how much each time? an amount above 0 is needed"
	case day != 0 && day < t.Today:
		f.Faults[l.Day] = "a day to come is needed"
	}
	if f.Faults[l.What]+f.Faults[l.Amount]+f.Faults[l.Day] != "" {
		return try, false
	}
	if day == 0 {
		day = t.Today
	}
	every, _ := strconv.Atoi(f.Value(l.Every))
	try.Plan = of.applications(w, total, day, every)
	l.Says = u.Mass(total) + " of " + text.Lower(of.name) + " on " + text.DayYear(day)
	if every > 0 {
		l.Says += ", and again " + everyText(every)
	}
	l.Rate = u.Rate(total.Per(w.Request.Ground.Area))
	l.keep(w, &of, total, day, t.Today)
	return try, true
}

// often are the intervals of applications in years.
var often = []view.Option{{Value: "0", Text: "once"}, {Value: "1", Text: "each year"}, {Value: "2", Text: "every other year"}}

func everyText(years int) string {
	for _, o := range often {
		if o.Value == strconv.Itoa(years) {
			return o.Text
		}
	}
	return ""
}

// offer is a material of an alternative: of the dose, by its index, else a feed.
type offer struct {
	at   int
	name string
	kind material.Kind
	of   *garden.Stock
}

// offered returns a material by its key.
func offered(w *dosing.Dose, key string) (o offer, ok bool) {
	for i := range w.Request.Materials {
		if w.MaterialKey(i) == key {
			return offer{i, present.MaterialName(w, i), w.Request.Materials[i].Kind, w.Shelf[i]}, true
		}
	}
	for _, m := range tryFeeds(w) {
		if string(m.Kind) == key {
			return offer{-1, m.Name, m.Kind, nil}, true
		}
	}
	return o, false
}

// goes returns an alternative's applications over five years.
func (o *offer) applications(w *dosing.Dose, total quantity.Mass, day quantity.Day, every int) (out []forecast.Application) {
	for y := 0; y < outlook.Ahead/12; y++ {
		a := garden.Application{What: o.kind, Total: total, Rate: total.Per(w.Request.Ground.Area), Date: day.AddMonths(12 * y)}
		if o.of != nil {
			a.BatchID = &o.of.ID
			a.From(o.of.Batch)
		}
		if y == 0 || every > 0 && y%every == 0 {
			out = bedstate.AppendPut(out, &a)
		}
	}
	return out
}

// keep sets how an alternative's first application is planned: lime, ash and sulfur through the mix
// page, which judges it like any dose; a feed on its day, with the usual intervals.
func (l *tryLine) keep(w *dosing.Dose, o *offer, total quantity.Mass, day, today quantity.Day) {
	amount := form.Figure(float64(total), w.Garden.Units().Weights(), 3)
	for _, p := range mixpage.MixParts {
		for _, i := range w.Mixable(p.Families...) {
			if i == o.at {
				l.KeepTo = "/beds/" + strconv.FormatInt(w.Record.Bed.ID, 10) + "/mix"
				l.Keeps = []view.Option{{Value: p.Which, Text: w.MaterialKey(i)}, {Value: p.Amount, Text: amount}}
			}
		}
	}
	m, _ := material.Find(o.kind)
	if material.ByDoseOnly(m.Family) || day <= today {
		return
	}
	l.KeepTo = "/log"
	what := string(o.kind)
	if o.of != nil {
		what = dosing.BatchKey(o.of.ID)
	}
	l.Keeps = []view.Option{{Value: "bed", Text: strconv.FormatInt(w.Record.Bed.ID, 10)}, {Value: "what", Text: what},
		{Value: "put_date", Text: day.String()}, {Value: "put_amount", Text: amount}}
}

// outcome sets an alternative's outcome: the level after some years, and when it leaves its range.
func (l *tryLine) outcome(t *outlook.Forecast, done outlook.Tried) {
	for _, y := range tryYears {
		l.Cells = append(l.Cells, text.PH(quantity.PH(forecast.On(done.PH, t.Today.AddMonths(12*y)).Median)))
	}
	c := present.CourseOf(t, done.PH, 0)
	switch {
	case c.In() && c.Leaves == 0:
		l.Leaves = "stays in"
	case c.In():
		l.Leaves = "until " + text.Month(c.Leaves)
	case c.Comes == 0:
		l.Leaves = "never in"
	case c.Leaves == 0:
		l.Leaves = "from " + text.Month(c.Comes)
	default:
		l.Leaves = text.Month(c.Comes) + " to " + text.Month(c.Leaves)
	}
	if len(done.K) > 0 {
		l.K = text.PPM(quantity.Concentration(forecast.On(done.K, t.Today.AddMonths(outlook.Ahead)).Median))
	}
}

// tryYears are the years of reported levels.
var tryYears = []int{1, 2, 3, 5}
