// Package allocate shares what is on hand out over beds: first the least unmet need for
// pH, then the least unmet need for potassium, then the least cost, under each bed's
// limits and the smallest amounts that are worth an application.
//
// It is an exact search. A bed may be given nothing of a stock or an amount from its
// least to its most, so what it may be given is no convex set; but the corners of its
// convex hull are few and are listed once (corners.go). Only stocks that run out tie the
// beds together: a price on each is found by Dantzig and Wolfe's decomposition, which
// gives a bound below which no plan can cost (price.go). Where the plan of that bound
// gives a bed less than a smallest amount, the search branches (search.go).
package allocate

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"zephyrfield/agronomy/quantity"
)

// Stock is something on hand, or to be bought.
type Stock struct {
	ID string
	// Worth is g CaCO₃ that a gram of it is worth, below 0 where it lowers; K2O is the
	// share of it that is K₂O.
	Worth, K2O float64
	// Price is for a kilogram; 0 is free. OnHand is how much there is; nil: as much as
	// wanted. Least is the smallest amount worth an application.
	Price  float64
	OnHand *quantity.Mass
	Least  quantity.Rate
	// Bought is set where none of it stands on the shelf: among plans that cost the same what stands there goes first.
	Bought bool
	// Barred stocks go on no bed, whatever asks.
	Barred bool
	// Family groups stocks that share a bed's cap; "" is a group of its own.
	Family string
}

// Demand is what a bed asks and may take, in g/m².
type Demand struct {
	ID   string
	Area quantity.Area
	// Need is pure CaCO₃, below 0 when lowering; Room is what may be applied past it while
	// potassium is fed.
	Need, Room quantity.Rate
	// K2ONeed is what potassium it wants, K2ORoom the most it may take; below 0 is no
	// limit.
	K2ONeed, K2ORoom quantity.Rate
	// Most is the most of each stock, in the order of the stocks; 0 is none.
	Most []quantity.Rate
	// Family is the most of stocks of one family together; a family that is not there
	// has no limit of its own.
	Family map[string]quantity.Rate
	// Worth is what a gram of each stock does on this bed, where that differs from bed to
	// bed; nil: what it does by itself.
	Worth []Worth
	// Tested is the day of its last reading: among plans that cost the same, the bed
	// that was longest untested goes first.
	Tested quantity.Day
}

// Worth is what a gram does: g CaCO₃, below 0 where it lowers, and g K₂O.
type Worth struct{ CaCO3, K2O float64 }

// Plan is how the stocks are shared out.
type Plan struct {
	// Given is g/m² of each stock on each bed, in the order they were asked in.
	Given [][]quantity.Rate
	// Unmet is g CaCO₃/m² that each bed is left with, UnmetK2O g K₂O/m²; both 0 or more.
	Unmet, UnmetK2O []quantity.Rate
	// Cost is of all that is given, at its price.
	Cost float64
	// Gap is how far Cost is proved to be from the least at most, as a share of it;
	// UnmetGap likewise of all unmet CaCO₃, g, and of K₂O.
	Gap, UnmetGap, K2OGap float64
	// Nodes is how many cases the search looked at.
	Nodes int
}

// Used is how much of a stock a plan takes.
func (p Plan) Used(beds []Demand, stock int) (sum quantity.Mass) {
	for b := range beds {
		sum += p.Given[b][stock].Over(beds[b].Area)
	}
	return sum
}

// Total is all unmet CaCO₃ and K₂O, g.
func (p Plan) Total(beds []Demand) (caco3, k2o quantity.Mass) {
	for b := range beds {
		caco3 += p.Unmet[b].Over(beds[b].Area)
		k2o += p.UnmetK2O[b].Over(beds[b].Area)
	}
	return caco3, k2o
}

// MostStocks is how many stocks can be shared out at once.
const MostStocks = 12

// InputError says which field cannot be. AtMost and AtLeast are what an amount by hand may
// be; 0 where no figure holds it.
type InputError struct {
	Field, Why      string
	AtMost, AtLeast quantity.Rate
}

func (e *InputError) Error() string { return e.Field + ": " + e.Why }

// check refuses figures that cannot be.
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

// For shares stocks out over beds. The same garden gives the same plan in whatever order
// its stocks and beds come. Errors are *InputError.
func For(stocks []Stock, beds []Demand) (Plan, error) {
	if err := check(stocks, beds); err != nil {
		return Plan{}, err
	}
	byStock := order(stocks, func(a, b Stock) int { return cmp.Compare(a.ID, b.ID) })
	byBed := order(beds, func(a, b Demand) int { return cmp.Compare(a.ID, b.ID) })
	g := garden{stocks: make([]Stock, len(stocks)), beds: make([]plot, len(beds))}
	for i, at := range byStock {
		g.stocks[i] = stocks[at]
	}
	for i, at := range byBed {
		b := beds[at]
		most := make([]quantity.Rate, len(stocks))
		for k, from := range byStock {
			most[k] = b.Most[from]
		}
		worth := make([]Worth, len(stocks))
		for k, from := range byStock {
			if worth[k] = (Worth{stocks[from].Worth, stocks[from].K2O}); b.Worth != nil {
				worth[k] = b.Worth[from]
			}
		}
		b.Most, b.Worth = most, worth
		g.beds[i] = plot{Demand: b}
	}
	g.prepare()
	best := g.solve()
	p := Plan{Given: make([][]quantity.Rate, len(beds)), Unmet: make([]quantity.Rate, len(beds)),
		UnmetK2O: make([]quantity.Rate, len(beds)), Gap: best.gap[stageCost], UnmetGap: best.gap[stageUnmet], K2OGap: best.gap[stageK2O],
		Nodes: best.nodes}
	for i, at := range byBed {
		p.Given[at] = make([]quantity.Rate, len(stocks))
		for k, from := range byStock {
			p.Given[at][from] = quantity.Rate(best.x[i][k])
			p.Cost += best.x[i][k] * float64(g.beds[i].Area) / 1000 * g.stocks[k].Price
		}
		u, uk := g.beds[i].unmet(best.x[i])
		p.Unmet[at], p.UnmetK2O[at] = quantity.Rate(u), quantity.Rate(uk)
	}
	return p, nil
}

// order is the places of a list in an order of its own.
func order[T any](list []T, compare func(a, b T) int) []int {
	out := make([]int, len(list))
	for i := range out {
		out[i] = i
	}
	slices.SortStableFunc(out, func(a, b int) int { return compare(list[a], list[b]) })
	return out
}
