package bedstate

import (
	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/quantity"
)

// Levels returns the pH of the beds that have one on the day of the view, by bed.
func (v View) Levels() map[int64]quantity.PH {
	out := map[int64]quantity.PH{}
	for i := range v.Beds {
		if p := &v.Beds[i]; p.Reading != nil {
			out[p.Bed.ID] = p.PH
		}
	}
	return out
}

// leastMoved is the least change of pH that is counted, less what a float is off: what a reading told to one decimal shows.
const leastMoved quantity.PH = 0.1 - 1e-9

// Drifted counts the beds that have become more sour, and those that have become sweeter, since an
// earlier day's view; those that have no pH on either day are not counted.
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

// WantsMost returns the bed that wants a dose most: the sourest beside its band, of those that
// nothing is planned for; the first where none is sour. There must be one.
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
