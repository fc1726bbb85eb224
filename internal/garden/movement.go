package garden

import (
	"zephyrfield/agronomy/quantity"
)

// Kinds of movement.
const (
	MovedIn      = "in"
	MovedOut     = "out"
	MovedWeighed = "weighed"
)

// MovementKinds lists them.
var MovementKinds = []string{MovedIn, MovedOut, MovedWeighed}

// Movement is something that came to a batch or left it, or what it weighed. The
// level of a batch is a sum: what it was entered with, or the last weighing, and
// what came and went after.
type Movement struct {
	Meta
	BatchID int64         `db:"batch_id" json:"batch_id"`
	Date    quantity.Day  `db:"date" json:"date"`
	Kind    string        `db:"kind" json:"kind"`
	Amount  quantity.Mass `db:"amount_g" json:"amount_g"`
	// ApplicationID is what it was taken for; nil for the rest.
	ApplicationID *int64 `db:"application_id" json:"application_id"`
	Note          string `db:"note" json:"note"`
}

var movementTable = Table{Name: "movements", Order: "date, id", One: "movement of stock", New: func() Record { return &Movement{} },
	Most:   500_000,
	Alone:  []Alone{{"application_id", "amount", "that go left the shelf already", "weigh what is left"}},
	Agrees: []Agree{{"application_id", "applications", "batch_id", "belongs to a go of another batch"}}}

func (m *Movement) check(f Faults) {
	known(f, "kind", MovementKinds, m.Kind)
	wanted(f, "date", m.Date)
	if m.Kind == MovedWeighed {
		LimitOnHand.hold(f, "amount_g", float64(m.Amount))
	} else {
		LimitAmount.hold(f, "amount_g", float64(m.Amount))
	}
	if m.ApplicationID != nil && m.Kind != MovedOut {
		f["kind"] = "what went on a bed went out"
	}
	if why := TextFault(m.Note, LongestNote, true); why != "" {
		f["note"] = why
	}
}

// Moved is what came to a batch and left it since it was entered, or since it was
// last weighed: Weighed is set then, and Amount is what there is.
type Moved struct {
	BatchID int64         `db:"batch_id"`
	Amount  quantity.Mass `db:"amount_g"`
	Weighed bool          `db:"weighed"`
	In      bool          `db:"came"`
}

// Stock is a batch with what there is of it.
type Stock struct {
	Batch
	// Left is the sum of what was entered, came and went; nil where nobody ever said
	// how much there is.
	Left *quantity.Mass
}

// Level returns what is left of a batch: what it was entered with, or weighed last, with what came
// and went after. Less than nothing is nothing; nobody knows where what came was never told.
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

// Shelf returns what stands there, each batch with what is left of it.
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
