package forecast

import (
	"math"

	"gonum.org/v1/gonum/mat"

	"zephyrfield/agronomy/soil"
)

// gauss is a normal distribution in information form: precision matrix and precision times mean.
type gauss struct {
	info *mat.SymDense
	lean *mat.VecDense
}

// flat returns the flat distribution over n variables.
func flat(n int) gauss { return gauss{mat.NewSymDense(n, nil), mat.NewVecDense(n, nil)} }

// fromMoments converts mean and covariance; false if the covariance is singular.
func fromMoments(mean *mat.VecDense, cov *mat.SymDense) (g gauss, ok bool) {
	var c mat.Cholesky
	if !c.Factorize(cov) {
		return g, false
	}
	n := mean.Len()
	g = flat(n)
	if c.InverseTo(g.info) != nil {
		return g, false
	}
	g.lean.MulVec(g.info, mean)
	return g, true
}

// moments returns mean and covariance; false if the precision is singular.
func (g *gauss) moments() (*mat.VecDense, *mat.SymDense, bool) {
	var c mat.Cholesky
	if !c.Factorize(g.info) {
		return nil, nil, false
	}
	cov := mat.NewSymDense(g.lean.Len(), nil)
	if c.InverseTo(cov) != nil {
		return nil, nil, false
	}
	mean := mat.NewVecDense(g.lean.Len(), nil)
	mean.MulVec(cov, g.lean)
	return mean, cov, true
}

// multiply multiplies by another distribution over the variables at places.
func (g *gauss) multiply(o *gauss, places []int) {
	for i, p := range places {
		g.lean.SetVec(p, g.lean.AtVec(p)+o.lean.AtVec(i))
		for j, q := range places[:i+1] {
			g.info.SetSym(p, q, g.info.At(p, q)+o.info.At(i, j))
		}
	}
}

// divide divides by another distribution over the same variables.
func (g *gauss) divide(o *gauss) {
	for i := range g.lean.Len() {
		g.lean.SetVec(i, g.lean.AtVec(i)-o.lean.AtVec(i))
		for j := range i + 1 {
			g.info.SetSym(i, j, g.info.At(i, j)-o.info.At(i, j))
		}
	}
}

// marginal returns the marginal mean and covariance of some variables.
func marginal(mean *mat.VecDense, cov *mat.SymDense, places []int) (*mat.VecDense, *mat.SymDense) {
	m, v := mat.NewVecDense(len(places), nil), mat.NewSymDense(len(places), nil)
	for i, p := range places {
		m.SetVec(i, mean.AtVec(p))
		for j, q := range places[:i+1] {
			v.SetSym(i, j, cov.At(p, q))
		}
	}
	return m, v
}

// Evidence is the evidence of a bed's own readings on its buffering, methods and batches. It depends on
// the bed alone and may be cached as long as the bed is unchanged.
type Evidence struct {
	keys []key
	mean *mat.VecDense
	cov  *mat.SymDense
	// prior is the prior standard deviation of each; all means are 0.
	prior []float64
}

// key identifies a method or batch; the zero key is the bed's buffering.
type key struct {
	method soil.Method
	batch  string
}

// Evidence computes the evidence of a bed's readings, ignoring other beds. It needs at least one
// reading.
func (b *Model) Evidence() Evidence {
	own := *b
	own.Others = Others{}
	t := own.layOut(own.Readings[len(own.Readings)-1].Date, false)
	t.straighten(&Result{})
	lanes := t.filter(&Result{}, nil)
	out := Evidence{keys: []key{{}}, prior: []float64{own.Curved}}
	parts := []func(*lane) Normal{func(l *lane) Normal { return Normal{Mean: l.ell} }}
	for n, m := range t.methods {
		out.keys, out.prior = append(out.keys, key{method: m}), append(out.prior, own.bias(m).SD)
		parts = append(parts, func(l *lane) Normal { return l.marginal(atFirst + n) })
	}
	for n, name := range t.batches {
		out.keys, out.prior = append(out.keys, key{batch: name}), append(out.prior, t.strength[n].SD)
		parts = append(parts, func(l *lane) Normal { return l.batches[n] })
	}
	out.mean, out.cov = jointNormal(lanes, weights(lanes), parts)
	return out
}

