package forecast

import (
	"math"
	"slices"

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

// informed is a spread of a mean and covariances; false where these are none.
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

// moments are the mean and the covariances; false where it is no spread.
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

// picked are the mean and the covariances of some of all things.
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

// said is what a bed's readings say of what it shares with others, at their places in common: apart from what was thought
// of it before.
type said struct {
	gauss
	places []int
}

// sharedPart is something that a bed shares, beside how stubborn it is.
type sharedPart struct {
	place int
	prior Slanted
	now   func(*lane) Normal
}

// shares lists them.
func (t *timeline) shares(c *common) (out []sharedPart) {
	for n, m := range t.methods {
		out = append(out, sharedPart{1 + slices.Index(c.methods, m), t.bed.bias(m), func(l *lane) Normal { return l.now(atFirst + n) }})
	}
	for n, name := range t.batches {
		if i := slices.Index(c.batches, name); i >= 0 {
			out = append(out, sharedPart{1 + len(c.methods) + i, t.strength[n], func(l *lane) Normal { return l.batches[n] }})
		}
	}
	return out
}

// heed is how much of what a bed says the others take in: beds of one garden err alike where the model does (in how it
// takes strength and stubbornness for straight, in the drift), and taken whole they made each other too sure. Of 0.3 to 1,
// tried on made gardens, 0.3 left the least error and bands that hold best.
const heed = 0.3

// says asks a bed what its readings say.
func (b *Bed) says(c *common) (out said) {
	t := b.layOut(b.Readings[len(b.Readings)-1].Date, false)
	t.straighten(&Result{})
	lanes := t.filter(&Result{}, nil)
	parts := t.shares(c)
	after, ok := informed(spreadOver(lanes, weights(lanes), parts))
	before, ok2 := informed(priorOver(b.stubborn(), parts))
	if !ok || !ok2 {
		return said{}
	}
	after.less(&before)
	after.info.ScaleSym(heed, after.info)
	after.lean.ScaleVec(heed, after.lean)
	return ofGarden(after, parts, b.Curved)
}

// priorOver is what was thought before of how stubborn a bed is, and of what it shares.
func priorOver(stubborn Normal, parts []sharedPart) (*mat.VecDense, *mat.SymDense) {
	n := 1 + len(parts)
	mean, cov := mat.NewVecDense(n, nil), mat.NewSymDense(n, nil)
	slope := func(i int) float64 {
		if i == 0 {
			return 1
		}
		return parts[i-1].prior.Slope
	}
	mean.SetVec(0, stubborn.Mean)
	for i := range n {
		for j := range i + 1 {
			cov.SetSym(i, j, slope(i)*slope(j)*sq2(stubborn.SD))
		}
		if i > 0 {
			p := parts[i-1].prior
			mean.SetVec(i, p.at(stubborn.Mean).Mean)
			cov.SetSym(i, i, cov.At(i, i)+sq2(p.SD))
		}
	}
	return mean, cov
}

// spreadOver is what lanes believe of the same.
func spreadOver(lanes []*lane, w []float64, parts []sharedPart) (*mat.VecDense, *mat.SymDense) {
	n := 1 + len(parts)
	mean, cov := mat.NewVecDense(n, nil), mat.NewSymDense(n, nil)
	at := make([][]float64, len(lanes))
	within := make([]float64, n)
	for k, l := range lanes {
		at[k] = make([]float64, n)
		at[k][0] = l.ell
		for i := range parts {
			x := parts[i].now(l)
			at[k][1+i] = x.Mean
			within[1+i] += w[k] * sq2(x.SD)
		}
		for i, x := range at[k] {
			mean.SetVec(i, mean.AtVec(i)+w[k]*x)
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

// ofGarden turns what is known of how stubborn a bed is into what that says of the garden's share: the bed's own comes on top
// of it.
func ofGarden(g gauss, parts []sharedPart, curved float64) (out said) {
	own, share := sq2(bedShare*curved), gardenShare*curved
	whole := g.info.At(0, 0) + 1/own
	if !(whole > 0) {
		return said{}
	}
	n := 1 + len(parts)
	out = said{nothing(n), []int{0}}
	with := func(i int) float64 { // how the bed's stubbornness goes with each
		if i == 0 {
			return -share / own
		}
		return g.info.At(0, i)
	}
	for i := range n {
		lean, info := 0.0, sq2(share)/own
		if i > 0 {
			out.places = append(out.places, parts[i-1].place)
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

// others is what a spread over the garden's share and what is shared says of a bed.
func (c *common) others(b *Bed, places []int, mean *mat.VecDense, cov *mat.SymDense) (o Others) {
	share := gardenShare * b.Curved
	v := sq2(share)*cov.At(0, 0) + sq2(bedShare*b.Curved)
	o = Others{Stubborn: Normal{share * mean.AtVec(0), math.Sqrt(v)}, Bias: map[soil.Method]Slanted{}, Strength: map[string]Slanted{}}
	for i, p := range places[1:] {
		with := share * cov.At(0, i+1)
		x := Slanted{Slope: with / v, SD: math.Sqrt(max(cov.At(i+1, i+1)-sq2(with)/v, 1e-10))}
		x.Mean = mean.AtVec(i+1) - x.Slope*o.Stubborn.Mean
		if p <= len(c.methods) {
			o.Bias[c.methods[p-1]] = x
		} else {
			o.Strength[c.batches[p-1-len(c.methods)]] = x
		}
	}
	return o
}
