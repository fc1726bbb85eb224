package svg

import (
	"strconv"
	"strings"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
)

// Rule is the pH ruler: the crop's range as a bracket, the reading as a peg with an error bar, the
// target as an open ring.
type Rule struct {
	W, H Px
	// X0, X1 and Y are the ruler's line.
	X0, X1, Y          Px
	RangeX, RangeW     Px
	RangeEnd, RangeMid Px
	RangeLabel         string
	Ticks              []Tick
	// HasPeg and HasRing report whether there is a reading and a target.
	HasPeg, HasRing bool
	Peg             Px
	PegText         Text
	DoubtX, DoubtW  Px
	Ring            Px
	// WayX0 and WayX1 are a line from the peg to the ring if they are apart.
	WayX0, WayX1 Px
	HasWay       bool
	// State is the verdict's class; Says is its text.
	State, Says string
}

// rangeLetter is the approximate width of a letter of the range's name.
const rangeLetter = 6.4

// RuleOf draws the pH ruler, w units wide. ph or target 0 means none.
func RuleOf(w float64, span crop.Range, label, state string, ph quantity.PH, sd float64, target quantity.PH, says string) Rule {
	const line = 52
	s := scale{4, 9, 6, w - 6}
	r := Rule{W: Px(w), H: 80, X0: 6, X1: Px(w - 6), Y: line, RangeLabel: label, State: state, Says: says}
	r.RangeX, r.RangeEnd = s.clamped(float64(span.Low)), s.clamped(float64(span.High))
	r.RangeW, r.RangeMid = r.RangeEnd-r.RangeX, (r.RangeX+r.RangeEnd)/2
	for half := 8; half <= 18; half++ {
		t := Tick{At: s.at(float64(half) / 2), Major: half%2 == 0}
		if t.Major {
			t.Label = strconv.Itoa(half / 2)
		}
		r.Ticks = append(r.Ticks, t)
	}
	if ph > 0 {
		r.HasPeg = true
		r.Peg = s.clamped(float64(ph))
		r.DoubtX = s.clamped(float64(ph) - sd)
		r.DoubtW = s.clamped(float64(ph)+sd) - r.DoubtX
		r.PegText = Text{X: r.Peg, Y: 20, Text: text.PH(ph)}
		// Keep the peg's figure clear of the range's name.
		half := Px(float64(len(label)) * rangeLetter / 2)
		clear := half + 20
		switch d := r.RangeMid - r.Peg; {
		case d >= clear || d <= -clear:
		case d >= 0 && r.Peg+clear+half <= Px(w) || r.Peg-clear-half < 0:
			r.RangeMid = r.Peg + clear
		default:
			r.RangeMid = r.Peg - clear
		}
	}
	if target > 0 {
		r.HasRing = true
		r.Ring = s.clamped(float64(target))
		if r.HasPeg && (r.Ring-r.Peg > 16 || r.Peg-r.Ring > 16) {
			r.HasWay = true
			r.WayX0, r.WayX1 = r.Peg+5, r.Ring-7
			if r.Ring < r.Peg {
				r.WayX0, r.WayX1 = r.Peg-5, r.Ring+7
			}
		}
	}
	return r
}

// Mini is a small ruler for lists: range, interval and final pH.
type Mini struct {
	W, H, Y        Px
	RangeX, RangeW Px
	X05, X95, At   Px
	X25, X75       Px
	Says           string
}

// MiniOf draws an option's final pH on a scale from lo to hi.
func MiniOf(span crop.Range, median, p05, p95, lo, hi quantity.PH) Mini {
	const w, h = 132, 30
	s := scale{float64(lo), float64(hi), 4, w - 4}
	m := Mini{W: w, H: h, Y: h / 2}
	m.RangeX = s.clamped(float64(span.Low))
	m.RangeW = s.clamped(float64(span.High)) - m.RangeX
	m.X05, m.X95, m.At = s.clamped(float64(p05)), s.clamped(float64(p95)), s.clamped(float64(median))
	// The quartiles lie at 0.41 of the distance to the 5th and 95th percentiles.
	const half = 0.6745 / 1.6449
	m.X25 = s.clamped(float64(median) - half*float64(median-p05))
	m.X75 = s.clamped(float64(median) + half*float64(p95-median))
	m.Says = "settles at " + text.PH(median) + ", usually from " + text.PH(p05) + " to " + text.PH(p95)
	return m
}

// KRule is the potassium ruler.
type KRule struct {
	W, H, Y   Px
	Names     []Text
	Ranges    []KRange
	HasPeg    bool
	Peg       Px
	PegText   Text
	EdgeTexts []Text
	Says      string
}

// KRange is a range of the potassium ruler.
type KRange struct {
	X, W Px
	ID   soil.Supply
}

// far reports whether two labels do not overlap.
func far(a, b Px) bool { return a-b > 26 || b-a > 26 }

// KRuleOf draws the potassium ruler; k nil means untested.
func KRuleOf(s soil.PotassiumScale, k *quantity.Concentration, says string) KRule {
	const w = 350
	top := float64(s.Ceiling) * 1.25
	sc := scale{0, top, 6, w - 6}
	r := KRule{W: w, H: 46, Y: 28, Says: says}
	edges := []struct {
		from, to quantity.Concentration
		id       soil.Supply
	}{{0, s.Critical, soil.Short}, {s.Critical, s.EnoughTo, soil.Enough}, {s.EnoughTo, s.Ceiling, soil.Plenty}, {s.Ceiling,
		quantity.Concentration(top), soil.TooMuch}}
	for _, e := range edges {
		if e.to <= e.from {
			continue
		}
		x := sc.at(float64(e.from))
		width := sc.at(float64(e.to)) - x
		r.Ranges = append(r.Ranges, KRange{x, width, e.id})
		r.Names = append(r.Names, Text{x + width/2, 42, text.Name(e.id)})
		if e.from > 0 && (k == nil || far(x, sc.clamped(float64(*k)))) {
			r.EdgeTexts = append(r.EdgeTexts, Text{x, 13, strings.TrimSuffix(text.PPM(e.from), " ppm")})
		}
	}
	if k != nil {
		r.HasPeg = true
		r.Peg = sc.clamped(float64(*k))
		r.PegText = Text{min(max(r.Peg, 12), w-12), 12, strings.TrimSuffix(text.PPM(*k), " ppm")}
	}
	return r
}
