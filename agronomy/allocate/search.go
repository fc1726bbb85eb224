package allocate

import (
	"container/heap"
	"math"
	"slices"
)

// cases is a search node: the stocks that each bed must not and must be given, as bits.
type cases struct {
	ban, must []uint16
	bound     float64
}

func (c *cases) with(bed int, ban, must uint16) *cases {
	n := &cases{ban: append([]uint16(nil), c.ban...), must: append([]uint16(nil), c.must...), bound: c.bound}
	n.ban[bed] |= ban
	n.must[bed] |= must
	return n
}

// open is the priority queue of nodes, most promising first.
type open []*cases

func (o open) Len() int           { return len(o) }
func (o open) Less(i, j int) bool { return o[i].bound < o[j].bound }
func (o open) Swap(i, j int)      { o[i], o[j] = o[j], o[i] }

// Push implements heap.Interface.
func (o *open) Push(x any) { *o = append(*o, x.(*cases)) }

// Pop implements heap.Interface.
func (o *open) Pop() any {
	last := (*o)[len(*o)-1]
	*o = (*o)[:len(*o)-1]
	return last
}

// found is the best plan so far.
type found struct {
	x     [][]float64
	gap   [stages]float64
	nodes int
}

// Limits on nodes per stage, fewer where each takes longer.
const (
	mostCases = 4000
	perBeds   = 20
	mostTies  = 16
)

// solve runs the stages in order; each keeps the objectives of those before.
func (g *garden) solve(w *Work) found {
	g.work = w
	best := found{x: make([][]float64, len(g.beds))}
	for i := range best.x {
		best.x[i] = make([]float64, len(g.stocks))
	}
	limits := make([]float64, 0, len(g.rows)+stages)
	for _, m := range g.rows {
		limits = append(limits, float64(*g.stocks[m].OnHand)/1000)
	}
	for stage := range stages {
		// The later stages cannot begin before the earlier ones end: each has an equal share of what is left.
		g.work.share(1/float64(stages-stage), func() { g.stage(stage, limits, &best) })
		v := g.value(stage, best.x)
		limits = append(limits, v+1e-9*(1+v))
	}
	return best
}

// value returns a plan's objective in a stage.
func (g *garden) value(stage int, x [][]float64) (sum float64) {
	for i := range g.beds {
		b := &g.beds[i]
		u, uk := b.shortfall(x[i])
		switch stage {
		case stageShortfall:
			sum += u * float64(b.Area)
		case stageK2O:
			sum += uk * float64(b.Area)
		case stageCost:
			for m, a := range x[i] {
				sum += a * float64(b.Area) / 1000 * g.stocks[m].Price
			}
		case stageBought:
			for m, a := range x[i] {
				if g.stocks[m].Bought {
					sum += a * float64(b.Area) / 1000
				}
			}
		default:
			for m, a := range x[i] {
				if a > 0 {
					sum++
				}
				if g.stocks[m].OnHand != nil {
					sum += b.rank * a * float64(b.Area) / 1000
				}
			}
		}
	}
	return sum
}

// stage minimises one objective by branch and bound, from the best plan so far.
func (g *garden) stage(stage int, limits []float64, best *found) {
	most := g.value(stage, best.x)
	root := &cases{ban: make([]uint16, len(g.beds)), must: make([]uint16, len(g.beds)), bound: math.Inf(-1)}
	todo := &open{root}
	least, looked := math.Inf(1), 0
	many := max(8, mostCases/(1+len(g.beds)/perBeds))
	if stage == stageTies {
		many = mostTies
	}
	// outer bounds what mixtures that were not listed could reach.
	outer := math.Inf(1)
	for todo.Len() > 0 && looked < many && (looked == 0 || g.work.spend(1)) {
		c := heap.Pop(todo).(*cases)
		if c.bound >= most-closeTo(most) {
			least = min(least, c.bound)
			break
		}
		looked++
		r := g.relax(stage, limits, c)
		if g.partly && c == root {
			outer = g.outer(stage, r.prices, limits)
		}
		if r.stopped {
			least = min(least, max(r.bound, c.bound))
		}
		if r.bound = max(r.bound, c.bound); !r.ok || r.bound >= most-closeTo(most) {
			continue
		}
		bed, stock := g.settle(stage, limits, c, &r, &most, best)
		if bed < 0 {
			continue
		}
		for _, n := range []*cases{c.with(bed, 1<<stock, 0), c.with(bed, 0, 1<<stock)} {
			n.bound = r.bound
			heap.Push(todo, n)
		}
	}
	for _, c := range *todo {
		least = min(least, c.bound)
	}
	best.nodes += looked
	if least = min(least, most, outer); most > closeTo(most) {
		best.gap[stage] = max(0, (most-least)/most)
		if best.gap[stage] < 1e-7 {
			best.gap[stage] = 0
		}
	}
}

