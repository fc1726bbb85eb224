package web

import (
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
)

// scoopOf is the measure of what a go of the bed takes, scoopFor of a go of an option; nil
// where none was weighed.
func scoopOf(w desk.Worked, t garden.Task) *words.Scoop {
	for _, s := range w.Shelf {
		if s != nil && t.BatchID != nil && s.ID == *t.BatchID {
			return s.Measure()
		}
	}
	return nil
}

func scoopFor(w desk.Worked, o dose.Option, g dose.Go) *words.Scoop {
	return stockMeasure(w, o.Parts[g.Part].Batch)
}

// stockMeasure is the measure of one of a dose's materials.
func stockMeasure(w desk.Worked, batch int) *words.Scoop {
	if b := shelfOf(w, batch); b != nil {
		return b.Measure()
	}
	return nil
}

// measureOf is the gardener's measure of what a go takes; nil where none was weighed.
func measureOf(batches map[int64]garden.Batch, t garden.Task) *words.Scoop {
	if t.BatchID == nil {
		return nil
	}
	return batches[*t.BatchID].Measure()
}

// brief is an amount in the fewest words: in scoops where one was weighed.
func brief(total quantity.Mass, scoop *words.Scoop, u words.Units) string {
	if scoop != nil {
		return words.Count(words.Scoops(total, scoop.Of), scoop.Name, scoop.Name+"s")
	}
	return u.Mass(total)
}
