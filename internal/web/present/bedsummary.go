// Package present converts beds, doses, readings and tasks to what several pages show: wording,
// lists of options, pictures.
package present

import (
	"errors"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/fact"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// BedSummary is a short account of a bed.
type BedSummary struct {
	ID   int64
	Name string
	// CropFact names the day in Crops.
	Facts, Crops, CropFact string
	Rule                   *svg.Rule
	Profile                *svg.Profile
	Potassium              *svg.KRule
	Verdict                []Run
	// Clash is the sentence on two crops whose ranges do not overlap; "" for none.
	Clash       string
	Next        next
	Chart       *svg.Chart
	Href        string
	DoseHref    string
	ReadingHref string
	CanDose     bool
	// KChart is its potassium over time, if read at least twice; otherwise a ruler is shown.
	KChart *svg.Chart
	// Seen is the newest open observation; SeenHref leads to all.
	Seen, SeenHref string
	// Kept is the result of the last tested promise while it is recent, or nil.
	Kept *keptView
}

// Run is a piece of a sentence with its CSS class.
type Run struct {
	Text, Class string
	// Fact names what the text says, as data-fact; "" for words.
	Fact string
}

// next is the next thing to do.
type next struct {
	Title, Aside string
	Lines        []nextLine
	Says         string
	Stops        []text.Guarded
	// Rest is set for the rest of a dose whose test was read.
	Rest bool
}

type nextLine struct {
	When, What, Then string
	Due              bool
	// Fact names its amount, DueFact its day; "" for what has none.
	Fact, DueFact string
	Moved         MovedWords
}

// BedSummaryOf returns a bed's summary on a day: verdict, dose and next step.
func BedSummaryOf(s *site.Site, c *gin.Context, bed int64, today, day quantity.Day) (*BedSummary, error) {
	w, err := s.App(c).Dosing.Dose(c.Request.Context(), bed, dosing.Choice{Today: today}, day)
	if errors.Is(err, dosing.ErrNoReading) {
		err = nil
	}
	if err != nil {
		return nil, err
	}
	coming, err := s.App(c).Dosing.Coming(c.Request.Context(), &w, today)
	if err != nil {
		return nil, err
	}
	if day > today {
		if ph, ok := (bedstate.ForecastOutlook{}).Expect(coming, day); ok {
			w.Record.State.Stand(ph)
		}
		if k, ok := coming.Potassium(day); ok {
			w.Record.State.K = k
		}
	}
	p := w.Record.State
	out := &BedSummary{ID: bed, Name: p.Bed.Name, Href: site.BedHref(bed), DoseHref: site.DoseHref(bed),
		ReadingHref: "/bench?bed=" + strconv.FormatInt(bed, 10), CanDose: w.Used.ID != 0 && p.Bed.Kind != garden.KindHeap,
		Facts: Facts(p.Bed, p.Spread(), w.Garden.Units())}
	out.Crops, out.CropFact = CropWords(p, w.Record.Library), CropFact(p)
	out.Verdict = append(SurpriseRuns(&w.Record), Verdict(p)...)
	if p.Conflict && w.Used.ID == 0 { // if there is a reading, the refused dose says so
		out.Clash = clashOf(p.First, p.Second)
	}
	if p.Reading != nil {
		r := PHRule(p, &w)
		out.Rule = &r
		out.Profile = svg.ProfileOf(p.Profile, p.Crop.Range, w.Garden.Units())
	}
	potassium, err := potassiumOf(s, c, &w, today, day)
	if err != nil {
		return nil, err
	}
	if out.Chart, err = bedPicture(s, c, &w, today, day, 350, slipChart[len(potassium.Reads) > 1]); err != nil {
		return nil, err
	}
	out.KChart = kPicture(&w, &potassium, out.Chart, today, day, 350, 74)
	if out.KChart == nil && p.K.State != soil.Unknown {
		k := svg.KRuleOf(p.K.Scale, p.K.Now, "Potassium "+text.PPM(*p.K.Now)+", "+text.Name(p.K.State))
		out.Potassium = &k
	}
	sights, err := s.App(c).Observation.OfBed(c.Request.Context(), bed, day)
	if err != nil {
		return nil, err
	}
	out.Seen, out.SeenHref = seenAsk(sights, today), site.ObservationHref(bed)
	out.Kept = keptNote(&w, today)
	out.Next = whatNext(&w, coming, today)
	if day != today {
		out.Next = around(&w, today, day)
		out.CanDose = false
	}
	return out, nil
}

// clashOf returns the sentence on two crops that no pH suits.
func clashOf(a, b crop.Crop) string {
	return text.Capital(a.Name) + " and " + b.Name + " need different soil: " + text.PH(a.Range.Low) + " to " + text.PH(a.Range.High) +
		" and " + text.PH(b.Range.Low) + " to " + text.PH(b.Range.High) + ". No dose can suit both; move one of them to another bed."
}

// slipChart is the height of the summary's pH chart, with potassium below it or alone.
var slipChart = map[bool]float64{true: 86, false: 118}

// Facts returns a bed's facts, with how it is worked under its crop.
func Facts(b garden.Bed, worked soil.Worked, u text.Units) string {
	f := u.Area(b.Area()) + " · " + text.Name(b.Texture)
	switch b.Kind {
	case garden.KindHeap:
		return u.Area(b.Area())
	case garden.KindPots:
		return u.Area(b.Area()) + " · pots"
	}
	return f + " · " + text.Short(worked) + ", " + u.Depth(b.Depth)
}

// CropWords returns the bed's crops in words.
func CropWords(p bedstate.State, l garden.Library) string {
	names := func(xs []garden.Planting) string { return CropNames(xs, l) }
	switch {
	case p.Bed.Kind == garden.KindHeap:
		return "Compost heap"
	case len(p.Now) > 0 && len(p.Next) > 0:
		return text.Capital(names(p.Now)) + " now, then " + names(p.Next)
	case len(p.Next) > 0:
		return text.Capital(names(p.Next)) + " next, from " + text.DayYear(p.PlantingDay(p.Next[len(p.Next)-1]))
	case len(p.Now) > 0:
		return text.Capital(names(p.Now)) + " now"
	}
	return "No crop named"
}

// CropFact names the day of the next planting in CropWords for data-fact; "" where they tell none.
func CropFact(p bedstate.State) string {
	if len(p.Next) == 0 || len(p.Now) > 0 || p.Bed.Kind == garden.KindHeap {
		return ""
	}
	return fact.PlantingDay(p.Next[len(p.Next)-1].ID)
}

// CropNames returns the names of plantings.
func CropNames(xs []garden.Planting, l garden.Library) string {
	all := make([]string, len(xs))
	for i, x := range xs {
		all[i] = l.Name(x.Crop)
	}
	return text.List(all)
}

// Verdict returns the verdict in words.
func Verdict(p bedstate.State) []Run {
	if p.Reading == nil {
		if p.Bed.Kind == garden.KindHeap {
			return []Run{{Text: p.Bed.Note}}
		}
		if p.Fizz != nil {
			told, _ := text.ByJars(p.Fizz.Soil().Fizz)
			return []Run{{Text: "Two jars say "}, {Text: told, Class: "strong"}, {Text: ", " + text.DayYear(p.Fizz.Date) + ". That is no figure. "},
				{Text: "No dose is worked out from it.", Class: "strong"}}
		}
		return []Run{{Text: "No pH has been read here yet. "}, {Text: "Nothing is put on untested soil.", Class: "strong"}}
	}
	how := " by " + text.Short(p.Reading.Method) + ", " + text.DayYear(p.Reading.Date)
	read := "Reads "
	if n := near(&p); n != "" { // the last as it was read, and what the bed is judged by
		read, how = "Reads "+text.PH(p.Reading.Soil().Water())+how+", and with "+n+" ", ""
	}
	if p.Expected {
		read, how = "Should read ", " by its own forecast, with what is planned"
	}
	if p.Profile.Layered && !p.Expected {
		read = layerWords(p)
	}
	on := ""
	if how != "" && !p.Expected {
		on = fact.Bed(p.Bed.ID, "read")
	}
	out := []Run{{Text: read}, {text.PH(p.PH), "strong", fact.Bed(p.Bed.ID, "ph")}, {Text: how, Fact: on}, {Text: ". The "},
		{Text: RangeName(p), Fact: cropFact(p)}, {Text: " is " + text.PH(p.Crop.Range.Low) + " to " + text.PH(p.Crop.Range.High) + ", so it is "}}
	switch p.Standing {
	case bed.Sour:
		out = append(out, Run{Text: "sour by " + text.Off(p.Off), Class: "sour"})
	case bed.TooSweet:
		out = append(out, Run{Text: "too sweet by " + text.Off(p.Off), Class: "sweet"})
	default:
		out = append(out, Run{Text: "in range", Class: "moss"})
	}
	if w := p.AtWork; w != nil {
		out = append(out, Run{Text: ", with "}, Run{text.AtWork(w.What, w.Now, w.Settles), "strong",
			fact.Bed(p.Bed.ID, "level") + " " + fact.Bed(p.Bed.ID, "work")})
	}
	out = append(out, Run{Text: ". "})
	return append(out, potassiumRuns(p)...)
}

// layerWords returns the sentence on the layer that a layered bed is judged by.
func layerWords(p bedstate.State) string {
	switch {
	case p.Ground.Worked == soil.Dug:
		return "Dug through, its layers come to "
	case p.PH == p.Profile.Sourest && p.Standing == bed.Sour:
		return "Its sourest layer reads "
	case p.PH == p.Profile.Sweetest && p.Standing == bed.TooSweet:
		return "Its sweetest layer reads "
	}
	return "Its layers come to "
}

// potassiumRuns returns the sentence on the bed's current potassium.
func potassiumRuns(p bedstate.State) []Run {
	k := p.K
	switch {
	case k.Read == nil:
		return []Run{{Text: "Potassium has not been tested."}}
	case k.State == soil.Unknown && k.Stale:
		return []Run{{Text: "Potassium was last tested " + text.DayYear(k.Date) + ", too long ago to count."}}
	case k.State == soil.Unknown:
		return []Run{{Text: "Potassium cannot be judged on muck without the lab’s own range."}}
	}
	about, read := "", ""
	if text.PPM(*k.Now) != text.PPM(*k.Read) {
		about, read = "about ", byWhen[p.Expected]+", read "+text.PPM(*k.Read)
	}
	return []Run{{Text: "Potassium is "}, {text.Name(k.State), "strong", fact.Bed(p.Bed.ID, "supply")}, {Text: " (" + about},
		{text.PPM(*k.Now), "strong", fact.Bed(p.Bed.ID, "potassium")}, {Text: read + "; enough is " + text.PPM(k.Scale.Critical) + ")."}}
}

// byWhen is the wording of a carried figure's day: today, or a coming one.
var byWhen = map[bool]string{false: " by now", true: " by then"}

// PHRule returns the ruler of a bed's pH and its crop's range.
func PHRule(p bedstate.State, w *dosing.Dose) svg.Rule {
	label := RangeName(p)
	target := quantity.PH(0)
	if w.Answer.Direction == dose.Raise || w.Answer.Direction == dose.Lower {
		target = w.Answer.Target
	}
	says := "pH " + text.PH(p.PH) + " against " + label + " " + text.PH(p.Crop.Range.Low) + " to " + text.PH(p.Crop.Range.High)
	return svg.RuleOf(350, p.Crop.Range, label, string(p.Standing), p.PH, p.SD, target, says)
}

// cropFact names the crop that a bed is judged for; "" for none.
func cropFact(p bedstate.State) string {
	if p.Crop.ID == "" {
		return ""
	}
	return fact.Bed(p.Bed.ID, "crop")
}

// RangeName labels the crop's range.
func RangeName(p bedstate.State) string {
	if p.Crop.ID == "" {
		return "range"
	}
	return p.Crop.Name + " range"
}

// whatNext returns the next step: a planned task, else the dose, else why nothing.
func whatNext(w *dosing.Dose, coming bedstate.Coming, today quantity.Day) next {
	if len(w.Record.Held) > 0 {
		n := fromDose(w, today)
		n.Says = "What is planned rests on a reading that was deleted and is held back. Open the dose and plan it anew."
		return n
	}
	open, steps := planned(w.Record)
	if len(open) > 0 || len(w.Record.Rests) > 0 {
		return nextTasks(open, w, coming, today)
	}
	return preparationNext(fromDose(w, today), w, steps, today)
}

// FeedsPotassium reports whether a dose offers something for a bed that is short of potassium.
func FeedsPotassium(w *dosing.Dose) bool {
	return w.Answer.K.State == soil.Short && len(w.Answer.Potassium.Options) > 0
}

func fromDose(w *dosing.Dose, today quantity.Day) next {
	if w.Used.ID == 0 {
		if w.Record.Bed.Kind == garden.KindHeap {
			return next{Title: "Nothing to dose", Says: "A heap is mixed, not limed."}
		}
		return next{Title: "Take a sample", Says: "Six cores or more, " + w.Garden.Units().Depth(w.Record.Bed.Depth) +
			" deep, mixed in a clean plastic pail. Then add the reading."}
	}
	a := w.Answer
	switch a.Direction {
	case dose.Leave:
		title, says := text.Leave(FeedsPotassium(w))
		return next{Title: title, Says: "Test again by " + text.DayYear(w.LookAgain()) + ", same depth and way. " + says}
	case dose.Refused:
		n := next{Title: "No dose for now"}
		n.Stops = w.Garden.Units().Guards(a.Guards)
		for _, r := range a.Refused {
			for _, g := range w.Garden.Units().Guards(r.Guards) {
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

// openOnly returns the open tasks without held applications.
func openOnly(r bedstate.Record) (open []garden.Task) {
	for _, t := range r.Tasks {
		if _, held := r.Held[t.ID]; t.State == garden.Open && !held {
			open = append(open, t)
		}
	}
	return open
}

// aroundDays is how far from the shown day tasks are listed.
const aroundDays quantity.Day = 75

// around returns what was done or is planned near another day, which is read-only.
func around(w *dosing.Dose, today, day quantity.Day) next {
	n := next{Title: "Around " + text.DayYear(day), Says: "Go back to today to make changes."}
	for _, t := range w.Record.Tasks {
		if t.Due < day-aroundDays || t.Due > day+aroundDays {
			continue
		}
		t = t.AsPut(w.Record.Applications)
		what := TaskWords(t, w.Garden.Units(), w.Batch(t.BatchID))
		if t.Kind == garden.TaskApplication { // space is limited
			what = Brief(t.Total, w.Measure(t.BatchID), w.Garden.Units()) + " of " + text.Brief(t.What)
		}
		n.Lines = append(n.Lines, nextLine{When: text.NearDay(t.Due, today), What: text.Capital(what),
			Then: map[string]string{garden.Done: "done", garden.Skipped: "skipped"}[t.State]})
	}
	if len(n.Lines) == 0 {
		n.Says = "Nothing was done or is due then. Go back to today to make changes."
	}
	return n
}

func distinct(gs []text.Guarded) []text.Guarded {
	seen := map[string]bool{}
	var out []text.Guarded
	for _, g := range gs {
		if !seen[g.Says] {
			seen[g.Says] = true
			out = append(out, g)
		}
	}
	return out
}

func nextOption(w *dosing.Dose, o dose.Option, today quantity.Day) next {
	var total quantity.Mass
	for _, p := range o.Parts {
		total += p.Total
	}
	n := next{Title: OptionName(w, o) + ", " + text.Count(len(o.Applications), "application", "applications"),
		Aside: OptionAmount(w, o, total) + " in all"}
	test := nextLine{When: text.NearDay(o.Retest, today), What: "Test again, as before"}
	if amount := RestAmount(w, &o); amount != "" {
		test.What = "Test, then about " + amount
	}
	if o.AtRetest.Median > 0 {
		test.Then = "about " + text.PH(o.AtRetest.Median)
	}
	tested := false
	for _, g := range o.Applications {
		if !tested && g.Date > o.Retest {
			tested = true
			n.Lines = append(n.Lines, test)
		}
		l := nextLine{When: text.NearDay(g.Date, today), What: Brief(g.Total, ScoopFor(w, o, g), w.Garden.Units())}
		if len(o.Parts) > 1 {
			l.What += " of " + text.Lower(MaterialName(w, o.Parts[g.Part].Batch))
		}
		n.Lines = append(n.Lines, l)
	}
	if !tested {
		n.Lines = append(n.Lines, test)
	}
	if w.Request.Begun {
		n.Title, n.Rest = "The rest: "+text.Lower(n.Title), true
	}
	n.Says = "Not planned yet."
	return n
}

// LeadOn makes the message about a reading lead to the rest of the dose that waited for it.
func (x *BedSummary) LeadOn(f *view.Message) {
	if x != nil && f != nil && x.Next.Rest {
		f.Href, f.Next = x.DoseHref, "To the rest"
	}
}

// MaterialName returns the shelf's own name of a material, or its plain name.
func MaterialName(w *dosing.Dose, batch int) string {
	if b := ShelfOf(w, batch); b != nil {
		return b.Name
	}
	return text.Material(w.Request.Materials[batch].Kind)
}

// chartBack and chartAhead are the chart's range.
const (
	chartBackMonths  = 45
	chartAheadMonths = 12
)

// courseOf returns the bed's expected course to the end of its chart; none on a past day.
func courseOf(s *site.Site, c *gin.Context, w *dosing.Dose, today, day quantity.Day) (out []svg.Expect, err error) {
	if day < today || w.Record.State.Reading == nil {
		return nil, nil
	}
	coming, err := s.App(c).Dosing.Coming(c.Request.Context(), w, today)
	if err != nil {
		return nil, err
	}
	for _, p := range coming.Course(today, day.AddMonths(chartAheadMonths), CourseStep) {
		out = append(out, svg.Expect{Day: p.Day, PH: p.PH})
	}
	return out, nil
}

// CropOptions returns the library as options, by name.
func CropOptions(l garden.Library) []view.Option {
	if !l.Changed() {
		return printedCrops
	}
	return optionsOfCrops(l.All())
}

// printedCrops are the options of the built-in library; read-only.
var printedCrops = optionsOfCrops(crop.Library)

func optionsOfCrops(all []crop.Crop) []view.Option {
	out := make([]view.Option, len(all))
	for i, c := range all {
		out[i] = view.Option{Value: c.ID, Text: text.Capital(c.Name) + ", " + text.PH(c.Range.Low) + " to " + text.PH(c.Range.High)}
	}
	slices.SortFunc(out, func(a, b view.Option) int { return strings.Compare(a.Text, b.Text) })
	return out
}
