// Package allocate shares limited stocks out over beds: it minimises first the shortfall need for pH,
// then the shortfall need for potassium, then the cost, under each bed's limits and the smallest
// amounts worth applying.
//
// The search is exact. A bed may get none of a stock, or an amount between its least and its most,
// so its feasible set is not convex; but the corners of its convex hull are few and are listed once
// (corners.go). Only stocks that run out couple the beds: prices on those are found by
// Dantzig–Wolfe decomposition, which also gives a lower bound on the cost of any plan (price.go).
// Where the plan of that bound gives a bed less than a smallest amount, the search branches
// (search.go).
package allocate

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// Stock is a batch on hand or to be bought.
type Stock struct {
	ID string
	// Worth is g CaCO₃ per g, negative when it lowers pH; K2O is g K₂O per g.
	Worth, K2O float64
	// Price is per kilogram, 0 is free. OnHand is the mass in stock; nil: unlimited. Least is the
	// smallest rate worth applying.
	Price  float64
	OnHand *quantity.Mass
	Least  quantity.Rate
	// Bought is set when none of it is in stock: at equal cost, stock on hand goes first.
	Bought bool
	// Barred stocks are applied to no bed.
	Barred bool
	// Family groups stocks that share a bed's cap; "" is a group of its own.
	Family string
}

// Demand is a bed's needs and limits, in g/m².
type Demand struct {
	ID   string
	Area quantity.Area
	// Need is pure CaCO₃, negative when lowering; Room is how much may be applied beyond it to
	// supply potassium.
	Need, Room quantity.Rate
	// K2ONeed is the wanted K₂O, K2ORoom the most allowed; negative is no limit.
	K2ONeed, K2ORoom quantity.Rate
	// Most is the limit of each stock, in the order of the stocks; 0 is none.
	Most []quantity.Rate
	// Family is the joint limit of a family's stocks; a missing family has no limit of its own.
	Family map[string]quantity.Rate
	// Worth is the effect of a gram of each stock on this bed, when it differs from bed to bed;
	// nil: as in Stock.
	Worth []Worth
	// Tested is the day of its last reading: at equal cost, the bed longest untested goes first.
	Tested quantity.Day
}

// Worth is the effect of a gram: g CaCO₃, negative when it lowers pH, and g K₂O.
type Worth struct{ CaCO3, K2O float64 }

// Plan is a solution.
type Plan struct {
	// Given is g/m² of each stock on each bed, in the order of the request.
	Given [][]quantity.Rate
	// Shortfall is the CaCO₃ in g/m² that each bed still lacks, ShortfallK2O the K₂O; both are 0 or more.
	Shortfall, ShortfallK2O []quantity.Rate
	// Cost is the cost of all that is given.
	Cost float64
	// Gap is an upper bound on the distance of Cost from the optimum, as a share of it; ShortfallGap
	// and K2OGap are the bounds for all shortfall CaCO₃ and K₂O in g.
	Gap, ShortfallGap, K2OGap float64
	// Partly is set where a bed's mixtures were too many to be looked at: those of a few stocks were.
	Partly bool
	// Nodes is the number of nodes that the search visited.
	Nodes int
}

// Used returns how much of a stock a plan takes.
func (p Plan) Used(beds []Demand, stock int) (sum quantity.Mass) {
	for b := range beds {
		sum += p.Given[b][stock].Over(beds[b].Area)
	}
	return sum
}

// Total returns the sums of shortfall CaCO₃ and K₂O, g.
func (p Plan) Total(beds []Demand) (caco3, k2o quantity.Mass) {
	for b := range beds {
		caco3 += p.Shortfall[b].Over(beds[b].Area)
		k2o += p.ShortfallK2O[b].Over(beds[b].Area)
	}
	return caco3, k2o
}

// MostStocks is the largest number of stocks in one request.
const MostStocks = 12

// InputError names the invalid field. AtMost and AtLeast bound an amount chosen by hand; 0 where
// there is no bound.
type InputError struct {
	Field, Why      string
	AtMost, AtLeast quantity.Rate
}

func (e *InputError) Error() string { return e.Field + ": " + e.Why }

