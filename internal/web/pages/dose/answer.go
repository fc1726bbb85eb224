package dose

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/outlook"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type answerView struct {
	// Headline is the answer when nothing is to be applied; Lead the application.
	Headline string
	Lead     *leadView
	// Says is the need and the reason for the first option.
	Says    string
	Options []optionView
	Refused []RefusedView
	Chosen  *chosenView
	// Notices are what could harm and what must be done; Notes are folded with those that are not
	// open.
	Notices   view.Notices
	Notes     []noteView
	Need      []text.Line
	Potassium *potassiumView
	// Ways is the number of options in words.
	Ways     string
	Outdated *outdatedView
	Sides    *sidesView
	MiniLow  string
	MiniHigh string
}

// noteView is a folded note, with a link where there is more of it.
type noteView struct{ ID, Says, Href, Link string }

type optionView struct {
	ID, Key                 string
	Name, Note, Amount      string
	Exact                   string
	Potassium               string
	Mini                    *svg.Mini
	On                      bool
	Shortfall               string
	Cautions                int
	CautionText, LimitWords string
}

// RefusedView is a refused material, with the reason and what lifts it.
type RefusedView struct {
	Name   string
	Says   string
	WayOut string
	Stop   bool
}

// chosenView is the option whose working is shown.
type chosenView struct {
	Name         string
	Key          string
	Applications []ApplicationView
	Lines        []text.Line
	// Cautions must be read first; Guards are notes.
	Cautions, Guards []text.Guarded
	// Mind is a summary of the applications and the chart.
	Mind   string
	Chart  svg.Chart
	Button string
	Safety []string
	// Planned is what is planned for the bed, whose place the dose would take; "" for nothing.
	Planned, PlanHref string
	// Ask is the address for entering the ash's source before planning; "" if it is known.
	Ask string
}

// ApplicationView is one application of a dose: day, mass, and what it waits for.
type ApplicationView struct {
	When, Amount, Measure, Rate, Then, Note, Exact string
	Retest                                         bool
}

// answerOf returns the view of an answer; use is the chosen option, now is set if the day is today,
// first for a beginner's first dose.
func answerOf(w *dosing.Dose, sides []dose.Comparison, use string, today quantity.Day, now, first bool) *answerView {
	a := w.Answer
	v := &answerView{Need: w.Garden.Units().Steps(a.Need.Working)}
	guards := w.Garden.Units().Guards(a.Guards)
	v.Potassium, v.Outdated = potassiumOf(w, today), outdatedOf(w, today)
	defer func() { v.note(w, sides, guards) }()
	switch a.Direction {
	case dose.Leave:
		v.Headline, _ = text.Leave(present.FeedsPotassium(w))
		v.Says, v.Sides = leaveWords(w)+" Test again by "+text.NearDay(w.LookAgain(), today)+", same depth and way.", sidesOf(w, sides, nil)
		return v
	case dose.Refused:
		v.Headline = "No dose for now"
		v.refused(w)
		return v
	}
	v.Says = present.NeedWords(w)
	from, to := miniScale(a)
	v.MiniLow, v.MiniHigh = "pH "+text.PH(from), text.PH(to)
	chosen := 0
	for i, o := range a.Options {
		if w.Key(o) == use {
			chosen = i
		}
	}
	for i, o := range a.Options {
		v.Options = append(v.Options, optionOf(w, o, i == chosen, from, to))
	}
	v.refused(w)
	v.Ways = text.Count(len(v.Options), "option", "options")
	o := a.Options[chosen]
	v.Chosen, v.Lead, v.Sides = chosenOf(w, o, today), leadOf(w, o, today, now, first), sidesOf(w, sides, &o)
	guards = append(guards, v.Chosen.Cautions...)
	v.Headline = v.Lead.Big + " " + v.Lead.Unit + " " + v.Lead.Of
	v.Says = strings.TrimSpace(v.Says + " " + whyFirst(w, chosen))
	return v
}

