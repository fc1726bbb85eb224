package svg

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
)

// Stair is a bed's preparation as stairs: a tread for each step, as long as the time to the next.
type Stair struct {
	W, H   Px
	Treads []TreadMark
	// Ground is the outline of the soil under the treads.
	Ground Path
	Months []Tick
	Says   string
}

// Tread is a step on a day; Rests is the wait after it in days, Last is set for the planting.
type Tread struct {
	Name  string
	Day   quantity.Day
	Rests quantity.Day
	Last  bool
}

// TreadMark is a drawn tread: its start and the end of its wait. InSoil is set when its text is
// inside the ground, to its left.
type TreadMark struct {
	X, Y, RestW Px
	Text        string
	InSoil      bool
	Last        bool
	Says        string
}

const (
	treadHigh = 24
	stairTop  = 30
)

// StairOf draws treads over w units, from today or the first to the last.
func StairOf(treads []Tread, today quantity.Day, w float64) Stair {
	first, last := min(today, treads[0].Day), treads[len(treads)-1].Day
	s := scale{float64(first), float64(last + 4), 8, w - 8}
	d := Stair{W: Px(w), H: Px(stairTop + treadHigh*len(treads) + 8)}
	for m := first.AddMonths(1) - quantity.Day(first.DayOfMonth()-1); m <= last; m = m.AddMonths(1) {
		d.Months = append(d.Months, Tick{At: s.at(float64(m)), Label: m.Time().Format("Jan")})
	}
	y := Px(stairTop)
	d.Ground = moveTo(0, y)
	for _, t := range treads {
		x := s.at(float64(t.Day))
		d.Ground = d.Ground.to(x, y).to(x, y+treadHigh)
		y += treadHigh
		m := TreadMark{X: x, Y: y, Text: t.Name, InSoil: float64(x) > 0.55*w, Last: t.Last,
			RestW: s.clamped(float64(t.Day+t.Rests)) - x, Says: t.Name + ", " + text.DayYear(t.Day)}
		if m.RestW < 2 {
			m.RestW = 0
		}
		d.Treads = append(d.Treads, m)
	}
	d.Ground = d.Ground.to(Px(w), y).to(Px(w), d.H).to(0, d.H).closed()
	d.Says = text.Count(len(treads), "step", "steps") + " from " + text.DayYear(treads[0].Day) + " to " + text.DayYear(last)
	return d
}
