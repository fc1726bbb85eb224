package forecast

import (
	"math"
	"runtime"
	"slices"
	"sync"

	"gonum.org/v1/gonum/mat"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Normal is a normal spread.
type Normal struct{ Mean, SD float64 }

// Slanted is a normal spread whose mean goes with the buffering that a bed has shown: Mean where it is as its method has it, Slope
// more for each step of its logarithm. Where lime moved a bed little, the lime was weak or the bed is stubborn: others know
// the two only together.
type Slanted struct{ Mean, Slope, SD float64 }

// at returns the spread at a point of the grid.
func (s Slanted) at(ell float64) Normal { return Normal{s.Mean + s.Slope*ell, s.SD} }

// stepped returns a figure in steps of a hundredth, a spread of one at least.
func stepped(x float64) float64   { return quantity.Round(x, 2) }
func steppedSD(x float64) float64 { return max(stepped(x), 0.01) }

// Others is what the other beds of a garden say of one; the zero Others says nothing.
type Others struct {
	// Stubborn is the buffering that the bed has shown, in the logarithm; no sd: as its method has it.
	Stubborn Normal
	// Bias is how far a method reads off here, pH; Strength how strong a batch is beside what it was computed as, in the
	// logarithm, so that a weak batch and a stubborn bed lie on a straight line.
	Bias     map[soil.Method]Slanted
	Strength map[string]Slanted
}

// gridAt returns a point of the grid: the logarithm of the buffering that a bed has shown beside
// its method.
func gridAt(i int) float64 { return gridReach * (2*float64(i)/(gridPoints-1) - 1) }

// prior returns how likely a point of the grid is before the bed's own readings, in the logarithm.
func (b *Model) prior(i int) float64 {
	p := b.stubborn()
	log := -sq2((gridAt(i)-p.Mean)/p.SD) / 2
	if b.lean != nil {
		log += b.lean[i]
	}
	return log
}

// stubborn returns the buffering that the bed has shown thought to be before its own readings.
func (b *Model) stubborn() Normal {
	if b.Others.Stubborn.SD > 0 {
		return b.Others.Stubborn
	}
	return Normal{0, b.Curved}
}

// bias returns how far a method is thought to read off.
func (b *Model) bias(m soil.Method) Slanted {
	if known, ok := b.Others.Bias[m]; ok {
		return known
	}
	return Slanted{SD: usualBias(m)}
}

// strength returns how strong a batch is thought to be.
func (b *Model) strength(g *Addition) Slanted {
	if known, ok := b.Others.Strength[g.Batch]; ok {
		return known
	}
	return Slanted{SD: g.StrengthSD}
}

// MethodBias returns how far a method may read off in one garden, always alike: sd, pH.
func MethodBias(m soil.Method) float64 { return usualBias(m) }

func usualBias(m soil.Method) float64 {
	if sd, ok := methodBias[m]; ok {
		return sd
	}
	return methodBiasUnknown
}

// The garden's own share of how stubborn its beds are, and each bed's, of the method's doubt (field guide, section 9).
const (
	gardenShare = 0.8
	bedShare    = 0.6
)

// Shared is what the beds of a garden say together.
type Shared struct {
	// Stubborn is the garden's share of how stubborn its ground is, in sds of what is usual.
	Stubborn Normal
	// Bias is by method, Strength by batch that more beds than one got: how strong it is beside what it was computed as, in the
	// logarithm. Beds is how many got it.
	Bias     map[soil.Method]Normal
	Strength map[string]Normal
	Beds     map[string]int
}

// common is what beds have in common, in the order of its state: the garden's share, then methods, then batches that more
// beds than one got.
type common struct {
	methods []soil.Method
	batches []string
	sd      []float64
	beds    map[string]int
}

func commonOf(beds []Model) (c common) {
	c.beds = map[string]int{}
	reckoned := map[string]float64{}
	for i := range beds {
		for _, r := range beds[i].Readings {
			if !slices.Contains(c.methods, r.Method) {
				c.methods = append(c.methods, r.Method)
			}
		}
		has := map[string]bool{}
		for _, g := range beds[i].Additions {
			if reckoned[g.Batch] = g.StrengthSD; !has[g.Batch] {
				has[g.Batch] = true
				c.beds[g.Batch]++
			}
		}
	}
	for name, n := range c.beds {
		if n > 1 {
			c.batches = append(c.batches, name)
		}
	}
	slices.Sort(c.methods)
	slices.Sort(c.batches)
	c.sd = []float64{1}
	for _, m := range c.methods {
		c.sd = append(c.sd, usualBias(m))
	}
	for _, b := range c.batches {
		c.sd = append(c.sd, reckoned[b])
	}
	return c
}

// place returns where something stands among what is in common; below 0 where it does not.
func (c *common) place(k key) int {
	switch {
	case k == key{}:
		return 0
	case k.method != "":
		return 1 + slices.Index(c.methods, k.method)
	}
	if i := slices.Index(c.batches, k.batch); i >= 0 {
		return 1 + len(c.methods) + i
	}
	return -1
}

// Together is what the beds of a garden say, put together: each may be told what the others do. How stubborn ground here
// is, how far each method reads off, how strong each batch is; in which order beds come does not matter. Each is asked
// once: what it says of all that it shares goes together, so that to ask it again, given the others, tells no more (and was
// found to make what is reported too sure).
type Together struct {
	common common
	beds   []Model
	tells  []told
	mean   *mat.VecDense
	cov    *mat.SymDense
}

// Gather puts together what beds say. said are those that were asked before, nil or zero for those to be asked now.
func Gather(beds []Model, said []Said) *Together {
	t := &Together{common: commonOf(beds), beds: beds, tells: make([]told, len(beds))}
	all := make([]Said, len(beds))
	copy(all, said)
	Each(len(beds), func(i int) {
		if all[i].keys == nil {
			all[i] = beds[i].Say()
		}
		t.tells[i] = t.common.tells(&all[i], beds[i].Curved)
	})
	sum := nothing(len(t.common.sd))
	for i, sd := range t.common.sd {
		sum.info.SetSym(i, i, 1/sq2(sd))
	}
	for i := range t.tells {
		if t.tells[i].places != nil {
			sum.take(&t.tells[i].gauss, t.tells[i].places)
		}
	}
	t.mean, t.cov, _ = sum.moments()
	return t
}

// Others returns what the other beds say of one, in steps of a hundredth: what moves it less makes
// no other figure of it.
func (t *Together) Others(i int) (o Others) {
	if t.mean == nil || t.tells[i].places == nil {
		return o
	}
	// What all know of what this bed shares, without what it said itself.
	others, ok := informed(picked(t.mean, t.cov, t.tells[i].places))
	if !ok {
		return o
	}
	others.less(&t.tells[i].gauss)
	if m, v, ok := others.moments(); ok {
		o = t.common.others(&t.beds[i], t.tells[i].places, m, v)
	}
	return o
}

// Shared returns what they say together.
func (t *Together) Shared() Shared {
	out := Shared{Bias: map[soil.Method]Normal{}, Strength: map[string]Normal{}, Beds: t.common.beds}
	if t.mean == nil {
		return out
	}
	at := func(i int) Normal { return Normal{t.mean.AtVec(i), math.Sqrt(max(t.cov.At(i, i), 1e-12))} }
	out.Stubborn = at(0)
	for i, m := range t.common.methods {
		out.Bias[m] = at(1 + i)
	}
	for i, b := range t.common.batches {
		out.Strength[b] = at(1 + len(t.common.methods) + i)
	}
	return out
}

// Each does something for each of n, as many at once as there are processors.
func Each(n int, do func(int)) {
	var wait sync.WaitGroup
	workers := min(n, runtime.GOMAXPROCS(0))
	for w := range workers {
		wait.Go(func() {
			for i := w; i < n; i += workers {
				do(i)
			}
		})
	}
	wait.Wait()
}