// jointNormal returns the joint normal of the lanes' parts.
func jointNormal(lanes []*lane, w []float64, parts []func(*lane) Normal) (*mat.VecDense, *mat.SymDense) {
	n := len(parts)
	mean, cov := mat.NewVecDense(n, nil), mat.NewSymDense(n, nil)
	at := make([][]float64, len(lanes))
	within := make([]float64, n)
	for k, l := range lanes {
		at[k] = make([]float64, n)
		for i, part := range parts {
			x := part(l)
			at[k][i] = x.Mean
			within[i] += w[k] * sq2(x.SD)
			mean.SetVec(i, mean.AtVec(i)+w[k]*x.Mean)
		}
	}
	for i := range n {
		for j := range i + 1 {
			sum := 0.0
			for k := range lanes {
				sum += w[k] * (at[k][i] - mean.AtVec(i)) * (at[k][j] - mean.AtVec(j))
			}
			cov.SetSym(i, j, sum)
		}
		cov.SetSym(i, i, cov.At(i, i)+max(within[i], 1e-9))
	}
	return mean, cov
}

// tempering is the power to which a bed's evidence is tempered for the others: beds of one garden share
// model errors (linearised strength and buffering, drift), and full evidence made each other's
// ranges too narrow. Of 0.3 to 1, tried on simulated gardens, 0.3 gave the least error and the best
// coverage.
const tempering = 0.3

// sharedEvidence is a bed's evidence on the shared state, with the indexes of its variables.
type sharedEvidence struct {
	gauss
	places []int
}

// evidenceOf extracts a bed's evidence on the shared state, without its prior.
func (c *common) evidenceOf(s *Evidence, curved float64) sharedEvidence {
	var from, places []int
	for i, k := range s.keys {
		if p := c.place(k); p >= 0 {
			from, places = append(from, i), append(places, p)
		}
	}
	g, ok := fromMoments(marginal(s.mean, s.cov, from))
	if !ok {
		return sharedEvidence{}
	}
	for i, n := range from {
		g.info.SetSym(i, i, g.info.At(i, i)-1/sq2(s.prior[n]))
	}
	g.info.ScaleSym(tempering, g.info)
	g.lean.ScaleVec(tempering, g.lean)
	return ofGarden(g, places, curved)
}

// ofGarden converts evidence on the bed's buffering to evidence on the garden's share by adding the
// bed's own variance.
func ofGarden(g gauss, places []int, curved float64) sharedEvidence {
	own, share := sq2(bedShare*curved), gardenShare*curved
	whole := g.info.At(0, 0) + 1/own
	if !(whole > 0) {
		return sharedEvidence{}
	}
	n := len(places)
	out := sharedEvidence{flat(n), places}
	with := func(i int) float64 { // covariance of the bed's buffering with each
		if i == 0 {
			return -share / own
		}
		return g.info.At(0, i)
	}
	for i := range n {
		lean, info := 0.0, sq2(share)/own
		if i > 0 {
			lean, info = g.lean.AtVec(i), g.info.At(i, i)
		}
		out.lean.SetVec(i, lean-with(i)*g.lean.AtVec(0)/whole)
		out.info.SetSym(i, i, info-sq2(with(i))/whole)
		for j := range i {
			info := 0.0
			if j > 0 {
				info = g.info.At(i, j)
			}
			out.info.SetSym(i, j, info-with(i)*with(j)/whole)
		}
	}
	return out
}

// others returns what a distribution over the shared state implies for a bed.
func (c *common) others(b *Model, places []int, mean *mat.VecDense, cov *mat.SymDense) (o Others) {
	share := gardenShare * b.Curved
	v := sq2(share)*cov.At(0, 0) + sq2(bedShare*b.Curved)
	o = Others{Buffering: Normal{stepped(share * mean.AtVec(0)), steppedSD(math.Sqrt(v))},
		Bias: map[soil.Method]Slanted{}, Strength: map[string]Slanted{}}
	for i, p := range places[1:] {
		with := share * cov.At(0, i+1)
		x := Slanted{Slope: with / v, SD: math.Sqrt(max(cov.At(i+1, i+1)-sq2(with)/v, 1e-10))}
		x.Mean = mean.AtVec(i+1) - x.Slope*share*mean.AtVec(0)
		x = Slanted{stepped(x.Mean), stepped(x.Slope), steppedSD(x.SD)}
		if p <= len(c.methods) {
			o.Bias[c.methods[p-1]] = x
		} else {
			o.Strength[c.batches[p-1-len(c.methods)]] = x
		}
	}
	return o
}
