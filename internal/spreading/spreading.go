// Package spreading answers where a material in hand may go: on which beds today and how
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

// Service finds where a material may go.
type Service struct{ Store garden.Store }

// Reader and Tx are the queries and changes that this package needs of a store.
type (
	Reader interface{ dosing.Reader }
	Tx     interface {
		schedule.Tx
	}
)

// Material is what is in the bucket.
type Material struct {
	// Key names it: a batch on the shelf, or a kind. On is the batch, nil where it is none.
	Key string
	On  *garden.Stock
	Of  material.Batch
}

// Measure returns what it is counted in; nil where none was weighed.
func (h Material) Measure() *text.Scoop {
	if h.On == nil {
		return nil
	}
	return h.On.Measure()
}

// Feed reports whether it goes on by its own measure, not by what a bed needs: potash follows
// the potassium that a bed is short of.
func (h Material) Feed() bool {
	return !h.Of.MovesPH() && h.Of.Family != material.Potash || h.Of.GivesAmmonia()
}

// Place is a bed and what of the bucket may go there.
type Place struct {
	dosing.ManyRow
	// Go is the application that may be applied, nil where none may; Option what it is part of. A go that
	// is in the year already is Task instead.
	Go     *dose.Application
	Option *dose.Option
	Task   *garden.Task
	// Day is the first day: today, or later.
	Day quantity.Day
	// Most is what a feed may have at one time.
	Most quantity.Rate
	// Against says why not, Stopped the same in words where a rule of the day does.
	Against []guard.Finding
	Stopped string
}

// Today reports whether some of the bucket may go there today.
func (w Place) Today(today quantity.Day) bool { return w.Day == today }

// Places is what is held, and where it may go.
type Places struct {
	Garden garden.Garden
	// Choices are what may be in the bucket; Held is nil until it is said.
	Choices []Material
	Held    *Material
	// Barred and Hot say that it goes nowhere.
	Barred, Hot bool
	Places      []Place
	Untested    []string
}

// Places reports where a bucket of something may go; what is its key, "" for not yet said.
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

// choices returns the batches on the shelf, then the kinds that do not stand there but lie about in
// a garden: feeds and manure.
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

// find returns what of the bucket may be applied a bed.
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
			w.Option, w.Go, w.Day = &o, &o.Applications[0], o.Applications[0].Date
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

// planned finds an application of the bucket that is in the year and due.
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

// feed returns how much of a feed a bed may have at one time today.
func (w *Place) feed(h *Material, today quantity.Day) {
	if w.Against = guard.Against(&w.ManyRow.Dose.Record.State.Judgement, &h.Of); len(w.Against) > 0 {
		return
	}
	caps, ok := h.Of.CapsOn(w.ManyRow.Dose.Record.State.Ground)
	if !ok {
		w.Day = today // it moves nothing
		return
	}
	if w.Most = caps.Go; !caps.Offered() {
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

// Amount is so much of a bucket for a bed; Amount nil is what is planned there, On the day on
// which it went on, no day for today.
type Amount struct {
	What   string
	Bed    int64
	Amount *quantity.Mass
	On     quantity.Day
}

// PutOn puts what is in the bucket on a bed: the application that is in the year, else the first of
// the bed's dose, whose rest goes into the year; of a feed so much as was said. encode
// writes a dose's request for the record.
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

// log keeps a feed that was applied.
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
