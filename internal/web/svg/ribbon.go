package svg

import (
	"slices"
	"strconv"
	"strings"
	"time"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
	"zephyrfield/internal/web/fact"
)

// Carried is a hidden field of the ribbon's form.
type Carried struct{ Name, Value string }

// Ribbon is the year ribbon at the foot of a page.
type Ribbon struct {
	// Action is the target of the typed day, Carry its hidden fields.
	Action string
	// Slim is set for the strip on other pages: thin rows, no stakes. BarH, MonthFoot and HandleUp
	// are its measures, NameX where its rows' names stand.
	Slim                       bool
	BarH                       Px
	MonthFoot, HandleUp, NameX Px
	// Frosts are the usual days of the last and the first frost.
	Frosts []Frost
	Carry  []Carried
	W, H   Px
	Months []Tick
	Rows   []RibbonRow
	Stakes []Stake
	// Today is a small mark; the tag is the date handle, On the shown day.
	HasToday bool
	Today    Px
	TodayTag Text
	TagX     Px
	On       quantity.Day
	// From and Days are the handle's range; X0 and Width its pixels.
	From      quantity.Day
	Days      int
	X0, Width Px
	// Now is the handle's position, days from From.
	Now   int
	Lines []RibbonLine
}

// Frost is a usual day of frost.
type Frost struct {
	X    Px
	Says string
}

// RibbonRow is a family's windows.
type RibbonRow struct {
	Name  string
	Y     Px
	Class string
	Bars  []Bar
}

// Bar is a window of a row.
type Bar struct {
	X, Y, W Px
	Best    bool
	Says    string
}

// Stake is a label for tasks close to each other.
type Stake struct {
	X, Y  Px
	Text  string
	Class string
	Says  string
	Href  string
	Small bool
	// Task is its only open task, Day its day from the ribbon's first; 0 for none or several.
	Task int64
	Day  int
}

// mostLines is the number of label lines that fit.
const mostLines = 2

// RibbonLine is a row of the ribbon's table. The facts name its days and why it was moved for
// data-fact, parted by spaces.
type RibbonLine struct {
	When, What         string
	DayFacts, WhyFacts string
	day                quantity.Day
}

// rowOf are the names of the ribbon's rows.
var rowOf = map[material.Family]struct{ name, class string }{
	material.Lime: {"lime", "bar-lime"}, material.Ash: {"ash", "bar-ash"}, material.Sulfur: {"sulfur", "bar-sulfur"},
}

// RibbonOf draws a year of w units.
func RibbonOf(y schedule.Year, beds map[int64]string, today, day quantity.Day, w float64, slim bool) Ribbon {
	const x0 = 96
	s := scale{float64(y.From), float64(y.To + 1), x0, w - 20}
	r := Ribbon{W: Px(w), H: 138, Slim: slim, BarH: 10, MonthFoot: 116, NameX: 24}
	first, step := 42, 18
	if slim {
		r.H, r.BarH, r.MonthFoot, r.HandleUp = 82, 4, 62, -56
		r.NameX = 10 // the strip begins further in
		first, step = 34, 13
	}
	for d := y.From; d <= y.To; d = d.AddMonths(1) {
		label := d.Time().Format("Jan")
		if d.Month() == time.January {
			label = d.Time().Format("2006")
		}
		r.Months = append(r.Months, Tick{At: s.at(float64(d)), Major: d.Month() == time.January, Label: label})
	}
	for i, win := range y.Windows {
		name := rowOf[win.Family]
		row := RibbonRow{Name: name.name, Class: name.class, Y: Px(first + step*i)}
		for _, x := range win.Windows {
			says := text.Capital(name.name) + " can be put on from " + text.DayYear(x.From) + " to " + text.DayYear(x.To)
			if x.Best {
				says = text.Capital(name.name) + ": best time, " + text.DayYear(x.From) + " to " + text.DayYear(x.To)
			}
			if x.Opens != calendar.Free {
				says += ". Before it, " + text.Limit(string(x.Opens))
			}
			if x.Closes != calendar.Free {
				says += ". After it, " + text.Limit(string(x.Closes))
			}
			a, b := s.at(float64(x.From)), s.at(float64(x.To+1))
			row.Bars = append(row.Bars, Bar{a, row.Y - r.BarH/2, b - a, x.Best, says})
			r.Lines = append(r.Lines, RibbonLine{When: text.DayYear(x.From) + " to " + text.DayYear(x.To), What: says, day: x.From})
		}
		r.Rows = append(r.Rows, row)
	}
	r.stakes(y, beds, today, s)
	r.samples(y.Samples, s)
	if slim {
		r.Stakes = nil // shown in the table
	}
	r.frosts(y, s)
	slices.SortStableFunc(r.Lines, func(a, b RibbonLine) int { return int(a.day - b.day) })
	if today >= y.From && today <= y.To {
		r.HasToday, r.Today = true, s.at(float64(today))
	}
	r.TagX = min(max(s.clamped(float64(day)), x0+42), Px(w-62))
	r.TodayTag = Text{r.TagX, 131, text.DayYear(day)}
	r.On, r.From, r.Days, r.Now = day, y.From, int(y.To-y.From), int(day-y.From)
	r.X0, r.Width = x0, Px(w-20-x0)
	return r
}

