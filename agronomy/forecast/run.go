package forecast

import (
	"math"
	"slices"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Learned is what a bed's own readings have shown.
type Learned struct {
	// Buffering is the buffering relative to the method; Drift is in g CaCO₃/m² a year. Their days
	// are those of the last reading.
	Buffering, Drift Spread
	// Level is the estimated level at the last reading.
	Level Spread
	// Strength is the estimated strength of each batch relative to its computed one, Bias the
	// offset of each method.
	Strength map[string]float64
	Bias     map[soil.Method]float64
	// Counts is set once the bed has shown something: after some test, the 90 % interval of the
	// buffering lay on one side of 1, or was half as wide as the prior's. It stays set. Tests is
	// the number of readings after an application.
	Counts bool
	Tests  int
	// Joint are weighted samples of level and buffering at the last reading.
	Joint []soil.Draw
}

// Beside returns what was learned as input of a dose by a method; nil while it does not count.
func (l *Learned) Beside(s soil.LimeMethod) *soil.Learned {
	if !l.Counts {
		return nil
	}
	const reach = 2 * 1.6449
	return &soil.Learned{Beside: s, Factor: l.Buffering.Median, LogSD: math.Log(l.Buffering.P95/l.Buffering.P05) / reach, Tests: l.Tests,
		Level: quantity.PH(l.Level.Median), LevelSD: (l.Level.P95 - l.Level.P05) / reach, Day: l.Level.Date, Joint: l.Joint}
}

// Result is a bed's forecast.
type Result struct {
	// PH is the year's level, without seasonal swing and reading error, on the first of each month
	// from the first reading on; months before the last reading are smoothed.
	PH      []Spread
	Learned Learned
	// Innovations are the standardised innovations of the readings.
	Innovations []float64
	Balance     Balance
}

// Balance is the account of what was applied up to the end, g CaCO₃/m²: brought (or unreacted at
// the start) plus drift equals what changed the bed, what has yet to react, and a remainder: the
// shortfall of weak batches and the acid consumed by free lime.
type Balance struct{ Brought, Drift, Change, Unreacted, LeftOver float64 }

// Run forecasts a bed from its first reading to a day, and tells some more days in between. It needs
// at least one reading. From the last reading on the medians are those of the bed's Course.
func Run(b *Model, until quantity.Day, more ...quantity.Day) Result {
	last := b.Readings[len(b.Readings)-1].Date
	t := b.layOut(max(until, last), true, more...)
	r := Result{Learned: Learn(b)}
	ends := make([][]part, len(t.steps))
	t.straighten(&r)
	lanes := t.filter(&r, ends)
	w := weights(lanes)
	r.balance(t, lanes, w)
	behind := t.smoothed(lanes, w, last)
	course := CourseOf(b, &r.Learned)
	for i := range t.steps {
		switch s := &t.steps[i]; {
		case !s.tell:
		case s.day < last:
			r.PH = append(r.PH, spreadOf(s.day, behind[i]))
		default:
			r.PH = append(r.PH, course.About(spreadOf(s.day, ends[i])))
		}
	}
	return r
}

// vague is the standard deviation of a strength above which one linearisation is not enough.
const vague = 0.1

// straighten runs the filter once to find where to linearise uncertain strengths at each point of
// the grid.
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

// weakest is the lowest linearisation point, in the logarithm.
const weakest = -2

// filter runs all lanes from the first day to the last; ends, if not nil, receives the levels of
// the months from the last reading on.
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
		if w == nil { // the weights no longer change
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

// newLanes returns the lanes of the first day.
func (t *timeline) newLanes() []*lane {
	lanes := make([]*lane, gridPoints)
	for i := range lanes {
		lanes[i] = t.priorLane(i)
	}
	return lanes
}

// step advances all lanes along one step and its readings.
func (t *timeline) step(lanes []*lane, s *step, r *Result) {
	for _, l := range lanes {
		l.predict(t, s)
	}
	for _, n := range s.reads {
		if off := t.read(lanes, s, n); t.about == nil { // later readings are known with it
			r.Innovations = append(r.Innovations, off)
		}
	}
	for _, l := range lanes {
		l.release(t, s)
	}
}

// atEnd stores the estimates of the batches still in the state.
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
		l.store(t, taken{b, p})
	}
}

