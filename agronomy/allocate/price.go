package allocate

import (
	"math"
)

// pricing solves the master problem of the Dantzig–Wolfe decomposition: prices of the limited rows,
// and the bound given by the sum of each bed's best corner at those prices. Its columns are whole
// plans; it has a row for each stock that runs out and for each objective of earlier stages, and a
// convexity row by which the weights of its plans sum to 1.
type pricing struct {
	g     *garden
	stage int
	// limits are the right sides of the rows.
	limits []float64
	// flat are the figures of the corners of each bed that the node allows, in sequence: objective,
	// then rows; ids are their indexes.
	flat    [][]float64
	ids     [][]int32
	columns []column
	// size is the number of corners.
	size int
	// basis are the columns in use by row; a negative entry -1-i is the slack of row i. inverse is
	// of the basis matrix, value the weight of each column.
	basis   []int
	inverse [][]float64
	value   []float64
}

// column is a plan: its objective in this stage, its use of each row, and the corner of each bed;
// nil corners are the artificial plan to start from.
type column struct {
	obj     float64
	rows    []float64
	corners []int32
}

// Limits on rounds and pivots, and the tolerance of the bound.
const (
	mostRounds = 1500
	mostPivots = 5000
	enough     = 1e-9
)

func newPricing(g *garden, stage int, limits []float64) *pricing {
	n := len(limits)
	p := &pricing{g: g, stage: stage, limits: limits, basis: make([]int, n+1), value: make([]float64, n+1), inverse: make([][]float64, n+1)}
	unpayable := 1.0
	for i := range g.beds {
		most := 0.0
		for _, c := range g.beds[i].corners {
			most = max(most, c.obj[stage])
		}
		unpayable += most
	}
	p.columns = []column{{obj: 1e6 * unpayable, rows: make([]float64, n)}}
	for r := range p.basis {
		p.basis[r], p.inverse[r] = -1-r, make([]float64, n+1)
		p.inverse[r][r] = 1
		if r < n {
			p.value[r] = limits[r]
		}
	}
	p.basis[n], p.value[n] = 0, 1
	return p
}

// allow selects the corners that a node allows; false if it leaves a bed none.
func (p *pricing) allow(of *cases) bool {
	n := len(p.limits)
	p.flat, p.ids = make([][]float64, len(p.g.beds)), make([][]int32, len(p.g.beds))
	for i := range p.g.beds {
		b := &p.g.beds[i]
		if of.ban[i] == 0 && of.must[i] == 0 && b.flatOf == p.stage && b.flat != nil {
			p.flat[i], p.ids[i] = b.flat, b.ids
			p.size += len(b.ids)
			continue
		}
		corners := b.corners
		flat, ids := make([]float64, 0, len(corners)*(n+1)), make([]int32, 0, len(corners))
		for k := range corners {
			x := &corners[k]
			if x.used&of.ban[i] == 0 && x.used&of.must[i] == of.must[i] {
				flat, ids = append(append(flat, x.obj[p.stage]), x.rows[:n]...), append(ids, int32(k))
			}
		}
		if len(ids) == 0 {
			return false
		}
		p.flat[i], p.ids[i] = flat, ids
		p.size += len(ids)
		if of.ban[i] == 0 && of.must[i] == 0 {
			b.flat, b.ids, b.flatOf = flat, ids, p.stage
		}
	}
	return true
}

// entry returns a column's coefficient in a row.
func (p *pricing) entry(c, r int) float64 {
	switch {
	case c < 0 && r == -1-c, c >= 0 && r == len(p.limits):
		return 1
	case c < 0:
		return 0
	}
	return p.columns[c].rows[r]
}

func (p *pricing) objective(c int) float64 {
	if c < 0 {
		return 0
	}
	return p.columns[c].obj
}

// duals returns the prices of the rows by the current basis.
func (p *pricing) duals() []float64 {
	out := make([]float64, len(p.basis))
	for r, c := range p.basis {
		if o := p.objective(c); o != 0 {
			for k := range out {
				out[k] += o * p.inverse[r][k]
			}
		}
	}
	return out
}

func (p *pricing) total() (sum float64) {
	for r, c := range p.basis {
		sum += p.value[r] * p.objective(c)
	}
	return sum
}

// better returns the column or slack with the most negative reduced cost; ok is false if there is
// none.
func (p *pricing) better(duals []float64) (at int, ok bool) {
	n := len(p.limits)
	least := -enough * (1 + math.Abs(p.total()))
	for c := -n; c < len(p.columns); c++ {
		d := p.objective(c)
		for r := range n + 1 {
			d -= duals[r] * p.entry(c, r)
		}
		if d < least {
			least, at, ok = d, c, true
		}
	}
	return at, ok
}

