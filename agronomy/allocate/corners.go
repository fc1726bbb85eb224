package allocate

import (
	"math"
	"math/bits"
	"slices"
)

// garden is a request with its stocks and beds in canonical order.
type garden struct {
	stocks []Stock
	beds   []plot
	// rows are the indexes of the stocks that run out.
	rows []int
	work *Work
	// partly is set when not all corners of a bed could be listed.
	partly bool
}

// plot is a bed with the corners of its feasible set.
type plot struct {
	Demand
	sign    float64 // -1 when lowering
	rank    float64 // weight of a kilogram of a limited stock in ties
	corners []corner
	// may are the stocks that it may be given.
	may []int
	// flat and ids are all corners as the current stage sees them; see pricing.
	flat   []float64
	ids    []int32
	flatOf int
	// partly is set when only its corners of fewTogether stocks are listed.
	partly bool
}

// corner is one way to give a bed its stocks.
type corner struct {
	x []float64
	// used is the bit set of the stocks given.
	used uint16
	// obj is the objective by stage; rows is what it takes of the stocks that run out, kg, followed
	// by the objectives fixed by earlier stages.
	obj  [stages]float64
	rows []float64
}

// The stages of the lexicographic search, in order.
const (
	stageShortfall = iota
	stageK2O
	stageCost
	// At equal cost, the least that must be bought.
	stageBought
	// Then fewer stocks per bed, then the bed longest untested.
	stageTies
	stages
)

// Amounts closer than this are equal, g/m².
const close = 1e-7

// perRank is the weight of a kilogram on the most recently tested bed, where a stock on a bed
// weighs 1.
const perRank = 1e-4

// prepare finds the limited stocks and lists each bed's corners.
func (g *garden) prepare(w *Work) {
	for m, s := range g.stocks {
		if s.OnHand != nil {
			g.rows = append(g.rows, m)
		}
	}
	rank := order(g.beds, func(a, b plot) int { return int(a.Tested - b.Tested) })
	place := make([]int, len(rank))
	for r, b := range rank {
		place[b] = r
	}
	room := math.MaxInt
	if w != nil && len(g.beds) > 0 {
		room = mostCorners / len(g.beds)
	}
	for i := range g.beds {
		b := &g.beds[i]
		b.sign = 1
		if b.Need < 0 {
			b.sign = -1
		}
		w.share(listShare/float64(len(g.beds)-i), func() { b.list(g.stocks, w, room) })
		g.partly = g.partly || b.partly
		b.rank = perRank * float64(place[i]) / float64(len(g.beds))
		for k := range b.corners {
			g.weigh(b, &b.corners[k])
		}
		b.corners = needed(b.corners)
	}
}

// needed drops corners dominated by another of the same stocks.
func needed(all []corner) (out []corner) {
	alike := map[uint16][]*corner{}
	for i := range all {
		alike[all[i].used] = append(alike[all[i].used], &all[i])
	}
	for i := range all {
		c := &all[i]
		if !slices.ContainsFunc(alike[c.used], func(o *corner) bool { return o.beats(c) }) {
			out = append(out, *c)
		}
	}
	return out
}

// beats reports whether a corner dominates another.
func (c *corner) beats(o *corner) bool {
	less := false
	for r := range c.rows {
		if c.rows[r] > o.rows[r]+1e-12 {
			return false
		}
		less = less || c.rows[r] < o.rows[r]-1e-12
	}
	return less
}

// shortfall returns what the amounts x leave of a bed's needs, g/m².
func (b *plot) shortfall(x []float64) (caco3, k2o float64) {
	p, k := 0.0, 0.0
	for m := range x {
		p += b.sign * b.Worth[m].CaCO3 * x[m]
		k += b.Worth[m].K2O * x[m]
	}
	return max(0, b.sign*float64(b.Need)-p), max(0, float64(b.K2ONeed)-k)
}

