package dosing

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Many are the doses of several beds, side by side.
type Many struct {
	Garden garden.Garden
	// Rows are all beds with a reading; Untested the names of the others.
	Rows     []ManyRow
	Untested []string
	// Ways are the keys and names of all materials offered to any bed, in no particular order.
	Ways []Way
	// Totals are the amounts of each material for the chosen beds, Cost their cost; nil when a
	// price is unknown.
	Totals []ManyTotal
	Cost   *float64
}

// Way is a material offered to several beds.
type Way struct {
	Key  string
	Part dose.Part
	On   *garden.Stock
}

// ManyRow is one bed. Option is what it would get, nil when the wanted material is not offered;
// Chosen marks the selected beds.
type ManyRow struct {
	Dose
	Option *dose.Option
	Chosen bool
	// Planned is set when applications that move pH are already planned, as Scheduled returns them.
	Planned bool
}

// ManyTotal is the amount of one material for the chosen beds.
type ManyTotal struct {
	Way
	Total quantity.Mass
	Beds  int
}

// Short returns the amount missing from stock.
func (t ManyTotal) Short() quantity.Mass {
	if t.On == nil || t.On.Left == nil {
		return 0
	}
	return max(0, t.Total-*t.On.Left)
}

// Missing returns the amount missing from stock beside what is planned of it for other beds; all of
// it where it is not in stock, 0 where its weight is not known.
func (t ManyTotal) Missing(planned quantity.Mass) quantity.Mass {
	switch {
	case t.On == nil:
		return t.Total
	case t.On.Left == nil:
		return 0
	}
	return max(0, t.Total+planned-*t.On.Left)
}

// Many computes the doses of several beds by the garden's methods and each bed's last reading: each
// bed's first option, or the material `with`. Without beds it chooses those that are offered
// something and have nothing planned.
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

// RowsOf computes the dose of every bed with a reading, none chosen; untested are the names of the
// others.
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
		row.Planned = len(row.Scheduled()) > 0
		rows = append(rows, row)
	}
	return rows, untested, g, nil
}

// Scheduled returns the open applications of earlier doses that move pH, whose place a new one takes.
func (w *Dose) Scheduled() (out []garden.Task) {
	for _, t := range w.Record.Tasks {
		if t.State == garden.Open && t.Kind == garden.TaskApplication && t.PlanID != nil && movesPH(t.What) {
			out = append(out, t)
		}
	}
	return out
}

func movesPH(k material.Kind) bool {
	m, _ := material.Find(k)
	return m.MovesPH()
}

// LookAgain returns the day of the next test of a bed that is left alone: a planned retest, else
// the one for what is still reacting if that is sooner than the soil's usual interval.
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

// choose sets the bed's first option, or the wanted material.
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

// offer adds the single materials offered to a bed.
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

// add sums the chosen beds' amounts.
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

// PlanMany plans the doses of several beds, replacing their earlier plans, as one change.
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
			case row.UnknownAsh(*row.Option):
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
		return fmt.Sprintf("Planned %s for %s", text.Count(applications, "application", "applications"), text.Count(put, "bed", "beds")), nil
	})
}
