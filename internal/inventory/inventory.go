package inventory

import (
	"context"
	"math"
	"slices"
	"time"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// Stock is a batch with its kind, its effect, what is left and what is planned from it.
type Stock struct {
	garden.Stock
	// Of is the batch for package material, Worth its effect.
	Of    material.Batch
	Worth material.Worth
	// Planned is the mass that open applications need.
	Planned quantity.Mass
	// Coming is the ash that this winter's fires will add by Until at the same pace; 0 if too few
	// were logged.
	Coming quantity.Mass
	Until  quantity.Day
	// Wild is the index of the run left out of its vinegar test, -1 for none.
	Wild int
}

// Ash reports whether it is a bin of ash.
func (s Stock) Ash() bool { return s.Of.Family == material.Ash }

// Short returns what open applications need beyond what is left; 0 if there is enough or the stock
// is unknown.
func (s Stock) Short() quantity.Mass {
	if s.Left == nil {
		return 0
	}
	return max(0, s.Planned-*s.Left)
}

// Buy is a material that open applications need and that is missing.
type Buy struct {
	What material.Material
	// Batch is the batch to buy more of; nil if none is in stock.
	Batch *Stock
	Need  quantity.Mass
	// Bags is the number of whole bags; 0 if a bag's size is unknown.
	Bags int
	// Amount is their content, or Need itself; Cost is nil without a price.
	Amount quantity.Mass
	Cost   *float64
	// Beds are the beds that need it, with amounts.
	Beds []BedNeed
}

// BedNeed is the mass that one bed's open applications need.
type BedNeed struct {
	Bed    string
	Amount quantity.Mass
	Cost   *float64
}

// Shed is everything in stock on a day.
type Shed struct {
	Garden garden.Garden
	Stock  []Stock
	Buys   []Buy
	// Cost is the total of purchases with a price; Unpriced are the others.
	Cost     float64
	Unpriced int
	// Saved is the price of the limestone that the planned ash replaces, by the cheapest priced
	// lime; nil without a price or planned ash.
	Saved *float64
}

// Ash returns how much usable ash there is and in how many bins, and how much is barred.
func (s *Shed) Ash() (ash, barred quantity.Mass, bins int) {
	for i := range s.Stock {
		switch x := &s.Stock[i]; {
		case !x.Ash() || x.Left == nil:
		case x.Of.Barred():
			barred += *x.Left
		default:
			ash, bins = ash+*x.Left, bins+1
		}
	}
	return ash, barred, bins
}

// View returns the shed on a day.
func (svc Service) View(ctx context.Context, today quantity.Day) (s Shed, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if s.Garden, err = r.Garden(); err != nil {
			return err
		}
		all, err := garden.Shelf(r)
		if err != nil {
			return err
		}
		tasks, err := garden.Where[garden.Task](r, "state", garden.Open)
		if err != nil {
			return err
		}
		beds, err := garden.All[garden.Bed](r)
		if err != nil {
			return err
		}
		s.stock(all, tasks)
		moves, err := garden.All[garden.Movement](r)
		if err != nil {
			return err
		}
		s.fires(moves, today)
		s.buys(tasks, bedNames(beds))
		s.saved(tasks)
		return nil
	})
	return s, err
}

func bedNames(beds []garden.Bed) map[int64]string {
	out := make(map[int64]string, len(beds))
	for _, b := range beds {
		out[b.ID] = b.Name
	}
	return out
}

// stock adds what is planned to each batch; ash first, then by name.
func (s *Shed) stock(all []garden.Stock, tasks []garden.Task) {
	planned := map[int64]quantity.Mass{}
	for _, t := range tasks {
		if t.Kind == garden.TaskApplication && t.BatchID != nil {
			planned[*t.BatchID] += t.Total
		}
	}
	for _, x := range all {
		m, ok := material.Find(x.Kind)
		if !ok || x.Gone != 0 {
			continue
		}
		of := x.Material(m)
		_, wild := material.VinegarRuns(x.Vinegar)
		s.Stock = append(s.Stock, Stock{Stock: x, Of: of, Worth: of.Worth(), Planned: planned[x.ID], Wild: wild})
	}
	slices.SortStableFunc(s.Stock, func(a, b Stock) int {
		switch {
		case a.Ash() == b.Ash():
			return 0
		case a.Ash():
			return -1
		}
		return 1
	})
}

// buys returns what open applications need beyond the stock: a row for each batch, or for a kind
// without a batch. An application planned by kind uses a batch of that kind acquired since.
func (s *Shed) buys(tasks []garden.Task, beds map[int64]string) {
	type key struct {
		kind  material.Kind
		batch int64
	}
	by := map[key][]garden.Task{}
	var order []key
	for _, t := range tasks {
		m, ok := material.Find(t.What)
		if t.Kind != garden.TaskApplication || !ok || m.Family == material.Ash || t.Step == bedprep.Organic {
			continue // ash, compost and manure are not bought
		}
		k := key{kind: t.What}
		if x := s.find(t); x != nil {
			k.batch = x.ID
		}
		if by[k] == nil {
			order = append(order, k)
		}
		by[k] = append(by[k], t)
	}
	for _, k := range order {
		b := Buy{Batch: s.find(by[k][0])}
		b.What, _ = material.Find(k.kind)
		for _, t := range by[k] {
			b.Need += t.Total
		}
		if b.Batch != nil && b.Batch.Left != nil {
			b.Need -= *b.Batch.Left
		}
		if b.Need <= 0 {
			continue
		}
		b.bags()
		b.shares(by[k], beds)
		if b.Cost != nil {
			s.Cost += *b.Cost
		} else {
			s.Unpriced++
		}
		s.Buys = append(s.Buys, b)
	}
}