// Learn returns what a bed's own readings have shown, without its months. It needs at least one
// reading.
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

// counts reports whether the readings up to a day have shown the buffering; information from other
// beds does not count as learning.
func (t *timeline) counts(lanes []*lane, w []float64, day quantity.Day) bool {
	if t.tests(day) == 0 {
		return false
	}
	const nineInTen = 1.6449
	q := onGrid(lanes, w, 0.05, 0.95)
	return q[0] > 0 || q[1] < 0 || q[1]-q[0] < nineInTen*t.bed.Curved
}

// tests returns the number of readings up to a day that follow an application.
func (t *timeline) tests(day quantity.Day) (n int) {
	for _, x := range t.bed.Readings {
		if x.Date <= day && slices.ContainsFunc(t.bed.Additions, func(g Addition) bool { return g.Date >= t.start && g.Date < x.Date }) {
			n++
		}
	}
	return n
}

// jointly returns level and buffering together, as the lanes have them, neighbours merged.
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

// Levels returns the filtered level on each of some days; later readings do not change earlier
// days. Days before the first reading are left out.
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

// read updates all lanes with a reading and returns the innovation of the mixture.
func (t *timeline) read(lanes []*lane, s *step, n int) (innovation float64) {
	r := &t.bed.Readings[n]
	m := t.method(r)
	w := weights(lanes)
	var mean, square float64
	for i, l := range lanes {
		off, all := l.update(t, s, r, m)
		mean += w[i] * off
		square += w[i] * (all + off*off)
	}
	return mean / math.Sqrt(square-mean*mean)
}

// method returns the index of a reading's method.
func (t *timeline) method(r *Read) int { return slices.Index(t.methods, r.Method) }

// weights returns the lanes' weights, which sum to 1.
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

// slight is the weight below which a lane is dropped from reports.
const slight = 2e-4

// levels returns the mixture of the year's level.
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

// levelOf returns the year's level of a belief, with its standard deviation.
func (t *timeline) levelOf(l *lane, b *belief) (mean, sd float64) {
	g := t.slope(l, b.mean[atBalance])
	v := g*g*b.at(atBalance, atBalance) + 2*g*b.at(atBalance, atWander) + b.at(atWander, atWander)
	return t.level(l, b.mean[atBalance]) + b.mean[atWander], math.Sqrt(max(v, 1e-10))
}

// normed scales weights to sum to 1.
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

// take fills in the estimates at the last reading.
func (k *Learned) take(t *timeline, lanes []*lane, w []float64) {
	last := t.bed.Readings[len(t.bed.Readings)-1].Date
	q := onGrid(lanes, w, 0.05, 0.25, 0.5, 0.75, 0.95)
	k.Buffering = Spread{last, math.Exp(q[0]), math.Exp(q[1]), math.Exp(q[2]), math.Exp(q[3]), math.Exp(q[4])}
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

// onGrid returns quantiles of the log buffering, interpolated between grid points.
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

// balance fills in the account: the bed took what reacted, at proven strength, and the drift.
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

// AdditionOf converts an application for the forecast, relative to the stone that the method's
// figures are printed in. An empty batch is one of its own.
func AdditionOf(a *ledger.Application, batch string, stone float64) Addition {
	b := a.Batch()
	w := b.WorthBeside(stone)
	return Addition{Date: a.Date, Kind: a.Material.Kind, CaCO3: float64(a.Rate) * w.EffectiveCCE, Reacts: b.Speed(), Batch: batch,
		StrengthSD: max(w.LogSD, leastStrengthSD)}
}

// leastStrengthSD is the standard deviation of a labelled strength, in the logarithm.
const leastStrengthSD = 0.05