// sampleWords returns a sample's state with its day.
func sampleWords(x garden.Sample) (quantity.Day, string) {
	switch x.State {
	case garden.SampleAtLab:
		return x.Sent, "at the lab"
	case garden.SampleRead:
		return x.Read, "read"
	}
	return x.Taken, "taken"
}

// samples marks the states of rounds' samples: equal ones of a day share a mark.
func (r *Ribbon) samples(all []garden.Sample, s scale) {
	type key struct {
		day  quantity.Day
		says string
	}
	var order []key
	codes := map[key][]string{}
	for _, x := range all {
		day, says := sampleWords(x)
		k := key{day, says}
		if codes[k] == nil {
			order = append(order, k)
		}
		codes[k] = append(codes[k], x.Code)
	}
	for _, k := range order {
		what := "Sample " + codes[k][0] + " " + k.says
		if n := len(codes[k]); n > 1 {
			what = "Samples " + text.List(codes[k]) + " " + k.says
		}
		says := text.DayYear(k.day) + ": " + text.Lower(what)
		r.Stakes = append(r.Stakes, Stake{X: s.clamped(float64(k.day)), Y: 76, Class: "stake-sample", Says: says, Href: "/walk",
			Small: true})
		r.Lines = append(r.Lines, RibbonLine{When: text.DayYear(k.day), What: what, day: k.day})
	}
}

// frosts marks the usual days of frost in view.
func (r *Ribbon) frosts(y schedule.Year, s scale) {
	w := y.Garden.Weather()
	for year := y.From.Year(); year <= y.To.Year(); year++ {
		for _, f := range []struct {
			day  soil.MonthDay
			what string
		}{{w.LastFrost, "Last frost of spring"}, {w.FirstFrost, "First frost of autumn"}} {
			d := f.day.In(year)
			if d < y.From || d > y.To || d == 0 {
				continue
			}
			says := f.what + ", usually " + text.DayYear(d)
			r.Frosts = append(r.Frosts, Frost{s.at(float64(d)), says})
			r.Lines = append(r.Lines, RibbonLine{When: text.DayYear(d), What: f.what + ", as a rule", day: d})
		}
	}
}

// near is how many days apart tasks may share a stake.
const near quantity.Day = 12

// taskGroup is tasks of one kind close to each other.
type taskGroup struct {
	first, last quantity.Day
	tasks       []garden.Task
	held        bool
}

func gathered(y schedule.Year) (groups []*taskGroup) {
	same := map[string]*taskGroup{}
	for _, t := range y.Tasks {
		if t.State == garden.Skipped {
			continue
		}
		key := t.Kind + string(t.What) + string(t.Step) + t.Says + t.State
		_, held := y.Held[t.ID]
		if held {
			key += " held"
		}
		g := same[key]
		if g == nil || t.On()-g.first > near {
			g = &taskGroup{first: t.On(), held: held}
			same[key] = g
			groups = append(groups, g)
		}
		g.last, g.tasks = t.On(), append(g.tasks, t)
	}
	return groups
}

// days returns the days of a group: one, or from the first to the last.
func (g *taskGroup) days() string {
	if g.first == g.last {
		return text.DayYear(g.first)
	}
	return text.DayYear(g.first) + " to " + text.DayYear(g.last)
}

