package svg

import (
	"strconv"
)

// Jar is a settled jar of soil and water with its three layers.
type Jar struct {
	W, H   Px
	X0, X1 Px
	Top    Px
	Foot   Px
	Layers []JarLayer
	// Scale is in drawing units per millimetre.
	Scale float64
}

// JarLayer is one layer, with its movable top.
type JarLayer struct {
	// Field is its form field, in millimetres.
	Field, Name string
	MM          string
	Y, H, Mid   Px
	Most        int
}

// jarMost is the largest height, mm.
const jarMost = 160

// JarOf draws layers of sand, silt and clay, mm.
func JarOf(sand, silt, clay float64) Jar {
	const scale, top, foot = 1.2, 14, 14
	j := Jar{W: 210, H: top + jarMost*scale + foot, X0: 20, X1: 116, Top: top, Foot: top + jarMost*scale, Scale: scale}
	y := float64(j.Foot)
	for _, l := range []struct {
		field, name string
		mm          float64
	}{{"jar_sand", "sand", sand}, {"jar_silt", "silt", silt}, {"jar_clay", "clay", clay}} {
		mm := min(max(l.mm, 0), jarMost)
		h := min(mm*scale, y-top)
		j.Layers = append(j.Layers, JarLayer{Field: l.field, Name: l.name, MM: strconv.FormatFloat(mm, 'f', -1, 64),
			Y: Px(y - h), H: Px(h), Mid: Px(y - h/2), Most: jarMost})
		y -= h
	}
	return j
}
