package forecast

import (
	"math"
	"slices"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Learned is what a bed's own readings say of it.
type Learned struct {
	// Stubborn is the buffering that the bed has shown beside its method, 1 as the method has it; Drift is
	// g CaCO₃/m² a year. Their days are those of the last reading.
	Stubborn, Drift Spread
	// Level is where the bed stood at the last reading, by all of them.
	Level Spread
	// Strength is how strong each batch proved beside what it was computed as, Bias how far each method reads off.
	Strength map[string]float64
	Bias     map[soil.Method]float64
	// Counts is set once the bed has taught something: nine in ten lie on one side of 1, or within half
	// the width that they had at first, after any of its tests; what counted once goes on counting. Tests is how many readings
	// stand after an application.
	Counts bool
	Tests  int
	// Joint are level and stubbornness together, as they are believed at the last reading.
	Joint []soil.Draw
}

// Beside returns what was learned as a dose follows it, beside a method; nil while it does not
// count.
func (l *Learned) Beside(s soil.LimeMethod) *soil.Learned {
	if !l.Counts {
		return nil
	}
	const reach = 2 * 1.6449
	return &soil.Learned{Beside: s, Factor: l.Stubborn.Median, LogSD: math.Log(l.Stubborn.P95/l.Stubborn.P05) / reach, Tests: l.Tests,
		Level: quantity.PH(l.Level.Median), LevelSD: (l.Level.P95 - l.Level.P05) / reach, Day: l.Level.Date, Joint: l.Joint}
}

// Result is a bed's forecast.
type Result struct {
	// PH is the year's level, without the season's swing and a reading's error, on the first of
	// each month from the first reading on: what is behind the last reading with all that came after it.
	PH      []Spread
	Learned Learned
	// Innovations are how far each reading lay off what was forecast of it, in units of its sd.
	Innovations []float64
	Balance     Balance
}

// Balance is what was applied and what became of it up to the end, g CaCO₃/m²: what was brought (and had not
// reacted at the start) and what drifted is what changed the bed, what has yet to react, and what is left over: how much
// weaker a batch proved than it was computed, and the acid that free lime took.
type Balance struct{ Brought, Drift, Change, Unreacted, LeftOver float64 }

// Run forecasts a bed from its first reading to a day. It wants one reading at least.
func Run(b *Model, until quantity.Day) Result {
	last := b.Readings[len(b.Readings)-1].Date
	t := b.layOut(max(until, last), true)
	r := Result{Learned: Learn(b)}
	ends := make([][]part, len(t.steps))
	t.straighten(&r)
	lanes := t.filter(&r, ends)
	w := weights(lanes)
	r.balance(t, lanes, w)
	behind := t.smoothed(lanes, w, last)
	for i := range t.steps {
		switch s := &t.steps[i]; {
		case !s.tell:
		case s.day < last:
			r.PH = append(r.PH, spreadOf(s.day, behind[i]))
		default:
			r.PH = append(r.PH, spreadOf(s.day, ends[i]))
		}
	}
	return r
}

// vague is from which doubt of a strength on it is no straight line any more.
const vague = 0.1

// straighten goes through the bed once where a batch's strength is in much doubt, to see about where it lies at each point
// of the grid: there it is taken as straight when the bed is gone through for good.
func (t *timeline) straighten(r *Result) {
	if !slices.ContainsFunc(t.strength, func(s Slanted) bool { return s.SD >= vague }) {
		return
	}
	lanes := t.filter(r, nil)
	t.about = make([][]float64, len(lanes))
	for i, l := range lanes {
		for b := range l.batches {
			t.about[i] = append(t.about[i], max(l.batches[b].Mean, weakest))
		}
	}
}

// weakest is how weak a batch is taken for at least, in the logarithm.
const weakest = -2

// filter takes all lanes from the first day to the last; ends, where it is not nil, gets the levels of the months from the
// last reading on.
func (t *timeline) filter(r *Result, ends [][]part) []*lane {
	last := t.bed.Readings[len(t.bed.Readings)-1].Date
	lanes := t.newLanes()
	var w []float64
	for i := range t.steps {
		s := &t.steps[i]
		t.step(lanes, s, r)
		if ends == nil || s.day < last {
			continue
		}
		if w == nil { // no reading weighs the lanes any more
			w = weights(lanes)
		}
		if s.tell {
			ends[i] = t.levels(lanes, w)
		}
	}
	for _, l := range lanes {
		l.atEnd(t)
	}
	return lanes
}

// newLanes returns those of the first day.
func (t *timeline) newLanes() []*lane {
	lanes := make([]*lane, gridPoints)
	for i := range lanes {
		lanes[i] = t.begin(i)
	}
	return lanes
}

// step takes all lanes along one, and its readings in.
func (t *timeline) step(lanes []*lane, s *step, r *Result) {
	for _, l := range lanes {
		l.on(t, s)
	}
	for _, n := range s.reads {
		if off := t.read(lanes, s, n); t.about == nil { // with it, what came later is known
			r.Innovations = append(r.Innovations, off)
		}
	}
	for _, l := range lanes {
		l.letGo(t, s)
	}
}

// atEnd finds what is believed of the batches that have a place still.
func (l *lane) atEnd(t *timeline) {
	has := map[int]int{}
	for i := range t.steps {
		for _, x := range t.steps[i].anew {
			has[x.batch] = x.place
		}
		for _, x := range t.steps[i].let {
			delete(has, x.batch)
		}
	}
	for b, p := range has {
		l.knows(t, taken{b, p})
	}
}

// Learn returns what a bed's own readings say of it, without telling its months. It wants one
// reading at least.
func Learn(b *Model) Learned {
	t := b.layOut(b.Readings[len(b.Readings)-1].Date, false)
	t.straighten(&Result{})
	var r Result
	counted := false
	lanes := t.newLanes()
	for i := range t.steps {
		s := &t.steps[i]
		t.step(lanes, s, &r)
		if len(s.reads) > 0 && !counted {
			counted = t.counts(lanes, weights(lanes), s.day)
		}
	}
	for _, l := range lanes {
		l.atEnd(t)
	}
	r.Learned.take(t, lanes, weights(lanes))
	r.Learned.Counts = counted
	return r.Learned
}

// counts reports whether the readings up to a day have taught the buffering that the bed has shown: what only other beds say is no
// learning of this
// one's.
func (t *timeline) counts(lanes []*lane, w []float64, day quantity.Day) bool {
	if t.tests(day) == 0 {
		return false
	}
	const nineInTen = 1.6449
	q := onGrid(lanes, w, 0.05, 0.95)
	return q[0] > 0 || q[1] < 0 || q[1]-q[0] < nineInTen*t.bed.Curved
}

// tests returns how many readings up to a day stand after an application.
func (t *timeline) tests(day quantity.Day) (n int) {
	for _, x := range t.bed.Readings {
		if x.Date <= day && slices.ContainsFunc(t.bed.Additions, func(g Addition) bool { return g.Date >= t.start && g.Date < x.Date }) {
			n++
		}
	}
	return n
}

// jointly are level and stubbornness as lanes have them together, neighbours joined.
func (t *timeline) jointly(lanes []*lane, w []float64) (out []soil.Draw) {
	var weight, mean, square, ell float64
	sum := 0.0
	for i := range lanes {
		if w[i] > slight {
			sum += w[i]
		}
	}
	flush := func() {
		if weight > 0 {
			m := mean / weight
			out = append(out, soil.Draw{Weight: weight, Start: quantity.PH(m), SD: math.Sqrt(max(square/weight-m*m, 1e-6)),
				Factor: math.Exp(ell / weight)})
		}
		weight, mean, square, ell = 0, 0, 0, 0
	}
	for i, l := range lanes {
		if w[i] <= slight {
			continue
		}
		m, sd := t.levelOf(l, &l.belief)
		p := w[i] / sum
		weight, mean, square, ell = weight+p, mean+p*m, square+p*(sd*sd+m*m), ell+p*l.ell
		if weight >= 1.0/mostParts {
			flush()
		}
	}
	flush()
	return out
}

// Levels returns what a bed's readings up to each of some days say of it on that day, in short: no
// later reading tells of an earlier day. Days before the first reading are left out.
func Levels(b *Model, days []quantity.Day) (out []Spread) {
	t := b.layOut(b.Readings[len(b.Readings)-1].Date, false, days...)
	t.straighten(&Result{})
	lanes := t.newLanes()
	for i := range t.steps {
		s := &t.steps[i]
		t.step(lanes, s, &Result{})
		if slices.Contains(days, s.day) {
			out = append(out, spreadOf(s.day, t.levels(lanes, weights(lanes))))
		}
	}
	return out
}

// read takes a reading into all lanes; the innovation is reported as they together had it.
func (t *timeline) read(lanes []*lane, s *step, n int) (innovation float64) {
	r := &t.bed.Readings[n]
	m := t.method(r)
	w := weights(lanes)
	var mean, square float64
	for i, l := range lanes {
		off, all := l.sees(t, s, r, m)
		mean += w[i] * off
		square += w[i] * (all + off*off)
	}
	return mean / math.Sqrt(square-mean*mean)
}

// method returns the place of a reading's method.
func (t *timeline) method(r *Read) int { return slices.Index(t.methods, r.Method) }

// weights of lanes, summing to 1.
func weights(lanes []*lane) []float64 {
	best := math.Inf(-1)
	for _, l := range lanes {
		best = max(best, l.log)
	}
	out, sum := make([]float64, len(lanes)), 0.0
	for i, l := range lanes {
		out[i] = math.Exp(l.log - best)
		sum += out[i]
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}

// slight is the weight below which a lane is not told.
const slight = 2e-4

// levels returns what lanes believe of the year's level.
func (t *timeline) levels(lanes []*lane, w []float64) []part {
	out := make([]part, 0, len(lanes))
	for i, l := range lanes {
		if w[i] > slight {
			out = append(out, part{w[i], 0, 0})
			out[len(out)-1].mean, out[len(out)-1].sd = t.levelOf(l, &l.belief)
		}
	}
	return normed(out)
}

// levelOf returns the year's level by a belief, with its sd.
func (t *timeline) levelOf(l *lane, b *belief) (mean, sd float64) {
	g := t.slope(l, b.mean[atBalance])
	v := g*g*b.at(atBalance, atBalance) + 2*g*b.at(atBalance, atWander) + b.at(atWander, atWander)
	return t.level(l, b.mean[atBalance]) + b.mean[atWander], math.Sqrt(max(v, 1e-10))
}

// normed makes weights sum to 1.
func normed(parts []part) []part {
	sum := 0.0
	for _, p := range parts {
		sum += p.weight
	}
	for i := range parts {
		parts[i].weight /= sum
	}
	return parts
}

// take reports what the lanes have come to at the last reading.
func (k *Learned) take(t *timeline, lanes []*lane, w []float64) {
	last := t.bed.Readings[len(t.bed.Readings)-1].Date
	q := onGrid(lanes, w, 0.05, 0.25, 0.5, 0.75, 0.95)
	k.Stubborn = Spread{last, math.Exp(q[0]), math.Exp(q[1]), math.Exp(q[2]), math.Exp(q[3]), math.Exp(q[4])}
	var drift []part
	for i, l := range lanes {
		if w[i] > slight {
			drift = append(drift, part{w[i], l.mean[atDrift], math.Sqrt(max(l.at(atDrift, atDrift), 1e-10))})
		}
	}
	k.Drift, k.Level = spreadOf(last, normed(drift)), spreadOf(last, t.levels(lanes, w))
	k.Tests, k.Joint = t.tests(last), t.jointly(lanes, w)
	k.Strength, k.Bias = map[string]float64{}, map[soil.Method]float64{}
	for i, l := range lanes {
		for n, m := range t.methods {
			k.Bias[m] += w[i] * l.mean[atFirst+n]
		}
		for n, b := range t.batches {
			k.Strength[b] += w[i] * l.strength(n)
		}
	}
}

// onGrid are quantiles of the buffering that the bed has shown, in the logarithm, straight between the points.
func onGrid(lanes []*lane, w []float64, at ...float64) []float64 {
	out := make([]float64, len(at))
	half := gridReach / (gridPoints - 1)
	for i, q := range at {
		sum := 0.0
		for n := range lanes {
			if sum+w[n] >= q || n == len(lanes)-1 {
				out[i] = lanes[n].ell - half + 2*half*(q-sum)/max(w[n], 1e-12)
				break
			}
			sum += w[n]
		}
	}
	return out
}

// balance sums up: what the bed took is what reacted, as strong as it proved, with the drift.
func (r *Result) balance(t *timeline, lanes []*lane, w []float64) {
	var change, drift float64
	years := float64(t.steps[len(t.steps)-1].day-t.start) / monthDays / yearMonths
	for i, l := range lanes {
		d := l.mean[atDrift] * years
		drift += w[i] * d
		change += w[i] * d
		for b, reacted := range t.total {
			change += w[i] * reacted * l.strength(b)
		}
	}
	change += t.plain
	r.Balance = Balance{Brought: t.brought, Drift: drift, Change: change, Unreacted: t.left}
	r.Balance.LeftOver = t.brought + drift - t.left - change
}

// AdditionOf is something that was applied, or is planned, as a forecast has it: of a batch, beside the stone
// that a method's figures are printed in. Without a batch it is of one of its own.
func AdditionOf(a *ledger.Application, batch string, stone float64) Addition {
	b := a.Batch()
	w := b.WorthBeside(stone)
	return Addition{Date: a.Date, Kind: a.Material.Kind, CaCO3: float64(a.Rate) * w.EffectiveCCE, Reacts: b.Speed(), Batch: batch,
		StrengthSD: max(w.LogSD, leastStrengthSD)}
}

// leastStrengthSD is the uncertainty of a strength that stands on a bag, in the logarithm.
const leastStrengthSD = 0.05