// note sets the notices: two are open, one of them that a later reading overtook the plan. All
// others are folded, with the need where an amount is the answer.
func (v *answerView) note(w *dosing.Dose, sides []dose.Comparison, guards []text.Guarded) {
	add := func(id, says, href, link string) {
		if says != "" {
			v.Notes = append(v.Notes, noteView{id, says, href, link})
		}
	}
	if v.Chosen != nil {
		add("need", v.Says, "", "")
		v.Says = ""
	}
	add("magnesium", magnesiumWords(w), "", "")
	add("learned-note", shownNote(w, sides), site.ShownHref(w.Record.Bed.ID), "What this bed has shown")
	open := 0
	if v.Outdated != nil {
		open++
	}
	v.Notices = view.NoticesBeside(guards, open, len(v.Notes))
}

// magnesiumWords returns the advice on low magnesium.
func magnesiumWords(w *dosing.Dose) string {
	m, half := w.Answer.Magnesium, false
	var ways []string
	for _, x := range m.Ways {
		half = half || x.First < x.Rate
		ways = append(ways, w.Garden.Units().Mass(x.Total)+" of "+text.Material(x.Kind))
	}
	if len(ways) == 0 {
		return ""
	}
	return text.MagnesiumLow(*w.Answer.Reading.Magnesium, ways, half)
}

// shownNote returns how much learning changes the need.
func shownNote(w *dosing.Dose, sides []dose.Comparison) string {
	l := w.Request.Ground.Learned
	if l == nil {
		return ""
	}
	var own, method *dose.Comparison
	for i := range sides {
		switch soil.LimeMethod(sides[i].Method) {
		case soil.ByLearned:
			own = &sides[i]
		case l.Beside:
			method = &sides[i]
		}
	}
	if own == nil || method == nil {
		return ""
	}
	return w.Garden.Units().ShownDose(*l, own.CaCO3, method.CaCO3, w.Request.Methods.Buffering == soil.ByLearned)
}

// miniScale returns a scale of whole half units that holds all options' intervals.
func miniScale(a dose.Answer) (lo, hi quantity.PH) {
	lo, hi = a.Crop.Range.Low, a.Crop.Range.High
	for _, o := range a.Options {
		if o.PH.Median > 0 {
			lo, hi = min(lo, o.PH.P05), max(hi, o.PH.P95)
		}
	}
	return quantity.PH(int(lo*2)) / 2, quantity.PH(int(hi*2)+1) / 2
}

// leaveWords returns why nothing is to be done: what is reacting, the method, or too small a need.
func leaveWords(w *dosing.Dose) string {
	a := w.Answer
	for _, s := range a.Need.Working {
		if s.ID == "at-work" {
			return "What was put on is still at work and should bring it to about " + text.PH(quantity.PH(s.From.N("settles"))) +
				". It needs no more."
		}
	}
	for _, g := range a.Guards {
		switch g.ID {
		case guard.TooLittle:
			return "So little is needed that it is not worth spreading."
		case "buffer-gives-nothing":
			return "By the lab’s buffer nothing is needed, as its formula often says on sands. Choose the texture table to go " +
				"by that."
		}
	}
	span := text.PH(a.Crop.Range.Low) + " to " + text.PH(a.Crop.Range.High)
	switch {
	case w.Request.Target != nil:
		return "The soil is there already."
	case a.Stand == crop.InRange:
		return "It reads " + text.PH(a.PH) + ", inside the range of " + span + ". Type a target if you want another pH."
	case a.Stand == crop.TooClose:
		return "It reads " + text.PH2(a.PH) + " against " + span + ": too close to tell from one reading. Test it once more, or type a " +
			"target."
	case a.Stand == crop.Drifts:
		return "It reads " + text.PH(a.PH) + ", a little over the range of " + span + ". pH falls by itself; type a target if " +
			"you will not wait."
	}
	return "The approach you chose leaves it alone at " + text.PH(a.PH) + ". Type a target, or choose another approach."
}

