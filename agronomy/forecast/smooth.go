package forecast

import (
	"gonum.org/v1/gonum/mat"

	"zephyrfield/agronomy/quantity"
)

// passed is a lane at the end of a step: what was foretold, and what was believed once the
// readings of the day were in.
type passed struct{ foretold, known belief }

// smoothed are the levels of the months before a day, by all readings, those after them too: each lane
// that has any weight is gone through once more, and back.
func (t *timeline) smoothed(lanes []*lane, w []float64, until quantity.Day) [][]part {
	out := make([][]part, len(t.steps))
	end := 0
	for end < len(t.steps) && t.steps[end].day <= until {
		end++
	}
	for i := range lanes {
		if w[i] <= slight {
			continue
		}
		l, past := t.again(lanes[i].ell, end)
		now := past[end-1].known
		for n := end - 1; n >= 0; n-- {
			if n < end-1 {
				now = t.back(l, &past[n], &past[n+1], &t.steps[n+1], &now)
			}
			if t.steps[n].tell {
				mean, sd := t.levelOf(l, &now)
				out[n] = append(out[n], part{w[i], mean, sd})
			}
		}
	}
	for n := range out {
		out[n] = normed(out[n])
	}
	return out
}

// again goes through the first steps once more, and keeps what was believed.
func (t *timeline) again(ell float64, end int) (*lane, []passed) {
	l := t.begin(ell, t.bed.Curved)
	past := make([]passed, end)
	for i := range past {
		s := &t.steps[i]
		l.on(t, s)
		l.copyTo(&past[i].foretold)
		for _, n := range s.reads {
			r := &t.bed.Readings[n]
			l.sees(t, s, r, t.method(r))
		}
		l.copyTo(&past[i].known)
	}
	return l, past
}

// back is what is believed of a step once what came after it is known: Rauch, Tung and Striebel's pass.
func (t *timeline) back(l *lane, at, next *passed, s *step, later *belief) belief {
	n := at.known.n
	f := t.move(l, s)
	known := mat.NewDense(n, n, at.known.cov)
	foretold := mat.NewSymDense(n, next.foretold.cov)
	var chol mat.Cholesky
	var cross, gain mat.Dense
	cross.Mul(f, known) // F P; the gain is its solution, turned
	if !chol.Factorize(jittered(foretold)) {
		return at.known
	}
	if err := chol.SolveTo(&gain, &cross); err != nil {
		return at.known
	}
	out := belief{n: n, mean: append([]float64(nil), at.known.mean...), cov: append([]float64(nil), at.known.cov...)}
	for i := range n {
		for k := range n {
			out.mean[i] += gain.At(k, i) * (later.mean[k] - next.foretold.mean[k])
		}
	}
	var diff, half, whole mat.Dense
	diff.Sub(mat.NewDense(n, n, later.cov), mat.NewDense(n, n, next.foretold.cov))
	half.Mul(&diff, &gain)
	whole.Mul(gain.T(), &half)
	for i := range n {
		for j := range n {
			out.cov[i*n+j] += (whole.At(i, j) + whole.At(j, i)) / 2
		}
	}
	return out
}

// jitter keeps a covariance from being flat where something is known for sure.
const jitter = 1e-12

func jittered(s *mat.SymDense) *mat.SymDense {
	n := s.SymmetricDim()
	out := mat.NewSymDense(n, nil)
	out.CopySym(s)
	for i := range n {
		out.SetSym(i, i, s.At(i, i)*(1+1e-9)+jitter)
	}
	return out
}

// move is a step as a matrix.
func (t *timeline) move(l *lane, s *step) *mat.Dense {
	f := mat.NewDense(t.size, t.size, nil)
	for i := range t.size {
		f.Set(i, i, 1)
	}
	keep, _ := t.pulled(s)
	f.Set(atBalance, atBalance, keep)
	f.Set(atBalance, atDrift, l.act*s.months/yearMonths)
	for b, r := range s.reacted {
		f.Set(atBalance, atFirst+len(t.methods)+b, l.act*r)
	}
	f.Set(atWander, atWander, s.phi)
	return f
}
