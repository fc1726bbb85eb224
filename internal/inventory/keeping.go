package inventory

import (
	"context"
	"fmt"
	"strings"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// Set adds a batch, or changes the one with its ID.
func (svc Service) Set(ctx context.Context, a garden.Actor, b garden.Batch) (garden.Receipt, error) {
	b.Name = strings.TrimSpace(b.Name)
	if err := checkBatch(b, a.Today); err != nil {
		return garden.Receipt{}, err
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		if b.ID == 0 {
			return "Put " + text.Lower(b.Name) + " on the shelf", tx.Insert(&b)
		}
		was, err := garden.Get[garden.Batch](tx, b.ID)
		if err != nil {
			return "", err
		}
		// Movements and the initial amount stay unchanged.
		b.OnHand, b.Gone = was.OnHand, was.Gone
		return "Changed " + text.Lower(b.Name), tx.Update(&b)
	})
}

// checkBatch validates a batch, by field.
func checkBatch(b garden.Batch, today quantity.Day) error {
	f := garden.Faults{}
	if m, ok := material.Find(b.Kind); ok && m.Family == material.Ash && b.Source == "" {
		f["source"] = "say what went into the fire: nothing of it may be guessed"
	}
	if b.Burnt > today {
		f["burnt"] = "that day is still to come"
	}
	if len(f) > 0 {
		return f
	}
	return garden.CheckBatch(b)
}

// Move records an addition to a batch, a withdrawal, or a weighing.
func (svc Service) Move(ctx context.Context, a garden.Actor, m garden.Movement) (garden.Receipt, error) {
	f := garden.Faults{}
	switch {
	case m.Date > a.Today:
		f["moved_on"] = "that day is still to come"
	case garden.DayFault(m.Date) != "":
		f["moved_on"] = garden.DayFault(m.Date)
	}
	limit := garden.LimitAmount
	if m.Kind == garden.MovedWeighed {
		limit = garden.LimitOnHand
	}
	if !limit.Holds(float64(m.Amount)) {
		f["moved"] = limit.Says()
	}
	if len(f) > 0 {
		return garden.Receipt{}, f
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		b, err := garden.Get[garden.Batch](tx, m.BatchID)
		if err != nil {
			return "", err
		}
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		if m.Kind == garden.MovedOut {
			if err := enough(tx, b.ID, m.Amount, g.Units()); err != nil {
				return "", err
			}
		}
		amount := g.Units().Mass(m.Amount)
		says := map[string]string{garden.MovedIn: "Put %s more to %s", garden.MovedOut: "Took %s from %s",
			garden.MovedWeighed: "Weighed %s of %s"}[m.Kind]
		return fmt.Sprintf(says, amount, text.Lower(b.Name)), tx.Insert(&m)
	})
}

// enough returns a fault when more is withdrawn than is left.
func enough(tx garden.Reader, batch int64, amount quantity.Mass, u text.Units) error {
	all, err := garden.Shelf(tx)
	if err != nil {
		return err
	}
	for _, x := range all {
		if x.ID == batch && x.Left != nil && amount > *x.Left {
			return garden.Faults{"moved": "there are only " + u.Mass(*x.Left) + " of it; weigh it where that is wrong"}
		}
	}
	return nil
}

// Drop removes a batch from the shelf: an unused one is deleted, another stays in the records of
// its applications. Planned applications stay.
func (svc Service) Drop(ctx context.Context, a garden.Actor, id, version int64) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		b, err := garden.Get[garden.Batch](tx, id)
		if err != nil {
			return "", err
		}
		tasks, err := garden.Where[garden.Task](tx, "batch_id", id)
		if err != nil {
			return "", err
		}
		open := 0
		for _, t := range tasks {
			if t.State == garden.Open {
				open++
			}
		}
		if open > 0 {
			return "", garden.Faults{"drop": text.Count(open, "application is", "applications are") + " planned from it: plan another dose first"}
		}
		b.Version = version
		says := "Took " + text.Lower(b.Name) + " off the shelf"
		used, err := tx.Used(id)
		if err != nil {
			return "", err
		}
		if !used {
			return says, tx.Delete(&b)
		}
		b.Gone = a.Today
		return says, tx.Update(&b)
	})
}

// Part is the amount of one batch in a mix; nil is all of it.
type Part struct {
	Batch  int64
	Amount *quantity.Mass
}

// Mix mixes batches of ash into a new one.
func (svc Service) Mix(ctx context.Context, a garden.Actor, name string, parts []Part) (garden.Receipt, error) {
	if len(parts) < 2 {
		return garden.Receipt{}, garden.Faults{"mix": "choose two bins or more to tip together"}
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		all, err := garden.Shelf(tx)
		if err != nil {
			return "", err
		}
		var of []material.Batch
		var amounts []quantity.Mass
		var names []string
		var sum quantity.Mass
		for _, p := range parts {
			b, amount, err := part(all, p)
			if err != nil {
				return "", err
			}
			m, _ := material.Find(b.Kind)
			of, amounts, names = append(of, b.Material(m)), append(amounts, amount), append(names, text.Lower(b.Name))
			sum += amount
			if err := tx.Insert(&garden.Movement{BatchID: b.ID, Date: a.Today, Kind: garden.MovedOut, Amount: amount,
				Note: "Tipped together with others."}); err != nil {
				return "", err
			}
		}
		mixed := batchOf(material.Mixed(of, amounts))
		mixed.Name, mixed.OnHand = strings.TrimSpace(name), &sum
		mixed.Note = "Tipped together of " + text.List(names) + "."
		if err := garden.CheckBatch(mixed); err != nil {
			return "", err
		}
		return "Tipped " + text.List(names) + " together", tx.Insert(&mixed)
	})
}

// part returns a batch of a mix with its amount.
func part(all []garden.Stock, p Part) (b garden.Stock, amount quantity.Mass, err error) {
	for _, x := range all {
		if x.ID != p.Batch {
			continue
		}
		m, ok := material.Find(x.Kind)
		switch {
		case !ok || m.Family != material.Ash || x.Gone != 0:
			return b, 0, garden.Faults{"mix": "only ash is tipped together"}
		case x.Left == nil:
			return b, 0, garden.Faults{"mix": "weigh " + text.Lower(x.Name) + " first: a mix is made by weight"}
		case p.Amount != nil && *p.Amount > *x.Left, *x.Left <= 0:
			return b, 0, garden.Faults{"mix": "there is not so much of " + text.Lower(x.Name)}
		case p.Amount != nil:
			return x, *p.Amount, nil
		}
		return x, *x.Left, nil
	}
	return b, 0, garden.ErrMissing
}

// batchOf converts a material.Batch to a record.
func batchOf(b material.Batch) garden.Batch {
	return garden.Batch{Kind: b.Kind, CCE: b.Measured, K2O: b.Potash, Condition: b.Condition, Source: b.Source, Burnt: b.Burnt,
		Embers: b.Embers, Walnut: b.Walnut, Charcoal: b.Charcoal}
}