func optionOf(w *dosing.Dose, o dose.Option, on bool, lo, hi quantity.PH) optionView {
	var total quantity.Mass
	var note []string
	for _, p := range o.Parts {
		total += p.Total
	}
	v := optionView{ID: "use-" + w.Key(o), Key: w.Key(o), Name: present.OptionName(w, o), On: on,
		Amount: present.OptionAmount(w, o, total), Exact: w.Garden.Units().MassExact(total), Potassium: "0"}
	if o.PH.Median > 0 {
		m := svg.MiniOf(w.Answer.Crop.Range, o.PH.Median, o.PH.P05, o.PH.P95, lo, hi)
		v.Mini = &m
	}
	if o.K2O > 0 {
		v.Potassium = "+" + text.PPM(soil.PotassiumRise(w.Request.Ground, o.K2O))
	}
	note = append(note, text.Count(len(o.Applications), "application", "applications"))
	if o.Waits() {
		note[0] += ", the rest after a test"
	}
	if len(o.Parts) > 1 {
		note[0] = text.Lower(present.MaterialName(w, o.Parts[0].Batch)) + " + " + text.Lower(present.MaterialName(w, o.Parts[1].Batch)) +
			" · " + note[0]
	} else if b := present.ShelfOf(w, o.Parts[0].Batch); b == nil {
		note = append(note, "not on your shelf")
	} else if b.Left != nil {
		if b.Measure() != nil {
			note = append(note, w.Garden.Units().Mass(total))
		}
		has := w.Garden.Units().Mass(*b.Left) + " on the shelf"
		if total > *b.Left {
			has += ", " + w.Garden.Units().Mass(total-*b.Left) + " to buy"
		}
		note = append(note, has)
	}
	if o.Cost != nil {
		note = append(note, present.Money(*o.Cost, w.Garden.Currency))
	}
	v.Note = strings.Join(note, " · ")
	if o.Shortfall != 0 {
		v.Shortfall = "falls short by " + w.Garden.Units().Rate(quantity.Rate(abs(float64(o.Shortfall))))
	}
	if _, n := guard.Worst(o.Guards); n > 0 {
		v.CautionText = text.Count(n, "caution", "cautions")
	}
	return v
}

func abs(x float64) float64 {
	if x < 0 {
		return -x
	}
	return x
}

// refused lists materials that must not be used, or have no effect. Those of the other direction
// are left out.
func (v *answerView) refused(w *dosing.Dose) {
	for _, r := range w.Answer.Refused {
		g := w.Garden.Units().Guard(r.Guards[0])
		// So are those for potassium only, if none is in stock.
		if g.ID == "wrong-way" || g.ID == "no-ph-change" && present.ShelfOf(w, r.Batch) == nil {
			continue
		}
		if n := len(v.Refused) - 1; n >= 0 && v.Refused[n].Says == g.Says {
			v.Refused[n].Name += ", " + text.Lower(present.MaterialName(w, r.Batch))
			continue
		}
		v.Refused = append(v.Refused, RefusedView{Name: text.Capital(present.MaterialName(w, r.Batch)), Says: g.Says, WayOut: g.WayOut(),
			Stop: g.Level == guard.Stop})
	}
}

