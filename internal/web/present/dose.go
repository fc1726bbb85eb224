package present

import (
	"encoding/json"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/exchange/dosejson"
	"zephyrfield/internal/garden"
)

// NeedWords returns the need of a bed with its interval in words.
func NeedWords(w *dosing.Dose) string {
	n, u := w.Answer.Need, w.Garden.Units()
	says := "It needs " + u.Rate(n.CaCO3) + " of lime, as pure lime"
	switch {
	case w.Used.Method == soil.Fizz:
		return "A light dusting of ash, at most."
	case n.CaCO3 < 0:
		says = "It needs enough acid to offset " + u.Rate(-n.CaCO3) + " of lime"
	}
	if doubt := likely(n, u); doubt != "" {
		says += ", " + doubt
	}
	return says + "."
}

// likely returns the need's range of one standard deviation in words; "" without a figure.
func likely(n dose.Need, u text.Units) string {
	lo, hi := n.Low, n.High
	if n.CaCO3 < 0 {
		lo, hi = -lo, -hi
	}
	if hi <= 0 {
		return ""
	}
	_, rateIn, _ := strings.Cut(u.Rate(hi), " ")
	return "most likely " + strings.TrimSuffix(u.Rate(max(0, lo)), " "+rateIn) + " to " + u.Rate(hi)
}

// OptionAmount returns an option's total; in scoops if it is of one material.
func OptionAmount(w *dosing.Dose, o dose.Option, total quantity.Mass) string {
	if len(o.Parts) > 1 {
		return w.Garden.Units().Mass(total)
	}
	return Brief(total, StockMeasure(w, o.Parts[0].Batch), w.Garden.Units())
}

// Money formats a sum with its currency: letters follow, signs precede.
func Money(x float64, currency string) string {
	sum := strconv.FormatFloat(x, 'f', 2, 64)
	switch r, n := utf8.DecodeRuneInString(currency); {
	case currency == "":
		return sum
	case n == len(currency) && !unicode.IsLetter(r):
		return currency + sum
	}
	return sum + " " + currency
}

// OptionName returns an option's name: its material, or a mix with amounts.
func OptionName(w *dosing.Dose, o dose.Option) string {
	if len(o.Parts) == 1 {
		return text.Capital(MaterialName(w, o.Parts[0].Batch))
	}
	names := make([]string, len(o.Parts))
	for i, p := range o.Parts {
		names[i] = text.Brief(p.Kind) + " " + Brief(p.Total, StockMeasure(w, p.Batch), w.Garden.Units())
	}
	return text.Capital(strings.Join(names, ", "))
}

// Cautions splits guards into those to read first and notes.
func Cautions(gs []text.Guarded) (must, notes []text.Guarded) {
	for _, g := range gs {
		if g.Level == guard.Note {
			notes = append(notes, g)
		} else {
			must = append(must, g)
		}
	}
	return must, notes
}

// CourseStep is the step of a drawn course.
const CourseStep quantity.Day = 14

// AskAsh returns the address for entering the source of the ash of a dose.
func AskAsh(w *dosing.Dose) string { return "/shed/ash?for=" + strconv.FormatInt(w.Record.Bed.ID, 10) }

// PartName returns the name of an option's part within a sentence.
func PartName(w *dosing.Dose, part int, o dose.Option) string {
	return text.Lower(MaterialName(w, o.Parts[part].Batch))
}

// Magnitude returns a rate without its sign.
func Magnitude(x quantity.Rate) quantity.Rate { return max(x, -x) }

// EncodePlan writes a dose's request for the record.
func EncodePlan(w *dosing.Dose) (garden.JSON, error) {
	return json.Marshal(dosejson.FromDose(w.Request, w.Garden.Climate, w.Garden.Hemisphere))
}

// WhyNot returns the reason why a bed is offered nothing.
func WhyNot(row *dosing.ManyRow) string {
	switch row.Answer.Direction {
	case dose.Leave:
		return "needs nothing"
	case dose.Refused:
		return "no dose for now"
	}
	return "not offered here"
}

// ScoopFor returns the measure of an application of an option; nil without one.
func ScoopFor(w *dosing.Dose, o dose.Option, g dose.Application) *text.Scoop {
	return StockMeasure(w, o.Parts[g.Part].Batch)
}

// BatchOf returns the batch of an application of an option; nil for a usual kind.
func BatchOf(w *dosing.Dose, o dose.Option, g dose.Application) *int64 {
	if b := ShelfOf(w, o.Parts[g.Part].Batch); b != nil {
		return &b.ID
	}
	return nil
}

// StockMeasure returns the measure of one of a dose's materials.
func StockMeasure(w *dosing.Dose, batch int) *text.Scoop {
	if b := ShelfOf(w, batch); b != nil {
		return b.Measure()
	}
	return nil
}

// MeasureOf returns the gardener's measure of a batch; nil without one.
func MeasureOf(batches map[int64]garden.Batch, id *int64) *text.Scoop {
	if id == nil {
		return nil
	}
	return batches[*id].Measure()
}

// ShelfOf returns the batch of a material of the request; nil if it is not in stock.
func ShelfOf(w *dosing.Dose, batch int) *garden.Stock { return w.Shelf[batch] }

// Brief returns an amount briefly: in scoops if one was weighed.
func Brief(total quantity.Mass, scoop *text.Scoop, u text.Units) string {
	if scoop != nil {
		return scoop.Bare(total)
	}
	return u.Mass(total)
}

// PlannedFor returns the amounts of earlier doses whose place a new dose of the bed takes, each material
// or batch by its own name; "" for none.
func PlannedFor(w *dosing.Dose) string {
	type item struct {
		kind  material.Kind
		batch int64
	}
	var order []item
	total, of := map[item]quantity.Mass{}, map[item]*int64{}
	for _, t := range w.Scheduled() {
		x := item{kind: t.What}
		if t.BatchID != nil {
			x.batch = *t.BatchID
		}
		if _, had := total[x]; !had {
			order = append(order, x)
		}
		total[x] += t.Total
		of[x] = t.BatchID
	}
	says := make([]string, len(order))
	for i, x := range order {
		says[i] = Brief(total[x], w.Measure(of[x]), w.Garden.Units()) + " of " + text.Lower(w.Called(x.kind, of[x]))
	}
	return text.List(says)
}
