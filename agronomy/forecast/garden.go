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

// Normal is a normal distribution.
type Normal struct{ Mean, SD float64 }

// Slanted is a normal distribution whose mean is linear in the logarithm of a bed's buffering: Mean
// at 0, with Slope. If lime moved a bed little, either the lime was weak or the bed is strongly
// buffered: the two are known only together.
type Slanted struct{ Mean, Slope, SD float64 }

// at returns the distribution at a point of the grid.
func (s Slanted) at(ell float64) Normal { return Normal{s.Mean + s.Slope*ell, s.SD} }

// stepped rounds to steps of 0.01; a standard deviation is at least one step.
func stepped(x float64) float64   { return quantity.Round(x, 2) }
func steppedSD(x float64) float64 { return max(stepped(x), 0.01) }

// Others is the information of a garden's other beds on one; the zero Others is none.
type Others struct {
	// Buffering is the logarithm of the bed's buffering relative to its method; SD 0: the default.
	Buffering Normal
	// Bias is the offset of a method in this garden, pH; Strength the strength of a batch relative
	// to its computed one, in the logarithm, linear in the buffering.
	Bias     map[soil.Method]Slanted
	Strength map[string]Slanted
}

// gridAt returns a point of the grid: the logarithm of the buffering relative to the method.
func gridAt(i int) float64 { return gridReach * (2*float64(i)/(gridPoints-1) - 1) }

// prior returns the log prior of a point of the grid.
func (b *Model) prior(i int) float64 {
	p := b.buffering()
	log := -sq2((gridAt(i)-p.Mean)/p.SD) / 2
	if b.lean != nil {
		log += b.lean[i]
	}
	return log
}

// buffering returns the prior of the buffering.
func (b *Model) buffering() Normal {
	if b.Others.Buffering.SD > 0 {
		return b.Others.Buffering
	}
	return Normal{0, b.Curved}
}

// bias returns the prior of a method's offset.
func (b *Model) bias(m soil.Method) Slanted {
	if known, ok := b.Others.Bias[m]; ok {
		return known
	}
	return Slanted{SD: usualBias(m)}
}

// strength returns the prior of a batch's strength.
func (b *Model) strength(g *Addition) Slanted {
	if known, ok := b.Others.Strength[g.Batch]; ok {
		return known
	}
	return Slanted{SD: g.StrengthSD}
}

// MethodBias returns the standard deviation of a method's constant offset in one garden, pH.
func MethodBias(m soil.Method) float64 { return usualBias(m) }

func usualBias(m soil.Method) float64 {
	if sd, ok := methodBias[m]; ok {
		return sd
	}
	return methodBiasUnknown
}

// How the method's variance divides between the garden and each bed (guide, section 9).
const (
	gardenShare = 0.8
	bedShare    = 0.6
)

// Shared is what the beds of a garden have in common, as estimated.
type Shared struct {
	// Buffering is the garden's share of buffering, in prior standard deviations.
	Buffering Normal
	// Bias is by method, Strength by batch that more than one bed received, in the logarithm
	// relative to its computed strength. Beds is the number of receiving beds.
	Bias     map[soil.Method]Normal
	Strength map[string]Normal
	Beds     map[string]int
}

// common indexes the state shared by the beds: the garden's share, then methods, then batches that
// more than one bed received.
type common struct {
	methods []soil.Method
	batches []string
	sd      []float64
	beds    map[string]int
}

func commonOf(beds []Model) (c common) {
	c.beds = map[string]int{}
	computed := map[string]float64{}
	for i := range beds {
		for _, r := range beds[i].Readings {
			if !slices.Contains(c.methods, r.Method) {
				c.methods = append(c.methods, r.Method)
			}
		}
		has := map[string]bool{}
		for _, g := range beds[i].Additions {
			if computed[g.Batch] = g.StrengthSD; !has[g.Batch] {
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
		c.sd = append(c.sd, computed[b])
	}
	return c
}

// place returns the index of a key in the shared state, or -1.
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

// Together combines the evidence of a garden's beds, so that each can be given that of the others:
// the garden's buffering, the offsets of methods, the strengths of batches. The order of beds does
// not matter. Each bed contributes once and jointly for all that it shares; asking again, given the
// others, would use the same evidence twice (and was found to make the ranges too narrow).
type Together struct {
	common   common
	beds     []Model
	evidence []sharedEvidence
	mean     *mat.VecDense
	cov      *mat.SymDense
}

// Gather combines the beds' evidence. said holds evidence computed before, nil or zero for beds to
// be computed now.
func Gather(beds []Model, said []Evidence) *Together {
	t := &Together{common: commonOf(beds), beds: beds, evidence: make([]sharedEvidence, len(beds))}
	all := make([]Evidence, len(beds))
	copy(all, said)
	Each(len(beds), func(i int) {
		if all[i].keys == nil {
			all[i] = beds[i].Evidence()
		}
		t.evidence[i] = t.common.evidenceOf(&all[i], beds[i].Curved)
	})
	sum := flat(len(t.common.sd))
	for i, sd := range t.common.sd {
		sum.info.SetSym(i, i, 1/sq2(sd))
	}
	for i := range t.evidence {
		if t.evidence[i].places != nil {
			sum.multiply(&t.evidence[i].gauss, t.evidence[i].places)
		}
	}
	t.mean, t.cov, _ = sum.moments()
	return t
}

// Others returns what the other beds imply for one, in steps of 0.01, so that smaller changes leave
// its results unchanged.
func (t *Together) Others(i int) (o Others) {
	if t.mean == nil || t.evidence[i].places == nil {
		return o
	}
	// What all beds know of this bed's shared state, less its own contribution.
	others, ok := fromMoments(marginal(t.mean, t.cov, t.evidence[i].places))
	if !ok {
		return o
	}
	others.divide(&t.evidence[i].gauss)
	if m, v, ok := others.moments(); ok {
		o = t.common.others(&t.beds[i], t.evidence[i].places, m, v)
	}
	return o
}

// Shared returns the combined estimate.
func (t *Together) Shared() Shared {
	out := Shared{Bias: map[soil.Method]Normal{}, Strength: map[string]Normal{}, Beds: t.common.beds}
	if t.mean == nil {
		return out
	}
	at := func(i int) Normal { return Normal{t.mean.AtVec(i), math.Sqrt(max(t.cov.At(i, i), 1e-12))} }
	out.Buffering = at(0)
	for i, m := range t.common.methods {
		out.Bias[m] = at(1 + i)
	}
	for i, b := range t.common.batches {
		out.Strength[b] = at(1 + len(t.common.methods) + i)
	}
	return out
}

// Each calls do for 0 to n-1, in parallel on all processors.
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
