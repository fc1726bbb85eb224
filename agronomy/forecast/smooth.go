package forecast

import (
	"math"

	"zephyrfield/agronomy/quantity"
)

// passed is a lane at the end of a step, with the readings of its day.
type passed struct {
	known belief
	seen  []observation
}

// smoothed returns the levels of the months before a day, given all readings: each lane with weight
// runs forward once more and then backward (Bryson–Frazier smoother, which inverts no covariance).
func (t *timeline) smoothed(lanes []*lane, w []float64, until quantity.Day) [][]part {
	out := make([][]part, len(t.steps))
	end := 0
	for end < len(t.steps) && t.steps[end].day <= until {
		end++
	}
	past := make([]passed, end)
	for i := range lanes {
		if w[i] > slight {
			t.backward(t.forward(i, past), past, w[i], out)
		}
	}
	for n := range out {
		out[n] = normed(out[n])
	}
	return out
}

// forward repeats the first steps and stores the beliefs.
func (t *timeline) forward(i int, past []passed) *lane {
	l := t.priorLane(i)
	for i := range past {
		s := &t.steps[i]
		past[i].seen = past[i].seen[:0]
		l.seen = &past[i].seen
		l.predict(t, s)
		for _, n := range s.reads {
			r := &t.bed.Readings[n]
			l.update(t, s, r, t.method(r))
		}
		l.copyTo(&past[i].known)
	}
	return l
}

// adjoint is the adjoint of the backward pass: lean of the mean, pull of the covariance.
type adjoint struct {
	lean, pull, work []float64
	n                int
}

// backward runs from the last step to the first and reports each month.
func (t *timeline) backward(l *lane, past []passed, weight float64, out [][]part) {
	a := adjoint{make([]float64, t.size), make([]float64, t.size*t.size), make([]float64, t.size), t.size}
	for i := len(past) - 1; i >= 0; i-- {
		p, s := &past[i], &t.steps[i]
		if s.tell {
			out[i] = append(out[i], t.smoothedLevel(l, &p.known, &a, weight))
		}
		for n := len(p.seen) - 1; n >= 0; n-- {
			a.acrossReading(&p.seen[n])
		}
		t.acrossStep(l, s, &a)
	}
}

// smoothedLevel returns the smoothed level of a step.
func (t *timeline) smoothedLevel(l *lane, known *belief, a *adjoint, weight float64) part {
	mean, sd := t.levelOf(l, known)
	g := t.slope(l, known.mean[atBalance])
	square := sd * sd
	v := a.work
	for i := range a.n {
		v[i] = g*known.at(i, atBalance) + known.at(i, atWander)
		mean -= v[i] * a.lean[i]
	}
	for i := range a.n {
		for j := range a.n {
			square -= v[i] * a.pull[i*a.n+j] * v[j]
		}
	}
	return part{weight, mean, math.Sqrt(max(square, 1e-8))}
}

// acrossReading takes the adjoint back across a reading.
func (a *adjoint) acrossReading(x *observation) {
	n := a.n
	h := func(i int) float64 {
		switch i {
		case atBalance:
			return x.slope
		case atWander:
			return 1
		case atSwing:
			return x.swing
		case atFirst + x.method:
			return 1
		}
		return 0
	}
	// With C = 1 − K H, K = with/sum: C' lean = lean − H (with·lean)/sum, and likewise on both sides of pull.
	dot := 0.0
	for i := range n {
		dot += x.with[i] * a.lean[i]
	}
	row := a.work // pull · with
	both := 0.0
	for i := range n {
		row[i] = 0
		for j := range n {
			row[i] += a.pull[i*n+j] * x.with[j]
		}
		both += x.with[i] * row[i]
	}
	for i := range n {
		a.lean[i] -= h(i) * (dot + x.off) / x.sum
		for j := range n {
			a.pull[i*n+j] += (-h(i)*row[j]-row[i]*h(j))/x.sum + h(i)*h(j)*(both/(x.sum*x.sum)+1/x.sum)
		}
	}
}

// acrossStep takes the adjoint back across a step.
func (t *timeline) acrossStep(l *lane, s *step, a *adjoint) {
	if s.months == 0 {
		return
	}
	n, k := a.n, t.firstBatch()
	keep, _, lasting := t.pulled(s)
	year := l.act * lasting / yearMonths
	// F has the balance's row and the decay of the wander; F' acts along columns.
	turn := func(v []float64, stride int) {
		b := v[atBalance*stride]
		v[atDrift*stride] += year * b
		for i, r := range s.reacted {
			if r != 0 {
				v[(k+i)*stride] += l.act * r * l.scale[s.of[i]] * b
			}
		}
		v[atBalance*stride] = keep * b
		v[atWander*stride] *= s.phi
	}
	turn(a.lean, 1)
	for j := range n {
		turn(a.pull[j:], n) // each column
	}
	for i := range n {
		turn(a.pull[i*n:], 1) // each row
	}
	for _, x := range s.anew { // before this step the batch has its prior
		a.lean[k+x.place] = 0
		for j := range n {
			a.pull[(k+x.place)*n+j], a.pull[j*n+k+x.place] = 0, 0
		}
	}
}