// pivot brings a column into the basis; false if it cannot.
func (p *pricing) pivot(c int) bool {
	n := len(p.basis)
	way := make([]float64, n)
	for r := range way {
		for k := range n {
			way[r] += p.inverse[r][k] * p.entry(c, k)
		}
	}
	out, step := -1, math.Inf(1)
	for r := range way {
		if way[r] > 1e-11 {
			if s := max(0, p.value[r]) / way[r]; s < step-1e-15 || s <= step && out >= 0 && p.basis[r] > p.basis[out] {
				out, step = r, s
			}
		}
	}
	if out < 0 {
		return false
	}
	for k := range n {
		p.inverse[out][k] /= way[out]
	}
	for r := range way {
		if r == out {
			continue
		}
		p.value[r] -= step * way[r]
		for k := range n {
			p.inverse[r][k] -= way[r] * p.inverse[out][k]
		}
	}
	p.basis[out], p.value[out] = c, step
	return true
}

// settle solves the master problem over the current columns.
func (p *pricing) settle() []float64 {
	duals := p.duals()
	for range mostPivots {
		c, ok := p.better(duals)
		if !ok || !p.pivot(c) {
			break
		}
		duals = p.duals()
	}
	return duals
}

// cheapest returns the plan of each bed's best corner at the given prices, and the bound that it
// proves.
func (p *pricing) cheapest(prices []float64) (c column, bound float64) {
	n := len(prices) + 1
	c = column{rows: make([]float64, len(p.limits)), corners: make([]int32, len(p.g.beds))}
	for i := range p.g.beds {
		best, at := math.Inf(1), 0
		flat := p.flat[i]
		for k := 0; k < len(flat); k += n {
			x := flat[k : k+n]
			cost := x[0]
			for r, price := range prices {
				cost += price * x[r+1]
			}
			if cost < best {
				best, at = cost, k
			}
		}
		c.corners[i] = p.ids[i][at/n]
		c.obj += flat[at]
		for r := range c.rows {
			c.rows[r] += flat[at+1+r]
		}
		bound += best
	}
	for r, price := range prices {
		bound -= price * p.limits[r]
	}
	return c, bound
}

// relaxed is the solution of a node's convex relaxation, where beds may be given mixtures of their
// corners.
type relaxed struct {
	bound float64
	x     [][]float64
	ok    bool
	// prices are those of the bound; stopped is set when the work ended before the solution was
	// proved.
	prices  []float64
	stopped bool
}

// relax solves a node's convex relaxation and proves its bound.
func (g *garden) relax(stage int, limits []float64, of *cases) (out relaxed) {
	p := newPricing(g, stage, limits)
	n := len(limits)
	if out.bound = math.Inf(-1); !p.allow(of) {
		return out
	}
	held := make([]float64, n) // prices of the best bound
	scarce := make([]float64, n)
	for r := range scarce {
		scarce[r] = 1e6 / (1 + limits[r])
	}
	// The plan that takes least of the scarce stocks is there from the start.
	first, _ := p.cheapest(scarce)
	p.columns = append(p.columns, first)
	prices := make([]float64, n)
	for round := range mostRounds {
		duals := p.settle()
		value := p.total()
		for r := range prices {
			prices[r] = max(0, -duals[r])
			if round > 0 { // half way to the best prices so far, which damps their oscillation
				prices[r] = (prices[r] + held[r]) / 2
			}
		}
		c, bound := p.cheapest(prices)
		if bound > out.bound {
			out.bound = bound
			copy(held, prices)
		}
		p.columns = append(p.columns, c)
		goesOn := g.work.spend(2*p.size + len(p.columns)*n)
		if bound = p.own(duals, &out, held); value-out.bound <= enough*(1+math.Abs(value)) || bound >= value-enough*(1+math.Abs(value)) {
			break
		}
		if !goesOn && round >= relaxLeast {
			out.stopped = true
			break
		}
	}
	p.settle()
	out.x, out.ok = p.mixture()
	out.prices = held
	return out
}

// own adds the plan at the master's exact prices, which the damped ones may miss.
func (p *pricing) own(duals []float64, out *relaxed, held []float64) float64 {
	prices := make([]float64, len(p.limits))
	for r := range prices {
		prices[r] = max(0, -duals[r])
	}
	c, bound := p.cheapest(prices)
	p.columns = append(p.columns, c)
	if bound > out.bound {
		out.bound = bound
		copy(held, prices)
	}
	return bound
}

// mixture returns each bed's amounts by the plans in use; false if infeasible.
func (p *pricing) mixture() (x [][]float64, ok bool) {
	x = make([][]float64, len(p.g.beds))
	for i := range x {
		x[i] = make([]float64, len(p.g.stocks))
	}
	for r, c := range p.basis {
		share := p.value[r]
		if c < 0 || share <= 0 {
			continue
		}
		if c == 0 {
			if share > 1e-7 {
				return nil, false
			}
			continue
		}
		for i, k := range p.columns[c].corners {
			for m, a := range p.g.beds[i].corners[k].x {
				x[i][m] += share * a
			}
		}
	}
	for i := range x {
		for m, a := range x[i] {
			if a < close {
				x[i][m] = 0
			}
		}
	}
	return x, true
}
