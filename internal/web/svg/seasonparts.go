package svg

import (
	"math"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/outlook"
)

// Lesson is a bed's estimated buffering before and after its tests.
type Lesson struct {
	W, H, Foot   Px
	Before, Now  Path
	Ticks        []Tick
	NowAt        Text
	BeforeAt     Text
	Says         string
	X0, X1, Base Px
}

// leastDrawn and mostDrawn bound the drawing, relative to the method.
const leastDrawn, mostDrawn = 0.3, 2.3

// LessonOf draws what a bed has shown over w units.
func LessonOf(before forecast.Normal, now forecast.Spread, w float64) Lesson {
	const foot, top = 74.0, 8.0
	d := Lesson{W: Px(w), H: 92, Foot: foot, X1: Px(w), Base: foot}
	x := scale{leastDrawn, mostDrawn, 0, w}
	after := forecast.Normal{Mean: math.Log(now.Median), SD: math.Log(now.P95/now.P05) / (2 * 1.6449)}
	most := max(1/after.SD, 1/before.SD)
	hill := func(n forecast.Normal) (line Path) {
		for v := leastDrawn; v <= mostDrawn+1e-9; v += 0.04 {
			z := (math.Log(v) - n.Mean) / n.SD
			line = line.to(x.at(v), Px(foot-(foot-top)*math.Exp(-z*z/2)/n.SD/most))
		}
		return line.to(Px(w), foot).to(0, foot).closed()
	}
	d.Before, d.Now = hill(before), hill(after)
	for _, t := range []struct {
		at    float64
		label string
	}{{0.5, "× 0.5"}, {1, "usual lime"}, {1.5, "× 1.5"}, {2, "× 2"}} {
		d.Ticks = append(d.Ticks, Tick{At: x.at(t.at), Label: t.label})
	}
	d.NowAt = Text{x.clamped(now.Median), top + 4, "now"}
	d.BeforeAt = Text{x.at(leastDrawn + 0.05), foot - 14, "before"}
	d.Says = "The lime that it needs: now " + text.Factor(now.Median) + " times the usual, most often between " +
		text.Factor(now.P05) + " and " + text.Factor(now.P95)
	return d
}

// Moves are the causes of a year's change, one after the other, and their sum.
type Moves struct {
	W, H, Zero Px
	Rows       []MoveBar
}

// MoveBar is one of them. Sign is "up", "down" or "all".
type MoveBar struct {
	Y, X, W           Px
	Name, Value, Sign string
}

// MovesOf draws moves over w units.
func MovesOf(moves []forecast.Move, w float64) Moves {
	const high, nameW = 24.0, 118.0
	low, top, sum := 0.0, 0.0, 0.0
	for _, m := range moves {
		sum += m.PH
		low, top = min(low, sum), max(top, sum)
	}
	x := scale{low, max(top, low+0.02), nameW + 10, w - 52}
	d := Moves{W: Px(w), Zero: x.at(0)}
	at := 0.0
	y := Px(4)
	add := func(name string, from, to float64, sign string, value float64) {
		d.Rows = append(d.Rows, MoveBar{y, x.at(min(from, to)), max(2, x.at(max(from, to))-x.at(min(from, to))), name, text.Signed(value), sign})
		y += high
	}
	for _, m := range moves {
		sign := "up"
		if m.PH < 0 {
			sign = "down"
		}
		add(text.Mover(m), at, at+m.PH, sign, m.PH)
		at += m.PH
	}
	add("in all", 0, sum, "all", sum)
	d.H = y + 4
	return d
}

// Glimpse is a bed's outline in a list.
type Glimpse struct {
	Name, Href, Says    string
	RangeY, RangeH      Px
	Past, Ahead         Path
	Dot                 Spot
	State               string
	On, Never, Expected bool
}

// The size of a glimpse and its range around the range, pH.
const (
	glimpseW, glimpseH = 100.0, 40.0
	glimpseReach       = 0.8
)

// GlimpseOf draws an outline.
func GlimpseOf(o *outlook.Outline) Glimpse {
	g := Glimpse{Name: o.State.Bed.Name, Never: len(o.Back) == 0}
	span := o.State.Crop.Range
	y := scale{float64(span.Low) - glimpseReach, float64(span.High) + glimpseReach, glimpseH, 0}
	g.RangeY, g.RangeH = y.at(float64(span.High)), y.at(float64(span.Low))-y.at(float64(span.High))
	if g.Never {
		g.Says = g.Name + ": never tested"
		return g
	}
	x := scale{float64(o.Back[len(o.Back)-1].Date) - 3*365, float64(o.Ahead[len(o.Ahead)-1].Date), 0, glimpseW}
	for _, p := range o.Back {
		g.Past = g.Past.to(x.clamped(float64(p.Date)), y.clamped(p.Median))
	}
	for _, p := range o.Ahead {
		g.Ahead = g.Ahead.to(x.clamped(float64(p.Date)), y.clamped(p.Median))
	}
	now := o.Ahead[0]
	g.Dot = Spot{x.clamped(float64(now.Date)), y.clamped(now.Median), 3.5}
	st, _ := bed.Against(span, quantity.PH(now.Median))
	g.State = string(st)
	g.Says = g.Name + ": about " + text.PH(quantity.PH(now.Median)) + " now, " + text.PH(quantity.PH(o.Ahead[len(o.Ahead)-1].Median)) +
		" in three years"
	return g
}
