package garden

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
)

// Choice is what a gardener may choose on a dose; zero values take the usual.
type Choice struct {
	Reading   int64
	Target    *quantity.PH
	Depth     *quantity.Depth
	Buffering soil.School
	Ash       material.AshSchool
	Act       crop.ActSchool
	// HalfFirst puts half of the dose first, and a test before the rest.
	HalfFirst bool
	// Now is the day that another day is looked at from; no day where that is the
	// day itself.
	Now quantity.Day
}

// Worked is a dose for a bed: the request as it was made, and its answer.
type Worked struct {
	BedRecord
	Garden Garden
	// Used is the reading that it rests on, Beside those that were taken near it
	// and are joined with it.
	Used    Reading
	Beside  []Reading
	Request dose.Request
	Answer  dose.Answer
	// Shelf goes with Request.Materials; nil where the usual kind stands in.
	Shelf []*Stock
}

// ErrNoReading is told when a dose is asked for a bed without a reading.
var ErrNoReading = errors.New("this bed has no reading yet")

// Dose works out a bed's dose. Faults name the field of the form.
func (k Keeper) Dose(ctx context.Context, bed int64, c Choice, today quantity.Day) (w Worked, err error) {
	err = k.Store.Read(ctx, func(r Reader) error { w, err = worked(r, bed, c, today); return err })
	return w, err
}

func worked(r Reader, bed int64, c Choice, today quantity.Day) (w Worked, err error) {
	if w.Garden, err = r.Garden(); err != nil {
		return w, err
	}
	now := c.Now
	if now.IsZero() {
		now = today
	}
	if w.BedRecord, err = bedRecord(r, bed, today, now); err != nil {
		return w, err
	}
	shelf, err := Shelf(r)
	if err != nil {
		return w, err
	}
	if err := w.pickReading(c.Reading, today); err != nil {
		return w, err
	}
	w.Beside = w.beside()
	w.Request, w.Shelf = w.request(c, shelf, today)
	w.Answer, err = dose.For(w.Request)
	return w, faultOf(err)
}

// pickReading takes the reading that was chosen, else the last that has a pH,
// else the last jar test.
func (w *Worked) pickReading(id int64, today quantity.Day) error {
	var last *Reading
	for i := range w.Readings {
		x := &w.Readings[i]
		if x.Date > today {
			break
		}
		if !x.Stands() {
			continue
		}
		if x.ID == id {
			w.Used = *x
			return nil
		}
		last = x
	}
	switch {
	case id != 0:
		return ErrMissing
	case w.Reading != nil:
		w.Used = *w.Reading
	case last != nil:
		w.Used = *last
	default:
		return ErrNoReading
	}
	return nil
}

// beside finds the readings that tell of the soil as the used one found it:
// near in time, of about the same depth, with nothing put on between.
func (w *Worked) beside() (out []Reading) {
	moved := w.noted().ledger().Movers()
	for _, r := range w.Readings {
		if r.ID != w.Used.ID && soil.SameDepth(r.Depth, w.Used.Depth) && soil.SameSoil(r.Date, w.Used.Date, moved) {
			out = append(out, r)
		}
	}
	return out
}

// historyDays is how far back what was put on still matters: what ash brings of
// heavy metal is summed over five years.
const historyDays = material.MuchAshSpan

// asked makes what agronomy asks for of a bed on a day, but for its materials:
// the one way from the records to a dose, to the outlook and to the plan.
func (p *Plot) asked(g Garden, n noted, l Library, used Reading, beside []Reading, today quantity.Day) dose.Request {
	q := dose.Request{Schools: g.Schools().Or(dose.Schools{}), Record: bed.Record{
		Date: today, Climate: g.ClimateNormals(), Ground: n.ground(p.Bed, g.SoilTable, today), Reading: used.Soil()}}
	for _, r := range beside {
		if r.Date <= today {
			q.More = append(q.More, r.Soil())
		}
	}
	// Potassium has a day of its own: the newest figure is lent to any pH.
	if k := p.Potassium; k != nil {
		lent := k.Soil()
		q.Reading.Potassium, q.Reading.Extractant, q.Reading.KRange, q.Reading.PotassiumDate = lent.Potassium, lent.Extractant, lent.KRange, k.Date
		if q.Reading.Magnesium == nil {
			q.Reading.Magnesium = lent.Magnesium
		}
		q.Grown = n.grown(l, k.Date, today)
	}
	if len(p.Crops) > 0 {
		first := p.Crops[0]
		q.Crop, q.With = &first, p.Crops[1:]
	} else {
		none := crop.Unnamed
		q.Crop = &none
	}
	if p.Bed.Watered == Tap {
		q.Water = g.Alkalinity()
	}
	_, q.Cleared = sowing(*p, n.plantings, today)
	q.Sown = starts(n.plantings, today)
	for _, x := range n.history(today) {
		if x.Date > today-historyDays {
			q.History = append(q.History, x)
		}
	}
	return q
}