// lines returns a group as rows of the table: the beds of a day share a row, but each reason for
// which tasks were moved has its own.
func (g *taskGroup) lines(what, done string, beds map[int64]string, y *schedule.Year) (out []RibbonLine) {
	type key struct {
		day quantity.Day
		why string
	}
	rows := map[key]int{}
	var names [][]string
	for _, t := range g.tasks {
		k := key{day: t.On()}
		if m, moved := y.Moved[t.ID]; moved {
			k.why = "; " + y.Garden.Units().Moved(m.From, m.Placed)
		}
		at, ok := rows[k]
		if !ok {
			at = len(out)
			rows[k] = at
			out, names = append(out, RibbonLine{When: text.DayYear(k.day), day: k.day}), append(names, nil)
		}
		l := &out[at]
		names[at] = append(names[at], beds[t.BedID])
		l.What = what + text.List(names[at]) + done + k.why
		l.DayFacts = strings.TrimLeft(l.DayFacts+" "+fact.Due(t)+fact.Done(t), " ")
		if k.why != "" {
			l.WhyFacts = strings.TrimLeft(l.WhyFacts+" "+fact.Why(t), " ")
		}
	}
	return out
}

// brief returns a task in a word or two.
func brief(t garden.Task) string {
	switch t.Kind {
	case garden.TaskApplication:
		return text.Brief(t.What)
	case garden.TaskStep:
		return text.Lower(text.StepName(t.Step, t.Says))
	}
	return "retest"
}

// moreMark precedes the number of further tasks that a label counts.
const moreMark = " + "

// labelEnd returns about where a label ends.
func labelEnd(s *Stake) Px { return s.X + Px(12+6.4*float64(len(s.Text))) }

// stakes places the labels of tasks without overlap.
func (r *Ribbon) stakes(y schedule.Year, beds map[int64]string, today quantity.Day, s scale) {
	var ends []Px
	last, more := -1, 0 // the last label, and how many near it did not fit
	for _, g := range gathered(y) {
		t := g.tasks[0]
		names := make([]string, len(g.tasks))
		for i, x := range g.tasks {
			names[i] = beds[x.BedID]
		}
		st := Stake{X: s.clamped(float64(g.first)), Class: "stake-" + t.Kind, Href: "/sheet"}
		what := brief(t)
		st.Text = what + ", " + text.Count(len(g.tasks), "bed", "beds")
		if len(g.tasks) == 1 {
			st.Text = what + ", " + names[0]
			if t.State == garden.Open && !g.held {
				st.Task, st.Day, st.Href = t.ID, int(t.On()-y.From), "/tasks/"+strconv.FormatInt(t.ID, 10)+"/move"
			}
		}
		done := ""
		switch {
		case g.held:
			st.Text, done = "held back: "+st.Text, " (held back)"
		case t.State == garden.Done:
			st.Class, done = "stake-done", " (done)"
		case t.Due <= today:
			st.Class += " stake-due"
		}
		st.Says = g.days() + ": " + what + " on " + text.List(names) + done
		r.Lines = append(r.Lines, g.lines(text.Capital(what)+" on ", done, beds, &y)...)
		// A label takes the first free line of two.
		line := 0
		for line < len(ends) && ends[line] > st.X-4 {
			line++
		}
		if line == mostLines {
			// No room for a label: a small mark has the text in its tooltip and in the table, and
			// the label beside it counts it.
			more++
			full := &r.Stakes[last]
			full.Text, _, _ = strings.Cut(full.Text, moreMark)
			full.Text += moreMark + strconv.Itoa(more) + " more"
			full.Says += "; " + st.Says
			ends[mostLines-1] = max(ends[mostLines-1], labelEnd(full))
			st.Text, st.Y, st.Small = "", 76, true
			r.Stakes = append(r.Stakes, st)
			continue
		}
		if line == len(ends) {
			ends = append(ends, 0)
		}
		st.Y = Px(85 + 15*line)
		ends[line] = labelEnd(&st)
		if line == mostLines-1 {
			last, more = len(r.Stakes), 0
		}
		r.Stakes = append(r.Stakes, st)
	}
}
