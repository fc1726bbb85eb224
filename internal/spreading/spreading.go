// Package spreading computes where a material at hand may be applied: on which beds today and how
// much, on which later, on which not and why; and records its application.
package spreading

import (
	"context"
	"slices"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
)

// Service computes where a material may be applied.
type Service struct{ Store garden.Store }

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface{ dosing.Reader }
	Tx     interface {
		schedule.Tx
	}
)

// Material is the material at hand.
type Material struct {
	// Key is its key: a batch, or a kind. On is the batch, nil for a kind.
	Key string
	On  *garden.Stock
	Of  material.Batch
}

// Measure returns its measure; nil without one.
func (h Material) Measure() *text.Scoop {
	if h.On == nil {
		return nil
	}
	return h.On.Measure()
}

// Feed reports whether it is applied at its own rate, not by need; potash follows the potassium
// that a bed is short of.
func (h Material) Feed() bool {
	return !h.Of.MovesPH() && h.Of.Family != material.Potash || h.Of.GivesAmmonia()
}

// Place is a bed with what may be applied there.
type Place struct {
	dosing.ManyRow
	// Application is the allowed application, nil if none; Option is its option. An application already
	// planned is in Task instead.
	Application *dose.Application
	Option      *dose.Option
	Task        *garden.Task
	// Day is the first allowed day.
	Day quantity.Day
	// Most is the cap on one application of a feed.
	Most quantity.Rate
	// Against are the findings against it, Stopped the wording of a day rule.
	Against []guard.Finding
	Stopped string
}

// Today reports whether some of it may be applied today.
func (w Place) Today(today quantity.Day) bool { return w.Day == today }

// Places is the material and where it may be applied.
type Places struct {
	Garden garden.Garden
	// Choices are the materials to choose from; Held is the chosen one, or nil.
	Choices []Material
	Held    *Material
	// Barred and Hot are set when it may be applied nowhere.
	Barred, Hot bool
	Places      []Place
	Untested    []string
}

// Places computes where a material may be applied; what is its key, "" for none chosen.
func (svc Service) Places(ctx context.Context, what string, today quantity.Day) (b Places, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error { b, err = view(r, what, today); return err })
	return b, err
}

func view(r Reader, what string, today quantity.Day) (b Places, err error) {
	if b.Garden, err = r.Garden(); err != nil {
		return b, err
	}
	shelf, err := garden.Shelf(r)
	if err != nil {
		return b, err
	}
	b.Choices = choices(shelf)
	i := slices.IndexFunc(b.Choices, func(h Material) bool { return h.Key == what })
	if i < 0 {
		if what != "" {
			return b, garden.ErrMissing
		}
		return b, nil
	}
	b.Held = &b.Choices[i]
	if b.Barred, b.Hot = b.Held.Of.Barred(), b.Held.Of.Hot(today); b.Barred || b.Hot {
		return b, nil
	}
	rows, untested, _, err := dosing.RowsOf(r, today)
	if err != nil {
		return b, err
	}
	b.Untested = untested
	for _, row := range rows {
		w := Place{ManyRow: row}
		w.find(b.Held, today)
		b.Places = append(b.Places, w)
	}
	return b, nil
}

// choices returns the batches in stock, then kinds that are not in stock but common in gardens:
// feeds and manure.
func choices(shelf []garden.Stock) (out []Material) {
	has := map[material.Kind]bool{}
	for i := range shelf {
		x := &shelf[i]
		m, ok := material.Find(x.Kind)
		if !ok || x.Gone != 0 {
			continue
		}
		has[m.Kind] = true
		out = append(out, Material{dosing.BatchKey(x.ID), x, x.Material(m)})
	}
	for _, kind := range []material.Kind{"ammonium-sulfate", "urea", "potassium-sulfate", "manure", "rotted-manure", "horse-manure",
		"sheep-manure", "poultry-manure", "poultry-pellets", "compost", "mushroom-compost"} {
		if m, ok := material.Find(kind); ok && !has[kind] {
			out = append(out, Material{string(kind), nil, material.Batch{Material: m}})
		}
	}
	return out
}

// find computes what of the material may be applied to a bed.
func (w *Place) find(h *Material, today quantity.Day) {
	if w.planned(h, today) {
		return
	}
	if h.Feed() {
		w.feed(h, today)
		return
	}
	for _, key := range []string{h.Key, dosing.PotassiumKey + h.Key} {
		if o, ok := w.Pick(key); ok {
			w.Option, w.Application, w.Day = &o, &o.Applications[0], o.Applications[0].Date
			return
		}
	}
	for _, list := range [][]dose.Refusal{w.Answer.Refused, w.Answer.Potassium.Refused} {
		for _, r := range list {
			if w.MaterialKey(r.Batch) == h.Key && len(w.Against) == 0 {
				w.Against = r.Guards
			}
		}
	}
}

