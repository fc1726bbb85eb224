package forecast

import (
	"math"

	"gonum.org/v1/gonum/mat"

	"zephyrfield/agronomy/soil"
)

// gauss is a normal spread over several things, or what moves one to another, as information and information times mean.
type gauss struct {
	info *mat.SymDense
	lean *mat.VecDense
}

// nothing knows nothing of n things.
func nothing(n int) gauss { return gauss{mat.NewSymDense(n, nil), mat.NewVecDense(n, nil)} }

// informed returns a spread of a mean and covariances; false where these are none.
func informed(mean *mat.VecDense, cov *mat.SymDense) (g gauss, ok bool) {
	var c mat.Cholesky
	if !c.Factorize(cov) {
		return g, false
	}
	n := mean.Len()
	g = nothing(n)
	if c.InverseTo(g.info) != nil {
		return g, false
	}
	g.lean.MulVec(g.info, mean)
	return g, true
}

// moments returns the mean and the covariances; false where it is no spread.
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

// take adds what another knows of the things at places.
func (g *gauss) take(o *gauss, places []int) {
	for i, p := range places {
		g.lean.SetVec(p, g.lean.AtVec(p)+o.lean.AtVec(i))
		for j, q := range places[:i+1] {
			g.info.SetSym(p, q, g.info.At(p, q)+o.info.At(i, j))
		}
	}
}

// less takes what another knows of the same things away.
func (g *gauss) less(o *gauss) {
	for i := range g.lean.Len() {
		g.lean.SetVec(i, g.lean.AtVec(i)-o.lean.AtVec(i))
		for j := range i + 1 {
			g.info.SetSym(i, j, g.info.At(i, j)-o.info.At(i, j))
		}
	}
}

// picked returns the mean and the covariances of some of all things.
func picked(mean *mat.VecDense, cov *mat.SymDense, places []int) (*mat.VecDense, *mat.SymDense) {
	m, v := mat.NewVecDense(len(places), nil), mat.NewSymDense(len(places), nil)
	for i, p := range places {
		m.SetVec(i, mean.AtVec(p))
		for j, q := range places[:i+1] {
			v.SetSym(i, j, cov.At(p, q))
		}
	}
	return m, v
}

// Said is what a bed's readings say by themselves of the buffering that it has shown, and of its methods and batches: it rests on the bed
// alone, and may be kept as long as that stands.
type Said struct {
	keys []key
	mean *mat.VecDense
	cov  *mat.SymDense
	// prior is what was thought of each before, sd; all of them around 0.
	prior []float64
}

// key distinguishes methods and batches; the zero key is the buffering that the bed has shown.
type key struct {
	method soil.Method
	batch  string
}

// Say asks a bed what its readings say, whatever others do. It wants one reading at least.
func (b *Model) Say() Said {
	own := *b
	own.Others = Others{}
	t := own.layOut(own.Readings[len(own.Readings)-1].Date, false)
	t.straighten(&Result{})
	lanes := t.filter(&Result{}, nil)
	out := Said{keys: []key{{}}, prior: []float64{own.Curved}}
	parts := []func(*lane) Normal{func(l *lane) Normal { return Normal{Mean: l.ell} }}
	for n, m := range t.methods {
		out.keys, out.prior = append(out.keys, key{method: m}), append(out.prior, own.bias(m).SD)
		parts = append(parts, func(l *lane) Normal { return l.now(atFirst + n) })
	}
	for n, name := range t.batches {
		out.keys, out.prior = append(out.keys, key{batch: name}), append(out.prior, t.strength[n].SD)
		parts = append(parts, func(l *lane) Normal { return l.batches[n] })
	}
	out.mean, out.cov = spreadOver(lanes, weights(lanes), parts)
	return out
}

// spreadOver returns what lanes believe of their parts.
func spreadOver(lanes []*lane, w []float64, parts []func(*lane) Normal) (*mat.VecDense, *mat.SymDense) {
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

// heed is how much of what a bed says the others take in: beds of one garden err alike where the model does (in how it
// takes strength and stubbornness for straight, in the drift), and taken whole they made each other too sure. Of 0.3 to 1,
// tried on made gardens, 0.3 left the least error and bands that hold best.
const heed = 0.3

// told is what a bed says of what it shares, at its places in common.
type told struct {
	gauss
	places []int
}

// tells picks what a bed shares with others out of what it says, apart from what was thought of it before.
func (c *common) tells(s *Said, curved float64) told {
	var from, places []int
	for i, k := range s.keys {
		if p := c.place(k); p >= 0 {
			from, places = append(from, i), append(places, p)
		}
	}
	g, ok := informed(picked(s.mean, s.cov, from))
	if !ok {
		return told{}
	}
	for i, n := range from {
		g.info.SetSym(i, i, g.info.At(i, i)-1/sq2(s.prior[n]))
	}
	g.info.ScaleSym(heed, g.info)
	g.lean.ScaleVec(heed, g.lean)
	return ofGarden(g, places, curved)
}

// ofGarden turns what is known of the buffering that a bed has shown into what that says of the garden's share: the bed's own comes on top
// of it.
func ofGarden(g gauss, places []int, curved float64) told {
	own, share := sq2(bedShare*curved), gardenShare*curved
	whole := g.info.At(0, 0) + 1/own
	if !(whole > 0) {
		return told{}
	}
	n := len(places)
	out := told{nothing(n), places}
	with := func(i int) float64 { // how the bed's stubbornness goes with each
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

// others returns what a spread over the garden's share and what is shared says of a bed.
func (c *common) others(b *Model, places []int, mean *mat.VecDense, cov *mat.SymDense) (o Others) {
	share := gardenShare * b.Curved
	v := sq2(share)*cov.At(0, 0) + sq2(bedShare*b.Curved)
	o = Others{Stubborn: Normal{stepped(share * mean.AtVec(0)), steppedSD(math.Sqrt(v))},
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
