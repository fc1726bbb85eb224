package forecast

import (
	"math"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Doubt is the joint uncertainty of the inputs: the reading (normal, pH), the method and the
// strength (normal, in the logarithm), and free lime (uniform in its range).
type Doubt struct {
	Curve soil.Curve
	// From is the reading, SD its standard deviation, 0 for none.
	From quantity.PH
	SD   float64
	// Method is that of the need, Strength that of the application.
	Method, Strength float64
	// LimeLow and LimeHigh bound the acid that free lime consumes.
	LimeLow, LimeHigh quantity.Rate
	// Joint are weighted samples of level and buffering relative to the curve Base; none: From and
	// Method are independent.
	Joint []soil.Draw
	Base  soil.Curve

	// parts are the uncertainties of the single samples, once computed.
	parts []Doubt
	// starts are the amounts at the nodes of the reading, once computed.
	starts [mostNodes]float64
	nodes  []node
}

// node is a quadrature node of a normal.
type node struct{ z, w float64 }

// Of the reading and the factor (method and strength together) the wider one is integrated exactly,
// the other at the seven Gauss–Hermite nodes, which is exact to far less than 0.1 % for a smooth
// curve. A nearly level curve is not smooth and is integrated in even steps.
var (
	smooth = []node{{-3.7504397177257425, 0.0005482688559722}, {-2.366759410734541, 0.0307571239675865},
		{-1.1544053947399682, 0.2401231786050127},
		{0, 0.4571428571428571}, {1.1544053947399682, 0.2401231786050127}, {2.366759410734541, 0.0307571239675865}, {3.7504397177257425,
			0.0005482688559722}}
	even = evenNodes()
)

const (
	mostNodes = 57
	evenReach = 3.5
)

func evenNodes() []node {
	out := make([]node, mostNodes)
	sum := 0.0
	for i := range out {
		z := evenReach * (2*float64(i)/(mostNodes-1) - 1)
		out[i] = node{z, math.Exp(-z * z / 2)}
		sum += out[i].w
	}
	for i := range out {
		out[i].w /= sum
	}
	return out
}

// limeNodes is the number of even steps for free lime, which may be by far the widest uncertainty.
const limeNodes = 40

// A table of the normal distribution: a dose evaluates it thousands of times.
const (
	phiReach = 5.0
	phiSteps = 256
)

var phiTable = func() (out [phiSteps + 2]float64) {
	for i := range out {
		z := -phiReach + 2*phiReach*float64(i)/phiSteps
		out[i] = 0.5 * math.Erfc(-z/math.Sqrt2)
	}
	return out
}()

// phi returns the standard normal distribution function.
func phi(z float64) float64 {
	at := (z + phiReach) * (phiSteps / (2 * phiReach))
	switch {
	case !(at > 0):
		return 0
	case at >= phiSteps:
		return 1
	}
	i := int(at)
	return phiTable[i] + (phiTable[i+1]-phiTable[i])*(at-float64(i))
}

// A table of the logarithm by mantissa, accurate to 2e-6.
const (
	lnBits     = 8
	mantissa   = 52
	lnFraction = mantissa - lnBits
)

var lnTable = func() (out [1<<lnBits + 1]float64) {
	for i := range out {
		out[i] = math.Log1p(float64(i) / (1 << lnBits))
	}
	return out
}()

// ln returns the natural logarithm of a positive number.
func ln(x float64) float64 {
	bits := math.Float64bits(x)
	exponent := int(bits>>mantissa) - 1023
	i := bits >> lnFraction & (1<<lnBits - 1)
	rest := float64(bits&(1<<lnFraction-1)) / (1 << lnFraction)
	return float64(exponent)*math.Ln2 + lnTable[i] + (lnTable[i+1]-lnTable[i])*rest
}

// exactSD is the least standard deviation of a reading.
const exactSD = 1e-3

// prepare computes the nodes and the amounts at the possible starts.
func (d *Doubt) prepare() {
	if d.nodes != nil {
		return
	}
	if d.nodes = smooth; d.Curve.Uneven() {
		d.nodes = even
	}
	sd := max(d.SD, exactSD)
	for i, n := range d.nodes {
		d.starts[i] = d.Curve.Amount(d.From + quantity.PH(sd*n.z))
	}
}

// Outcome is the distribution of the final pH after an amount.
type Outcome struct {
	d      *Doubt
	amount float64
	// sd is the standard deviation of the reading, log that of the factor.
	sd, log float64
	// wide is set when the factor is the wider of the two.
	wide    bool
	factors [mostNodes]float64
	central quantity.PH
	// joint are the outcomes of the single samples.
	joint []Outcome
}

// each returns the uncertainties of the single samples for an amount, widened by the model error of
// a move.
func (d *Doubt) each(amount float64) []Doubt {
	if d.parts == nil {
		d.parts = make([]Doubt, len(d.Joint))
		for i, x := range d.Joint {
			d.parts[i] = Doubt{Curve: d.Base.Scaled(x.Factor), From: x.Start, SD: x.SD}
		}
	}
	for i := range d.parts {
		d.parts[i].Strength = d.Strength
		d.parts[i].Method = min(math.Sqrt(doseNoise/max(math.Abs(amount), 1)), mostMoveDoubt)
	}
	return d.parts
}

// mostMoveDoubt limits the model error of a move, in the logarithm.
const mostMoveDoubt = 0.4

// Of returns the outcome of a signed amount that reacts fully.
func (d *Doubt) Of(caco3 quantity.Rate) Outcome {
	d.prepare()
	if len(d.Joint) > 0 && caco3 >= 0 {
		return d.jointly(caco3)
	}
	o := Outcome{d: d, amount: float64(caco3), sd: max(d.SD, exactSD), log: max(math.Hypot(d.Method, d.Strength), exactSD)}
	mid := 0.0
	if caco3 < 0 {
		mid = float64(d.LimeLow+d.LimeHigh) / 2
	}
	o.central = d.Curve.Settle(d.From, quantity.Rate(o.spent(mid)))
	if o.wide = o.log*math.Abs(float64(o.central-d.From)) > o.sd; !o.wide {
		d.factorsOf(&o.factors, o.log)
	}
	return o
}

// jointly returns the outcome of an amount by the joint samples.
func (d *Doubt) jointly(caco3 quantity.Rate) Outcome {
	o := Outcome{d: d, amount: float64(caco3), sd: max(d.SD, exactSD), log: max(math.Hypot(d.Method, d.Strength), exactSD),
		central: d.Curve.Settle(d.From, caco3)}
	parts := d.each(float64(caco3))
	o.joint = make([]Outcome, len(parts))
	for i := range parts {
		o.joint[i] = parts[i].Of(caco3)
	}
	return o
}

// factorsOf returns the nodes of a factor with a standard deviation in the logarithm.
func (d *Doubt) factorsOf(f *[mostNodes]float64, log float64) {
	for i, n := range d.nodes {
		f[i] = math.Exp(log * n.z)
	}
}

// spent returns the part of the amount that is left after free lime.
func (o *Outcome) spent(lime float64) float64 {
	if o.amount < 0 {
		return math.Min(0, o.amount+lime)
	}
	return o.amount
}

// Below returns the probability of ending below a pH. No bed ends outside soil.LeastPH and
// soil.MostPH.
func (o *Outcome) Below(ph quantity.PH) float64 {
	switch {
	case ph > soil.MostPH:
		return 1
	case ph <= soil.LeastPH:
		return 0
	}
	if len(o.joint) > 0 {
		sum := 0.0
		for i := range o.joint {
			sum += o.d.Joint[i].Weight * o.joint[i].Below(ph)
		}
		return sum
	}
	if o.amount >= 0 || o.d.LimeHigh <= 0 {
		return o.below(ph, o.amount)
	}
	sum, width := 0.0, float64(o.d.LimeHigh-o.d.LimeLow)
	for l := range limeNodes {
		sum += o.below(ph, o.spent(float64(o.d.LimeLow)+width*(float64(l)+0.5)/limeNodes))
	}
	return sum / limeNodes
}

// below is Below without the bounds, for an amount left after free lime.
func (o *Outcome) below(ph quantity.PH, amount float64) float64 {
	if amount == 0 {
		return phi(float64(ph-o.d.From) / o.sd)
	}
	at := o.d.Curve.Amount(ph)
	sum := 0.0
	if o.wide {
		// From each start it ends below if the factor is not too large.
		for i := range o.d.nodes {
			sum += o.d.nodes[i].w * lessThan(at-o.d.starts[i], amount, o.log)
		}
		return sum
	}
	hint := 1
	for i := range o.d.nodes {
		// With each factor it ends below if it started below a pH.
		sum += o.d.nodes[i].w * phi(float64(o.d.Curve.PHAt(at-amount*o.factors[i], &hint)-o.d.From)/o.sd)
	}
	return sum
}

// lessThan returns the probability that a signed amount times a lognormal factor is less than x.
func lessThan(x, amount, log float64) float64 {
	switch q := x / amount; {
	case q <= 0:
		if amount > 0 {
			return 0
		}
		return 1
	case amount > 0:
		return phi(ln(q) / log)
	default:
		return 1 - phi(ln(q)/log)
	}
}

// quantileSteps is the most iterations of a quantile, quantileNear the tolerance of its
// probability.
const (
	quantileSteps = 16
	quantileNear  = 5e-4
)

// Quantile returns the pH that the bed ends below with a probability.
func (o *Outcome) Quantile(chance, z float64) quantity.PH {
	if o.amount == 0 && len(o.joint) == 0 {
		return max(soil.LeastPH, min(soil.MostPH, o.d.From+quantity.PH(z*o.sd)))
	}
	moved := math.Abs(float64(o.central - o.d.From))
	sd := math.Hypot(o.sd, o.log*moved)
	guess := float64(o.central) + z*sd
	// Probability beyond a bound gathers at the bound, and the quantile is the bound.
	if guess < float64(soil.LeastPH)+nearEnd && o.Below(soil.LeastPH+snap) >= chance {
		return soil.LeastPH
	}
	if guess > float64(soil.MostPH)-nearEnd && o.Below(soil.MostPH-snap) <= chance {
		return soil.MostPH
	}
	x := quantity.PH(solve(guess, sd, chance, func(x float64) float64 { return o.Below(quantity.PH(x)) }))
	return max(soil.LeastPH, min(soil.MostPH, x))
}

// snap is the distance to a bound that counts as the bound.
const snap quantity.PH = 0.005

// nearEnd is the distance from which bounds are considered.
const nearEnd = 0.6

// solve finds where a rising function reaches a probability: by bracketed secants from a guess.
func solve(guess, scale, chance float64, share func(float64) float64) float64 {
	lo, hi := math.Inf(-1), math.Inf(1)
	x, slope := guess, 0.0
	var x0, f0 float64
	for n := range quantileSteps {
		f := share(x) - chance
		if math.Abs(f) < quantileNear {
			return x
		}
		if n > 0 && (math.IsInf(lo, -1) || math.IsInf(hi, 1)) {
			scale *= 1.5 // the tail reaches further than the guess assumed
		}
		if f < 0 {
			lo = max(lo, x)
		} else {
			hi = min(hi, x)
		}
		if n > 0 && x != x0 {
			slope = (f - f0) / (x - x0)
		} else {
			slope = 0.4 / scale * math.Exp(-0.5*2.7)
		}
		x0, f0 = x, f
		if slope > 1e-9 {
			x -= max(min(f/slope, scale), -scale)
		} else {
			x -= math.Copysign(scale, f)
		}
		if x <= lo || x >= hi {
			switch {
			case math.IsInf(lo, -1):
				x = hi - scale
			case math.IsInf(hi, 1):
				x = lo + scale
			default:
				x = (lo + hi) / 2
			}
		}
	}
	return x
}

// Central returns the final pH with every input at its median.
func (o *Outcome) Central() quantity.PH { return o.central }

// Need returns two quantiles of the amount for a target, from the uncertainties of reading, method
// and free lime.
func (d *Doubt) Need(to quantity.PH, need quantity.Rate, low, high float64) (lo, hi quantity.Rate) {
	share, scale := d.needs(to, need)
	a := solve(float64(need)-scale, scale, low, share)
	b := solve(float64(need)+scale, scale, high, share)
	return quantity.Rate(a), quantity.Rate(b)
}

// Median returns the median need by joint samples, near `need`.
func (d *Doubt) Median(to quantity.PH, need quantity.Rate) quantity.Rate {
	share, scale := d.needs(to, need)
	return quantity.Rate(solve(float64(need), scale, 0.5, share))
}

// needs returns the distribution function of the signed need, and its approximate width.
func (d *Doubt) needs(to quantity.PH, need quantity.Rate) (share func(n float64) float64, scale float64) {
	d.prepare()
	if len(d.Joint) > 0 && need >= 0 {
		parts := d.each(float64(need))
		below := make([]func(float64) float64, len(parts))
		for i := range parts {
			var wide float64
			below[i], wide = parts[i].needs(to, need)
			scale += d.Joint[i].Weight * wide
		}
		return func(n float64) float64 {
			sum := 0.0
			for i := range below {
				sum += d.Joint[i].Weight * below[i](n)
			}
			return sum
		}, scale
	}
	sd, log := max(d.SD, exactSD), max(d.Method, exactSD)
	want := d.Curve.Amount(to)
	slope := math.Abs(d.Curve.Amount(d.From+0.05)-d.Curve.Amount(d.From-0.05)) * 10
	wide := log*math.Abs(want-d.Curve.Amount(d.From)) > slope*sd
	var factors [mostNodes]float64
	d.factorsOf(&factors, log)
	// The probability that the need, signed and without free lime, is below n.
	below := func(n float64) float64 {
		sum, hint := 0.0, 1
		for i := range d.nodes {
			if wide {
				sum += d.nodes[i].w * lessThan(n, want-d.starts[i], log)
				continue
			}
			// (want − C(start)) times the factor is below n if C(start) is above this.
			begins := d.Curve.PHAt(want-n/factors[len(d.nodes)-1-i], &hint)
			sum += d.nodes[i].w * phi(float64(d.From-begins)/sd)
		}
		return sum
	}
	scale = math.Hypot(float64(need)*log, slope*sd) + float64(d.LimeHigh-d.LimeLow)/3 + 1
	if need >= 0 || d.LimeHigh <= 0 {
		return below, scale
	}
	return func(n float64) float64 {
		sum := 0.0
		for l := range limeNodes {
			sum += below(n + float64(d.LimeLow) + float64(d.LimeHigh-d.LimeLow)*(float64(l)+0.5)/limeNodes)
		}
		return sum / limeNodes
	}, scale
}
