package forecast

import (
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// KBed is what is known of a bed's potassium.
type KBed struct {
	// Rise is how much a test finds again of 1 g K₂O/m², ppm.
	Rise float64
	// Leached is the share that leaches in a year of what is over half of critical, Half.
	Leached, Half float64
	// Moves are what was brought, above 0, or carried off, g K₂O/m², on their days.
	Moves []KMove
	// Reads are what was read, ppm, in the order of their days.
	Reads []KRead
}

// KMove is K₂O that came or went on a day.
type KMove struct {
	Date quantity.Day
	K2O  float64
}

// KRead is a reading of potassium.
type KRead struct {
	Date quantity.Day
	PPM  float64
}

const (
	kReadSD = 0.08 // of a reading, of itself
	kMoveSD = 0.10 // of what moved in a year
)

// kBelief is what is believed of potassium, k, and of how far off, of itself, all that moves in its year is, u: their means and
// covariances.
type kBelief struct{ k, u, kk, ku, uu float64 }

// kState is a day of the timeline: the way to it (what is kept of k, how much moves, and whether a year begins), what was
// foretold of it, and what is known after its readings.
type kState struct {
	day           quantity.Day
	keeps, step   float64
	fresh         bool
	foretold, own kBelief
}

// RunPotassium foretells a bed's potassium from its first reading to a day, on the first of each month. What moves it is
// doubted as the guide has it, or more where its own readings lie further off than that lets them: the ground gives and takes
// potassium too, and no ledger knows of that.
func RunPotassium(b *KBed, until quantity.Day) (out []Spread, innovations []float64) {
	if len(b.Reads) == 0 {
		return nil, nil
	}
	days := b.days(until)
	best := math.Inf(-1)
	var states []kState
	for i, wider := range kWider {
		run, off, log := b.run(days, kMoveSD*wider)
		if log -= kUnlikely * float64(i); log > best {
			best, states, innovations = log, run, off
		}
	}
	return toldK(states, b.Reads[len(b.Reads)-1].Date), innovations
}

// kWider are how many times the usual doubt of what moves is tried, kUnlikely how much less likely, in the logarithm, each next
// is thought.
var kWider = []float64{1, 2, 4, 8}

const kUnlikely = 1.0

// run filters the bed with a doubt of what moves; log is how likely its readings then are.
func (b *KBed) run(days []quantity.Day, moveSD float64) (states []kState, innovations []float64, log float64) {
	states = make([]kState, 0, len(days))
	last := days[0]
	x := kBelief{k: b.Reads[0].PPM, uu: sq2(moveSD)}
	for n, d := range days {
		s := kState{day: d, keeps: 1}
		if n > 0 {
			x = b.to(&s, x, last, days[0], moveSD)
		}
		s.foretold = x
		for i, r := range b.Reads {
			switch {
			case r.Date != d:
			case i == 0:
				x.kk = sq2(kReadSD * r.PPM) // it says where k begins
			default:
				// Its doubt goes by what there is, not by what it read: else what reads low would be trusted more.
				off, all := r.PPM-x.k, x.kk+sq2(kReadSD*x.k)
				log -= math.Log(all)/2 + sq2(off)/all/2
				innovations = append(innovations, off/math.Sqrt(all))
				x = x.read(off, all)
			}
		}
		s.own = x
		states = append(states, s)
		last = d
	}
	return states, innovations, log
}

// to takes a belief to a day: what lies over half of critical leaches, and what was brought and carried off moves it, all of a
// year alike more or less than reckoned.
func (b *KBed) to(s *kState, x kBelief, last, start quantity.Day, moveSD float64) kBelief {
	years := float64(s.day-last) / monthDays / yearMonths
	if s.fresh = s.day >= start.AddMonths(yearMonths*(1+int(float64(last-start)/monthDays/yearMonths))); s.fresh {
		x.u, x.uu, x.ku = 0, sq2(moveSD), 0
	}
	got := 0.0
	for _, m := range b.Moves {
		if m.Date > last && m.Date <= s.day {
			got += m.K2O * b.Rise
			s.step += math.Abs(m.K2O * b.Rise)
		}
	}
	leached := 0.0
	if x.k > b.Half {
		s.keeps = 1 - b.Leached*years
		leached = b.Leached * years * b.Half
	}
	return kBelief{k: max(0, s.keeps*x.k+leached+got+x.u*s.step), u: x.u,
		kk: sq2(s.keeps)*x.kk + 2*s.keeps*s.step*x.ku + sq2(s.step)*x.uu, ku: s.keeps*x.ku + s.step*x.uu, uu: x.uu}
}

// read takes a reading in, that lay so far off, with what variance in all.
func (x kBelief) read(off, all float64) kBelief {
	gk, gu := x.kk/all, x.ku/all
	return kBelief{x.k + gk*off, x.u + gu*off, x.kk * (1 - gk), x.ku * (1 - gk), x.uu - gu*x.ku}
}

func sq2(x float64) float64 { return x * x }

// days are those of the timeline: the first reading, the firsts of months, and each reading.
func (b *KBed) days(until quantity.Day) []quantity.Day {
	start := b.Reads[0].Date
	days := []quantity.Day{start}
	for m := start.AddMonths(1) - quantity.Day(start.DayOfMonth()-1); m <= until; m = m.AddMonths(1) {
		days = append(days, m)
	}
	for _, r := range b.Reads {
		days = append(days, r.Date)
	}
	slices.Sort(days)
	return slices.Compact(days)
}

// toldK are the firsts of months, those before the last reading by all readings.
func toldK(states []kState, last quantity.Day) (out []Spread) {
	all := make([]kBelief, len(states))
	for n := len(states) - 1; n >= 0; n-- {
		s := &states[n]
		if all[n] = s.own; n < len(states)-1 && s.day < last {
			all[n] = s.own.behind(&states[n+1], all[n+1])
		}
	}
	for n, s := range states {
		if s.day.DayOfMonth() == 1 {
			out = append(out, spreadOf(s.day, []part{{1, all[n].k, math.Sqrt(max(all[n].kk, 1e-10))}}))
		}
	}
	return out
}

// behind is a belief with what the days after it say: next is the way to the one after, then what is believed of that
// (Rauch, Tung and Striebel, for two).
func (x kBelief) behind(next *kState, then kBelief) kBelief {
	p := next.foretold
	det := p.kk*p.uu - p.ku*p.ku
	if !(det > 1e-12) {
		return x
	}
	// The rows of covariance with what was foretold: with its k, and with its u, which a new year begins anew.
	withK := [2]float64{next.keeps * x.kk, next.keeps * x.ku}
	withU := [2]float64{}
	if !next.fresh {
		withK[0] += next.step * x.ku
		withK[1] += next.step * x.uu
		withU = [2]float64{x.ku, x.uu}
	}
	var gain [2][2]float64
	for i := range gain {
		gain[i] = [2]float64{(withK[i]*p.uu - withU[i]*p.ku) / det, (withU[i]*p.kk - withK[i]*p.ku) / det}
	}
	dk, du := then.k-p.k, then.u-p.u
	kk, ku, uu := then.kk-p.kk, then.ku-p.ku, then.uu-p.uu
	about := func(a, b [2]float64) float64 { return a[0]*b[0]*kk + (a[0]*b[1]+a[1]*b[0])*ku + a[1]*b[1]*uu }
	return kBelief{x.k + gain[0][0]*dk + gain[0][1]*du, x.u + gain[1][0]*dk + gain[1][1]*du, x.kk + about(gain[0], gain[0]),
		x.ku + about(gain[0], gain[1]), x.uu + about(gain[1], gain[1])}
}
