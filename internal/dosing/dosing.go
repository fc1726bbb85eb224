package dosing

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/garden"
)

// Choice is what a gardener may choose on a dose; zero values take the usual.
type Choice struct {
	Reading   int64
	Target    *quantity.PH
	Depth     *quantity.Depth
	Buffering soil.LimeMethod
	Ash       material.AshApproach
	Act       crop.Trigger
	Pace      dose.Pace
	// Today is the day that another day is looked at from; no day where that is the
	// day itself.
	Today quantity.Day
}

// Dose is a dose for a bed: the request as it was made, and its answer.
type Dose struct {
	Record bedstate.Record
	Garden garden.Garden
	// Used is the reading that it rests on, Beside those that were taken near it
	// and are joined with it.
	Used    garden.Reading
	Beside  []garden.Reading
	Request dose.Request
	Answer  dose.Answer
	// Shelf goes with Request.Materials; nil where the usual kind stands in.
	Shelf []*garden.Stock
	// Stocks are all batches that are known of, what stands on the shelf no more too.
	Stocks []garden.Stock
	// Outdated is the dose in the year that an older reading made; nil where there is none.
	Outdated *Outdated
}

// ErrNoReading is returned when a dose is asked for a bed without a reading.
var ErrNoReading = errors.New("this bed has no reading yet")

// Dose works out a bed's dose. Faults name the field of the form.
func (svc Service) Dose(ctx context.Context, bed int64, c Choice, day quantity.Day) (w Dose, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		w, err = garden.Cached(r, doses, keyOf(bed, c, day), func() (Dose, error) { return worked(r, bed, c, day) })
		return err
	})
	return w, err
}

// doses are those that were worked out, and what the methods beside each other would put on.
var doses = cache.Kind{Name: "doses", Room: 32}

// doseKey is all that a dose is asked by.
type doseKey struct {
	bed           int64
	day           quantity.Day
	choice        Choice
	target, depth float64
}

func keyOf(bed int64, c Choice, day quantity.Day) doseKey {
	k := doseKey{bed: bed, day: day, choice: c}
	k.choice.Target, k.choice.Depth = nil, nil
	if c.Target != nil {
		k.target = float64(*c.Target)
	}
	if c.Depth != nil {
		k.depth = float64(*c.Depth)
	}
	return k
}

func worked(r Reader, bed int64, c Choice, day quantity.Day) (w Dose, err error) {
	if w.Garden, err = r.Garden(); err != nil {
		return w, err
	}
	today := c.Today
	if today.IsZero() {
		today = day
	}
	if w.Record, err = bedstate.ReadBed(r, bed, day, today); err != nil {
		return w, err
	}
	shelf, err := garden.Shelf(r)
	if err != nil {
		return w, err
	}
	if err := w.ask(c, shelf, day); err != nil {
		return w, err
	}
	if w.Answer, err = dose.For(w.Request); err != nil {
		return w, garden.FaultOf(err)
	}
	w.Outdated, err = w.outdated(r)
	return w, err
}

// sidesKey is what the methods beside each other are kept by.
type sidesKey doseKey

// CompareMethods returns the methods beside each other for a dose that was worked; none where the
// bed is stopped.
func (svc Service) CompareMethods(ctx context.Context, w *Dose, c Choice, day quantity.Day) (sides []dose.Comparison, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		sides, err = garden.Cached(r, doses, sidesKey(keyOf(w.Record.Bed.ID, c, day)), func() ([]dose.Comparison,
			error) {
			return dose.CompareMethods(w.Request)
		})
		return err
	})
	return sides, garden.FaultOf(err)
}

// ask makes the request of a bed’s record.
func (w *Dose) ask(c Choice, shelf []garden.Stock, day quantity.Day) error {
	w.Stocks = shelf
	if err := w.pickReading(c.Reading, day); err != nil {
		return err
	}
	w.Beside = w.beside()
	w.Request, w.Shelf = w.request(c, shelf, day)
	return nil
}

// Measure returns the gardener’s own measure of a batch; nil where none was weighed.
func (w *Dose) Measure(batch *int64) *text.Scoop {
	if b := w.Batch(batch); b != nil {
		return b.Measure()
	}
	return nil
}

// Batch returns one by its number; nil where it is not known.
func (w *Dose) Batch(id *int64) *garden.Batch {
	for i := range w.Stocks {
		if id != nil && w.Stocks[i].ID == *id {
			return &w.Stocks[i].Batch
		}
	}
	return nil
}