// request joins the records into what agronomy asks for.
func (w *Worked) request(c Choice, shelf []Stock, today quantity.Day) (dose.Request, []*Stock) {
	q := w.asked(w.Garden, w.noted(), w.Library, w.Used, w.Beside, today)
	q.Target, q.HalfFirst, q.Schools = c.Target, c.HalfFirst,
		dose.Schools{Buffering: c.Buffering, Ash: c.Ash, Act: c.Act}.Or(w.Garden.Schools())
	if c.Depth != nil {
		q.Ground.Depth = *c.Depth
	}
	planned := map[int64]bool{}
	for _, t := range w.Tasks {
		planned[t.ID] = t.PlanID != nil
	}
	n := 0
	for _, a := range w.Applications {
		if _, ok := a.Put(); ok && a.Date <= today && a.Date > today-historyDays {
			q.History[n].Planned = a.TaskID != nil && planned[*a.TaskID]
			n++
		}
	}
	var from []*Stock
	q.Materials, from = onShelf(shelf)
	return q, from
}

// onShelf lists what may be used: the shelf's batches, then the usual kinds
// that it lacks. Any ash on the shelf stands for ash.
func onShelf(shelf []Stock) (out []material.Batch, from []*Stock) {
	has := map[material.Kind]bool{}
	for i := range shelf {
		b := &shelf[i]
		m, ok := material.Find(b.Kind)
		if !ok {
			continue
		}
		has[m.Kind] = true
		if m.Family == material.Ash {
			has[material.HardwoodAsh] = true
		}
		x := b.Material(m)
		x.OnHand = b.Left
		out = append(out, x)
		from = append(from, b)
	}
	for _, k := range dose.UsualKinds() {
		if m, ok := material.Find(k); ok && !has[k] {
			out = append(out, material.Batch{Material: m, Condition: material.Dry, Source: material.Clean})
			from = append(from, nil)
		}
	}
	return out, from
}

// Material is the batch as agronomy has it, whatever is left of it; m is its kind's
// row.
func (b Batch) Material(m material.Material) material.Batch {
	return material.Batch{Material: m, Measured: b.CCE, Effective: b.Effective, Potash: b.K2O, Condition: b.Condition, Source: b.Source, Price: b.Price}
}

// ErrNoOption is told when the option that was chosen is not offered (any
// more).
var ErrNoOption = errors.New("that option is not offered for this bed now")

// Try works out what a reading would mean before it is kept: as if it were the
// bed's last.
func (k Keeper) Try(ctx context.Context, r Reading, today quantity.Day) (w Worked, err error) {
	if err := checkReading(r, today); err != nil {
		return w, err
	}
	err = k.Store.Read(ctx, func(tx Reader) error {
		if w.Garden, err = tx.Garden(); err != nil {
			return err
		}
		if w.BedRecord, err = bedRecord(tx, r.BedID, today, today); err != nil {
			return err
		}
		// Number 0 is no reading that is kept.
		w.Readings = append(w.Readings, r)
		slices.SortStableFunc(w.Readings, func(a, b Reading) int { return int(a.Date - b.Date) })
		w.Plot = newPlot(w.Bed, w.noted(), w.Garden, w.Library, today)
		w.Used = r
		w.Beside = w.beside()
		shelf, err := Shelf(tx)
		if err != nil {
			return err
		}
		w.Request, w.Shelf = w.request(Choice{}, shelf, today)
		w.Answer, err = dose.For(w.Request)
		return faultOf(err)
	})
	return w, err
}

// PotassiumKey stands before the key of an option that is for potassium.
const PotassiumKey = "k."

