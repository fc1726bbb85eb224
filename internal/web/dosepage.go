package web

import (
	"encoding/json"
	"errors"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/exchange/wire"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/draw"
)

// doseFields are the fields of the Dose form.
var doseFields = []string{"reading", "target", "depth", "buffering", "ash", "act", "use"}

// Carried are the fields that a chosen option takes along when it is posted.
func (doseView) Carried() []string { return doseFields[:len(doseFields)-1] }

type doseView struct {
	Page
	ID       int64
	Bed      string
	Facts    string
	Crops    string
	Form     Form
	Beds     []Option
	Readings []Option
	Doubt    string
	Band     string
	// Basis says on paper what the form shows on the screen.
	Basis   string
	Rule    *draw.Rule
	Depths  []Option
	Schools []segment
	// Answer is nil when the form has a fault.
	Answer *answerView
	// NoReading is set when there is nothing to rest a dose on.
	NoReading   bool
	ReadingHref string
	JSONHref    string
}

// segment is a row of choices that stand side by side.
type segment struct {
	Name, Label string
	Options     []segmentOption
	Fault       string
}

type segmentOption struct {
	Value, Text, ID string
	On              bool
	Off             string // why it cannot be chosen, "" when it can
}

type answerView struct {
	Headline, Aside string
	Says            string
	Options         []optionView
	Refused         []refusedView
	Guards          []words.Guarded
	Chosen          *chosenView
	Need            []words.Line
	MiniLow         string
	MiniHigh        string
}

type optionView struct {
	ID, Key                 string
	Name, Note, Amount      string
	Exact                   string
	Potassium               string
	Mini                    draw.Mini
	On                      bool
	Unmet                   string
	Cautions                int
	CautionText, LimitWords string
}

type refusedView struct {
	Name  string
	Says  string
	Lifts string
	Stop  bool
}

// chosenView is the option whose working is shown.
type chosenView struct {
	Name    string
	Key     string
	Goes    []goView
	SowFrom string
	Lines   []words.Line
	Guards  []words.Guarded
	Chart   draw.Chart
	Button  string
	Safety  []string
	Already int
}

type goView struct {
	When, Amount, Measure, Rate, Then, Note string
	Retest                                  bool
}

func doseHref(bed int64) string { return "/beds/" + strconv.FormatInt(bed, 10) + "/dose" }

// anyDose opens the dose of the bed that wants one most.
func (s *server) anyDose(c *gin.Context) {
	if id, err := strconv.ParseInt(c.Query("bed"), 10, 64); err == nil {
		c.Redirect(http.StatusSeeOther, doseHref(id)+onOnly(c))
		return
	}
	v, err := s.keep.View(c.Request.Context(), s.Clock.Today())
	if err != nil {
		s.failWith(c, err)
		return
	}
	if len(v.Plots) == 0 {
		c.Redirect(http.StatusSeeOther, "/")
		return
	}
	planned := map[int64]bool{}
	for _, t := range v.Tasks {
		planned[t.BedID] = true
	}
	best := v.Plots[0]
	for _, p := range v.Plots {
		if p.Standing == garden.Sour && !planned[p.Bed.ID] && (best.Standing != garden.Sour || planned[best.Bed.ID] || p.Off > best.Off) {
			best = p
		}
	}
	c.Redirect(http.StatusSeeOther, doseHref(best.Bed.ID)+onOnly(c))
}

// onOnly carries the day that is shown on to another address.
func onOnly(c *gin.Context) string {
	if c.Query("on") == "" {
		return ""
	}
	return "?on=" + url.QueryEscape(c.Query("on"))
}

