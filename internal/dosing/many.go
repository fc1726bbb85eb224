package dosing

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Many is the dose of several beds, side by side.
type Many struct {
	Garden garden.Garden
	// Rows are all beds that were read; Untested the names of those that were not.
	Rows     []ManyRow
	Untested []string
	// Ways are the keys and names of what any of the beds is offered, in no order of worth.
	Ways []Way
	// Totals are what the chosen beds take of each material, Cost all of it; nil where a
	// price is not known.
	Totals []ManyTotal
	Cost   *float64
}

// Way is a material that several beds may take.
type Way struct {
	Key  string
	Part dose.Part
	On   *garden.Stock
}

// ManyRow is one bed. Option is what it would get, nil where nothing is offered of what was
// asked for; Chosen where the bed is among those that are to get it.
type ManyRow struct {
	Dose
	Option *dose.Option
	Chosen bool
	// Planned is set where goes that move pH are in the year already.
	Planned bool
}

// ManyTotal is what the chosen beds take of one material.
type ManyTotal struct {
	Way
	Total quantity.Mass
	Beds  int
}

// Short returns what is lacking of it by the shelf.
func (t ManyTotal) Short() quantity.Mass {
	if t.On == nil || t.On.Left == nil {
		return 0
	}
	return max(0, t.Total-*t.On.Left)
}

// Many works out the doses of several beds by the garden's own methods and each bed's last
// reading: of each bed's first option, or of what with names. Without beds it chooses those
// that are offered something and have nothing in the year.
func (svc Service) Many(ctx context.Context, beds []int64, with string, today quantity.Day) (m Many, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error { m, err = many(r, beds, with, today); return err })
	return m, err
}

func many(r Reader, beds []int64, with string, today quantity.Day) (m Many, err error) {
	if m.Rows, m.Untested, m.Garden, err = RowsOf(r, today); err != nil {
		return m, err
	}
	for i := range m.Rows {
		row := &m.Rows[i]
		row.choose(with)
		row.Chosen = row.Option != nil && (slices.Contains(beds, row.Dose.Record.Bed.ID) || len(beds) == 0 && !row.Planned)
		m.offer(row)
	}
	m.add()
	return m, nil
}

// RowsOf works out the dose of every bed that was read, with nothing chosen; untested are
// the names of the others.
func RowsOf(r Reader, today quantity.Day) (rows []ManyRow, untested []string, g garden.Garden, err error) {
	records, g, err := bedstate.ReadBeds(r, today)
	if err != nil {
		return nil, nil, g, err
	}
	shelf, err := garden.Shelf(r)
	if err != nil {
		return nil, nil, g, err
	}
	for _, rec := range records {
		if rec.Bed.Kind == garden.KindHeap {
			continue
		}
		row := ManyRow{Dose: Dose{Record: rec, Garden: g}}
		switch err := row.ask(Choice{}, shelf, today); {
		case errors.Is(err, ErrNoReading):
			untested = append(untested, rec.Bed.Name)
			continue
		case err != nil:
			return nil, nil, g, err
		}
		if lacks, err := row.answer(); err != nil || lacks != "" {
			if err != nil {
				return nil, nil, g, err
			}
			untested = append(untested, lacks)
			continue
		}
		row.Planned = row.planned()
		rows = append(rows, row)
	}
	return rows, untested, g, nil
}

// planned reports whether applications that move pH are in the year.
func (w *Dose) planned() bool {
	return slices.ContainsFunc(w.Record.Tasks, func(t garden.Task) bool {
		return t.State == garden.Open && t.Kind == garden.TaskApplication && t.PlanID != nil
	})
}

// LookAgain returns the day by which a bed that is left alone is tested again: a retest that stands
// in the year, else the one that tells what still acts in it, where that comes sooner than the
// soil's own rhythm asks.
func (w *Dose) LookAgain() quantity.Day {
	by := calendar.Look(w.Record.Bed.Texture, w.Used.Date, w.Garden.RetestRhythm)
	planned := false
	for _, t := range w.Record.Tasks {
		if t.State == garden.Open && t.Kind == garden.TaskRetest {
			by, planned = min(by, t.Due), true
		}
	}
	if x := w.Record.State.AtWork; x != nil && x.Again != 0 && !planned {
		by = min(by, x.Again)
	}
	return by
}

// choose takes the bed's first option, or what was asked for.
func (row *ManyRow) choose(with string) {
	if d := row.Answer.Direction; d != dose.Raise && d != dose.Lower {
		return
	}
	if with == "" && len(row.Answer.Options) > 0 {
		row.Option = &row.Answer.Options[0]
	}
	if o, ok := row.Pick(with); ok && !o.ForPotassium {
		row.Option = &o
	}
}

// offer notes what a bed may take, of one material each.
func (m *Many) offer(row *ManyRow) {
	for _, o := range row.Answer.Options {
		if len(o.Parts) > 1 {
			continue
		}
		key := row.Key(o)
		if !slices.ContainsFunc(m.Ways, func(w Way) bool { return w.Key == key }) {
			m.Ways = append(m.Ways, Way{key, o.Parts[0], row.Shelf[o.Parts[0].Batch]})
		}
	}
}

// add sums what the chosen beds take.
func (m *Many) add() {
	cost, priced := 0.0, true
	for i := range m.Rows {
		row := &m.Rows[i]
		if !row.Chosen {
			continue
		}
		if row.Option.Cost == nil {
			priced = false
		} else {
			cost += *row.Option.Cost
		}
		for n, p := range row.Option.Parts {
			key := row.MaterialKey(p.Batch)
			at := slices.IndexFunc(m.Totals, func(t ManyTotal) bool { return t.Key == key })
			if at < 0 {
				at = len(m.Totals)
				m.Totals = append(m.Totals, ManyTotal{Way: Way{key, row.Option.Parts[n], row.Shelf[p.Batch]}})
			}
			m.Totals[at].Total += p.Total
			m.Totals[at].Beds++
		}
	}
	if priced && len(m.Totals) > 0 {
		m.Cost = &cost
	}
}

// PlanMany puts the doses of several beds in the year, in place of what was planned for
// them: one change, undone by one.
func (svc Service) PlanMany(ctx context.Context, a garden.Actor, beds []int64, with string,
	encode func(*Dose) (garden.JSON, error)) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		if len(beds) == 0 {
			return "", garden.Faults{"beds": "choose a bed first"}
		}
		m, err := many(tx, beds, with, a.Today)
		if err != nil {
			return "", err
		}
		applications, put := 0, 0
		for i := range m.Rows {
			row := &m.Rows[i]
			switch {
			case !row.Chosen:
				continue
			case row.AshUntold(*row.Option):
				return "", garden.Faults{"beds": askAshFirst}
			}
			if _, err := row.PlanOption(tx, a.Today, *row.Option, encode); err != nil {
				return "", err
			}
			applications, put = applications+len(row.Option.Applications), put+1
		}
		if put < len(beds) {
			return "", ErrNoOption
		}
		return fmt.Sprintf("Put %s in the year for %s", text.Count(applications, "go", "goes"), text.Count(put, "bed", "beds")), nil
	})
}