// planned finds a due planned application of the material.
func (w *Place) planned(h *Material, today quantity.Day) bool {
	for i := range w.ManyRow.Dose.Record.Tasks {
		t := &w.ManyRow.Dose.Record.Tasks[i]
		_, held := w.ManyRow.Dose.Record.Held[t.ID]
		if t.State != garden.Open || t.Kind != garden.TaskApplication || held || h.On == nil || t.BatchID == nil || *t.BatchID != h.On.ID ||
			w.ManyRow.Dose.Record.Moved[t.ID].Retest {
			continue
		}
		w.Task, w.Day = t, max(t.Due, today)
		return true
	}
	return false
}

// feed computes how much of a feed may be applied today.
func (w *Place) feed(h *Material, today quantity.Day) {
	if w.Against = guard.Against(&w.ManyRow.Dose.Record.State.Judgement, &h.Of); len(w.Against) > 0 {
		return
	}
	caps, ok := h.Of.CapsOn(w.ManyRow.Dose.Record.State.Ground)
	if !ok {
		w.Day = today // it does not move pH
		return
	}
	if w.Most = caps.Once; !caps.Offered() {
		w.Against = []guard.Finding{guard.NotOffered(h.Of.Kind, w.ManyRow.Dose.Record.State.Ground.Use,
			w.ManyRow.Dose.Record.State.Ground.Worked)}
		return
	}
	if why := w.ManyRow.Dose.Record.State.Season.Blocked(h.Of.Family, today); why != "" {
		w.Stopped = text.Capital(text.Limit(string(why))) + "."
		return
	}
	if w.Stopped = text.Capital(w.ManyRow.Dose.Record.State.Stops(w.Garden.Units(), h.Of.Material, w.Most, today)); w.Stopped == "" {
		w.Day = today
	}
}

// Amount is an amount for a bed; nil is the planned one, on the day On, 0 for today.
type Amount struct {
	What   string
	Bed    int64
	Amount *quantity.Mass
	On     quantity.Day
}

// PutOn records the material as applied to a bed: the planned application, else the first of the
// bed's dose, whose rest is planned; of a feed the given amount. encode writes a dose's request for
// the record.
func (svc Service) PutOn(ctx context.Context, a garden.Actor, p Amount, encode func(*dosing.Dose) (garden.JSON, error)) (garden.Receipt,
	error) {
	if p.On.IsZero() {
		p.On = a.Today
	}
	if p.On > a.Today {
		return garden.Receipt{}, garden.Faults{"amount": "that day is still to come"}
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		b, err := view(tx, p.What, p.On)
		if err != nil {
			return "", err
		}
		i := slices.IndexFunc(b.Places, func(w Place) bool { return w.ManyRow.Dose.Record.Bed.ID == p.Bed })
		switch {
		case b.Barred:
			return "", garden.Faults{"amount": text.Barred(b.Held.Of.Source)}
		case b.Held == nil || i < 0 || !b.Places[i].Today(p.On):
			return "", garden.Faults{"amount": "that may not go on this bed on that day"}
		}
		w := b.Places[i]
		if b.Held.Feed() && w.Task == nil {
			return w.log(tx, a, b.Held, p)
		}
		if w.Task == nil {
			tasks, err := w.PlanOption(tx, p.On, *w.Option, encode)
			if err != nil {
				return "", err
			}
			w.Task = &tasks[0]
		}
		tick := applications.Tick{Task: w.Task.ID, Version: w.Task.Version, Total: p.Amount, On: p.On}
		return tick.PutOn(tx, a)
	})
}

// log records an applied feed.
func (w Place) log(tx Tx, a garden.Actor, h *Material, p Amount) (string, error) {
	if p.Amount == nil || !garden.LimitAmount.Holds(float64(*p.Amount)) {
		return "", garden.Faults{"amount": "how much of it? an amount above 0 is needed"}
	}
	x := garden.Application{BedID: w.ManyRow.Dose.Record.Bed.ID, Date: p.On, What: h.Of.Kind, Total: *p.Amount}
	if h.On != nil {
		x.BatchID = &h.On.ID
	}
	if w.Most > 0 && p.Amount.Per(w.ManyRow.Dose.Record.Bed.Area()) > w.Most*(1+1e-6) {
		return "", garden.Faults{"amount": "that is more than the " + w.Garden.Units().Amount(w.Most.Over(w.ManyRow.Dose.Record.Bed.Area()),
			h.Measure()) +
			" that this bed may have at one time"}
	}
	return applications.Note(tx, a, x)
}
