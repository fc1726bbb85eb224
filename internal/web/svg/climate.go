package svg

import (
	"zephyrfield/agronomy/soil"
)

// Climate is a climate's year: soil temperature as a line over a freezing line, rain as bars;
// midwinter at both ends, so that it applies to both hemispheres.
type Climate struct {
	W, H   Px
	Freeze Px
	Line   Path
	Rain   []RainBar
}

// RainBar is a month of it.
type RainBar struct{ X, Y, Width, Height Px }

// The picture's size, and the top of its temperature and rain scales.
const (
	climateW, climateH = 132, 44
	coldest, hottest   = -6, 28
	wettest, rainTall  = 180, 15
)

// ClimateOf draws the year of a northern climate.
func ClimateOf(c soil.Climate, w soil.Weather) (v Climate) {
	v.W, v.H = climateW, climateH
	const step = climateW / 12.0
	warmth := scale{coldest, hottest, climateH - 3, 3}
	v.Freeze = warmth.at(0)
	for m := range 12 {
		tall := Px(w.Rain[m] / wettest * rainTall)
		v.Rain = append(v.Rain, RainBar{Px(float64(m)*step + 1.5), climateH - tall, step - 3, tall})
		v.Line = v.Line.to(Px((float64(m)+0.5)*step), warmth.at(float64(c.Normal[m])))
	}
	return v
}
