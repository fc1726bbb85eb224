package allocate

import (
	"fmt"
	"maps"
	"slices"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Fixed is an amount that the gardener set for a bed, g/m² of one stock: exactly so much is
// applied.
type Fixed struct {
	Bed, Stock int
	Rate       quantity.Rate
}

// leastFixed is the least amount that counts, g/m².
const leastFixed = 1e-6

// crumb is the need left by a fixed amount that is too small to meet, g/m².
const crumb = 0.01

// ShareFixed is Share with some amounts fixed: the rest is shared out around them at the least
// cost. Errors are *InputError with Field fixed[i] for an amount that a bed may not have or that
// exceeds the stock.
func ShareFixed(w *Work, stocks []Stock, beds []Asked, fixed []Fixed) (Shared, error) {
	if len(fixed) == 0 {
		return Share(w, stocks, beds)
	}
	rest, round, err := around(stocks, beds, fixed)
	if err != nil {
		return Shared{}, err
	}
	var out Shared
	w.share(1-withoutShare, func() { out, err = Share(w, rest, round) })
	if err != nil {
		return out, err
	}
	for _, f := range fixed {
		out.Plan.put(stocks, beds, f)
	}
	for b := range beds {
		out.Held[b] = slices.DeleteFunc(out.Held[b], func(h Held) bool {
			return slices.ContainsFunc(fixed, func(f Fixed) bool { return f.Bed == b && f.Stock == h.Stock })
		})
	}
	out.WithoutAsh, err = fixedWithoutAsh(w, stocks, beds, fixed)
	return out, err
}

// around returns what is left to share besides the fixed amounts.
func around(stocks []Stock, beds []Asked, fixed []Fixed) (rest []Stock, round []Asked, err error) {
	rest, round = slices.Clone(stocks), slices.Clone(beds)
	for i := range round {
		round[i].Most, round[i].Family = slices.Clone(round[i].Most), maps.Clone(round[i].Family)
	}
	for i, f := range fixed {
		if wrong := take(rest, &round[f.Bed], f); wrong.Why != "" {
			wrong.Field = fmt.Sprintf("fixed[%d]", i)
			return nil, nil, &wrong
		}
	}
	return rest, round, nil
}

// fixedWithoutAsh returns the plan without any ash: fixed amounts of ash are replaced by other
// stocks.
func fixedWithoutAsh(w *Work, stocks []Stock, beds []Asked, fixed []Fixed) (Plan, error) {
	others := slices.DeleteFunc(slices.Clone(fixed), func(f Fixed) bool { return stocks[f.Stock].Family == string(material.Ash) })
	rest, round, err := around(stocks, beds, others)
	if err != nil {
		return Plan{}, err
	}
	plain := make([]Demand, len(round))
	for i := range round {
		plain[i] = round[i].Demand
	}
	p, err := For(w, ashless(rest), plain)
	if err != nil {
		return p, err
	}
	for _, f := range others {
		p.put(stocks, beds, f)
	}
	return p, nil
}

// take subtracts a fixed amount from the request; Why is set when it is not allowed.
func take(stocks []Stock, bed *Asked, f Fixed) InputError {
	s := &stocks[f.Stock]
	most := bed.Most[f.Stock]
	if all, ok := bed.Family[s.Family]; ok {
		most = min(most, all)
	}
	switch {
	case f.Rate < leastFixed:
		bed.Most[f.Stock] = 0
		return InputError{}
	case s.Barred, most <= 0:
		return InputError{Why: "none of it may go there"}
	case f.Rate < s.Least-leastFixed:
		return InputError{Why: "too little to be worth spreading", AtLeast: s.Least}
	case f.Rate > most+leastFixed:
		return InputError{Why: "more than may go there", AtMost: most}
	}
	if s.OnHand != nil {
		left := *s.OnHand - f.Rate.Over(bed.Area)
		if left < -1e-6 {
			return InputError{Why: "there is not so much of it"}
		}
		left = max(0, left)
		s.OnHand = &left
	}
	w := Worth{s.Worth, s.K2O}
	if bed.Worth != nil {
		w = bed.Worth[f.Stock]
	}
	if w.CaCO3 != 0 && (bed.Need < 0) != (w.CaCO3 < 0) {
		return InputError{Why: "it moves the bed the wrong way"}
	}
	if bed.K2ORoom >= 0 && w.K2O > 0 {
		if bed.K2ORoom -= quantity.Rate(float64(f.Rate) * w.K2O); bed.K2ORoom < -leastFixed {
			return InputError{Why: "that would push potassium too high there"}
		}
		bed.K2ORoom = max(0, bed.K2ORoom)
	}
	if bed.K2ONeed -= quantity.Rate(float64(f.Rate) * w.K2O); bed.K2ONeed < crumb {
		bed.K2ONeed = 0
	}
	lowers := bed.Need < 0
	if over := bed.meet(quantity.Rate(float64(f.Rate) * w.CaCO3)); over > bed.Demand.Room+leastFixed {
		return InputError{Why: "that is more than it needs"}
	} else if over > 0 {
		bed.Demand.Room = max(0, bed.Demand.Room-over)
	}
	if lowers && bed.Need == 0 {
		bed.Demand.Room = 0 // what was lowered is not raised again
	}
	bed.used(stocks, f)
	return InputError{}
}

// used subtracts a fixed amount from the bed's limits of the stock and its family.
func (b *Asked) used(stocks []Stock, f Fixed) {
	family := stocks[f.Stock].Family
	b.Most[f.Stock] = 0
	all, ok := b.Family[family]
	if !ok {
		return
	}
	b.Family[family] = max(0, all-f.Rate)
	for m := range stocks {
		if stocks[m].Family == family {
			b.Most[m] = min(b.Most[m], b.Family[family])
		}
	}
}

// meet subtracts CaCO₃ from the need and returns the excess.
func (b *Demand) meet(caco3 quantity.Rate) (over quantity.Rate) {
	was := b.Need
	b.Need -= caco3
	switch {
	case was >= 0 && b.Need < 0:
		over, b.Need = -b.Need, 0
	case was < 0 && b.Need > 0:
		over, b.Need = b.Need, 0
	}
	if b.Need < crumb && b.Need > -crumb {
		b.Need = 0
	}
	return over
}

// put adds a fixed amount to the plan made around it.
func (p *Plan) put(stocks []Stock, beds []Asked, f Fixed) {
	if f.Rate >= leastFixed {
		p.Given[f.Bed][f.Stock] += f.Rate
		p.Cost += stocks[f.Stock].Price * float64(f.Rate.Over(beds[f.Bed].Area)/quantity.Kilogram)
	}
}