// weigh computes a corner's objectives and rows.
func (g *garden) weigh(b *plot, c *corner) {
	u, uk := b.shortfall(c.x)
	area := float64(b.Area)
	c.obj[stageShortfall], c.obj[stageK2O] = u*area, uk*area
	for m, x := range c.x {
		c.obj[stageCost] += x * area / 1000 * g.stocks[m].Price
		if g.stocks[m].Bought {
			c.obj[stageBought] += x * area / 1000
		}
	}
	c.obj[stageTies] = float64(bits.OnesCount16(c.used))
	c.rows = make([]float64, 0, len(g.rows)+int(stageTies))
	for _, m := range g.rows {
		kg := c.x[m] * area / 1000
		c.rows = append(c.rows, kg)
		c.obj[stageTies] += b.rank * kg
	}
	c.rows = append(c.rows, c.obj[stageShortfall], c.obj[stageK2O], c.obj[stageCost], c.obj[stageBought])
}

// bound is a linear sum over the stocks that can be tight: what a bed receives, or the most it may
// take.
type bound struct {
	a    []float64
	at   []float64 // the values at which it can be tight
	most float64
}

// bounds returns the sums that couple the stocks of one bed.
func (b *plot) bounds(stocks []Stock, may []int) (out []bound) {
	of := func(figure func(m int) float64) []float64 {
		a := make([]float64, len(may))
		for i, m := range may {
			a[i] = figure(m)
		}
		return a
	}
	need := b.sign * float64(b.Need)
	ph := bound{a: of(func(m int) float64 { return b.sign * b.Worth[m].CaCO3 }), at: []float64{need}, most: need + float64(b.Room)}
	if b.Room > 0 {
		ph.at = append(ph.at, ph.most)
	}
	k := bound{a: of(func(m int) float64 { return b.Worth[m].K2O }), most: math.Inf(1)}
	if b.K2ONeed > 0 {
		k.at = append(k.at, float64(b.K2ONeed))
	}
	if b.K2ORoom >= 0 {
		k.at, k.most = append(k.at, float64(b.K2ORoom)), float64(b.K2ORoom)
	}
	out = append(out, ph, k)
	var families []string
	for f := range b.Family {
		families = append(families, f)
	}
	slices.Sort(families)
	for _, f := range families {
		of := bound{a: of(func(m int) float64 {
			if stocks[m].Family == f {
				return 1
			}
			return 0
		}), at: []float64{float64(b.Family[f])}, most: float64(b.Family[f])}
		out = append(out, of)
	}
	return out
}

// fewTogether is how many stocks a bed is given together where listing all mixtures would take too long. mostCorners
// is how many corners all beds may have together, which take some 400 bytes each; beds that have more are given fewer
// stocks.
const (
	fewTogether = 3
	mostCorners = 200_000
)

// list enumerates the corners of a bed's feasible set: each stock is at zero, at its least, at its
// most, or free, with as many free stocks as tight sums. Their number grows exponentially with the
// stocks: where w or the room does not suffice, those of fewTogether
// stocks, or still fewer, are listed.
func (b *plot) list(stocks []Stock, w *Work, room int) {
	var may []int
	for m, s := range stocks {
		w := b.Worth[m]
		feeds := b.sign*w.CaCO3 > 0 || w.CaCO3 == 0 && w.K2O > 0 && b.K2ONeed > 0
		if feeds && !s.Barred && float64(b.Most[m]) > 0 && b.Most[m] >= s.Least {
			may = append(may, m)
		}
	}
	b.may = may
	l := lister{b: b, stocks: stocks, may: may, sums: b.bounds(stocks, may), x: make([]float64, len(may)), free: make([]int, 0, 4),
		together: len(may), room: room, work: w, solved: make([]float64, len(may))}
	l.roots = make([]float64, len(l.sums))
	for range l.sums {
		l.system = append(l.system, make([]float64, len(l.sums)+1))
	}
	l.next(0)
	for few := min(fewTogether, len(may)-1); l.ended && few > 0; few-- {
		b.partly = true
		l.ended, l.work, l.together, l.out = false, nil, few, nil
		if few == 1 {
			l.room = math.MaxInt
		}
		l.next(0)
	}
	b.corners = l.out
}

type lister struct {
	b      *plot
	stocks []Stock
	may    []int
	sums   []bound
	x      []float64
	free   []int
	out    []corner
	// given is how many stocks are given so far, together how many may be.
	given, together int
	work            *Work
	// room is how many corners there may be.
	room int
	// solved, roots and system are used by take.
	solved []float64
	roots  []float64
	system [][]float64
	// ended is set when the work or the room did not suffice.
	ended bool
}

