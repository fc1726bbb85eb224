package svg

import (
	"math"
	"strconv"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
)

// JarSeries is a titration series: pH against lime, with the fitted line.
type JarSeries struct {
	W, H, X0, X1, Top, Foot Px
	TicksX, TicksY          []Tick
	Line                    Path
	Points                  []JarPoint
	Title, Says             string
}

// JarPoint is a jar, with the line's value.
type JarPoint struct {
	X, Y, LineY            Px
	Lime, PH, OnLine, Says string
}

// JarSeriesOf lays out jars and the line that a need follows.
func JarSeriesOf(jars []soil.Jar, fit soil.Fit) JarSeries {
	s := JarSeries{W: 560, H: 250, X0: 36, X1: 548, Top: 12, Foot: 206}
	on := func(lime float64) float64 { return float64(fit.At(lime)) }
	most, lo, hi := jars[len(jars)-1].Lime, math.Inf(1), math.Inf(-1)
	for _, j := range jars {
		lo, hi = min(lo, float64(j.PH), on(j.Lime)), max(hi, float64(j.PH), on(j.Lime))
	}
	lo, hi = math.Floor(lo*2)/2, math.Ceil(hi*2)/2
	x, y := scale{0, most, float64(s.X0), float64(s.X1) - 8}, scale{lo, hi, float64(s.Foot), float64(s.Top)}
	s.TicksY = y.ticks(phSteps, phLabel)
	figure := func(v float64) string { return strconv.FormatFloat(quantity.Round(v, 2), 'f', -1, 64) }
	for _, j := range jars {
		s.TicksX = append(s.TicksX, Tick{At: x.at(j.Lime), Label: figure(j.Lime)})
		s.Points = append(s.Points, JarPoint{X: x.at(j.Lime), Y: y.at(float64(j.PH)), LineY: y.clamped(on(j.Lime)),
			Lime: figure(j.Lime), PH: text.PH2(j.PH), OnLine: text.PH2(quantity.PH(on(j.Lime))),
			Says: figure(j.Lime) + " g a kg: pH " + text.PH2(j.PH) + ", on the line " + text.PH2(quantity.PH(on(j.Lime)))})
	}
	for _, p := range fit.Points {
		s.Line = s.Line.to(x.at(p.Lime), y.clamped(float64(p.PH)))
	}
	s.Title = "From jar to jar this soil takes about " + figure(fit.PerSoil) + " g of lime a kg for one pH"
	s.Says = s.Title + "."
	if fit.Merged > 0 {
		s.Says += " " + text.Capital(text.Count(fit.Merged, "jar did", "jars did")) + " not read above the one before and counts with it."
	}
	return s
}

// FizzJar is a jar with mud and bubbles.
type FizzJar struct {
	W, H       Px
	Glass, Mud string
	Bubbles    []Ring
}

// bubbles is the number drawn for each strength.
var bubbles = map[soil.FreeLime]int{soil.LimeFaint: 4, soil.LimeClear: 12, soil.LimeStrong: 30}

// FizzJarOf draws a jar's fizz. The bubbles lie on a spiral, so that a strength always looks the
// same.
func FizzJarOf(strength soil.FreeLime) FizzJar {
	j := FizzJar{W: 56, H: 60, Glass: "M10 6V50q0 6 6 6H40q6 0 6 -6V6", Mud: "M11 34H45V50q0 5 -5 5H16q-5 0 -5 -5Z"}
	const golden = 0.618034
	n := bubbles[strength]
	for i := range n {
		_, across := math.Modf(float64(i) * golden)
		up := (float64(i) + 0.5) / float64(n)
		top := 34.0
		if strength == soil.LimeStrong {
			top = 8 // it foams up to the brim
		}
		j.Bubbles = append(j.Bubbles, Ring{Px(15 + 26*across), Px(50 - (50-top)*up), Px(1.6 + 1.4*across)})
	}
	return j
}
