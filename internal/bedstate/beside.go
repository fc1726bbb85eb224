package bedstate

import (
	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/quantity"
)

// Levels returns, by bed, the pH of the beds that have one.
func (v View) Levels() map[int64]quantity.PH {
	out := map[int64]quantity.PH{}
	for i := range v.Beds {
		if p := &v.Beds[i]; p.Reading != nil {
			out[p.Bed.ID] = p.PH
		}
	}
	return out
}

// leastMoved is the least change of pH that counts, with a margin for rounding.
const leastMoved quantity.PH = 0.1 - 1e-9

// Drifted counts the beds whose pH fell and those whose pH rose since an earlier view; beds without
// a pH on either day are not counted.
func (v View) Drifted(since *View) (sourer, sweeter int) {
	before := since.Levels()
	for bed, now := range v.Levels() {
		then, ok := before[bed]
		switch {
		case !ok:
		case then-now >= leastMoved:
			sourer++
		case now-then >= leastMoved:
			sweeter++
		}
	}
	return sourer, sweeter
}

// WantsMost returns the bed that most needs a dose: the one furthest below its range without planned
// applications; the first bed if none is too sour. There must be a bed.
func (v View) WantsMost() State {
	planned := map[int64]bool{}
	for i := range v.Tasks {
		planned[v.Tasks[i].BedID] = true
	}
	wants := func(p *State) bool { return p.Standing == bed.Sour && !planned[p.Bed.ID] }
	best := &v.Beds[0]
	for i := range v.Beds {
		if p := &v.Beds[i]; wants(p) && (!wants(best) || p.Off > best.Off) {
			best = p
		}
	}
	return *best
}