// choice reads the form; faults stand in it.
func choice(f Form, u words.Units) garden.Choice {
	ch := garden.Choice{Buffering: soil.School(f.Value("buffering")), Ash: material.AshSchool(f.Value("ash")), Act: crop.ActSchool(f.Value("act"))}
	ch.Target = optional[quantity.PH](f, "target", 1)
	ch.Depth = optional[quantity.Depth](f, "depth", u.Depths().Size)
	if r := f.Value("reading"); r != "" {
		id, err := strconv.ParseInt(r, 10, 64)
		if err != nil {
			f.Faults["reading"] = "choose a reading"
		}
		ch.Reading = id
	}
	return ch
}

// faultFields gives the form's names for the core's.
var faultFields = map[string]string{"target_ph": "target", "depth_cm": "depth", "organic_matter_pct": "buffering",
	"buffer": "buffering", "kind": "buffering", "lab_rate": "buffering", "jars": "buffering", "ph": "buffering"}

func (s *server) work(c *gin.Context, bed int64, f Form) (w garden.Worked, ok bool, err error) {
	ch := choice(f, s.units(c))
	w, err = s.keep.Dose(c.Request.Context(), bed, ch, s.on(c))
	var faults garden.Faults
	if errors.As(err, &faults) {
		for k, v := range faults {
			if name, ok := faultFields[k]; ok {
				k = name
			}
			f.Faults[k] = words.Sentence(v)
		}
		err = nil
	}
	return w, len(f.Faults) == 0, err
}

