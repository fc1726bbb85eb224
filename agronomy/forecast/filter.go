package forecast

import (
	"math"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// belief is a normal distribution over the state, given the buffering: means, and covariances row
// by row.
type belief struct {
	mean []float64
	cov  []float64
	n    int
}

func (b *belief) at(i, j int) float64 { return b.cov[i*b.n+j] }

// copyTo copies l into o, reusing its memory.
func (b *belief) copyTo(o *belief) {
	o.n = b.n
	o.mean = append(o.mean[:0], b.mean...)
	o.cov = append(o.cov[:0], b.cov...)
}

// lane is the filter at one point of the grid over the buffering, with its weight in the logarithm.
type lane struct {
	// ell is the logarithm of the buffering relative to the method, act its inverse.
	ell, act float64
	log      float64
	belief
	// batches are the estimated strengths in the logarithm: the prior, the estimate when the batch
	// left the state, or at the end the current one. Strength is linearised at about, with value
	// scale; the state holds the deviation of its logarithm.
	batches      []Normal
	about, scale []float64
	work         []float64
	hint         int
	// seen, if set, collects what a backward pass needs of each reading.
	seen *[]observation
}

// observation is a reading as filtered: the slope and seasonal share it was observed by, its innovation
// with variance, and its covariance with the state.
type observation struct {
	slope, swing, off, sum float64
	method                 int
	with                   []float64
}

// priorLane returns the prior before the first reading: a wide normal for the balance, and for the rest
// the defaults, or what the garden's other beds imply.
func (t *timeline) priorLane(i int) *lane {
	n := len(t.batches)
	l := &lane{ell: gridAt(i), hint: 1, work: make([]float64, t.size), batches: make([]Normal, n), about: make([]float64, n),
		scale: make([]float64, n)}
	l.act, l.log = math.Exp(-l.ell), t.bed.prior(i)
	for b := range t.strength {
		l.batches[b] = t.strength[b].at(l.ell)
		if l.about[b] = l.batches[b].Mean; t.about != nil {
			l.about[b] = t.about[i][b]
		}
		l.scale[b] = math.Exp(l.about[b])
	}
	l.n = t.size
	l.mean, l.cov = make([]float64, t.size), make([]float64, t.size*t.size)
	first := t.bed.Readings[0].PH
	l.mean[atBalance] = t.bed.Curve.Amount(first)
	l.set(atBalance, l.mean[atBalance], startSD/t.slope(l, l.mean[atBalance]))
	l.set(atDrift, t.bed.Drift, t.bed.DriftSD)
	l.set(atWander, 0, wanderSD)
	l.set(atSwing, 0, usualSwing)
	for i, m := range t.methods {
		bias := t.bed.bias(m).at(l.ell)
		l.set(atFirst+i, bias.Mean, bias.SD)
	}
	return l
}

// set sets a part of the state to an independent normal.
func (l *lane) set(i int, mean, sd float64) {
	for j := range l.n {
		l.cov[i*l.n+j], l.cov[j*l.n+i] = 0, 0
	}
	l.mean[i], l.cov[i*l.n+i] = mean, sd*sd
}

// marginal returns the marginal of a part of the state.
func (l *lane) marginal(i int) Normal { return Normal{l.mean[i], math.Sqrt(max(l.at(i, i), 0))} }

// level returns the pH at a balance, within bounds.
func (t *timeline) level(l *lane, balance float64) float64 {
	ph := t.bed.Curve.PHAt(balance, &l.hint)
	return float64(max(soil.LeastPH, min(soil.MostPH, ph)))
}

// slopeStep is the half width in balance over which the curve's slope is taken, about a tenth of a
// pH, so that a kink does not cause a jump.
const slopeStep = 15

// slope returns the change of pH per unit of balance.
func (t *timeline) slope(l *lane, balance float64) float64 {
	up := float64(t.bed.Curve.PHAt(balance+slopeStep, &l.hint))
	down := float64(t.bed.Curve.PHAt(balance-slopeStep, &l.hint))
	return max((up-down)/(2*slopeStep), 1e-6)
}

// predict predicts a lane along a step: what reacts and drifts moves the balance, divided by the
// buffering; the wander decays and gains variance.
func (l *lane) predict(t *timeline, s *step) {
	if s.months == 0 {
		return
	}
	n, k := l.n, t.firstBatch()
	for _, x := range s.anew {
		known := t.strength[x.batch].at(l.ell)
		l.set(k+x.place, known.Mean-l.about[x.batch], known.SD)
	}
	keep, pull, lasting := t.pulled(s)
	year := l.act * lasting / yearMonths
	// The row of the balance: itself, the drift, the strength of each batch.
	row := l.work
	for j := range n {
		x := keep*l.at(atBalance, j) + year*l.at(atDrift, j)
		for b, r := range s.reacted {
			if r != 0 {
				x += l.act * r * l.scale[s.of[b]] * l.at(k+b, j)
			}
		}
		row[j] = x
	}
	own := keep*row[atBalance] + year*row[atDrift]
	mean := keep*l.mean[atBalance] + pull + year*l.mean[atDrift] + l.act*s.plain
	for b, r := range s.reacted {
		if r != 0 {
			r *= l.act * l.scale[s.of[b]]
			own += r * row[k+b]
			mean += r * (1 + l.mean[k+b])
		}
	}
	l.mean[atBalance] = mean
	for j := range n {
		l.cov[atBalance*n+j], l.cov[j*n+atBalance] = row[j], row[j]
	}
	l.cov[atBalance*n+atBalance] = own + l.act*l.act*(s.moved*moveNoise+s.months/yearMonths*unnotedNoise)
	l.mean[atWander] *= s.phi
	for j := range n {
		l.cov[atWander*n+j] *= s.phi
		l.cov[j*n+atWander] *= s.phi
	}
	l.cov[atWander*n+atWander] += wanderSD * wanderSD * (1 - s.phi*s.phi)
}

// release stores the estimates of the batches that leave the state.
func (l *lane) release(t *timeline, s *step) {
	for _, x := range s.let {
		l.store(t, x)
	}
}

// store stores the estimate of a batch at its place.
func (l *lane) store(t *timeline, x taken) {
	now := l.marginal(t.firstBatch() + x.place)
	l.batches[x.batch] = Normal{l.about[x.batch] + now.Mean, now.SD}
}

// strength returns a batch's estimated strength relative to its computed one.
func (l *lane) strength(b int) float64 { return l.scale[b] * (1 + l.batches[b].Mean - l.about[b]) }

// pulled returns the share of the balance that a step keeps, the pull of free lime, and the months of
// drift that it leaves.
func (t *timeline) pulled(s *step) (keep, pull, lasting float64) {
	if !t.bed.Pulls {
		return 1, 0, s.months
	}
	keep, lasting = freeLimePull(s.months)
	return keep, (1 - keep) * t.bed.Curve.Amount(calcareousPH), lasting
}

// freeLimePull returns the share of a bed's distance from the set point that is left after some
// months, and of how many of them the drift remains: what is moved is pulled back like the rest.
func freeLimePull(months float64) (keep, lasting float64) {
	keep = math.Exp(-months / calcareousMonths)
	return keep, calcareousMonths * (1 - keep)
}

// innovation returns a reading's innovation with its variance.
func (l *lane) innovation(t *timeline, s *step, r *Read, method int) (off, all float64) {
	g := t.slope(l, l.mean[atBalance])
	off = float64(r.PH) - t.level(l, l.mean[atBalance]) - l.mean[atWander] - s.swing*l.mean[atSwing] - l.mean[atFirst+method]
	ph := l.work
	for i := range l.n {
		ph[i] = g*l.at(i, atBalance) + l.at(i, atWander) + s.swing*l.at(i, atSwing) + l.at(i, atFirst+method)
	}
	spread := g*ph[atBalance] + ph[atWander] + s.swing*ph[atSwing] + ph[atFirst+method]
	return off, spread + r.SD*r.SD
}

// update updates the lane with a reading and returns the innovation with its variance. Outliers weigh
// less.
func (l *lane) update(t *timeline, s *step, r *Read, method int) (off, all float64) {
	n := l.n
	g := t.slope(l, l.mean[atBalance])
	off, all = l.innovation(t, s, r, method)
	ph, spread := l.work, all-r.SD*r.SD
	l.log += logT(off, all, tails+8*spread/(r.SD*r.SD))
	noise := r.SD * r.SD
	scale := noise * (tails - 2) / tails
	for range 3 {
		gain := spread / (spread + noise)
		rest := off * (1 - gain)
		noise = (tails*scale + rest*rest + spread*(1-gain)) / (tails + 1)
	}
	noise = max(noise, leastNoise*r.SD*r.SD)
	sum := spread + noise
	if l.seen != nil {
		*l.seen = append(*l.seen, observation{g, s.swing, off, sum, method, append([]float64(nil), ph...)})
	}
	for i := range n {
		l.mean[i] += ph[i] * off / sum
	}
	for i := range n {
		for j := range i + 1 {
			l.cov[i*n+j] -= ph[i] * ph[j] / sum
			l.cov[j*n+i] = l.cov[i*n+j]
		}
	}
	return off, all
}

// leastNoise is the least factor on a reading's own variance: even close to the forecast it carries
// no more information than the average reading, some of which are outliers.
const leastNoise = 1.1

// logT returns the log density of Student's t with a scale variance.
func logT(x, variance, nu float64) float64 {
	scale := variance * (nu - 2) / nu
	a, _ := math.Lgamma((nu + 1) / 2)
	b, _ := math.Lgamma(nu / 2)
	return a - b - 0.5*math.Log(nu*math.Pi*scale) - (nu+1)/2*math.Log1p(x*x/(nu*scale))
}

// Spread is the distribution of a figure on a day.
type Spread struct {
	Date                       quantity.Day
	P05, P25, Median, P75, P95 float64
}

// part is a normal component of a mixture.
type part struct{ weight, mean, sd float64 }

// below is a table of the normal distribution function: a forecast evaluates it thousands of times.
const (
	belowReach = 6.0
	belowSteps = 3000
)

var below = func() (out [belowSteps + 2]float64) {
	for i := range out {
		out[i] = 0.5 * math.Erfc(-(belowReach*(2*float64(i)/belowSteps-1))/math.Sqrt2)
	}
	return out
}()

// normalCDF interpolates the table.
func normalCDF(z float64) float64 {
	switch {
	case z <= -belowReach:
		return 0
	case z >= belowReach:
		return 1
	}
	at := (z/belowReach + 1) * belowSteps / 2
	i := int(at)
	return below[i] + (below[i+1]-below[i])*(at-float64(i))
}

// mostParts is the largest number of components for reporting; neighbours are merged with mean and
// variance preserved.
const mostParts = 16

// merged merges neighbours of a mixture in the order of its grid.
func merged(parts []part) []part {
	if len(parts) <= mostParts {
		return parts
	}
	out := make([]part, 0, mostParts+1)
	var weight, mean, square float64
	for i, p := range parts {
		weight += p.weight
		mean += p.weight * p.mean
		square += p.weight * (p.sd*p.sd + p.mean*p.mean)
		if weight >= 1.0/mostParts || i == len(parts)-1 {
			m := mean / weight
			out = append(out, part{weight, m, math.Sqrt(max(square/weight-m*m, 1e-12))})
			weight, mean, square = 0, 0, 0
		}
	}
	return out
}

// quantiles returns quantiles of a mixture of normals, rising, by alternating secants and
// bisection.
func quantiles(parts []part, at ...float64) []float64 {
	parts = merged(parts)
	out := make([]float64, len(at))
	if len(parts) == 1 {
		for i, q := range at {
			out[i] = parts[0].mean + parts[0].sd*math.Sqrt2*math.Erfinv(2*q-1)
		}
		return out
	}
	lo, hi := math.Inf(1), math.Inf(-1)
	for _, p := range parts {
		lo, hi = min(lo, p.mean-5*p.sd), max(hi, p.mean+5*p.sd)
	}
	under := func(x float64) (sum float64) {
		for _, p := range parts {
			sum += p.weight * normalCDF((x-p.mean)/p.sd)
		}
		return sum
	}
	a, fa := lo, 0.0
	for i, q := range at {
		b, fb := hi, 1.0
		for turn := 0; b-a > 2e-4*(1+0.02*math.Abs(b)); turn++ {
			mid := (a + b) / 2
			if turn%2 == 0 && fb > fa {
				mid = min(max(a+(b-a)*(q-fa)/(fb-fa), a+(b-a)*0.02), b-(b-a)*0.02)
			}
			if f := under(mid); f < q {
				a, fa = mid, f
			} else {
				b, fb = mid, f
			}
		}
		out[i] = (a + b) / 2
	}
	return out
}

func spreadOf(day quantity.Day, parts []part) Spread {
	q := quantiles(parts, 0.05, 0.25, 0.5, 0.75, 0.95)
	return Spread{day, q[0], q[1], q[2], q[3], q[4]}
}