// fires computes what this winter's fires will add to each bin.
func (s *Shed) fires(moves []garden.Movement, today quantity.Day) {
	from, end := winter(s.Garden.Hemisphere, today)
	for i := range s.Stock {
		x := &s.Stock[i]
		var sum quantity.Mass
		var first quantity.Day
		for _, m := range moves {
			if m.BatchID != x.ID || m.Kind != garden.MovedIn || m.Date < from || m.Date > today || !x.Ash() {
				continue
			}
			if sum += m.Amount; first == 0 || m.Date < first {
				first = m.Date
			}
		}
		if more, ok := material.ByEnd(sum, first, today, end); ok {
			x.Coming, x.Until = more, end
		}
	}
}

// winter returns the current or last heating season: it ends where spring begins, on 1 March or 1
// September.
func winter(hemisphere string, today quantity.Day) (from, end quantity.Day) {
	begin, last := time.October, time.March
	if hemisphere == soil.South {
		begin, last = time.April, time.September
	}
	from = quantity.Date(today.Year(), begin, 1)
	if from > today {
		from = quantity.Date(today.Year()-1, begin, 1)
	}
	if end = quantity.Date(from.Year(), last, 1); end < from {
		end = quantity.Date(from.Year()+1, last, 1)
	}
	return from, end
}

// find returns an application's batch, else one of its kind.
func (s *Shed) find(t garden.Task) *Stock {
	for i := range s.Stock {
		if x := &s.Stock[i]; t.BatchID != nil && x.ID == *t.BatchID || t.BatchID == nil && x.Kind == t.What {
			return x
		}
	}
	return nil
}

// bags rounds a need up to whole bags and sets their cost.
func (b *Buy) bags() {
	b.Amount = b.Need
	if b.Batch == nil {
		return
	}
	if bag := b.Batch.Bag; bag != nil && *bag > 0 {
		b.Bags = int(math.Ceil(float64(b.Need / *bag) - 1e-9))
		b.Amount = quantity.Mass(b.Bags) * *bag
	}
	if p := b.Batch.Price; p != nil {
		cost := *p * float64(b.Amount/quantity.Kilogram)
		b.Cost = &cost
	}
}

// shares divides the purchase among the beds by their needs.
func (b *Buy) shares(tasks []garden.Task, beds map[int64]string) {
	var sum quantity.Mass
	for _, t := range tasks {
		sum += t.Total
	}
	for _, t := range tasks {
		name := beds[t.BedID]
		i := slices.IndexFunc(b.Beds, func(x BedNeed) bool { return x.Bed == name })
		if i < 0 {
			i = len(b.Beds)
			b.Beds = append(b.Beds, BedNeed{Bed: name})
		}
		b.Beds[i].Amount += t.Total
		if b.Cost != nil {
			cost := *b.Cost * float64(t.Total/sum)
			if b.Beds[i].Cost != nil {
				cost += *b.Beds[i].Cost
			}
			b.Beds[i].Cost = &cost
		}
	}
}

// saved computes the lime that planned ash replaces.
func (s *Shed) saved(tasks []garden.Task) {
	perGram := math.Inf(1) // of pure lime
	for _, x := range s.Stock {
		if x.Of.Family == material.Lime && x.Price != nil && x.Worth.EffectiveCCE > 0 {
			perGram = min(perGram, *x.Price/float64(quantity.Kilogram)/x.Worth.EffectiveCCE)
		}
	}
	lime := 0.0
	for _, t := range tasks {
		if x := s.find(t); t.Kind == garden.TaskApplication && x != nil && x.Ash() {
			lime += float64(t.Total) * x.Worth.EffectiveCCE
		}
	}
	if lime > 0 && !math.IsInf(perGram, 1) {
		saved := lime * perGram
		s.Saved = &saved
	}
}

// Batch returns a batch.
func (svc Service) Batch(ctx context.Context, id int64) (b garden.Batch, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		b, err = garden.Get[garden.Batch](r, id)
		return err
	})
	return b, err
}

// Moves returns what is left of a batch and its movements, oldest first.
func (svc Service) Moves(ctx context.Context, id int64) (left *quantity.Mass, moves []garden.Movement, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if moves, err = garden.Where[garden.Movement](r, "batch_id", id); err != nil {
			return err
		}
		all, err := garden.Shelf(r)
		for _, x := range all {
			if x.ID == id {
				left = x.Left
			}
		}
		return err
	})
	return left, moves, err
}
