package soil

import (
	"slices"

	"zephyrfield/agronomy/quantity"
)

// TopLayer is where a material works first that is left on top.
const TopLayer quantity.Depth = 0.05

// Slice is a stretch of depth with its pH on the water basis. Read is false
// where no layer was read and the single pH stands in.
type Slice struct {
	From, To quantity.Depth
	PH       quantity.PH
	Read     bool
}

// Thick returns how much depth the slice takes.
func (s Slice) Thick() quantity.Depth { return s.To - s.From }

// Slices cuts a depth by the reading's layers, from the top down; what has no
// layer takes the single pH.
func (r Reading) Slices(depth quantity.Depth) []Slice {
	row, _ := FindBasis(r.Basis)
	var out []Slice
	at := quantity.Depth(0)
	for _, l := range r.Layers {
		if l.From >= depth-1e-9 {
			break
		}
		if l.From > at+1e-9 {
			out = append(out, Slice{at, l.From, r.Water(), false})
		}
		at = min(l.To, depth)
		out = append(out, Slice{l.From, at, l.PH + row.Shift, true})
	}
	if depth > at+1e-9 {
		out = append(out, Slice{at, depth, r.Water(), false})
	}
	return out
}

// Profile is how a bed reads by depth, on the water basis.
type Profile struct {
	// In are the stretches of the bed's depth, Under the layers that were read below
	// it.
	In, Under []Slice
	// Top is the top 5 cm, Mixed all of the depth as it would read dug through.
	Top, Mixed quantity.PH
	// Sourest and Sweetest are the ends over all that was read.
	Sourest, Sweetest quantity.PH
	// Below is the lowest of a layer under the bed's depth; 0: none was read.
	Below quantity.PH
	// Layered is set where layers were read.
	Layered bool
}

// ProfileOf lays a reading out over a ground's depth. What the layers come to
// when mixed goes along the texture's own curve, whatever the method, so that
// every page says the same.
func ProfileOf(g Ground, r Reading) Profile {
	ph := r.Water()
	if len(r.Layers) == 0 {
		return Profile{Top: ph, Mixed: ph, Sourest: ph, Sweetest: ph}
	}
	p := Profile{In: r.Slices(g.Depth), Layered: true}
	p.Sourest, p.Sweetest = p.In[0].PH, p.In[0].PH
	var b Buffering
	_ = byTable(&b, g, r, 0) // the table knows every texture
	sum, deep := 0.0, 0.0
	for _, s := range p.In {
		sum += b.Raise.Amount(s.PH) * float64(s.Thick())
		deep += float64(s.Thick())
		p.reach(s.PH)
	}
	piece := 1
	p.Mixed = b.Raise.PHAt(sum/deep, &piece)
	for _, s := range r.Slices(TopLayer) {
		p.Top += s.PH * quantity.PH(s.Thick()/TopLayer)
	}
	row, _ := FindBasis(r.Basis)
	for _, l := range r.Layers {
		read := l.PH + row.Shift
		p.reach(read)
		if l.From < g.Depth-1e-9 {
			continue
		}
		p.Under = append(p.Under, Slice{l.From, l.To, read, true})
		if p.Below == 0 || read < p.Below {
			p.Below = read
		}
	}
	return p
}

func (p *Profile) reach(ph quantity.PH) {
	p.Sourest, p.Sweetest = min(p.Sourest, ph), max(p.Sweetest, ph)
}

// Judge returns the pH that a bed is judged by against a range from low to high. Dug, it is what the
// whole comes to. Not dug, roots cross each layer as it is: a bed is as sour as its sourest and as
// sweet as its sweetest, and where it is both, the layer that the material lands in decides.
func (p Profile) Judge(w Worked, low, high quantity.PH) quantity.PH {
	if w == Dug || !p.Layered {
		return p.Mixed
	}
	switch sour, sweet := p.Sourest < low, p.Sweetest > high; {
	case sour && sweet:
		return p.Top
	case sour:
		return p.Sourest
	case sweet:
		return p.Sweetest
	}
	return p.Mixed
}

// Lands returns the pH of the layer that a material put on meets: the whole where it is dug
// through, else the top 5 cm.
func (p Profile) Lands(w Worked) quantity.PH {
	if w == Dug {
		return p.Mixed
	}
	return p.Top
}

// Apart reports whether layers of the bed's own depth lie on another side of a
// range than the pH that it is judged by.
func (p Profile) Apart(judged, low, high quantity.PH) bool {
	side := func(ph quantity.PH) int {
		switch {
		case ph < low:
			return -1
		case ph > high:
			return 1
		}
		return 0
	}
	return slices.ContainsFunc(p.In, func(s Slice) bool { return side(s.PH) != side(judged) })
}