// Called returns what a material of a batch is called.
func (w *Dose) Called(k material.Kind, batch *int64) string {
	return garden.Called(k, w.Batch(batch))
}

// pickReading takes the reading that was chosen, else the last that has a pH,
// else the last jar test.
func (w *Dose) pickReading(id int64, day quantity.Day) error {
	var last *garden.Reading
	for i := range w.Record.Readings {
		x := &w.Record.Readings[i]
		if x.Date > day {
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
		return garden.ErrMissing
	case w.Record.State.Reading != nil:
		w.Used = *w.Record.State.Reading
	case last != nil:
		w.Used = *last
	default:
		return ErrNoReading
	}
	return nil
}

// beside finds the readings that tell of the soil as the used one found it:
// near in time, of about the same depth, with nothing put on between.
func (w *Dose) beside() (out []garden.Reading) {
	moved := w.Record.Ledger().Movers()
	for _, r := range w.Record.Readings {
		if r.ID != w.Used.ID && soil.SameDepth(r.Depth, w.Used.Depth) && soil.SameSoil(r.Date, w.Used.Date, moved) &&
			w.Record.Lesson.Joins(w.Used.Date, r.Date) {
			out = append(out, r)
		}
	}
	return out
}

// request joins the records into what agronomy asks for.
func (w *Dose) request(c Choice, shelf []garden.Stock, day quantity.Day) (dose.Request, []*garden.Stock) {
	q := w.Record.Asked(w.Garden, w.Used, w.Beside, day)
	q.Methods = dose.Methods{Buffering: c.Buffering, Ash: c.Ash, Act: c.Act, Pace: c.Pace}.Or(q.Methods)
	if c.Target != nil {
		q.Target = c.Target
	}
	if c.Depth != nil {
		q.Ground.Depth = *c.Depth
	}
	planned := map[int64]bool{}
	for _, t := range w.Record.Tasks {
		planned[t.ID] = t.PlanID != nil
	}
	n := 0
	for _, a := range w.Record.Applications {
		if _, ok := a.Put(); ok && a.Date <= day && a.Date > day-bedstate.HistoryDays {
			q.History[n].Planned = a.TaskID != nil && planned[*a.TaskID]
			n++
		}
	}
	var from []*garden.Stock
	q.Materials, from = onShelf(shelf)
	w.promise(&q, from, day)
	return q, from
}

// promise lets a dose that rests on the bed's last reading promise what the bed's own forecast says, each batch as strong as it
// has proved.
func (w *Dose) promise(q *dose.Request, from []*garden.Stock, day quantity.Day) {
	if w.Record.Lesson == nil || w.Record.State.Reading == nil || w.Used.ID != w.Record.State.Reading.ID || w.Used.ID == 0 {
		return
	}
	c := w.Record.Lesson.Course()
	q.Foretold, q.Proved = &c, make([]float64, len(from))
	for i, b := range from {
		if q.Proved[i] = 1; b != nil {
			q.Proved[i] = w.Record.Lesson.Stronger(b.ID)
		}
	}
}

// enough is more than any bed takes.
func enough() *quantity.Mass { m := quantity.Mass(1e9); return &m }

// onShelf lists what may be used: the shelf's batches, then the usual kinds
// that it lacks. Any ash on the shelf stands for ash.
func onShelf(shelf []garden.Stock) (out []material.Batch, from []*garden.Stock) {
	has := map[material.Kind]bool{}
	for i := range shelf {
		b := &shelf[i]
		m, ok := material.Find(b.Kind)
		if !ok || b.Gone != 0 {
			continue
		}
		has[m.Kind] = true
		if m.Family == material.Ash {
			has[material.HardwoodAsh] = true
		}
		x := b.Material(m)
		x.Held = b.Left
		if m.Family == material.Ash {
			x.OnHand = b.Left // of a bag more can be bought
		}
		if x.Held == nil {
			x.Held = enough() // nobody said how much of it there is
		}
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

// ErrNoOption is returned when the option that was chosen is not offered (any
// more).
var ErrNoOption = errors.New("that option is not offered for this bed now")

// Preview works out what a reading would mean before it is kept: as if it were the
// bed's last.
func (svc Service) Preview(ctx context.Context, r garden.Reading, today quantity.Day) (w Dose, err error) {
	if err := garden.CheckReading(r, today); err != nil {
		return w, err
	}
	err = garden.Ask(ctx, svc.Store, func(tx Reader) error {
		if w.Garden, err = tx.Garden(); err != nil {
			return err
		}
		if w.Record, err = bedstate.ReadBed(tx, r.BedID, today, today); err != nil {
			return err
		}
		// Number 0 is no reading that is kept.
		w.Record.Readings = append(w.Record.Readings, r)
		slices.SortStableFunc(w.Record.Readings, func(a, b garden.Reading) int { return int(a.Date - b.Date) })
		w.Record.Judge(w.Garden, today)
		w.Used = r
		w.Beside = w.beside()
		shelf, err := garden.Shelf(tx)
		if err != nil {
			return err
		}
		w.Request, w.Shelf = w.request(Choice{}, shelf, today)
		w.Answer, err = dose.For(w.Request)
		return garden.FaultOf(err)
	})
	return w, err
}

// PotassiumKey stands before the key of an option that is for potassium.
const PotassiumKey = "k."

// Key names an option of the dose by its materials themselves, the batch's own
// number or the kind where no batch is on the shelf: an older page never names
// another material by it.
func (w *Dose) Key(o dose.Option) string {
	keys := make([]string, len(o.Parts))
	for i, p := range o.Parts {
		if b := w.Shelf[p.Batch]; b != nil {
			keys[i] = BatchKey(b.ID)
		} else {
			keys[i] = string(w.Request.Materials[p.Batch].Kind)
		}
	}
	return joinKey(keys...)
}

// joinKey and splitKey make one key of those of an option's materials, and take it apart.
func joinKey(keys ...string) string { return strings.Join(keys, "_") }
func splitKey(key string) []string  { return strings.Split(key, "_") }

// AshUntold reports whether an option puts on ash of which nobody has said where it comes
// from: it is shown, and asked about before it goes into the year.
func (w *Dose) AshUntold(o dose.Option) bool {
	return slices.ContainsFunc(o.Parts, func(p dose.Part) bool {
		return w.Request.Materials[p.Batch].Family == material.Ash && w.Shelf[p.Batch] == nil
	})
}

// OnShelf reports whether all that an option takes stands on the shelf.
func (w *Dose) OnShelf(o dose.Option) bool {
	return !slices.ContainsFunc(o.Parts, func(p dose.Part) bool { return !p.Of.Has(p.Total) })
}

// AshInVain returns the batches of ash on the shelf that may not go on this bed.
func (w *Dose) AshInVain() (out []*garden.Stock) {
	for _, r := range w.Answer.Refused {
		stock := w.Shelf[r.Batch]
		if stock != nil && w.Request.Materials[r.Batch].Family == material.Ash && guard.Stopped(r.Guards) {
			out = append(out, stock)
		}
	}
	return out
}

// BatchKey returns the key of an option that is one batch alone.
func BatchKey(id int64) string { return "b" + strconv.FormatInt(id, 10) }

// Pick finds an option by its key.
func (w *Dose) Pick(key string) (dose.Option, bool) {
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

// askAshFirst refuses ash of which nobody has told anything.
const askAshFirst = "say first what ash it is, where it was burnt and what went into the fire"

// Plan puts an option's applications and its retest in the year as tasks. Goes of
// an earlier dose that were not put on yet give way. encode writes the request
// for the record.
func (svc Service) Plan(ctx context.Context, a garden.Actor, bed int64, c Choice, use string,
	encode func(*Dose) (garden.JSON, error)) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		w, err := worked(tx, bed, c, a.Today)
		if err != nil {
			return "", err
		}
		o, ok := w.Pick(use)
		if !ok {
			return "", ErrNoOption
		}
		if w.AshUntold(o) {
			return "", garden.Faults{"use": askAshFirst}
		}
		if _, err := w.PlanOption(tx, a.Today, o, encode); err != nil {
			return "", err
		}
		says := fmt.Sprintf("Put %s and a retest in the year for %s", text.Count(len(o.Applications), "go", "goes"), w.Record.Bed.Name)
		if o.Waits() {
			says += "; the rest waits for the test of " + text.DayYear(o.Retest)
		}
		return says, nil
	})
}

// Coming returns a worked dose's bed with what is at work in it and what is planned.
func (svc Service) Coming(ctx context.Context, w *Dose, today quantity.Day) (c bedstate.Coming, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		batches, err := bedstate.BatchesByID(r)
		c = w.Record.Coming(w.Garden, batches, today)
		return err
	})
	return c, err
}