func chosenOf(w *dosing.Dose, o dose.Option, today quantity.Day) *chosenView {
	v := &chosenView{Name: present.OptionName(w, o), Key: w.Key(o),
		Lines: w.Garden.Units().Steps(w.Answer.Working(&o))}
	v.Cautions, v.Guards = present.Cautions(w.Garden.Units().Guards(o.Guards))
	var days []string
	tested := false
	for _, g := range o.Applications {
		u := w.Garden.Units()
		x := ApplicationView{When: text.NearDay(g.Date, today), Amount: u.Mass(g.Total), Exact: u.MassExact(g.Total), Rate: u.Rate(g.Rate),
			Measure: u.Measure(g.Kind, g.Total, present.ScoopFor(w, o, g)), Retest: g.RetestFirst}
		if g.PHAfter > 0 {
			x.Then = "pH " + text.PH(g.PHAfter)
		}
		if len(o.Parts) > 1 {
			x.Amount += " of " + text.Lower(present.MaterialName(w, o.Parts[g.Part].Batch))
		}
		if g.TopAfter > 0 {
			x.Note = "top 5 cm: " + text.PH(g.TopAfter)
		}
		if !tested && g.Date > o.Retest {
			tested = true
			v.Applications = append(v.Applications, RetestLine(o, today))
		}
		v.Applications = append(v.Applications, x)
		if day := text.NearDay(g.Date, today); len(days) == 0 || days[len(days)-1] != day {
			days = append(days, day)
		}
	}
	if !tested {
		v.Applications = append(v.Applications, RetestLine(o, today))
	}
	v.Button = "Plan for " + text.List(days)
	if amount := present.RestAmount(w, &o); amount != "" {
		v.Applications = append(v.Applications, ApplicationView{
			When: "Then", Amount: "the rest, about " + amount, Note: "no day before that test is read"})
	}
	if w.UnknownAsh(o) {
		v.Ask = present.AskAsh(w)
	}
	if planned := present.PlannedFor(w); planned != "" {
		v.Planned, v.PlanHref = "Planned: "+planned+".", "/beds/"+strconv.FormatInt(w.Record.Bed.ID, 10)+"#tasks"
	}
	for _, p := range o.Parts {
		for _, line := range text.Safety(p.Kind) {
			if !slices.Contains(v.Safety, line) {
				v.Safety = append(v.Safety, line)
			}
		}
	}
	v.Chart = doseChart(w, o, today)
	v.Mind = text.Count(len(o.Applications), "application", "applications") + " and a test"
	return v
}

// RetestLine returns the retest among the applications, if it falls there.
func RetestLine(o dose.Option, today quantity.Day) ApplicationView {
	g := ApplicationView{When: text.NearDay(o.Retest, today), Amount: "Test again, same depth and way"}
	if o.AtRetest.Median > 0 {
		g.Then = "about " + text.PH(o.AtRetest.Median)
	}
	return g
}

// chartMonths is the least range ahead of a dose's chart.
const chartMonths = 14

// doseChart returns the past line and the option's course.
func doseChart(w *dosing.Dose, o dose.Option, today quantity.Day) svg.Chart {
	label := present.RangeName(w.Record.State)
	s := svg.Series{Range: w.Record.State.Crop.Range, Label: label, Readings: w.Record.Readings,
		Put: present.RaisersAndSulfur(w.Record.Applications), Today: today,
		Units: w.Garden.Units(), Measure: w.Measure, Called: w.Called,
		From: today.AddMonths(-24), To: max(today.AddMonths(chartMonths), o.Retest+30)}
	for _, g := range o.Applications {
		s.Applications = append(s.Applications, garden.Task{Due: g.Date, What: g.Kind, Total: g.Total, Rate: g.Rate, BatchID: present.BatchOf(w,
			o, g)})
	}
	c := svg.Chart{}
	if w.Request.Foretold != nil {
		s.Line = outlook.Past(&w.Record, today)
	}
	if e := o.AtRetest; e.Median > 0 {
		course := w.Answer.Expect(&o)
		for d := today; d < o.Retest; d += present.CourseStep {
			s.Expect = append(s.Expect, svg.Expect{Day: d, PH: course.On(d).PH})
		}
		s.Expect = append(s.Expect, svg.Expect{Day: o.Retest, PH: e.Median, P05: e.P05, P95: e.P95})
		c = svg.ChartOf(s, 602, 134)
		c.Title = "Should read " + text.PH(e.Median) + " at the test of " + text.NearDay(o.Retest, today)
		c.Says = c.Title + ", usually from " + text.PH(e.P05) + " to " + text.PH(e.P95) + ", with " +
			strconv.Itoa(int(math.Round(100*o.Reacted))) + " % of what is on by then reacted"
		return c
	}
	c = svg.ChartOf(s, 602, 134)
	c.Title, c.Says = "No figure to draw a line from", "No figure to draw a line from."
	return c
}

// potassiumKey is the prefix of options for potassium.
const potassiumKey = dosing.PotassiumKey
