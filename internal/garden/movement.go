package garden

import (
	"zephyrfield/agronomy/quantity"
)

// The kinds of movement.
const (
	MovedIn      = "in"
	MovedOut     = "out"
	MovedWeighed = "weighed"
)

// MovementKinds lists them.
var MovementKinds = []string{MovedIn, MovedOut, MovedWeighed}

// Movement is an addition to a batch, a withdrawal, or a weighing. The stock is the initial amount,
// or the last weighing, plus the movements after it.
type Movement struct {
	Meta
	BatchID int64         `db:"batch_id" json:"batch_id"`
	Date    quantity.Day  `db:"date" json:"date"`
	Kind    string        `db:"kind" json:"kind"`
	Amount  quantity.Mass `db:"amount_g" json:"amount_g"`
	// ApplicationID is the application that it was withdrawn for, or nil.
	ApplicationID *int64 `db:"application_id" json:"application_id"`
	Note          string `db:"note" json:"note"`
}

var movementTable = Table{Name: "movements", Order: "date, id", One: "movement of stock", New: func() Record { return &Movement{} },
	Most:   500_000,
	Alone:  []Alone{{"application_id", "amount", "that application left the shelf already", "weigh what is left"}},
	Agrees: []Agree{{"application_id", "applications", "batch_id", "belongs to an application of another batch"}}}

func (m *Movement) check(f Faults) {
	known(f, "kind", MovementKinds, m.Kind)
	wanted(f, "date", m.Date)
	if m.Kind == MovedWeighed {
		LimitOnHand.hold(f, "amount_g", float64(m.Amount))
	} else {
		LimitAmount.hold(f, "amount_g", float64(m.Amount))
	}
	if m.ApplicationID != nil && m.Kind != MovedOut {
		f["kind"] = "what was put on a bed went out"
	}
	if why := TextFault(m.Note, LongestNote, true); why != "" {
		f["note"] = why
	}
}

// Moved is the sum of a batch's movements since it was entered, or since its last weighing: Weighed
// is set then, and Amount is the stock.
type Moved struct {
	BatchID int64         `db:"batch_id"`
	Amount  quantity.Mass `db:"amount_g"`
	Weighed bool          `db:"weighed"`
	In      bool          `db:"came"`
}

// Stock is a batch with its remaining amount.
type Stock struct {
	Batch
	// Left is the remaining amount; nil if it was never known.
	Left *quantity.Mass
}

// Level returns the remaining amount of a batch: the initial amount or the last weighing plus
// movements, at least 0; nil if it was never known.
func (b Batch) Level(m Moved) *quantity.Mass {
	sum := m.Amount
	switch {
	case m.Weighed:
	case b.OnHand != nil:
		sum += *b.OnHand
	case !m.In:
		return nil
	}
	sum = max(0, sum)
	return &sum
}

// Shelf returns the batches in stock, each with its remaining amount.
func Shelf(r Reader) ([]Stock, error) {
	all, err := All[Batch](r)
	if err != nil {
		return nil, err
	}
	moved, err := r.Moved()
	if err != nil {
		return nil, err
	}
	of := make(map[int64]Moved, len(moved))
	for _, m := range moved {
		of[m.BatchID] = m
	}
	out := make([]Stock, len(all))
	for i, b := range all {
		out[i] = Stock{b, b.Level(of[b.ID])}
	}
	return out, nil
}
