package inventory

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// Incoming is a line of an imported table of the shelf: its number, its batch, and the changed
// fields.
type Incoming struct {
	Line int
	Name string
	Onto func(*garden.Stock) error
}

// Import imports a table of the shelf, all or nothing: known names are changed, others added, and
// differing weights are weighings. Faults are at "file".
func (svc Service) Import(ctx context.Context, a garden.Actor, lines []Incoming) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		all, err := garden.Shelf(tx)
		if err != nil {
			return "", err
		}
		byName := map[string]garden.Stock{}
		for _, s := range all {
			if s.Gone == 0 {
				byName[s.Name] = s
			}
		}
		seen, changed := map[string]int{}, 0
		for _, l := range lines {
			if at, twice := seen[l.Name]; twice {
				return "", atLine(l.Line, fmt.Errorf("the name stands in line %d already", at))
			}
			seen[l.Name] = l.Line
			did, err := takeLine(tx, a, l, byName)
			if err != nil {
				return "", atLine(l.Line, err)
			}
			changed += did
		}
		if changed == 0 {
			return "", garden.Faults{"file": "all of it stands on the shelf already, as it is"}
		}
		return "Took " + text.Count(changed, "batch", "batches") + " of a file onto the shelf", nil
	})
}

// atLine adds the line number to a fault.
func atLine(line int, err error) error {
	var f garden.Faults
	if errors.As(err, &f) {
		for field, why := range f {
			return garden.Faults{"file": fmt.Sprintf("line %d, %s: %s", line, field, why)}
		}
	}
	return garden.Faults{"file": fmt.Sprintf("line %d: %v", line, err)}
}

// alike reports whether two batches are equal.
func alike(a, b garden.Batch) bool {
	x, errX := json.Marshal(a)
	y, errY := json.Marshal(b)
	return errX == nil && errY == nil && bytes.Equal(x, y)
}

// takeLine imports one line and reports whether it changed anything.
func takeLine(tx Tx, a garden.Actor, l Incoming, byName map[string]garden.Stock) (int, error) {
	was, stands := byName[l.Name]
	now := was
	if err := l.Onto(&now); err != nil {
		return 0, err
	}
	left := now.Left
	if err := checkBatch(now.Batch, a.Today); err != nil {
		return 0, err
	}
	if !stands {
		now.OnHand = left
		return 1, tx.Insert(&now.Batch)
	}
	changed := 0
	if !alike(now.Batch, was.Batch) {
		if err := tx.Update(&now.Batch); err != nil {
			return 0, err
		}
		changed = 1
	}
	if left != nil && (was.Left == nil || math.Abs(float64(*left-*was.Left)) >= 0.5) {
		if !garden.LimitOnHand.Holds(float64(*left)) {
			return 0, garden.Faults{"left_kg": garden.LimitOnHand.Says()}
		}
		w := garden.Movement{BatchID: now.ID, Date: a.Today, Kind: garden.MovedWeighed, Amount: *left, Note: "From a file."}
		return 1, tx.Insert(&w)
	}
	return changed, nil
}