// Key names an option of the dose by its materials themselves, the batch's own
// number or the kind where no batch is on the shelf: an older page never names
// another material by it.
func (w Worked) Key(o dose.Option) string {
	keys := make([]string, len(o.Parts))
	for i, p := range o.Parts {
		if b := w.Shelf[p.Batch]; b != nil {
			keys[i] = batchKey(b.ID)
		} else {
			keys[i] = string(w.Request.Materials[p.Batch].Kind)
		}
	}
	return strings.Join(keys, "_")
}

// batchKey is the key of an option that is one batch alone.
func batchKey(id int64) string { return "b" + strconv.FormatInt(id, 10) }

// Pick finds an option by its key.
func (w Worked) Pick(key string) (dose.Option, bool) {
	options := w.Answer.Options
	if k, ok := strings.CutPrefix(key, PotassiumKey); ok {
		key, options = k, w.Answer.Potassium.Options
	}
	for _, o := range options {
		if w.Key(o) == key {
			return o, true
		}
	}
	return dose.Option{}, false
}

// PutInYear puts an option's goes and its retest in the year as tasks. Goes of
// an earlier dose that were not put on yet give way. encode writes the request
// for the record.
func (k Keeper) PutInYear(ctx context.Context, a Act, bed int64, c Choice, use string, encode func(Worked) (JSON, error)) (Receipt, error) {
	return k.Store.Change(ctx, a.Change(), func(tx Tx) (string, error) {
		w, err := worked(tx, bed, c, a.Today)
		if err != nil {
			return "", err
		}
		o, ok := w.Pick(use)
		if !ok {
			return "", ErrNoOption
		}
		if err := giveWay(tx, w.Tasks, o); err != nil {
			return "", err
		}
		raw, err := encode(w)
		if err != nil {
			return "", err
		}
		plan := Plan{BedID: bed, Made: a.Today, ReadingID: w.Used.ID, Target: w.Answer.Target, Request: raw}
		if err := tx.Insert(&plan); err != nil {
			return "", err
		}
		for _, t := range tasksOf(w, o, plan.ID) {
			if err := tx.Insert(&t); err != nil {
				return "", err
			}
		}
		return fmt.Sprintf("Put %s and a retest in the year for %s", words.Count(len(o.Goes), "go", "goes"), w.Bed.Name), nil
	})
}

// giveWay takes the open tasks out whose place a new plan takes: those of plans
// that move pH as it does, or as it does not. What only feeds potassium and what
// moves pH stand beside each other.
func giveWay(tx Tx, tasks []Task, o dose.Option) error {
	moves := map[int64]bool{}
	for _, t := range tasks {
		if m, _ := material.Find(t.What); t.Kind == TaskGo && t.PlanID != nil && m.MovesPH() {
			moves[*t.PlanID] = true
		}
	}
	for i := range tasks {
		t := &tasks[i]
		if t.State != Open || t.PlanID != nil && moves[*t.PlanID] != (o.CaCO3 != 0) {
			continue
		}
		if err := tx.Delete(t); err != nil {
			return err
		}
	}
	return nil
}

func tasksOf(w Worked, o dose.Option, plan int64) []Task {
	var out []Task
	for _, g := range o.Goes {
		t := Task{BedID: w.Bed.ID, PlanID: &plan, Kind: TaskGo, Due: g.Date, What: g.Kind, Rate: g.Rate, Total: g.Total,
			State: Open, Depth: w.Request.Ground.Depth}
		if m, _ := material.Find(g.Kind); m.MovesPH() && g.PHAfter > 0 {
			after := quantity.PH(quantity.Round(float64(g.PHAfter), 2))
			t.PHAfter = &after
		}
		if b := w.Shelf[o.Parts[g.Part].Batch]; b != nil {
			t.BatchID = &b.ID
		}
		out = append(out, t)
	}
	retest := Task{BedID: w.Bed.ID, PlanID: &plan, Kind: TaskRetest, Due: o.Retest, State: Open, Method: w.Used.Method, Depth: w.Used.Depth}
	if ph := o.AtRetest.Median; ph > 0 {
		// What it should read, with what will have reacted by then.
		ph = quantity.PH(quantity.Round(float64(ph), 2))
		retest.PHAfter = &ph
	}
	return append(out, retest)
}