func (s *server) dose(c *gin.Context) {
	id, err := paramID(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	s.showDose(c, http.StatusOK, id, asked(c, doseFields...))
}

func (s *server) showDose(c *gin.Context, status int, id int64, f Form) {
	w, ok, err := s.work(c, id, f)
	none := errors.Is(err, garden.ErrNoReading)
	if err != nil && !none {
		s.failWith(c, err)
		return
	}
	g, beds, err := s.keep.Names(c.Request.Context(), s.Clock.Today())
	if err != nil {
		s.failWith(c, err)
		return
	}
	v := doseView{ID: id, Bed: w.Bed.Name, Facts: facts(w.Bed, w.Garden.Units()), Crops: cropWords(w.Plot, w.Library), Form: f, NoReading: none,
		ReadingHref: "/bench?bed=" + strconv.FormatInt(id, 10)}
	for _, b := range beds {
		if b.Kind != garden.KindHeap {
			v.Beds = append(v.Beds, Option{strconv.FormatInt(b.ID, 10), b.Name})
		}
	}
	title := w.Bed.Name + ": no reading yet"
	if !none {
		v.form(w)
		if ok {
			v.Answer = answerOf(w, f.Value("use"), s.on(c))
			title = w.Bed.Name + ": " + words.Lower(v.Answer.Headline)
		} else {
			title = w.Bed.Name + ": something to put right"
			if status == http.StatusOK {
				status = http.StatusUnprocessableEntity
			}
		}
	}
	v.Page = s.page(c, g, "Dose", title)
	if err := s.year(c, &v.Page, nil); err != nil {
		s.failWith(c, err)
		return
	}
	v.JSONHref = doseHref(id) + ".json?" + query(f)
	s.render(c, status, "dose", v)
}

// query writes a form as an address has it.
func query(f Form) string {
	q := url.Values{}
	for _, n := range doseFields {
		if v := f.Value(n); v != "" {
			q.Set(n, v)
		}
	}
	return q.Encode()
}

// mostReadings is how many readings are offered to choose from.
const mostReadings = 8

// form fills the left side: what was typed, else what is usual.
func (v *doseView) form(w garden.Worked) {
	f := v.Form
	set := func(name, usual string) {
		if f.Values[name] == "" {
			f.Values[name] = usual
		}
	}
	set("reading", strconv.FormatInt(w.Used.ID, 10))
	q := w.Request
	if f.Value("target") == "" && f.Fault("target") == "" && w.Answer.Target > 0 {
		f.Values["target"] = words.PH(w.Answer.Target)
		if w.Answer.Target != quantity.PH(quantity.Round(float64(w.Answer.Target), 1)) {
			f.Values["target"] = words.PH2(w.Answer.Target)
		}
	}
	set("depth", figure(float64(q.Ground.Depth), w.Garden.Units().Depths(), 1))
	set("buffering", string(q.Schools.Buffering))
	set("ash", string(q.Schools.Ash))
	set("act", string(q.Schools.Act))
	for i := len(w.Readings) - 1; i >= 0 && len(v.Readings) < mostReadings; i-- {
		r := w.Readings[i]
		text := "fizz " + words.DayYear(r.Date)
		if r.PH != nil {
			text = words.PH(r.Soil().Water()) + " " + words.Short(r.Method) + ", " + words.DayYear(r.Date)
		}
		v.Readings = append(v.Readings, Option{strconv.FormatInt(r.ID, 10), text})
	}
	v.Doubt = "± " + words.PH2(quantity.PH(w.Used.Soil().SD()))
	ph, sd := w.Used.Soil().Water(), w.Used.Soil().SD()
	if n := len(w.Beside); n > 0 && w.Answer.PH > 0 {
		ph, sd = w.Answer.PH, w.Answer.SD
		v.Doubt = "with " + words.Count(n, "more near it", "more near it")
	}
	band := w.Crop.Band
	v.Band = "band " + words.PH(band.Low) + " to " + words.PH(band.High)
	if w.Used.PH != nil {
		target := w.Answer.Target
		r := draw.RuleOf(256, band, bandName(w.Plot), string(w.Standing), ph, sd, target,
			"pH "+words.PH(ph)+", to be brought to "+words.PH(target))
		v.Rule = &r
	}
	v.Basis = "Rests on pH " + words.PH2(w.Answer.PH) + " by " + words.Short(w.Used.Method) + ", " + words.DayYear(w.Used.Date) + " (" + v.Doubt + "). To be brought to " +
		words.PH2(w.Answer.Target) + " over " + w.Garden.Units().Depth(q.Ground.Depth) + ". Worked out " + words.DayYear(q.Date) + "."
	v.segments(w)
}

// usualDepths are offered by the unit of depths.
var usualDepths = map[string][]string{"": {"5", "10", "15", "20"}, "in": {"2", "4", "6", "8"}}

func (v *doseView) segments(w garden.Worked) {
	depth := segment{Name: "depth", Label: "Over how deep", Fault: v.Form.Fault("depth")}
	has := false
	u := w.Garden.Units()
	depths := usualDepths[u.DepthIn]
	for _, d := range depths {
		has = has || v.Form.Is("depth", d)
		depth.Options = append(depth.Options, segmentOption{Value: d, Text: d})
	}
	if !has {
		depth.Options = append(depth.Options, segmentOption{Value: v.Form.Value("depth"), Text: v.Form.Value("depth")})
	}
	buffering := segment{Name: "buffering", Label: "How stubborn the soil is", Fault: v.Form.Fault("buffering")}
	for _, x := range soil.Schools {
		o := segmentOption{Value: string(x), Text: words.Name(x)}
		if _, err := soil.Buffer(x, w.Request.Ground, w.Request.Reading, w.Answer.Target); err != nil {
			// Those that rest on a lab's figures are offered with such figures only.
			if x != soil.ByOrganicMatter && !v.Form.Is("buffering", string(x)) {
				continue
			}
			if x == soil.ByOrganicMatter {
				o.Off = "the bed's organic matter is not known"
			}
		}
		buffering.Options = append(buffering.Options, o)
	}
	ash := segment{Name: "ash", Label: "Ash counts"}
	for _, x := range material.AshSchools {
		ash.Options = append(ash.Options, segmentOption{Value: string(x), Text: words.Name(x)})
	}
	act := segment{Name: "act", Label: "When to step in"}
	for _, x := range crop.ActSchools {
		act.Options = append(act.Options, segmentOption{Value: string(x), Text: words.Name(x)})
	}
	for _, s := range []segment{depth, buffering, ash, act} {
		for i := range s.Options {
			o := &s.Options[i]
			o.ID = s.Name + "-" + o.Value
			o.On = v.Form.Is(s.Name, o.Value)
			if s.Name == "depth" {
				o.Text += " " + u.Depths().Name
			}
		}
		v.Schools = append(v.Schools, s)
	}
}

// answerOf lays an answer out; use is the option that was chosen.
func answerOf(w garden.Worked, use string, today quantity.Day) *answerView {
	a := w.Answer
	v := &answerView{Guards: w.Garden.Units().Guards(a.Guards), Need: w.Garden.Units().Steps(a.Need.Working)}
	switch a.Direction {
	case dose.Leave:
		v.Headline = "Leave it alone"
		v.Says = leaveWords(w)
		return v
	case dose.Refused:
		v.Headline = "No dose for now"
		v.refused(w)
		return v
	case dose.Raise:
		v.Headline = "Needs " + w.Garden.Units().Rate(a.Need.CaCO3) + " of pure lime, or its like"
	case dose.Lower:
		v.Headline = "Needs acid to cancel " + w.Garden.Units().Rate(-a.Need.CaCO3) + " of lime"
	}
	lo, hi := a.Need.Low, a.Need.High
	if lo < 0 {
		lo, hi = -lo, -hi
	}
	_, rateIn, _ := strings.Cut(w.Garden.Units().Rate(hi), " ")
	rateIn = " " + rateIn
	v.Aside = "two in three: " + strings.TrimSuffix(w.Garden.Units().Rate(lo), rateIn) + " to " + w.Garden.Units().Rate(hi)
	from, to := miniScale(a)
	v.MiniLow, v.MiniHigh = "pH "+words.PH(from), words.PH(to)
	chosen := 0
	for i, o := range a.Options {
		if o.Key() == use {
			chosen = i
		}
	}
	for i, o := range a.Options {
		v.Options = append(v.Options, optionOf(w, o, i == chosen, from, to))
	}
	v.refused(w)
	v.Chosen = chosenOf(w, a.Options[chosen], today)
	return v
}

// miniScale fits all options' doubts on one scale of whole half units.
func miniScale(a dose.Answer) (lo, hi quantity.PH) {
	lo, hi = a.Crop.Band.Low, a.Crop.Band.High
	for _, o := range a.Options {
		lo, hi = min(lo, o.PH.P05), max(hi, o.PH.P95)
	}
	return quantity.PH(int(lo*2)) / 2, quantity.PH(int(hi*2)+1) / 2
}

func leaveWords(w garden.Worked) string {
	a := w.Answer
	switch {
	case w.Request.Target != nil:
		return "The soil is there already, or what went on will bring it there."
	case a.Crop.Band.Holds(a.PH):
		return "It reads " + words.PH(a.PH) + ", inside the band of " + words.PH(a.Crop.Band.Low) + " to " + words.PH(a.Crop.Band.High) + ". Type a target above if you want another pH."
	}
	return "The school you chose does not step in at " + words.PH(a.PH) + ". Type a target, or choose another school."
}

func optionOf(w garden.Worked, o dose.Option, on bool, lo, hi quantity.PH) optionView {
	var total quantity.Mass
	var note []string
	for _, p := range o.Parts {
		total += p.Total
	}
	v := optionView{ID: "use-" + o.Key(), Key: o.Key(), Name: optionName(w, o), On: on,
		Amount: w.Garden.Units().Mass(total), Exact: w.Garden.Units().MassExact(total), Potassium: "0",
		Mini: draw.MiniOf(w.Answer.Crop.Band, o.PH.Median, o.PH.P05, o.PH.P95, lo, hi)}
	if o.K2O > 0 {
		v.Potassium = "+" + words.PPM(soil.PotassiumRise(w.Request.Ground, o.K2O))
	}
	note = append(note, words.Count(len(o.Goes), "go", "goes"))
	if len(o.Parts) > 1 {
		note[0] = words.Lower(materialName(w, o.Parts[0].Batch)) + " + " + words.Lower(materialName(w, o.Parts[1].Batch)) + " · " + note[0]
	} else if b := shelfOf(w, o.Parts[0].Batch); b == nil {
		note = append(note, "not on your shelf")
	} else if b.OnHand != nil {
		note = append(note, w.Garden.Units().Mass(*b.OnHand)+" on the shelf")
	}
	if o.Cost != nil {
		note = append(note, money(*o.Cost, w.Garden.Currency))
	}
	v.Note = strings.Join(note, " · ")
	if o.Unmet != 0 {
		v.Unmet = "leaves " + w.Garden.Units().Rate(quantity.Rate(abs(float64(o.Unmet)))) + " unmet"
	}
	if _, n := guard.Worst(o.Guards); n > 0 {
		v.CautionText = words.Count(n, "caution", "cautions")
	}
	return v
}

// money writes a sum with its sign: letters after it, a sign before it.
func money(x float64, currency string) string {
	sum := strconv.FormatFloat(x, 'f', 2, 64)
	switch r, n := utf8.DecodeRuneInString(currency); {
	case currency == "":
		return sum
	case n == len(currency) && !unicode.IsLetter(r):
		return currency + sum
	}
	return sum + " " + currency
}

// optionName names an option by its material, a mix by the amount of each.
func optionName(w garden.Worked, o dose.Option) string {
	if len(o.Parts) == 1 {
		return words.Capital(materialName(w, o.Parts[0].Batch))
	}
	names := make([]string, len(o.Parts))
	for i, p := range o.Parts {
		names[i] = words.Brief(p.Kind) + " " + w.Garden.Units().Mass(p.Total)
	}
	return words.Capital(strings.Join(names, ", "))
}

func abs(x float64) float64 {
	if x < 0 {
		return -x
	}
	return x
}

// refused lists what may not be used, and what does nothing. Materials that
// work the other way are left out: nobody asked for them.
func (v *answerView) refused(w garden.Worked) {
	for _, r := range w.Answer.Refused {
		g := w.Garden.Units().Guard(r.Guards[0])
		if g.ID == "wrong-way" {
			continue
		}
		if n := len(v.Refused) - 1; n >= 0 && v.Refused[n].Says == g.Says {
			v.Refused[n].Name += ", " + words.Lower(materialName(w, r.Batch))
			continue
		}
		v.Refused = append(v.Refused, refusedView{Name: words.Capital(materialName(w, r.Batch)), Says: g.Says, Lifts: g.Lifts, Stop: g.Level == guard.Stop})
	}
}

func chosenOf(w garden.Worked, o dose.Option, today quantity.Day) *chosenView {
	v := &chosenView{Name: optionName(w, o), Key: o.Key(),
		Lines: w.Garden.Units().Steps(o.Working()), Guards: w.Garden.Units().Guards(o.Guards)}
	var days []string
	tested := false
	for _, g := range o.Goes {
		var scoop *quantity.Mass
		if b := shelfOf(w, o.Parts[g.Part].Batch); b != nil {
			scoop = b.Scoop
		}
		x := goView{When: words.NearDay(g.Date, today), Amount: w.Garden.Units().Mass(g.Total), Rate: w.Garden.Units().Rate(g.Rate),
			Measure: w.Garden.Units().Measure(g.Kind, g.Total, scoop), Then: "pH " + words.PH(g.PHAfter), Retest: g.RetestFirst}
		if len(o.Parts) > 1 {
			x.Amount += " of " + words.Lower(materialName(w, o.Parts[g.Part].Batch))
		}
		if g.TopAfter > 0 {
			x.Note = "top 5 cm: " + words.PH(g.TopAfter)
		}
		if !tested && g.Date > o.Retest {
			tested = true
			v.Goes = append(v.Goes, retestLine(o, today))
		}
		v.Goes = append(v.Goes, x)
		if day := words.NearDay(g.Date, today); len(days) == 0 || days[len(days)-1] != day {
			days = append(days, day)
		}
	}
	if !tested {
		v.Goes = append(v.Goes, retestLine(o, today))
	}
	if o.SowFrom != 0 {
		v.SowFrom = words.NearDay(o.SowFrom, today)
	}
	v.Button = "Put " + words.List(days) + " in the year"
	for _, t := range w.Tasks {
		if t.State == garden.Open {
			v.Already++
		}
	}
	for _, p := range o.Parts {
		for _, line := range words.Safety(p.Kind) {
			if !slices.Contains(v.Safety, line) {
				v.Safety = append(v.Safety, line)
			}
		}
	}
	v.Chart = doseChart(w, o, today)
	return v
}

// retestLine stands among the goes where its day falls.
func retestLine(o dose.Option, today quantity.Day) goView {
	return goView{When: words.NearDay(o.Retest, today), Amount: "Test again, same depth and way"}
}

// doseChart shows the past line and where the goes bring it.
func doseChart(w garden.Worked, o dose.Option, today quantity.Day) draw.Chart {
	label := bandName(w.Plot)
	s := draw.Series{Band: w.Crop.Band, Label: label, Readings: w.Readings, Put: raisersAndSulfur(w.Applications), Today: today, Units: w.Garden.Units(),
		From: today.AddMonths(-24), To: max(today.AddMonths(14), o.Retest+30)}
	for _, g := range o.Goes {
		s.Goes = append(s.Goes, garden.Task{Due: g.Date, What: g.Kind, Total: g.Total, Rate: g.Rate})
	}
	e := o.AtRetest
	s.Expect = []draw.Expect{{Day: o.Retest, PH: e.Median, P05: e.P05, P95: e.P95}}
	c := draw.ChartOf(s, 602, 134)
	c.Title = "Should read " + words.PH(e.Median) + " at the test of " + words.NearDay(o.Retest, today)
	c.Says = c.Title + ", nine in ten from " + words.PH(e.P05) + " to " + words.PH(e.P95)
	return c
}

// encodePlan writes a dose's request for the record.
func encodePlan(w garden.Worked) (garden.JSON, error) {
	return json.Marshal(wire.FromDose(w.Request, w.Garden.Climate, w.Garden.Hemisphere))
}

// EncodePlan is encodePlan for those who make plans outside the pages.
func EncodePlan(w garden.Worked) (garden.JSON, error) { return encodePlan(w) }

// doseJSON gives the dose as the command line's request.
func (s *server) doseJSON(c *gin.Context) {
	id, err := paramID(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	f := asked(c, doseFields...)
	w, ok, err := s.work(c, id, f)
	if err != nil {
		s.failWith(c, err)
		return
	}
	if !ok {
		c.JSON(http.StatusUnprocessableEntity, f.Faults)
		return
	}
	raw, err := json.MarshalIndent(wire.FromDose(w.Request, w.Garden.Climate, w.Garden.Hemisphere), "", "  ")
	if err != nil {
		s.failWith(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="dose.json"`)
	c.Data(http.StatusOK, "application/json; charset=utf-8", append(raw, '\n'))
}

func (s *server) putInYear(c *gin.Context) {
	id, err := paramID(c)
	if err != nil {
		s.failWith(c, err)
		return
	}
	f := posted(c, doseFields...)
	ch := choice(f, s.units(c))
	if len(f.Faults) > 0 {
		s.showDose(c, http.StatusUnprocessableEntity, id, f)
		return
	}
	r, err := s.keep.PutInYear(c.Request.Context(), s.act(c), id, ch, f.Value("use"), encodePlan)
	if f.add(err) {
		s.showDose(c, http.StatusUnprocessableEntity, id, f)
		return
	}
	if err != nil {
		s.failWith(c, err)
		return
	}
	s.done(c, bedHref(id), r)
}
