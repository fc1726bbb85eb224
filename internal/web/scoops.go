package web

import (
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
)

// scoopFor is the measure of what a go of an option takes; nil where none was weighed.
func scoopFor(w *desk.Worked, o dose.Option, g dose.Go) *words.Scoop {
	return stockMeasure(w, o.Parts[g.Part].Batch)
}

// batchOf is the batch that a go of an option takes from; nil where the usual kind stands in.
func batchOf(w *desk.Worked, o dose.Option, g dose.Go) *int64 {
	if b := shelfOf(w, o.Parts[g.Part].Batch); b != nil {
		return &b.ID
	}
	return nil
}

// stockMeasure is the measure of one of a dose's materials.
func stockMeasure(w *desk.Worked, batch int) *words.Scoop {
	if b := shelfOf(w, batch); b != nil {
		return b.Measure()
	}
	return nil
}

// measureOf is the gardener's measure of a batch; nil where none was weighed.
func measureOf(batches map[int64]garden.Batch, id *int64) *words.Scoop {
	if id == nil {
		return nil
	}
	return batches[*id].Measure()
}

// shelfOf is the batch on the shelf that a material of the request is; nil
// when it is not there.
func shelfOf(w *desk.Worked, batch int) *garden.Stock { return w.Shelf[batch] }

// brief is an amount in the fewest words: in scoops where one was weighed.
func brief(total quantity.Mass, scoop *words.Scoop, u words.Units) string {
	if scoop != nil {
		return scoop.Bare(total)
	}
	return u.Mass(total)
}
