package applications

import (
	"context"
	"slices"
	"strings"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Filter selects applications; the zero Filter selects all.
type Filter struct {
	Bed    int64
	What   material.Kind
	Season string
}

// Entry is one application.
type Entry struct {
	garden.Application
	Bed    garden.Bed
	Batch  *garden.Batch
	Season string
	// Brought is what it supplies, g/m², its lime as if fully reacted.
	Brought ledger.Brought
}

// Sum is the total of a bed in a season, g/m².
type Sum struct {
	Bed     garden.Bed
	Season  string
	Brought ledger.Brought
}

// Log is the applications, newest first, with sums by bed and season and the filter choices.
type Log struct {
	Garden  garden.Garden
	Entries []Entry
	Sums    []Sum
	Beds    []garden.Bed
	// Shelf are the batches in stock on the day.
	Shelf   []garden.Batch
	Kinds   []material.Kind
	Seasons []string
}

// Log returns the applications up to a day.
func (svc Service) Log(ctx context.Context, f Filter, day quantity.Day) (l Log, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if l.Garden, err = r.Garden(); err != nil {
			return err
		}
		if l.Beds, err = garden.All[garden.Bed](r); err != nil {
			return err
		}
		batches, err := bedstate.BatchesByID(r)
		if err != nil {
			return err
		}
		for _, b := range batches {
			if b.Gone == 0 || b.Gone > day {
				l.Shelf = append(l.Shelf, b)
			}
		}
		slices.SortFunc(l.Shelf, func(a, b garden.Batch) int { return int(a.ID - b.ID) })
		all, err := garden.All[garden.Application](r)
		if err != nil {
			return err
		}
		l.gather(all, batches, f, day)
		return nil
	})
	return l, err
}

// gather filters and sums.
func (l *Log) gather(all []garden.Application, batches map[int64]garden.Batch, f Filter, day quantity.Day) {
	beds := make(map[int64]garden.Bed, len(l.Beds))
	for _, b := range l.Beds {
		beds[b.ID] = b
	}
	type key struct {
		bed    int64
		season string
	}
	at := map[key]int{}
	for _, a := range slices.Backward(all) {
		e := Entry{Application: a, Bed: beds[a.BedID], Season: l.Garden.SeasonOf(a.Date)}
		if a.Date > day {
			continue
		}
		if !slices.Contains(l.Kinds, a.What) {
			l.Kinds = append(l.Kinds, a.What)
		}
		if !slices.Contains(l.Seasons, e.Season) {
			l.Seasons = append(l.Seasons, e.Season)
		}
		if f.Bed != 0 && f.Bed != a.BedID || f.What != "" && f.What != a.What || f.Season != "" && f.Season != e.Season {
			continue
		}
		if a.BatchID != nil {
			if b, ok := batches[*a.BatchID]; ok {
				e.Batch = &b
			}
		}
		e.Brought = BroughtBy(&a, l.Garden)
		l.Entries = append(l.Entries, e)
		k := key{a.BedID, e.Season}
		if _, ok := at[k]; !ok {
			at[k] = len(l.Sums)
			l.Sums = append(l.Sums, Sum{Bed: e.Bed, Season: e.Season})
		}
		l.Sums[at[k]].Brought.Add(e.Brought)
	}
	slices.SortStableFunc(l.Sums, func(a, b Sum) int {
		if a.Season != b.Season {
			return strings.Compare(b.Season, a.Season)
		}
		return int(a.Bed.ID - b.Bed.ID)
	})
	slices.SortFunc(l.Seasons, func(a, b string) int { return strings.Compare(b, a) })
	slices.SortFunc(l.Kinds, func(a, b material.Kind) int { return strings.Compare(text.Material(a), text.Material(b)) })
}

// BroughtBy returns what an application supplies: its lime as if fully reacted, tap water with the
// place's lime.
func BroughtBy(a *garden.Application, g garden.Garden) (b ledger.Brought) {
	p, ok := a.Put()
	if !ok {
		return b
	}
	b = p.Brought()
	if mg := g.Alkalinity(); a.What == material.TapWater && mg != nil {
		b.CaCO3 += ledger.WaterLime(a.Rate, *mg)
	}
	return b
}

// Entry returns one application.
func (svc Service) Entry(ctx context.Context, id int64) (e Entry, g garden.Garden, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if g, err = r.Garden(); err != nil {
			return err
		}
		if e.Application, err = garden.Get[garden.Application](r, id); err != nil {
			return err
		}
		if e.BatchID != nil {
			b, err := garden.Get[garden.Batch](r, *e.BatchID)
			if err != nil {
				return err
			}
			e.Batch = &b
		}
		e.Bed, err = garden.Get[garden.Bed](r, e.BedID)
		return err
	})
	return e, g, err
}
