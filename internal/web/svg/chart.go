package svg

import (
	"cmp"
	"math"
	"slices"
	"sort"
	"strconv"
	"unicode/utf8"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// Point is a reading on the chart.
type Point struct {
	X, Y     Px
	Y0, Y1   Px // the error bar
	Day      quantity.Day
	PH       quantity.PH
	SD       float64
	Method   soil.Method
	State    string
	Says     string
	Expected bool
}

// Arrow is an application at the foot of the chart.
type Arrow struct {
	X    Px
	Tip  Px
	Day  quantity.Day
	Says string
	// Label is drawn beside it if there is room.
	Label  string
	Open   bool
	Raises bool
}

// Chart is a bed's pH over time.
type Chart struct {
	// From is its first day.
	From                    quantity.Day
	W, H                    Px
	X0, X1, Top, Foot       Px
	RangeY, RangeH, RangeW  Px
	RangeText               Text
	TicksY                  []Tick
	TicksX                  []Tick
	Past                    Path // the solid line
	Ahead                   Path // the dashed line
	Points                  []Point
	Arrows                  []Arrow
	Today                   Px
	Title, Says, RangeLabel string
	Rows                    []ChartRow
	Seen                    []SeenMark
}

// Observation is an observation on a day.
type Observation struct {
	Day  quantity.Day
	Says string
}

// SeenMark is its mark on the chart.
type SeenMark struct {
	X    Px
	Says string
}

// ChartRow is a row of the chart's table.
type ChartRow struct {
	On               quantity.Day
	Day, What, Value string
	// Fact names its figure for data-fact; "" for none.
	Fact string
}

// rowOn returns the row of a day.
func rowOn(day quantity.Day, what, value string) ChartRow {
	return ChartRow{On: day, Day: text.DayYear(day), What: what, Value: value}
}

// Expect is an expected pH on a day; P05 and P95 are set for the last one only.
type Expect struct {
	Day      quantity.Day
	PH       quantity.PH
	P05, P95 quantity.PH
}

// Series is a chart's data.
type Series struct {
	Range    crop.Range
	Label    string
	Readings []garden.Reading
	Put      []garden.Application
	// Applications are planned.
	Applications []garden.Task
	// Line is the level by all readings up to Today, whose level Fact names; Expect is what is
	// expected after.
	Line   []forecast.Spread
	Fact   string
	Expect []Expect
	Today  quantity.Day
	// Observations are what was seen.
	Observations []Observation
	// From and To are the chart's range.
	From, To quantity.Day
	Units    text.Units
	// Measure returns a batch's measure; nil without one.
	Measure func(batch *int64) *text.Scoop
	// Called returns a material's or batch's name; nil: the kind's.
	Called func(k material.Kind, batch *int64) string
}

func (s Series) called(k material.Kind, batch *int64) string {
	if s.Called == nil {
		return text.Material(k)
	}
	return s.Called(k, batch)
}

func (s Series) amount(total quantity.Mass, batch *int64) string {
	if s.Measure == nil {
		return s.Units.Mass(total)
	}
	return s.Units.Amount(total, s.Measure(batch))
}

// trusted reports whether the line goes through a reading: one good enough to dose with. Others are
// lighter marks.
func trusted(m soil.Method) bool {
	t, _ := soil.FindMethod(m)
	return t.Dose == soil.Freely
}

// opensBefore is how long before its first record a chart starts, so that it does not start with
// empty years.
const opensBefore quantity.Day = 90

// opensOn returns the start of a chart.
func opensOn(from, first, today quantity.Day) quantity.Day {
	return max(from, min(first, today)-opensBefore)
}

// first returns the day of the first record shown.
func (s Series) first() quantity.Day {
	first := s.Today
	for _, r := range s.Readings {
		if (r.PH != nil || r.Potassium != nil) && r.Date >= s.From {
			first = min(first, r.Date)
		}
	}
	for _, a := range s.Put {
		if a.Date >= s.From {
			first = min(first, a.Date)
		}
	}
	return first
}

// ChartOf lays out a chart of w × h units.
func ChartOf(s Series, w, h float64) Chart {
	s.From = opensOn(s.From, s.first(), s.Today)
	c := Chart{From: s.From, W: Px(w), H: Px(h), X0: 34, X1: Px(w - 8), Top: 14, Foot: Px(h - 34), RangeLabel: s.Label}
	lo, hi := float64(s.Range.Low), float64(s.Range.High)
	for _, r := range s.Readings {
		if r.PH != nil && r.Date >= s.From {
			lo, hi = math.Min(lo, float64(r.Soil().Water())), math.Max(hi, float64(r.Soil().Water()))
		}
	}
	for _, p := range s.line() {
		lo, hi = math.Min(lo, p.Median), math.Max(hi, p.Median)
	}
	for _, e := range s.Expect {
		lo, hi = math.Min(lo, float64(cmp.Or(e.P05, e.PH))), math.Max(hi, float64(max(e.P95, e.PH)))
	}
	lo, hi = math.Floor((lo-0.1)*2)/2, math.Ceil((hi+0.1)*2)/2
	y := scale{lo, hi, float64(c.Foot), float64(c.Top)}
	x := scale{float64(s.From), float64(s.To), float64(c.X0), float64(c.X1)}
	c.RangeY = y.clamped(float64(s.Range.High))
	c.RangeH = y.clamped(float64(s.Range.Low)) - c.RangeY
	c.RangeW = c.X1 - c.X0
	c.RangeText = Text{c.X1 - 4, c.RangeY + c.RangeH - 5, s.Label}
	if len(s.Expect) > 0 {
		// The right end is for the forecast.
		c.RangeText.X = c.X0 + 6
	}
	if w < narrow {
		c.RangeText.Text = "" // it would cross the line; the caption names the range
	}
	c.TicksY = y.ticks(phSteps, phLabel)
	c.TicksX = yearTicks(s.From, s.To, x)
	c.Today = x.clamped(float64(s.Today))
	c.points(s, x, y)
	c.nameRange()
	for _, v := range s.Observations {
		if v.Day >= s.From && v.Day <= s.To {
			c.Seen = append(c.Seen, SeenMark{x.at(float64(v.Day)), text.DayYear(v.Day) + ": " + v.Says})
			c.Rows = append(c.Rows, rowOn(v.Day, "Seen", v.Says))
		}
	}
	c.arrows(s, x)
	return c
}

// besideBar is the clearance of the range's name from a reading.
const besideBar = 14

// nameRange places the range's name clear of readings: at the foot of the range, at its head, or
// further in; else at the foot.
func (c *Chart) nameRange() {
	at, wide := c.RangeText, Px(float64(utf8.RuneCountInString(c.RangeText.Text))*rangeLetter)
	in := Px(besideBar)
	if c.Ahead == "" {
		in = -besideBar // right-aligned
	}
	for _, x := range []Px{at.X, at.X + in} {
		for _, y := range []Px{c.RangeY + c.RangeH - 5, c.RangeY + 14} {
			from, to := x, x+wide
			if c.Ahead == "" {
				from, to = x-wide, x
			}
			on := func(p Point) bool {
				return p.X+4 > from && p.X-4 < to && min(p.Y0, p.Y1) < y && max(p.Y0, p.Y1) > y-12
			}
			if !slices.ContainsFunc(c.Points, on) {
				c.RangeText.X, c.RangeText.Y = x, y
				return
			}
		}
	}
}

func yearTicks(from, to quantity.Day, x scale) []Tick {
	var out []Tick
	for y := from.Year(); y <= to.Year()+1; y++ {
		if d := quantity.Date(y, 1, 1); d >= from && d <= to {
			out = append(out, Tick{At: x.at(float64(d)), Major: true, Label: strconv.Itoa(y)})
		}
	}
	return out
}

func standing(b crop.Range, p quantity.PH) string {
	st, _ := bed.Against(b, p)
	return string(st)
}

// line returns the part of the level that is shown.
func (s Series) line() []forecast.Spread {
	if len(s.Line) == 0 {
		return nil
	}
	return within(s.Line, s.From, min(s.Today, s.Line[len(s.Line)-1].Date))
}

// past draws the level up to today.
func (c *Chart) past(s Series, x, y scale) {
	var path Path
	for _, p := range s.line() {
		path = path.to(x.at(float64(p.Date)), y.clamped(p.Median))
		if m := p.Date.Month(); p.Date == s.Today || p.Date.DayOfMonth() == 1 && (m == 1 || m == 7) {
			row := rowOn(p.Date, "Level", "pH "+text.PH2(quantity.PH(p.Median)))
			if p.Date == s.Today {
				row.What, row.Fact = "Level now", s.Fact
			}
			c.Rows = append(c.Rows, row)
		}
	}
	if len(s.Line) > 1 {
		c.Past = path
	}
}

func (c *Chart) points(s Series, x, y scale) {
	for _, r := range s.Readings {
		if r.PH == nil || r.Date < s.From || r.Date > s.Today {
			continue
		}
		ph, sd := r.Soil().Water(), r.Soil().SD()
		p := Point{X: x.at(float64(r.Date)), Y: y.at(float64(ph)), Y0: y.clamped(float64(ph) - sd), Y1: y.clamped(float64(ph) + sd),
			Day: r.Date, PH: ph, SD: sd, Method: r.Method, State: standing(s.Range, ph), Expected: !trusted(r.Method)}
		p.Says = text.DayYear(r.Date) + ": pH " + text.PH(ph) + " by " + text.Short(r.Method)
		c.Points = append(c.Points, p)
		c.Rows = append(c.Rows, rowOn(r.Date, text.Capital(text.Short(r.Method)), "pH "+text.PH2(ph)+" ± "+
			text.PH2(quantity.PH(sd))))
	}
	c.past(s, x, y)
	if len(s.Expect) == 0 {
		return
	}
	for _, e := range s.Expect {
		px, py := x.clamped(float64(e.Day)), y.clamped(float64(e.PH))
		c.Ahead = c.Ahead.to(px, py)
		says := "pH " + text.PH2(e.PH)
		if e.P05 > 0 {
			says += ", usually " + text.PH2(e.P05) + " to " + text.PH2(e.P95)
		}
		c.Rows = append(c.Rows, rowOn(e.Day, "Expected", says))
	}
	e := s.Expect[len(s.Expect)-1]
	if e.P05 <= 0 {
		return
	}
	c.Points = append(c.Points, Point{X: x.clamped(float64(e.Day)), Y: y.clamped(float64(e.PH)), Y0: y.clamped(float64(e.P05)),
		Y1: y.clamped(float64(e.P95)), State: "ahead", Says: "Expected by " + text.DayYear(e.Day) + ": pH " + text.PH(e.PH)})
}

func (c *Chart) arrows(s Series, x scale) {
	tip := c.Foot + 14
	add := func(a Arrow, amount string) {
		c.Arrows = append(c.Arrows, a)
		c.Rows = append(c.Rows, rowOn(a.Day, a.Label, amount))
	}
	for _, p := range s.Put {
		if p.Date < s.From || p.Date > s.Today {
			continue
		}
		name, amount := s.called(p.What, p.BatchID), s.amount(p.Total, p.BatchID)
		add(Arrow{X: x.at(float64(p.Date)), Tip: tip, Day: p.Date, Label: text.Capital(name),
			Says: text.DayYear(p.Date) + ": " + amount + " of " + name}, amount+", "+s.Units.Rate(p.Rate))
	}
	for _, t := range s.Applications {
		if t.Due > s.To {
			continue
		}
		name, amount := s.called(t.What, t.BatchID), s.amount(t.Total, t.BatchID)
		add(Arrow{X: x.clamped(float64(t.Due)), Tip: tip, Day: t.Due, Open: true, Label: text.Capital(name) + ", planned",
			Says: text.DayYear(t.Due) + ", planned: " + amount + " of " + name}, amount+", "+s.Units.Rate(t.Rate))
	}
	sort.SliceStable(c.Rows, func(i, j int) bool { return c.Rows[i].On < c.Rows[j].On })
}
