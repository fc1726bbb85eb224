package svg

import (
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
)

// DayStrip is a year ahead with a task's allowed windows, its current and its chosen day.
type DayStrip struct {
	W, H   Px
	Bars   []Bar
	Months []Tick
	// Stands is the current day, To the chosen one; Refused is set if that is not allowed.
	Stands, To Px
	ToText     Text
	Refused    bool
	Says       string
}

// DayStripOf draws the days between two ends over w units.
func DayStripOf(serve []calendar.Window, from, to, stands, asked quantity.Day, w float64) DayStrip {
	s := scale{float64(from), float64(to + 1), 6, w - 6}
	d := DayStrip{W: Px(w), H: 74, Stands: s.clamped(float64(stands)), To: s.clamped(float64(asked)), Refused: true}
	for m := from.AddMonths(1) - quantity.Day(from.DayOfMonth()-1); m <= to; m = m.AddMonths(1) {
		d.Months = append(d.Months, Tick{At: s.at(float64(m)), Label: m.Time().Format("Jan")})
	}
	for _, x := range serve {
		if x.From > to || x.To < from {
			continue
		}
		a, b := s.clamped(float64(x.From)), s.clamped(float64(x.To+1))
		d.Bars = append(d.Bars, Bar{X: a, Y: 30, W: b - a, Says: text.DayYear(x.From) + " to " + text.DayYear(x.To) + " are suitable"})
		d.Refused = d.Refused && !(asked >= x.From && asked <= x.To)
	}
	d.ToText = Text{min(max(d.To, 44), Px(w-44)), 68, text.DayYear(asked)}
	d.Says = "The year ahead: " + text.Count(len(d.Bars), "suitable stretch of days", "suitable stretches of days")
	return d
}