// next fixes the ith stock and all after it.
func (l *lister) next(i int) {
	if l.ended = l.ended || len(l.out) > l.room || !l.work.spend(1); l.ended {
		return
	}
	if i == len(l.may) {
		l.hold(0, make([]int, 0, len(l.free)), make([]float64, 0, len(l.free)))
		return
	}
	m := l.may[i]
	least, most := float64(l.stocks[m].Least), float64(l.b.Most[m])
	states := []float64{0, least, most}
	if least == 0 || least == most {
		states = []float64{0, most}
	}
	for _, x := range states {
		if x > 0 && l.given == l.together {
			break
		}
		l.put(i, x, x > 0)
	}
	if len(l.free) < len(l.sums) && l.given < l.together {
		l.free = append(l.free, i)
		l.put(i, least, true)
		l.free = l.free[:len(l.free)-1]
	}
	l.x[i] = 0
}

// put fixes the ith stock at an amount, and then those after it.
func (l *lister) put(i int, x float64, given bool) {
	l.x[i] = x
	if given {
		l.given++
	}
	if !l.past(i + 1) {
		l.next(i + 1)
	}
	if given {
		l.given--
	}
}

// past reports whether the first n stocks alone exceed a sum.
func (l *lister) past(n int) bool {
	for _, s := range l.sums {
		sum := 0.0
		for i := range n {
			sum += s.a[i] * l.x[i]
		}
		if sum > s.most+close {
			return true
		}
	}
	return false
}

// hold chooses the tight sums for the free stocks, from the kth on.
func (l *lister) hold(k int, rows []int, at []float64) {
	if len(rows) == len(l.free) {
		l.take(rows, at)
		return
	}
	for ; k < len(l.sums); k++ {
		if !slices.ContainsFunc(l.free, func(i int) bool { return l.sums[k].a[i] != 0 }) {
			continue // it says nothing of them
		}
		for _, figure := range l.sums[k].at {
			l.hold(k+1, append(rows, k), append(at, figure))
		}
	}
}

// take solves for the free stocks and keeps the corner if it is feasible.
func (l *lister) take(rows []int, at []float64) {
	if l.ended = l.ended || !l.work.spend(takeSteps); l.ended {
		return
	}
	n := len(l.free)
	x := l.solved
	copy(x, l.x)
	for r, k := range rows {
		a, row := l.sums[k].a, l.system[r][:n+1]
		row[n] = at[r]
		for i := range x {
			row[n] -= a[i] * x[i]
		}
		for c, i := range l.free { // which stand in x at their least
			row[c] = a[i]
			row[n] += a[i] * x[i]
		}
	}
	y := l.roots[:n]
	if !solve(l.system[:n], y) {
		return
	}
	for c, i := range l.free {
		m := l.may[i]
		// At an end of its range it is a corner of its own.
		if y[c] <= float64(l.stocks[m].Least)+close || y[c] >= float64(l.b.Most[m])-close {
			return
		}
		x[i] = y[c]
	}
	for _, s := range l.sums {
		sum := 0.0
		for i := range x {
			sum += s.a[i] * x[i]
		}
		if sum > s.most+close {
			return
		}
	}
	c := corner{x: make([]float64, len(l.stocks))}
	for i, m := range l.may {
		if c.x[m] = x[i]; x[i] > 0 {
			c.used |= 1 << m
		}
	}
	l.out = append(l.out, c)
}

// solve eliminates a small linear system whose last column is its right side; false when it is singular. It
// overwrites a.
func solve(a [][]float64, x []float64) bool {
	n := len(a)
	for c := range n {
		p := c
		for r := c + 1; r < n; r++ {
			if math.Abs(a[r][c]) > math.Abs(a[p][c]) {
				p = r
			}
		}
		if math.Abs(a[p][c]) < 1e-12 {
			return false
		}
		a[c], a[p] = a[p], a[c]
		for r := range n {
			if f := a[r][c] / a[c][c]; r != c && f != 0 {
				for k := c; k <= n; k++ {
					a[r][k] -= f * a[c][k]
				}
			}
		}
	}
	for c := range n {
		x[c] = a[c][n] / a[c][c]
	}
	return true
}