// check validates the request.
func check(stocks []Stock, beds []Demand) error {
	if len(stocks) > MostStocks {
		return &InputError{Field: "stock", Why: fmt.Sprintf("at most %d stocks are shared out at once", MostStocks)}
	}
	for i, s := range stocks {
		at := fmt.Sprintf("stock[%d]", i)
		switch {
		case !finite(s.Worth, s.K2O, s.Price, float64(s.Least)) || s.K2O < 0:
			return &InputError{Field: at, Why: "its figures cannot be"}
		case s.Price < 0:
			return &InputError{Field: at + ".price_kg", Why: "a price of 0 or more is needed"}
		case s.Least < 0:
			return &InputError{Field: at + ".min_g_m2", Why: "an amount of 0 or more is needed"}
		case s.OnHand != nil && !(*s.OnHand >= 0):
			return &InputError{Field: at + ".kg", Why: "an amount of 0 or more is needed"}
		}
	}
	for i, b := range beds {
		at := fmt.Sprintf("beds[%d]", i)
		switch {
		case !(b.Area > 0) || !finite(float64(b.Area)):
			return &InputError{Field: at + ".area_m2", Why: "an area above 0 is needed"}
		case !finite(float64(b.Need), float64(b.Room), float64(b.K2ONeed), float64(b.K2ORoom)) || b.Room < 0 || b.K2ONeed < 0:
			return &InputError{Field: at, Why: "its figures cannot be"}
		case b.Worth != nil && len(b.Worth) != len(stocks):
			return &InputError{Field: at, Why: "its figures cannot be"}
		case len(b.Most) != len(stocks):
			return &InputError{Field: at + ".max_g_m2", Why: "a limit for each stock is needed"}
		}
	}
	return nil
}

func finite(xs ...float64) bool {
	for _, x := range xs {
		if math.IsNaN(x) || math.IsInf(x, 0) {
			return false
		}
	}
	return true
}

// For solves a request with at most so much work; nil: as long as it takes. The plan does not depend on the order of
// stocks and beds. Errors are *InputError, or that of the work's context.
func For(w *Work, stocks []Stock, beds []Demand) (Plan, error) {
	p, err := newProblem(w, stocks, beds)
	if err != nil {
		return Plan{}, err
	}
	return p.solve(w)
}

// problem is a request with its corners, in canonical order, and where its stocks and beds stood in the request.
type problem struct {
	g              garden
	byStock, byBed []int
}

// newProblem checks a request and lists its corners.
func newProblem(w *Work, stocks []Stock, beds []Demand) (*problem, error) {
	if err := check(stocks, beds); err != nil {
		return nil, err
	}
	p := &problem{byStock: order(stocks, func(a, b Stock) int { return cmp.Compare(a.ID, b.ID) }),
		byBed: order(beds, func(a, b Demand) int { return cmp.Compare(a.ID, b.ID) }),
		g:     garden{stocks: make([]Stock, len(stocks)), beds: make([]plot, len(beds))}}
	for i, at := range p.byStock {
		p.g.stocks[i] = stocks[at]
	}
	for i, at := range p.byBed {
		b := beds[at]
		most := make([]quantity.Rate, len(stocks))
		for k, from := range p.byStock {
			most[k] = b.Most[from]
		}
		worth := make([]Worth, len(stocks))
		for k, from := range p.byStock {
			if worth[k] = (Worth{stocks[from].Worth, stocks[from].K2O}); b.Worth != nil {
				worth[k] = b.Worth[from]
			}
		}
		b.Most, b.Worth = most, worth
		p.g.beds[i] = plot{Demand: b}
	}
	p.g.prepare(w)
	return p, w.stopped()
}

// withOnHand returns the same problem with another amount in stock of a stock that runs out: no corner depends on it.
func (p problem) withOnHand(stock int, has quantity.Mass) *problem {
	p.g.stocks = slices.Clone(p.g.stocks)
	p.g.stocks[slices.Index(p.byStock, stock)].OnHand = &has
	return &p
}

// solve searches for the plan.
func (p *problem) solve(w *Work) (Plan, error) {
	g := &p.g
	best := g.solve(w)
	if err := w.stopped(); err != nil {
		return Plan{}, err
	}
	out := Plan{Given: make([][]quantity.Rate, len(g.beds)), Shortfall: make([]quantity.Rate, len(g.beds)),
		ShortfallK2O: make([]quantity.Rate, len(g.beds)), Gap: best.gap[stageCost],
		ShortfallGap: best.gap[stageShortfall], K2OGap: best.gap[stageK2O],
		Partly: g.partly, Nodes: best.nodes}
	for i, at := range p.byBed {
		out.Given[at] = make([]quantity.Rate, len(g.stocks))
		for k, from := range p.byStock {
			out.Given[at][from] = quantity.Rate(best.x[i][k])
			out.Cost += best.x[i][k] * float64(g.beds[i].Area) / 1000 * g.stocks[k].Price
		}
		u, uk := g.beds[i].shortfall(best.x[i])
		out.Shortfall[at], out.ShortfallK2O[at] = quantity.Rate(u), quantity.Rate(uk)
	}
	return out, nil
}

// order returns the indexes of a list in sorted order.
func order[T any](list []T, compare func(a, b T) int) []int {
	out := make([]int, len(list))
	for i := range out {
		out[i] = i
	}
	slices.SortStableFunc(out, func(a, b int) int { return compare(list[a], list[b]) })
	return out
}
