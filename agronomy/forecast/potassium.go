package forecast

import (
	"cmp"
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
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
	// Also are days that are told beside the firsts of months.
	Also []quantity.Day
}

// KMove is K₂O that came or went on a day, or evenly after a day and up to another.
type KMove struct {
	After, Date quantity.Day
	K2O         float64
}

// Within is what of it lies after a day and up to another.
func (m *KMove) Within(last, day quantity.Day) float64 {
	if m.After == 0 {
		if m.Date > last && m.Date <= day {
			return m.K2O
		}
		return 0
	}
	days := min(m.Date, day) - max(m.After, last)
	return m.K2O * float64(max(days, 0)) / float64(max(m.Date-m.After, 1))
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

// kState is a day of the timeline: the way to it (what is kept of k, how much moves, what of it was given, g
// K₂O/m², taken off, and leached, ppm, and whether a year begins), what was foretold of it, and what is known after its readings.
type kState struct {
	day           quantity.Day
	keeps, step   float64
	given, taken  float64
	leached       float64
	fresh         bool
	foretold, own kBelief
}

// RunPotassium foretells a bed's potassium from its first reading to a day, on the first of each month. What moves it is
// doubted as the guide has it, and more, in single years or in all alike, as far as its own readings bear that out: the ground
// gives and takes potassium too, and no ledger knows of that.
func RunPotassium(b *KBed, until quantity.Day) (out []Spread, innovations []float64) {
	if len(b.Reads) == 0 {
		return nil, nil
	}
	ways := b.ways(until)
	return b.told(ways), b.innovations(until)
}

// Carry is the bed's potassium on a day, by all readings up to it, with what moved it since the last; the zero value where
// there is none.
func (b *KBed) Carry(day quantity.Day) (c soil.KCarried) {
	at := *b
	at.Also = []quantity.Day{day}
	at.Reads = slices.DeleteFunc(slices.Clone(b.Reads), func(r KRead) bool { return r.Date > day })
	if len(at.Reads) == 0 {
		return c
	}
	ways := at.ways(day)
	last := at.Reads[len(at.Reads)-1].Date
	for _, s := range ways[0].states {
		if s.day > last && s.day <= day {
			c.Given += quantity.Rate(s.given)
			c.Carried += quantity.Rate(s.taken)
			c.Leached += quantity.Concentration(s.leached)
		}
	}
	told := at.told(ways)
	c.Now = quantity.Concentration(told[len(told)-1].Median)
	return c
}

// kWay is a bed as it went if what moves it misses in one way, with how likely its readings make that, 0 to 1.
type kWay struct {
	states     []kState
	log, share float64
}

// ways runs the bed in every way in which what moves it may miss, the likeliest first; those that its readings all but rule out
// are left away.
func (b *KBed) ways(until quantity.Day) (out []kWay) {
	days, sum := b.days(until), 0.0
	for _, x := range kMisses {
		w := kWay{log: -x.unlikely}
		w.states, _ = b.run(days, x, kBelief.anew)
		_, weighed := b.run(days, x, kBelief.read)
		for _, m := range weighed {
			w.log += m.log()
		}
		out = append(out, w)
		if len(b.Reads) == 1 {
			break // it bears nothing out
		}
	}
	slices.SortStableFunc(out, func(x, y kWay) int { return cmp.Compare(y.log, x.log) })
	best := out[0].log
	out = slices.DeleteFunc(out, func(w kWay) bool { return w.log < best-kRuledOut })
	for i := range out {
		out[i].share = math.Exp(out[i].log - best)
		sum += out[i].share
	}
	for i := range out {
		out[i].share /= sum
	}
	return out
}

// kRuledOut is how much less likely than the likeliest, in the logarithm, a way is that is left away.
const kRuledOut = 5.0

// kMiss is a way in which a bed moves otherwise than reckoned: by so much of what moves, in each year anew or, lasting, by as much
// in every year, whatever is put on; and how much less likely, in the logarithm, it is thought than the guide's.
type kMiss struct {
	sd       float64
	lasting  bool
	unlikely float64
	// yearly is what moves it in a usual year, ppm.
	yearly float64
}

// What is thought of them beforehand is as much as leaves the bands as wide as they should be where the ledger is right.
var kMisses = []kMiss{
	{sd: kMoveSD},
	{sd: 2 * kMoveSD, unlikely: 2.7}, {sd: 2 * kMoveSD, lasting: true, unlikely: 2.7},
	{sd: 4 * kMoveSD, unlikely: 3.7}, {sd: 4 * kMoveSD, lasting: true, unlikely: 3.7},
	{sd: 8 * kMoveSD, unlikely: 4.7}, {sd: 8 * kMoveSD, lasting: true, unlikely: 4.7},
}

// kMet is a reading as it was met: how far off what was foretold of it, and the variance of that.
type kMet struct{ off, all float64 }

func (m kMet) log() float64 { return -math.Log(m.all)/2 - sq2(m.off)/m.all/2 }

// innovations are how far off each reading but the first was from what all ways together foretold of it by then, in its own doubt.
func (b *KBed) innovations(until quantity.Day) (out []float64) {
	days := b.days(until)
	runs, weighed, logs := make([][]kMet, len(kMisses)), make([][]kMet, len(kMisses)), make([]float64, len(kMisses))
	for i, x := range kMisses {
		_, runs[i] = b.run(days, x, kBelief.anew)
		_, weighed[i] = b.run(days, x, kBelief.read)
		logs[i] = -x.unlikely
	}
	for n := range runs[0] {
		best, sum, mean, square := slices.Max(logs), 0.0, 0.0, 0.0
		for i := range runs {
			m := runs[i][n]
			share := math.Exp(logs[i] - best)
			sum, mean, square = sum+share, mean+share*m.off, square+share*(m.all+sq2(m.off))
			logs[i] += weighed[i][n].log()
		}
		mean /= sum
		out = append(out, mean/math.Sqrt(square/sum-sq2(mean)))
	}
	return out
}

// run filters the bed with a way in which what moves misses, and a way to take a reading in.
func (b *KBed) run(days []quantity.Day, miss kMiss, take func(x kBelief, ppm, variance float64) kBelief) (states []kState, met []kMet) {
	states = make([]kState, 0, len(days))
	miss.yearly = b.yearly()
	last := days[0]
	x := kBelief{k: b.Reads[0].PPM, uu: sq2(miss.sd)}
	for n, d := range days {
		s := kState{day: d, keeps: 1}
		if n > 0 {
			x = b.to(&s, x, last, days[0], miss)
		}
		s.foretold = x
		for i, r := range b.Reads {
			switch {
			case r.Date != d:
			case i == 0:
				x.kk = sq2(kReadSD * r.PPM) // it says where k begins
			default:
				// Its doubt goes by what there is, not by what it read: else what reads low would be trusted more.
				variance := sq2(kReadSD * x.k)
				met = append(met, kMet{r.PPM - x.k, x.kk + variance})
				x = take(x, r.PPM, variance)
			}
		}
		s.own = x
		states = append(states, s)
		last = d
	}
	return states, met
}

// to takes a belief to a day: what lies over half of critical leaches, and what was brought and carried off moves it, all of a
// year alike more or less than reckoned.
func (b *KBed) to(s *kState, x kBelief, last, start quantity.Day, miss kMiss) kBelief {
	years := float64(s.day-last) / monthDays / yearMonths
	if s.fresh = !miss.lasting && s.day >= start.AddMonths(yearMonths*(1+int(float64(last-start)/monthDays/yearMonths))); s.fresh {
		x.u, x.uu, x.ku = 0, sq2(miss.sd), 0
	}
	for i := range b.Moves {
		if k2o := b.Moves[i].Within(last, s.day); k2o > 0 {
			s.given += k2o
		} else {
			s.taken -= k2o
		}
	}
	got := (s.given - s.taken) * b.Rise
	if s.step = (s.given + s.taken) * b.Rise; miss.lasting {
		s.step = years * miss.yearly
	}
	if x.k > b.Half {
		s.keeps = 1 - b.Leached*years
		s.leached = b.Leached * years * (x.k - b.Half)
	}
	return kBelief{k: max(0, x.k-s.leached+got+x.u*s.step), u: x.u,
		kk: sq2(s.keeps)*x.kk + 2*s.keeps*s.step*x.ku + sq2(s.step)*x.uu, ku: s.keeps*x.ku + s.step*x.uu, uu: x.uu}
}

// anew takes a reading in, of so much variance: it alone says where the potassium stands, as the guide carries it forward from the
// newest test; how far off what was foretold it lay says what moves.
func (x kBelief) anew(ppm, variance float64) kBelief {
	gu := x.ku / (x.kk + variance)
	return kBelief{ppm, x.u + gu*(ppm-x.k), variance, gu * variance, x.uu - gu*x.ku}
}

// read takes a reading in beside all that was known before: so the ways in which a bed may move are weighed.
func (x kBelief) read(ppm, variance float64) kBelief {
	gk, gu := x.kk/(x.kk+variance), x.ku/(x.kk+variance)
	return kBelief{x.k + gk*(ppm-x.k), x.u + gu*(ppm-x.k), x.kk * (1 - gk), x.ku * (1 - gk), x.uu - gu*x.ku}
}

// yearly is what moved the bed in a year between its first reading and its last, ppm, come and gone alike.
func (b *KBed) yearly() (sum float64) {
	first, last := b.Reads[0].Date, b.Reads[len(b.Reads)-1].Date
	for i := range b.Moves {
		sum += math.Abs(b.Moves[i].Within(first, last)) * b.Rise
	}
	return sum / max(float64(last-first)/monthDays/yearMonths, 1)
}

func sq2(x float64) float64 { return x * x }

// days are those of the timeline: the first reading, the firsts of months, each reading, and what is asked for beside.
func (b *KBed) days(until quantity.Day) []quantity.Day {
	start := b.Reads[0].Date
	days := []quantity.Day{start}
	for m := start.AddMonths(1) - quantity.Day(start.DayOfMonth()-1); m <= until; m = m.AddMonths(1) {
		days = append(days, m)
	}
	for _, r := range b.Reads {
		days = append(days, r.Date)
	}
	for _, d := range b.Also {
		if d >= start {
			days = append(days, d)
		}
	}
	slices.Sort(days)
	return slices.Compact(days)
}

// told are the firsts of months and what is asked for beside, those before the last reading by all readings.
func (b *KBed) told(ways []kWay) (out []Spread) {
	last := b.Reads[len(b.Reads)-1].Date
	smooth := make([][]kBelief, len(ways))
	for i := range ways {
		smooth[i] = ways[i].smooth(last)
	}
	for n, s := range ways[0].states {
		if s.day.DayOfMonth() != 1 && !slices.Contains(b.Also, s.day) {
			continue
		}
		parts := make([]part, len(ways))
		for i := range ways {
			parts[i] = part{ways[i].share, smooth[i][n].k, math.Sqrt(max(smooth[i][n].kk, 1e-10))}
		}
		out = append(out, spreadOf(s.day, parts))
	}
	return out
}

// smooth is what is believed of each day, before a day with what the days after it say.
func (w *kWay) smooth(last quantity.Day) []kBelief {
	all := make([]kBelief, len(w.states))
	for n := len(w.states) - 1; n >= 0; n-- {
		s := &w.states[n]
		if all[n] = s.own; n < len(w.states)-1 && s.day < last {
			all[n] = s.own.behind(&w.states[n+1], all[n+1])
		}
	}
	return all
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
