package allocate

import (
	"slices"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Shelf is a batch in stock.
type Shelf struct {
	ID string
	Of material.Batch
	// Least is the smallest rate worth applying; nil: its family's.
	Least *quantity.Rate
}

// StockOf returns the stock to share out on a day; ash that is barred, or still hot then, is
// Barred.
func StockOf(s Shelf, day quantity.Day) Stock {
	w := s.Of.Worth()
	out := Stock{ID: s.ID, Worth: w.EffectiveCCE, K2O: w.K2O, OnHand: s.Of.OnHand, Least: material.Worthwhile(s.Of.Family),
		Family: string(s.Of.Family), Barred: s.Of.Barred() || s.Of.Hot(day),
		Bought: !s.Of.Owned()}
	if s.Least != nil {
		out.Least = *s.Least
	}
	if s.Of.Price != nil {
		out.Price = *s.Of.Price
	}
	return out
}

// Asked is a bed's demand with the limits behind each of its figures.
type Asked struct {
	Demand
	// Room is nil when the figures were given directly.
	Room *dose.Room
}

// DemandOf computes a dose request's demand for the stocks of a shelf, which replace its materials.
// Errors are those of dose.For.
func DemandOf(id string, r dose.Request, shelf []Shelf) (Asked, error) {
	r.Materials = make([]material.Batch, len(shelf))
	for i, s := range shelf {
		r.Materials[i] = s.Of.Unbound()
	}
	room, err := dose.RoomOf(r)
	if err != nil {
		return Asked{}, err
	}
	b := Demand{ID: id, Area: r.Ground.Area, Need: room.Need, Room: room.Past, K2ONeed: room.K2ONeed, K2ORoom: room.K2O,
		Tested: r.Reading.Date, Family: map[string]quantity.Rate{}}
	for i, m := range room.Most {
		b.Most = append(b.Most, m.Rate)
		b.Worth = append(b.Worth, Worth{m.Worth.EffectiveCCE, m.Worth.K2O})
		// Stocks of one family share the days and the yearly cap.
		if f := string(shelf[i].Of.Family); m.Rate > b.Family[f] {
			b.Family[f] = m.Rate
		}
	}
	return Asked{b, &room}, nil
}

// Held is what limits a stock on a bed: the id of a limit, or of a refusal.
type Held struct {
	Stock   int
	Limit   string
	Against []guard.Finding
}

// Next is the saving by one more kilogram of a stock, and the bed that would get it; Bed is
// negative when it would save nothing, or less than the search resolves. Meets is the shortfall need
// for pH that it would meet instead, g CaCO₃.
type Next struct {
	Worth float64
	Bed   int
	Meets quantity.Mass
}

// Shared is a plan with its explanation.
type Shared struct {
	Plan
	// Held are each bed's limits, only where need is left shortfall or met at a cost.
	Held [][]Held
	// Left is the remaining mass of each stock; nil if more can be bought.
	Left []*quantity.Mass
	Next []Next
	// WithoutAsh is the plan for the same beds without any ash.
	WithoutAsh Plan
}

// Ids of limits besides those of a dose.
const (
	HeldBySupply = "supply"
	HeldByPotash = "potassium-ceiling"
	HeldBarred   = "barred"
)

// leastSaving is the least saving that is reported.
const leastSaving = 1e-4

// Share solves a request and explains the plan, with at most so much work; nil: as long as it takes. Errors are
// *InputError, or that of the work's context.
func Share(w *Work, stocks []Stock, beds []Asked) (Shared, error) {
	plain := make([]Demand, len(beds))
	for i := range beds {
		plain[i] = beds[i].Demand
	}
	var p *problem
	var plan Plan
	var err error
	w.share(planShare, func() {
		if p, err = newProblem(w, stocks, plain); err == nil {
			plan, err = p.solve(w)
		}
	})
	if err != nil {
		return Shared{}, err
	}
	out := Shared{Plan: plan, Left: make([]*quantity.Mass, len(stocks)), Next: make([]Next, len(stocks))}
	for m, s := range stocks {
		out.Next[m].Bed = -1
		if s.OnHand == nil {
			continue
		}
		left := max(0, *s.OnHand-plan.Used(plain, m))
		out.Left[m] = &left
		if left >= quantity.Kilogram || s.Barred {
			continue // a kilogram is left over, or none is used
		}
		w.share(1/float64(len(stocks)-m+1), func() { out.Next[m], err = p.next(w, plain, plan, m) })
		if err != nil {
			return out, err
		}
	}
	for b := range beds {
		out.Held = append(out.Held, held(stocks, &beds[b], plan, b, out.Left))
	}
	out.WithoutAsh, err = For(w, ashless(stocks), plain)
	return out, err
}

// ashless returns the same stocks with no ash among them.
func ashless(stocks []Stock) []Stock {
	out := slices.Clone(stocks)
	for m := range out {
		if out[m].Family == string(material.Ash) {
			out[m].Barred = true
		}
	}
	return out
}

// next finds the saving by one more kilogram of a stock by solving again: a price says nothing
// where smallest amounts bind.
func (p *problem) next(w *Work, beds []Demand, plan Plan, m int) (Next, error) {
	n := Next{Bed: -1}
	has := *p.g.stocks[slices.Index(p.byStock, m)].OnHand + quantity.Kilogram
	then, err := p.withOnHand(m, has).solve(w)
	if err != nil {
		return n, err
	}
	was, _ := plan.Total(beds)
	is, _ := then.Total(beds)
	n.Worth, n.Meets = plan.Cost-then.Cost, max(0, was-is)
	gap := plan.Gap*plan.Cost + then.Gap*then.Cost
	if n.Meets < 1 {
		n.Meets = 0
	}
	if n.Worth <= max(leastSaving, gap) && n.Meets == 0 {
		return Next{Bed: -1}, nil
	}
	best := 0.0
	for b := range beds {
		if got := float64((then.Given[b][m] - plan.Given[b][m]).Over(beds[b].Area)); got > best {
			n.Bed, best = b, got
		}
	}
	return n, nil
}

// held returns what keeps a bed from having more of a stock, where need is left shortfall or met at a
// cost.
func held(stocks []Stock, bed *Asked, plan Plan, b int, left []*quantity.Mass) (out []Held) {
	const eps = 1e-4
	given, k, paid := plan.Given[b], 0.0, false
	for m, s := range stocks {
		w := Worth{s.Worth, s.K2O}
		if bed.Worth != nil {
			w = bed.Worth[m]
		}
		k += float64(given[m]) * w.K2O
		paid = paid || given[m] > 0 && s.Price > 0
	}
	if plan.Shortfall[b] < eps && plan.ShortfallK2O[b] < eps && !paid {
		return nil
	}
	for m, s := range stocks {
		h := Held{Stock: m}
		switch lowers := bed.Need < 0; {
		case s.Worth != 0 && lowers != (s.Worth < 0):
			continue
		case bed.Room != nil && len(bed.Room.Most[m].Against) > 0:
			h.Against = bed.Room.Most[m].Against
		case s.Barred:
			h.Limit = HeldBarred
		case bed.Most[m] > 0 && given[m] >= bed.Most[m]-eps:
			h.Limit = "year-cap"
			if bed.Room != nil {
				h.Limit = bed.Room.Most[m].Limit
			}
		case s.K2O > 0 && bed.K2ORoom >= 0 && k >= float64(bed.K2ORoom)-eps:
			h.Limit = HeldByPotash
		case left[m] != nil && *left[m] < 1:
			h.Limit = HeldBySupply
		default:
			continue
		}
		out = append(out, h)
	}
	return out
}
