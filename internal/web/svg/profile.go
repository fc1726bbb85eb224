package svg

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
)

// Profile is a bed's pH by depth: a column of soil with its layers.
type Profile struct {
	W, H Px
	// X0 and X1 are the column's sides, Spade the bed's depth.
	X0, X1, Spade Px
	Rows          []ProfileRow
	Says          string
}

// ProfileRow is one layer.
type ProfileRow struct {
	Y, H, TextY     Px
	Depth, PH, Says string
	State           string
	// Guessed is set when no layer was read and the single pH is shown.
	Guessed bool
}

// profileCm is the height of a centimetre, profileLeast the least height of a layer.
const (
	profileCm    = 4.4
	profileLeast = 20
)

// ProfileOf draws a reading's layers with a crop's range; nil without layers.
func ProfileOf(p soil.Profile, span crop.Range, u text.Units) *Profile {
	if !p.Layered {
		return nil
	}
	out := Profile{W: 350, X0: 84, X1: 190, Says: "pH by depth:"}
	y := Px(4)
	add := func(s soil.Slice) {
		h := Px(max(profileLeast, float64(s.Thick())*100*profileCm))
		row := ProfileRow{Y: y, H: h, TextY: y + h/2 + 4, Depth: u.Depth(s.From) + " to " + u.Depth(s.To), PH: text.PH(s.PH),
			State: standing(span, s.PH), Guessed: !s.Read}
		if s.From == 0 {
			row.Depth = "top " + u.Depth(s.To)
		}
		row.Says = stateWords[row.State]
		if row.Guessed {
			row.Says += ", by the one reading"
		}
		out.Says += " " + row.Depth + " " + row.PH + ", " + row.Says + ";"
		out.Rows = append(out.Rows, row)
		y += h
	}
	for _, s := range p.In {
		add(s)
	}
	out.Spade = y
	for _, s := range p.Under {
		if s.To > s.From+quantity.Depth(1e-9) {
			add(s)
		}
	}
	out.H = y + 4
	out.Says = out.Says[:len(out.Says)-1] + "."
	return &out
}

// stateWords name the state beside a layer's colour.
var stateWords = map[string]string{"sour": "sour", "in-range": "in range", "too-sweet": "too sweet"}
