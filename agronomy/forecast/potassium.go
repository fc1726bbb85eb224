package forecast

import (
	"cmp"
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// PotassiumModel is the input of a potassium forecast.
type PotassiumModel struct {
	// Rise is the rise of a test per g K₂O/m², ppm.
	Rise float64
	// Leached is the share per year that leaches of what exceeds Half, half of critical.
	Leached, Half float64
	// Moves are K₂O supplied, positive, or removed, g/m².
	Moves []PotassiumMove
	// Reads are the readings, ppm, in order of day.
	Reads []PotassiumReading
	// Also are days reported besides the first of each month.
	Also []quantity.Day
}

// PotassiumMove is K₂O that came or went on a day, or evenly after a day and up to another.
type PotassiumMove struct {
	After, Date quantity.Day
	K2O         float64
}

// Within returns the part of it after a day and up to another.
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

// growing is the assumed length of a crop's season, days.
const growing = 180

// asOne returns the amount that shares one error: a whole batch, or a season of a crop.
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

// Standard deviations of potassium (guide, section 9): of a reading, relative; of what is supplied,
// since soil fixes more or less of it and untested ash varies; of removal; and of the soil's own
// wander in a year, ppm.
const (
	kReadSD  = 0.10
	kKeptSD  = 0.30
	kAshSD   = 0.30
	kTakenSD = 0.25
	kWander  = 8.0
)

// kBelief is the joint normal of potassium k and of u, the error of this year's moves in units of
// their own standard deviation: means and covariances.
type kBelief struct{ k, u, kk, ku, uu float64 }

// kStep is the interval to a day of the timeline, the same for every scenario: g K₂O/m² supplied
// and removed, and whether a year begins.
type kStep struct {
	day                 quantity.Day
	years, given, taken float64
	// off is the variance of single moves, (g K₂O/m²)²: each batch and each crop has an error of
	// its own.
	off     float64
	newYear bool
}

// kState is a day of the timeline: the interval to it, the share of k that remains, what moves and
// leaches, ppm, whether the year's error restarts; the forecast, and the estimate after its
// readings.
type kState struct {
	*kStep
	keeps, step float64
	leached     float64
	// stirred is the variance added to k.
	stirred            float64
	fresh              bool
	forecast, estimate kBelief
}

// RunPotassium forecasts a bed's potassium from its first reading to a day, on the first of each
// month. The guide's uncertainty of moves is widened, for single years or constantly, as far as the
// readings support that: soil fixes and releases potassium unseen by any ledger.
func RunPotassium(b *PotassiumModel, until quantity.Day) (out []Spread) {
	if len(b.Reads) == 0 {
		return nil
	}
	return b.reported(b.scenarios(until))
}

// Carry returns the bed's potassium on a day from all readings up to it, and the change since the
// last; the zero value without readings.
func (b *PotassiumModel) Carry(day quantity.Day) (c soil.KCarried) {
	at := *b
	at.Also = []quantity.Day{day}
	at.Reads = slices.DeleteFunc(slices.Clone(b.Reads), func(r PotassiumReading) bool { return r.Date > day })
	if len(at.Reads) == 0 {
		return c
	}
	ways := at.scenarios(day)
	last := at.Reads[len(at.Reads)-1].Date
	for _, s := range ways[0].states {
		if s.day > last && s.day <= day {
			c.Given += quantity.Rate(s.given)
			c.Carried += quantity.Rate(s.taken)
			c.Leached += quantity.Concentration(s.leached)
		}
	}
	c.Now = quantity.Concentration(spreadAt(ways, len(ways[0].states)-1, func(w, n int) kBelief { return ways[w].states[n].estimate }).Median)
	return c
}

// kScenario is the filter under one scenario of model error, with its posterior weight, 0 to 1.
type kScenario struct {
	miss       kMoveError
	states     []kState
	log, share float64
}

// scenarios runs the filter under every scenario, likeliest first, and drops those that the readings
// rule out.
func (b *PotassiumModel) scenarios(until quantity.Day) (out []kScenario) {
	steps, sum := b.steps(until), 0.0
	for _, x := range kMisses {
		w := kScenario{miss: x, log: -x.unlikely}
		for _, m := range b.run(steps, x, kBelief.read, nil) {
			w.log += m.log()
		}
		out = append(out, w)
		if len(b.Reads) == 1 {
			break // no readings to support anything else
		}
	}
	slices.SortStableFunc(out, func(x, y kScenario) int { return cmp.Compare(y.log, x.log) })
	best := out[0].log
	out = slices.DeleteFunc(out, func(w kScenario) bool { return w.log < best-kRuledOut })
	for i := range out {
		w := &out[i]
		w.states = make([]kState, len(steps))
		b.run(steps, w.miss, kBelief.reset, w.states)
		w.share = math.Exp(w.log - best)
		sum += w.share
	}
	for i := range out {
		out[i].share /= sum
	}
	return out
}

// kRuledOut is the log likelihood below the best at which a scenario is dropped.
const kRuledOut = 5.0

// kMoveError is a scenario of model error: moves miss by a multiple of their uncertainty, drawn anew
// each year or lasting, independent of what is applied; with its log prior relative to the guide's.
type kMoveError struct {
	sd       float64
	lasting  bool
	unlikely float64
	// yearly is the movement of a usual year, ppm.
	yearly float64
}

// The priors keep the ranges at nominal width when the ledger is right.
var kMisses = []kMoveError{
	{sd: 1},
	{sd: 1, lasting: true, unlikely: 1.5},
	{sd: 2, unlikely: 4.5}, {sd: 2, lasting: true, unlikely: 4.5},
}

// kInnovation is a reading's innovation with its variance.
type kInnovation struct{ off, all float64 }

func (m kInnovation) log() float64 { return -math.Log(m.all)/2 - sq2(m.off)/m.all/2 }

// Innovations returns the standardised innovation of each reading but the first, over all
// scenarios.
func (b *PotassiumModel) Innovations() (out []float64) {
	steps := b.steps(b.Reads[len(b.Reads)-1].Date)
	runs, weighed, logs := make([][]kInnovation, len(kMisses)), make([][]kInnovation, len(kMisses)), make([]float64, len(kMisses))
	for i, x := range kMisses {
		runs[i], weighed[i] = b.run(steps, x, kBelief.reset, nil), b.run(steps, x, kBelief.read, nil)
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

// run filters the bed under a scenario with an update function; into, if set, receives the estimate
// of each day.
func (b *PotassiumModel) run(
	steps []kStep, miss kMoveError, take func(x kBelief, ppm, variance float64) kBelief, into []kState,
) (met []kInnovation) {
	miss.yearly = b.yearly()
	x := kBelief{k: b.Reads[0].PPM, uu: sq2(miss.sd)}
	read := 0
	for n := range steps {
		s := kState{kStep: &steps[n], keeps: 1}
		if n > 0 {
			x = b.predict(&s, x, miss)
		}
		s.forecast = x
		for ; read < len(b.Reads) && b.Reads[read].Date == s.day; read++ {
			ppm := b.Reads[read].PPM
			if read == 0 {
				x.kk = sq2(kReadSD * ppm) // the first reading sets the prior of k
				continue
			}
			// The variance follows the estimate, not the reading: otherwise low readings would
			// weigh more.
			variance := sq2(kReadSD * x.k)
			met = append(met, kInnovation{ppm - x.k, x.kk + variance})
			x = take(x, ppm, variance)
		}
		if s.estimate = x; into != nil {
			into[n] = s
		}
	}
	return met
}

// predict predicts a belief to a day: what exceeds half of critical leaches, and moves change it with
// the year's common error.
func (b *PotassiumModel) predict(s *kState, x kBelief, miss kMoveError) kBelief {
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

// reset sets potassium to a reading, as the guide carries it forward from the newest test; the
// innovation informs the error of moves.
func (x kBelief) reset(ppm, variance float64) kBelief {
	gu := x.ku / (x.kk + variance)
	return kBelief{ppm, x.u + gu*(ppm-x.k), variance, gu * variance, x.uu - gu*x.ku}
}

// read updates a belief with a reading as evidence, which weighs the scenarios.
func (x kBelief) read(ppm, variance float64) kBelief {
	gk, gu := x.kk/(x.kk+variance), x.ku/(x.kk+variance)
	return kBelief{x.k + gk*(ppm-x.k), x.u + gu*(ppm-x.k), x.kk * (1 - gk), x.ku * (1 - gk), x.uu - gu*x.ku}
}

// yearly returns the uncertain movement per year between the first and the last reading, ppm.
func (b *PotassiumModel) yearly() float64 {
	first, last := b.Reads[0].Date, b.Reads[len(b.Reads)-1].Date
	given := 0.0
	for i := range b.Moves {
		given += math.Abs(b.Moves[i].Within(first, last))
	}
	return kKeptSD * given * b.Rise / max(float64(last-first)/monthDays/yearMonths, 1)
}

func sq2(x float64) float64 { return x * x }

// steps returns the timeline: the first reading, the first of each month, each reading, and further
// days.
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

// reported returns the reported days, those before the last reading smoothed.
func (b *PotassiumModel) reported(ways []kScenario) (out []Spread) {
	smooth := make([][]kBelief, len(ways))
	for i := range ways {
		smooth[i] = ways[i].smoothed(b.Reads)
	}
	for n, s := range ways[0].states {
		if s.day.DayOfMonth() != 1 && !slices.Contains(b.Also, s.day) {
			continue
		}
		out = append(out, spreadAt(ways, n, func(w, n int) kBelief { return smooth[w][n] }))
	}
	return out
}

// spreadAt returns the mixture over scenarios on a day.
func spreadAt(ways []kScenario, n int, believes func(way, n int) kBelief) Spread {
	parts := make([]part, len(ways))
	for i := range ways {
		x := believes(i, n)
		parts[i] = part{ways[i].share, x.k, math.Sqrt(max(x.kk, 1e-10))}
	}
	return spreadOf(ways[0].states[n].day, parts)
}

// smoothed returns the estimate of each day: on a reading's day the reading, between two readings
// the path with their difference spread over what moved, and after the newest the forecast.
func (w *kScenario) smoothed(reads []PotassiumReading) []kBelief {
	all := make([]kBelief, len(w.states))
	from, read := 0, 0
	for n := range w.states {
		s := &w.states[n]
		all[n] = s.estimate
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

// bridge spreads the innovation between the readings of two days of the timeline; it absorbs the
// common error of moves, so the variance between them is bounded by both.
func (w *kScenario) bridge(all []kBelief, from, to int) {
	moved := func(n int) float64 { return w.states[n].stirred }
	sum := 0.0
	for n := from + 1; n <= to; n++ {
		sum += moved(n)
	}
	missed, before, after := w.states[to].estimate.k-w.states[to].forecast.k, w.states[from].estimate.kk, w.states[to].estimate.kk
	// The variance of the path is met by both ends.
	way := max(0, w.states[to].forecast.kk-before)
	share := 0.0
	for n := from + 1; n < to; n++ {
		share += moved(n) / sum
		x := &all[n]
		x.k += share * missed
		x.kk = sq2(1-share)*before + sq2(share)*after + share*(1-share)*way
	}
}
