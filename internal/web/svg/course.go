package svg

import (
	"strconv"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
)

// Course is a bed's past and future pH with its intervals: the year's level, and the readings.
type Course struct {
	W, H                   Px
	Wide, Narrow           Path // 90 % and 50 % intervals
	Past, Ahead            Path
	Today                  Px
	RangeY, RangeH, RangeW Px
	RangeText              Text
	TicksX, TicksY         []Tick
	Dots                   []Spot
	Says, Title            string
	Rows                   []CourseRow
	X0, X1, Top, Foot      Px
}

// CourseRow is a row of its table.
type CourseRow struct{ Day, Level, Range string }

// CourseOf draws a forecast over w units.
func CourseOf(b *forecast.Model, r *forecast.Result, span crop.Range, today quantity.Day, w float64) Course {
	const h, top, foot, left = 260.0, 14.0, 30.0, 40.0
	from, to := b.Readings[0].Date, r.PH[len(r.PH)-1].Date
	low, high := float64(span.Low)-0.3, float64(span.High)+0.3
	for _, p := range r.PH {
		low, high = min(low, p.P05-0.1), max(high, p.P95+0.1)
	}
	for _, x := range b.Readings {
		low, high = min(low, float64(x.PH)-0.1), max(high, float64(x.PH)+0.1)
	}
	sx := scale{float64(from), float64(to), left, w - 10}
	y := func(ph float64) Px { return Px(top + (h-top-foot)*(high-ph)/(high-low)) }
	d := Course{W: Px(w), H: h, Today: sx.at(float64(today)), RangeY: y(float64(span.High)),
		X0: left, X1: Px(w - 10), Top: top, Foot: h - foot}
	d.RangeH, d.RangeW = y(float64(span.Low))-d.RangeY, d.X1-d.X0
	d.RangeText = Text{left + 6, d.RangeY + 15, "range"}
	d.Wide = area(r.PH, sx, y, func(p forecast.Spread) (float64, float64) { return p.P05, p.P95 })
	d.Narrow = area(r.PH, sx, y, func(p forecast.Spread) (float64, float64) { return p.P25, p.P75 })
	for _, p := range r.PH {
		x, at := sx.at(float64(p.Date)), y(p.Median)
		if p.Date <= today {
			d.Past = d.Past.to(x, at)
		} else {
			d.Ahead = d.Ahead.to(x, at)
		}
		if p.Date.Month() == 1 || p.Date.Month() == 7 {
			d.Rows = append(d.Rows, CourseRow{text.DayYear(p.Date), text.PH2(quantity.PH(p.Median)),
				text.PH2(quantity.PH(p.P05)) + " to " + text.PH2(quantity.PH(p.P95))})
		}
	}
	for _, x := range b.Readings {
		d.Dots = append(d.Dots, Spot{sx.at(float64(x.Date)), y(float64(x.PH)), 4})
	}
	for n := from.Year() + 1; n <= to.Year(); n++ {
		d.TicksX = append(d.TicksX, Tick{At: sx.at(float64(quantity.Date(n, 1, 1))), Label: strconv.Itoa(n)})
	}
	for ph := float64(int(low*2)+1) / 2; ph < high; ph += 0.5 {
		d.TicksY = append(d.TicksY, Tick{At: y(ph), Label: text.PH(quantity.PH(ph))})
	}
	last := r.PH[len(r.PH)-1]
	d.Says = "The year’s level of pH from " + text.DayYear(from) + " to " + text.DayYear(to) + ": " + text.PH(quantity.PH(last.Median)) +
		" at the end, usually between " + text.PH(quantity.PH(last.P05)) + " and " + text.PH(quantity.PH(last.P95))
	return d
}

// area returns the area between two lines.
func area(ps []forecast.Spread, sx scale, y func(float64) Px, of func(forecast.Spread) (low, high float64)) (out Path) {
	for _, p := range ps {
		_, high := of(p)
		out = out.to(sx.at(float64(p.Date)), y(high))
	}
	for i := len(ps) - 1; i >= 0; i-- {
		low, _ := of(ps[i])
		out = out.to(sx.at(float64(ps[i].Date)), y(low))
	}
	return out.closed()
}
