package dosing

import (
	"context"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// solving is held while a plan is searched for: one at a time, so that pages have the rest of the machine.
var solving = make(chan struct{}, 1)

// Share shares out the stock. It waits for a search that is under way, whose plan it returns if it is the one that is
// asked for, and stops when ctx ends. progress is called with the number of beds read, and idle when all is read,
// before the search begins; both may be nil. Faults name an invalid fixed amount.
func (svc Service) Share(ctx context.Context, c ShareChoice, today quantity.Day, progress func(int), idle func()) (s Sharing, err error) {
	select {
	case solving <- struct{}{}:
		defer func() { <-solving }()
	case <-ctx.Done():
		return s, ctx.Err()
	}
	var q sharing
	var keep func(Sharing)
	found := false
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if s, found, err = garden.Peeked[Sharing](r, sharings, c.key(today)); err != nil || found {
			return err
		}
		if keep, err = garden.Later[Sharing](r, sharings, c.key(today)); err != nil {
			return err
		}
		q, err = gathered(r, c, today, progress)
		return err
	})
	if err != nil || found {
		return s, err
	}
	if idle != nil {
		idle()
	}
	if s, err = q.solve(ctx); err == nil {
		keep(s)
	}
	return s, err
}

// sharing is all that a plan is searched for with.
type sharing struct {
	Sharing
	stocks []allocate.Stock
	choice ShareChoice
}

// gathered reads a sharing's beds and stocks.
func gathered(r Reader, c ShareChoice, today quantity.Day, progress func(int)) (s sharing, err error) {
	s.choice = c
	records, g, err := bedstate.ReadBeds(r, today)
	if err != nil {
		return s, err
	}
	all, err := garden.Shelf(r)
	if err != nil {
		return s, err
	}
	s.Garden = g
	shelf := s.shelf(all)
	for i, x := range shelf {
		st := allocate.StockOf(x, today)
		if !s.Priced[i] && st.OnHand == nil {
			st.Price = unpriced
		}
		s.stocks = append(s.stocks, st)
	}
	for i, rec := range records {
		if err := s.add(rec, c, all, shelf, today); err != nil {
			return s, err
		}
		if progress != nil {
			progress(i + 1)
		}
	}
	return s, nil
}

// solve searches for the plan of the participating beds.
func (s *sharing) solve(ctx context.Context) (Sharing, error) {
	err := s.share(allocate.NewWork(ctx, allocate.UsualSteps), s.stocks, s.choice)
	return s.Sharing, err
}
