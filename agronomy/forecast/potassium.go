package forecast

import (
	"cmp"
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// PotassiumModel is what is known of a bed's potassium.
type PotassiumModel struct {
	// Rise is how much a test finds again of 1 g K₂O/m², ppm.
	Rise float64
	// Leached is the share that leaches in a year of what is over half of critical, Half.
	Leached, Half float64
	// Moves are what was brought, above 0, or carried off, g K₂O/m², on their days.
	Moves []PotassiumMove
	// Reads are what was read, ppm, in the order of their days.
	Reads []PotassiumReading
	// Also are days that are reported beside the firsts of months.
	Also []quantity.Day
}

// PotassiumMove is K₂O that came or went on a day, or evenly after a day and up to another.
type PotassiumMove struct {
	After, Date quantity.Day
	K2O         float64
}

// Within returns what of it lies after a day and up to another.
func (m *PotassiumMove) Within(last, day quantity.Day) float64 {
	if m.After == 0 {
		if m.Date > last && m.Date <= day {
			return m.K2O
		}
		return 0
	}
	days := min(m.Date, day) - max(m.After, last)
	return m.K2O * float64(max(days, 0)) / float64(max(m.Date-m.After, 1))
}

// growing is how long a crop carries off, about.
const growing = 180

// asOne returns what is off as a whole: all of a batch, or a season of a crop, however much of that
// is on record yet.
func (m *PotassiumMove) asOne() float64 {
	if m.After == 0 {
		return m.K2O
	}
	return m.K2O / float64(max(m.Date-m.After, 1)) * growing
}

// PotassiumReading is a reading of potassium.
type PotassiumReading struct {
	Date quantity.Day
	PPM  float64
}

// The doubts of potassium (field guide, section 9): of a reading, of itself; of what is brought, since the ground keeps more or less of
// it and an untested ash holds more or less; of what crops carry off; and how far the ground itself wanders in a year, ppm.
const (
	kReadSD  = 0.10
	kKeptSD  = 0.30
	kAshSD   = 0.30
	kTakenSD = 0.25
	kWander  = 8.0
)

// kBelief is what is believed of potassium, k, and of how far off, of itself, all that moves in its year is, u: their means and
// covariances.
type kBelief struct{ k, u, kk, ku, uu float64 }

// kStep is the way to a day of the timeline, the same however a bed moves: what was given and taken off, g K₂O/m², and whether a
// year begins.
type kStep struct {
	day                 quantity.Day
	years, given, taken float64
	// off is the variance of single moves, (g K₂O/m²)²: one batch holds more or less than computed as a whole, and one crop takes so.
	off     float64
	newYear bool
}

// kState is a day of the timeline: the way to it, what of that is kept of k, how much moves and leaches, ppm, and whether what is off
// begins again; what was forecast of it, and what is known after its readings.
type kState struct {
	*kStep
	keeps, step float64
	leached     float64
	// stirred is the variance that the way to it adds to k.
	stirred       float64
	fresh         bool
	foretold, own kBelief
}

// RunPotassium forecasts a bed's potassium from its first reading to a day, on the first of each month. What moves it is
// doubted as the guide has it, and more, in single years or in all alike, as far as its own readings bear that out: the ground
// gives and takes potassium too, and no ledger knows of that.
func RunPotassium(b *PotassiumModel, until quantity.Day) (out []Spread) {
	if len(b.Reads) == 0 {
		return nil
	}
	return b.told(b.ways(until))
}

// Carry returns the bed's potassium on a day, by all readings up to it, with what moved it since
// the last; the zero value where there is none.
func (b *PotassiumModel) Carry(day quantity.Day) (c soil.KCarried) {
	at := *b
	at.Also = []quantity.Day{day}
	at.Reads = slices.DeleteFunc(slices.Clone(b.Reads), func(r PotassiumReading) bool { return r.Date > day })
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
	c.Now = quantity.Concentration(spreadAt(ways, len(ways[0].states)-1, func(w, n int) kBelief { return ways[w].states[n].own }).Median)
	return c
}

// kWay is a bed as it went if what moves it misses in one way, with how likely its readings make that, 0 to 1.
type kWay struct {
	miss       kMiss
	states     []kState
	log, share float64
}

// ways runs the bed in every way in which what moves it may miss, the likeliest first; those that its readings all but rule out
// are left away.
func (b *PotassiumModel) ways(until quantity.Day) (out []kWay) {
	steps, sum := b.steps(until), 0.0
	for _, x := range kMisses {
		w := kWay{miss: x, log: -x.unlikely}
		for _, m := range b.run(steps, x, kBelief.read, nil) {
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
		w := &out[i]
		w.states = make([]kState, len(steps))
		b.run(steps, w.miss, kBelief.update, w.states)
		w.share = math.Exp(w.log - best)
		sum += w.share
	}
	for i := range out {
		out[i].share /= sum
	}
	return out
}

// kRuledOut is how much less likely than the likeliest, in the logarithm, a way is that is left away.
const kRuledOut = 5.0

// kMiss is a way in which a bed moves otherwise than computed: by so many times what is in doubt, in each year again or, lasting, by as
// much in every year, whatever is put on; and how much less likely, in the logarithm, it is thought than the guide's.
type kMiss struct {
	sd       float64
	lasting  bool
	unlikely float64
	// yearly is what moves it in a usual year, ppm.
	yearly float64
}

// What is thought of them beforehand is as much as leaves the bands as wide as they should be where the ledger is right.
var kMisses = []kMiss{
	{sd: 1},
	{sd: 1, lasting: true, unlikely: 1.5},
	{sd: 2, unlikely: 4.5}, {sd: 2, lasting: true, unlikely: 4.5},
}

// kMet is a reading as it was met: how far off what was forecast of it, and the variance of that.
type kMet struct{ off, all float64 }

func (m kMet) log() float64 { return -math.Log(m.all)/2 - sq2(m.off)/m.all/2 }

// Innovations returns how far off each reading but the first was from what all ways together
// forecast of it by then, in its own doubt.
func (b *PotassiumModel) Innovations() (out []float64) {
	steps := b.steps(b.Reads[len(b.Reads)-1].Date)
	runs, weighed, logs := make([][]kMet, len(kMisses)), make([][]kMet, len(kMisses)), make([]float64, len(kMisses))
	for i, x := range kMisses {
		runs[i], weighed[i] = b.run(steps, x, kBelief.update, nil), b.run(steps, x, kBelief.read, nil)
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

// run filters the bed with a way in which what moves misses, and a way to take a reading in; into holds what is believed of each day,
// where that is wanted.
func (b *PotassiumModel) run(steps []kStep, miss kMiss, take func(x kBelief, ppm, variance float64) kBelief, into []kState) (met []kMet) {
	miss.yearly = b.yearly()
	x := kBelief{k: b.Reads[0].PPM, uu: sq2(miss.sd)}
	read := 0
	for n := range steps {
		s := kState{kStep: &steps[n], keeps: 1}
		if n > 0 {
			x = b.to(&s, x, miss)
		}
		s.foretold = x
		for ; read < len(b.Reads) && b.Reads[read].Date == s.day; read++ {
			ppm := b.Reads[read].PPM
			if read == 0 {
				x.kk = sq2(kReadSD * ppm) // it says where k begins
				continue
			}
			// Its doubt follows what there is, not by what it read: else what reads low would be trusted more.
			variance := sq2(kReadSD * x.k)
			met = append(met, kMet{ppm - x.k, x.kk + variance})
			x = take(x, ppm, variance)
		}
		if s.own = x; into != nil {
			into[n] = s
		}
	}
	return met
}

// to takes a belief to a day: what lies over half of critical leaches, and what was brought and carried off moves it, all of a
// year alike more or less than computed.
func (b *PotassiumModel) to(s *kState, x kBelief, miss kMiss) kBelief {
	if s.fresh = !miss.lasting && s.newYear; s.fresh {
		x.u, x.uu, x.ku = 0, sq2(miss.sd), 0
	}
	years, got := s.years, (s.given-s.taken)*b.Rise
	if s.step = kKeptSD * s.given * b.Rise; miss.lasting {
		s.step = years * miss.yearly
	}
	if x.k > b.Half {
		s.keeps = 1 - b.Leached*years
		s.leached = b.Leached * years * (x.k - b.Half)
	}
	apart := sq2(kWander)*years + sq2(b.Rise)*s.off
	s.stirred = sq2(s.step)*x.uu + apart
	return kBelief{k: max(0, x.k-s.leached+got+x.u*s.step), u: x.u,
		kk: sq2(s.keeps)*x.kk + 2*s.keeps*s.step*x.ku + sq2(s.step)*x.uu + apart, ku: s.keeps*x.ku + s.step*x.uu, uu: x.uu}
}

// update takes a reading in, of so much variance: it alone says where the potassium stands, as the guide carries it forward from the
// newest test; how far off what was forecast it lay says what moves.
func (x kBelief) update(ppm, variance float64) kBelief {
	gu := x.ku / (x.kk + variance)
	return kBelief{ppm, x.u + gu*(ppm-x.k), variance, gu * variance, x.uu - gu*x.ku}
}

// read takes a reading in beside all that was known before: so the ways in which a bed may move are weighed.
func (x kBelief) read(ppm, variance float64) kBelief {
	gk, gu := x.kk/(x.kk+variance), x.ku/(x.kk+variance)
	return kBelief{x.k + gk*(ppm-x.k), x.u + gu*(ppm-x.k), x.kk * (1 - gk), x.ku * (1 - gk), x.uu - gu*x.ku}
}

// yearly returns how much of what moved the bed in a year between its first reading and its last is
// in doubt, ppm.
func (b *PotassiumModel) yearly() float64 {
	first, last := b.Reads[0].Date, b.Reads[len(b.Reads)-1].Date
	given := 0.0
	for i := range b.Moves {
		given += math.Abs(b.Moves[i].Within(first, last))
	}
	return kKeptSD * given * b.Rise / max(float64(last-first)/monthDays/yearMonths, 1)
}

func sq2(x float64) float64 { return x * x }

// steps returns the ways to the days of the timeline: the first reading, the firsts of months, each
// reading, and what is asked for beside.
func (b *PotassiumModel) steps(until quantity.Day) []kStep {
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
	days = slices.Compact(days)
	steps := make([]kStep, len(days))
	next := start.AddMonths(yearMonths)
	for n, d := range days {
		s := &steps[n]
		if s.day = d; n == 0 {
			continue
		}
		last := days[n-1]
		s.years = float64(d-last) / monthDays / yearMonths
		for ; d >= next; next = next.AddMonths(yearMonths) {
			s.newYear = true
		}
	}
	for i := range b.Moves {
		m := &b.Moves[i]
		from := m.After
		if from == 0 {
			from = m.Date - 1
		}
		n, _ := slices.BinarySearch(days, from+1)
		for n = max(n, 1); n < len(days); n++ {
			if k2o := m.Within(days[n-1], days[n]); k2o > 0 {
				steps[n].given += k2o
				steps[n].off += sq2(kAshSD) * k2o * m.asOne()
			} else {
				steps[n].taken -= k2o
				steps[n].off += sq2(kTakenSD) * k2o * m.asOne()
			}
			if days[n] >= m.Date {
				break
			}
		}
	}
	return steps
}

// told returns the firsts of months and what is asked for beside, those before the last reading by
// all readings.
func (b *PotassiumModel) told(ways []kWay) (out []Spread) {
	smooth := make([][]kBelief, len(ways))
	for i := range ways {
		smooth[i] = ways[i].bridged(b.Reads)
	}
	for n, s := range ways[0].states {
		if s.day.DayOfMonth() != 1 && !slices.Contains(b.Also, s.day) {
			continue
		}
		out = append(out, spreadAt(ways, n, func(w, n int) kBelief { return smooth[w][n] }))
	}
	return out
}

// spreadAt returns what all ways together say of a day of the timeline, each by what it believes of
// it.
func spreadAt(ways []kWay, n int, believes func(way, n int) kBelief) Spread {
	parts := make([]part, len(ways))
	for i := range ways {
		x := believes(i, n)
		parts[i] = part{ways[i].share, x.k, math.Sqrt(max(x.kk, 1e-10))}
	}
	return spreadOf(ways[0].states[n].day, parts)
}

// bridged returns what is believed of each day: on the day of a reading what that says, between two
// as it moved, what they were missed by spread over what moved, and after the newest as it moves.
func (w *kWay) bridged(reads []PotassiumReading) []kBelief {
	all := make([]kBelief, len(w.states))
	from, read := 0, 0
	for n := range w.states {
		s := &w.states[n]
		all[n] = s.own
		for read < len(reads) && reads[read].Date < s.day {
			read++
		}
		if n > from && read < len(reads) && reads[read].Date == s.day {
			w.bridge(all, from, n)
			from = n
		}
	}
	return all
}

// bridge spreads what was missed between the readings of two days of the timeline; what all moved alike more or less than
// computed is met by that, so the doubt between them is theirs.
func (w *kWay) bridge(all []kBelief, from, to int) {
	moved := func(n int) float64 { return w.states[n].stirred }
	sum := 0.0
	for n := from + 1; n <= to; n++ {
		sum += moved(n)
	}
	missed, before, after := w.states[to].own.k-w.states[to].foretold.k, w.states[from].own.kk, w.states[to].own.kk
	// What moved it on the way is met by both ends only there.
	way := max(0, w.states[to].foretold.kk-before)
	share := 0.0
	for n := from + 1; n < to; n++ {
		share += moved(n) / sum
		x := &all[n]
		x.k += share * missed
		x.kk = sq2(1-share)*before + sq2(share)*after + share*(1-share)*way
	}
}
