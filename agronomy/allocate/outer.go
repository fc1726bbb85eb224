package allocate

import "math"

// outer bounds a stage's objective from below, over all mixtures that beds may be given, also those that were not
// listed: by the prices of the stocks for the garden, and by prices of the needs and sums for a bed (Lagrangian
// duality; any prices give a valid bound).
func (g *garden) outer(stage int, prices, limits []float64) (bound float64) {
	n := len(prices)
	for r, price := range prices {
		bound -= price * limits[r]
	}
	for i := range g.beds {
		b := &g.beds[i]
		if b.partly {
			bound += g.priced(b, stage, prices).below()
			continue
		}
		best := math.Inf(1)
		for k := range b.corners {
			c := &b.corners[k]
			cost := c.obj[stage]
			for r := range n {
				cost += prices[r] * c.rows[r]
			}
			best = min(best, cost)
		}
		bound += best
	}
	return bound
}

// priced is a bed's problem at given prices, without smallest amounts: the least of cost·x + what its shortfalls cost,
// where each sum lies at or below its most and x at or below most.
type priced struct {
	cost, most []float64
	// needs are the sums that are to reach need, each missing unit at a price.
	needs []need
	sums  []bound
}

type need struct {
	a          []float64
	need, each float64
}

func (g *garden) priced(b *plot, stage int, prices []float64) priced {
	area, n := float64(b.Area), len(g.rows)
	// weight is that of an objective: this stage's, or an earlier one's by its price.
	weight := func(of int) float64 {
		switch {
		case of == stage:
			return 1
		case of < stage && n+of < len(prices):
			return prices[n+of]
		}
		return 0
	}
	sums := b.bounds(g.stocks, b.may)
	p := priced{sums: sums, needs: []need{
		{sums[0].a, b.sign * float64(b.Need), area * weight(stageShortfall)},
		{sums[1].a, float64(b.K2ONeed), area * weight(stageK2O)}}}
	for _, m := range b.may {
		s := &g.stocks[m]
		kg := area / 1000
		each := weight(stageCost) * kg * s.Price
		if s.Bought {
			each += weight(stageBought) * kg
		}
		most := float64(b.Most[m])
		each += weight(stageTies) / most // a stock that is used counts as one; less of it is not more
		for r, of := range g.rows {
			if of == m {
				each += kg * (prices[r] + weight(stageTies)*b.rank)
			}
		}
		p.cost, p.most = append(p.cost, each), append(p.most, most)
	}
	return p
}

// outerRounds is the number of steps by which the prices of a bed's needs and sums are raised.
const outerRounds = 300

// below returns the best bound that a subgradient ascent finds.
func (p priced) below() float64 {
	up, down := make([]float64, len(p.needs)), make([]float64, len(p.sums))
	scale := 0.0
	for _, n := range p.needs {
		scale = max(scale, n.each)
	}
	for _, c := range p.cost {
		scale = max(scale, c)
	}
	best := math.Inf(-1)
	for round := range outerRounds {
		bound, toUp, toDown := p.at(up, down)
		best = max(best, bound)
		length := 0.0
		for _, d := range append(toUp, toDown...) {
			length += d * d
		}
		if length == 0 {
			break
		}
		step := scale / math.Sqrt(length) / math.Sqrt(float64(round+1))
		for i, n := range p.needs {
			up[i] = min(n.each, max(0, up[i]+step*toUp[i]))
		}
		for i := range p.sums {
			down[i] = max(0, down[i]+step*toDown[i])
		}
	}
	return best
}

// at returns the bound at prices of the needs and of the sums, and its slopes.
func (p priced) at(up, down []float64) (bound float64, toUp, toDown []float64) {
	toUp, toDown = make([]float64, len(up)), make([]float64, len(down))
	for i, n := range p.needs {
		bound += up[i] * n.need
		toUp[i] = n.need
	}
	for i, s := range p.sums {
		if math.IsInf(s.most, 1) {
			continue
		}
		bound -= down[i] * s.most
		toDown[i] = -s.most
	}
	for m, c := range p.cost {
		for i, n := range p.needs {
			c -= up[i] * n.a[m]
		}
		for i, s := range p.sums {
			c += down[i] * s.a[m]
		}
		if c >= 0 {
			continue
		}
		bound += c * p.most[m]
		for i, n := range p.needs {
			toUp[i] -= n.a[m] * p.most[m]
		}
		for i, s := range p.sums {
			if !math.IsInf(s.most, 1) {
				toDown[i] += s.a[m] * p.most[m]
			}
		}
	}
	return bound, toUp, toDown
}