// settle makes plans of a node's solution, keeps the best in best with its objective in most, and returns the bed and
// the stock to branch on; bed is -1 where the node needs no branches, or the work ended.
func (g *garden) settle(stage int, limits []float64, c *cases, r *relaxed, most *float64, best *found) (bed, stock int) {
	keep := func(x [][]float64, v float64) {
		if v < *most {
			*most, best.x = v, x
		}
	}
	if bed, stock = g.broken(r.x); bed < 0 {
		v := g.value(stage, r.x)
		keep(r.x, v)
		if stage == stageTies && v > r.bound+closeTo(v) {
			bed, stock = g.spread(r.x, c)
		}
		if bed < 0 {
			return bed, stock
		}
	} else if x, v, ok := g.rounded(stage, limits, c, r.x); ok {
		keep(x, v)
	}
	if r.stopped {
		if stage == stageShortfall { // nothing was decided before that it could break
			keep(g.dropped(stage, r.x))
		}
		return -1, 0
	}
	return bed, stock
}

// closeTo returns the tolerance within which a plan counts as optimal.
func closeTo(v float64) float64 { return 1e-6 + 1e-9*math.Abs(v) }

// broken returns the bed whose amount is furthest below a smallest amount, or -1.
func (g *garden) broken(x [][]float64) (bed, stock int) {
	bed = -1
	worst := close
	for i := range x {
		for m, a := range x[i] {
			if least := float64(g.stocks[m].Least); a > close && a < least-close {
				if short := min(a, least-a) * float64(g.beds[i].Area); short > worst {
					worst, bed, stock = short, i, m
				}
			}
		}
	}
	return bed, stock
}

// spread returns the bed given several stocks and the smallest of these that the node does not
// require, or -1.
func (g *garden) spread(x [][]float64, of *cases) (bed, stock int) {
	bed = -1
	least := math.Inf(1)
	for i := range x {
		n := 0
		for _, a := range x[i] {
			if a > 0 {
				n++
			}
		}
		for m, a := range x[i] {
			if kg := a * float64(g.beds[i].Area); n > 1 && a > 0 && of.must[i]>>m&1 == 0 && kg < least {
				least, bed, stock = kg, i, m
			}
		}
	}
	return bed, stock
}

// dropped leaves out what a mixture gives below a smallest amount: less of anything breaks no limit.
func (g *garden) dropped(stage int, x [][]float64) ([][]float64, float64) {
	out := make([][]float64, len(x))
	for i := range x {
		out[i] = slices.Clone(x[i])
		for m, a := range out[i] {
			if a < float64(g.stocks[m].Least)-close {
				out[i][m] = 0
			}
		}
	}
	return out, g.value(stage, out)
}

// rounded makes a feasible plan of a mixture: each bed is given only the stocks of which it had a
// smallest amount.
func (g *garden) rounded(stage int, limits []float64, of *cases, x [][]float64) (out [][]float64, v float64, ok bool) {
	n := of
	for i := range x {
		var ban, must uint16
		for m, a := range x[i] {
			switch {
			case a >= float64(g.stocks[m].Least)-close && a > close:
				must |= 1 << m
			case a > close && of.must[i]>>m&1 == 0:
				ban |= 1 << m
			}
		}
		if ban != 0 || must != 0 {
			if n == of {
				n = of.with(i, ban, must)
			} else {
				n.ban[i] |= ban
				n.must[i] |= must
			}
		}
	}
	r := g.relax(stage, limits, n)
	if !r.ok {
		return nil, 0, false
	}
	if bed, _ := g.broken(r.x); bed >= 0 {
		return nil, 0, false
	}
	return r.x, g.value(stage, r.x), true
}
