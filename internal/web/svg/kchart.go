package svg

import (
	"math"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/outlook"
)

// KChartOf draws a bed's potassium over w × h units, from one day to another, or from its first reading
// where opens is 0: the first day of the chart above it; fact names today's figure in its table, ""
// for none. It is false with fewer than two readings.
func KChartOf(s *outlook.Potassium, today, from, opens, to quantity.Day, w, h float64, fact string) (c Chart, ok bool) {
	if len(s.Reads) < 2 {
		return c, false
	}
	c = Chart{W: Px(w), H: Px(h), X0: 34, X1: Px(w - 8), Top: 6, Foot: Px(h - 18), RangeLabel: "enough"}
	first := today
	for _, r := range s.Reads {
		if r.Date >= from {
			first = min(first, r.Date)
		}
	}
	if from = opensOn(from, first, today); opens != 0 {
		from = opens
	}
	all := within(s.Line, from, to)
	low, high := float64(s.Scale.Critical)*0.7, float64(s.Scale.EnoughTo)
	for _, r := range s.Reads {
		low, high = min(low, r.PPM*0.92), max(high, r.PPM*1.08)
	}
	low, high = math.Floor(low/20)*20, math.Ceil(high/20)*20
	y := scale{low, high, float64(c.Foot), float64(c.Top)}
	x := scale{float64(from), float64(to), float64(c.X0), float64(c.X1)}
	c.RangeY = y.clamped(float64(s.Scale.EnoughTo))
	c.RangeH, c.RangeW = y.clamped(float64(s.Scale.Critical))-c.RangeY, c.X1-c.X0
	c.RangeText = Text{c.X0 + 6, c.RangeY + c.RangeH - 5, "enough"}
	if w < narrow {
		c.RangeText.Text = ""
	}
	c.TicksY = y.ticks(kSteps, text.Whole)
	c.TicksX, c.Today = yearTicks(from, to, x), x.clamped(float64(today))
	var panel Panel
	panel.lay(all, today, x, y)
	c.Past, c.Ahead = panel.Past, panel.Ahead
	for _, r := range s.Reads {
		if r.Date < from {
			continue
		}
		k := quantity.Concentration(r.PPM)
		c.Points = append(c.Points, Point{X: x.at(float64(r.Date)), Y: y.clamped(r.PPM), Y0: y.clamped(r.PPM * 1.08), Y1: y.clamped(r.PPM * 0.92),
			State: kState(s.Scale.Judge(&k)), Says: text.PPM(k) + ", " + text.DayYear(r.Date)})
		c.Rows = append(c.Rows, rowOn(r.Date, "read", text.PPM(k)))
	}
	c.nameRange()
	now := quantity.Concentration(forecast.On(s.Line, today).Median)
	row := rowOn(today, "now", text.PPM(now))
	row.Fact = fact
	c.Rows = append(c.Rows, row)
	end := forecast.On(s.Line, to)
	c.Rows = append(c.Rows, rowOn(to, "to come, 90 % range",
		text.Whole(end.P05)+" to "+text.PPM(quantity.Concentration(end.P95))))
	before, last := s.Reads[len(s.Reads)-2], s.Reads[len(s.Reads)-1]
	title := text.PotassiumTitle
	if w < narrow {
		title = text.PotassiumBrief
	}
	c.Title = title(quantity.Concentration(before.PPM), quantity.Concentration(last.PPM), now, s.Scale)
	c.Says = c.Title + ". The same figures stand in the table below."
	return c, true
}

// kState returns the class of a potassium range.
func kState(s soil.Supply) string {
	switch s {
	case soil.Short:
		return "sour"
	case soil.TooMuch:
		return "too-sweet"
	}
	return "in-range"
}

// narrow is the width up to which a chart has a short title.
const narrow = 400
