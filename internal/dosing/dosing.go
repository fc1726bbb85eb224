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

// Choice is the gardener's choices for a dose; zero values take the default.
type Choice struct {
	Reading   int64
	Target    *quantity.PH
	Depth     *quantity.Depth
	Buffering soil.LimeMethod
	Ash       material.AshApproach
	Act       crop.Trigger
	Pace      dose.Pace
	// Today is the actual day when another day is viewed; otherwise 0.
	Today quantity.Day
}

// Dose is a bed's dose: request and answer.
type Dose struct {
	Record bedstate.Record
	Garden garden.Garden
	// Used is the reading that it is based on, Beside the readings combined with it.
	Used    garden.Reading
	Beside  []garden.Reading
	Request dose.Request
	Answer  dose.Answer
	// Shelf corresponds to Request.Materials; nil where the kind's typical material is used.
	Shelf []*garden.Stock
	// Stocks are all known batches, including used-up ones.
	Stocks []garden.Stock
	// Outdated is a planned dose based on an older reading; nil without one.
	Outdated *Outdated
}

// ErrNoReading is returned for a bed without a reading.
var ErrNoReading = errors.New("this bed has no reading yet")

// Dose computes a bed's dose. Faults name the field of the form.
func (svc Service) Dose(ctx context.Context, bed int64, c Choice, day quantity.Day) (w Dose, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		w, err = garden.Cached(r, doses, keyOf(bed, c, day), func() (Dose, error) { return worked(r, bed, c, day) })
		return err
	})
	return w, err
}

// doses caches doses and their method comparisons.
var doses = cache.Kind{Name: "doses", Room: 32}

// doseKey is everything that a dose depends on besides the garden.
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

// sidesKey is the cache key of method comparisons.
type sidesKey doseKey

// CompareMethods returns the method comparisons of a dose; none for a stopped bed.
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

// ask builds the request from a bed's record.
func (w *Dose) ask(c Choice, shelf []garden.Stock, day quantity.Day) error {
	w.Stocks = shelf
	if err := w.pickReading(c.Reading, day); err != nil {
		return err
	}
	w.Beside = w.Record.Beside(w.Used, day)
	w.Request, w.Shelf = w.request(c, shelf, day)
	return nil
}

// Measure returns the gardener's own measure of a batch; nil without one.
func (w *Dose) Measure(batch *int64) *text.Scoop {
	if b := w.Batch(batch); b != nil {
		return b.Measure()
	}
	return nil
}

// Batch returns a batch by its number, or nil.
func (w *Dose) Batch(id *int64) *garden.Batch {
	for i := range w.Stocks {
		if id != nil && w.Stocks[i].ID == *id {
			return &w.Stocks[i].Batch
		}
	}
	return nil
}

// Called returns the name of a material or batch.
func (w *Dose) Called(k material.Kind, batch *int64) string {
	return garden.Called(k, w.Batch(batch))
}

// pickReading returns the chosen reading, else the last with a pH, else the last jar test.
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

// request builds the dose request from the records.
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
	w.promise(&q, from)
	return q, from
}

// onLast reports whether the dose is based on the bed's last reading, which its forecast begins with.
func (w *Dose) onLast() bool {
	return w.Record.Lesson != nil && w.Record.State.Reading != nil && w.Used.ID == w.Record.State.Reading.ID && w.Used.ID != 0
}

// promise adds proven strengths to a dose based on the last reading, and the bed's own forecast where
// it goes by the dose's lime method: the amount by one and the test's figure by another would not
// meet at the aim.
func (w *Dose) promise(q *dose.Request, from []*garden.Stock) {
	if !w.onLast() {
		return
	}
	if m := q.Methods.Buffering; m == w.Record.Lesson.Method || m == soil.ByLearned {
		c := w.Record.Lesson.Course()
		q.Foretold = &c
	}
	q.Proved = make([]float64, len(from))
	for i, b := range from {
		if q.Proved[i] = 1; b != nil {
			q.Proved[i] = w.Record.Lesson.Stronger(b.ID)
		}
	}
}

// ByRecord returns what the test after an option would read by the lime method of the bed's record,
// where the dose goes by another.
func (w *Dose) ByRecord(o *dose.Option) (m soil.LimeMethod, ph quantity.PH, ok bool) {
	if !w.onLast() || w.Request.Foretold != nil {
		return "", 0, false
	}
	c := w.Answer.ExpectFrom(w.Record.Lesson.Course(), o)
	return w.Record.Lesson.Method, c.On(o.Retest).PH, true
}

// enough returns more than any bed takes.
func enough() *quantity.Mass { m := quantity.Mass(1e9); return &m }

// onShelf returns the usable batches, then the usual kinds that the shelf lacks. Any ash in stock
// replaces the usual ash.
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
			x.OnHand = b.Left // more of a bag can be bought
		}
		if x.Held == nil {
			x.Held = enough() // unknown stock
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

// ErrNoOption is returned when the chosen option is not offered (any more).
var ErrNoOption = errors.New("that option is not offered for this bed now")

// Preview computes what a reading would lead to before it is saved, as if it were the bed's last.
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
		// Number 0 marks an unsaved reading.
		w.Record.Readings = append(w.Record.Readings, r)
		slices.SortStableFunc(w.Record.Readings, func(a, b garden.Reading) int { return int(a.Date - b.Date) })
		w.Record.Judge(w.Garden, today)
		w.Used = r
		w.Beside = w.Record.Beside(w.Used, today)
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

// PotassiumKey is the prefix of the keys of options for potassium.
const PotassiumKey = "k."

// Key returns an option's key, made of batch numbers or kinds, so that an old page never refers to
// another material.
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

// joinKey joins the keys of an option's materials, splitKey splits them.
func joinKey(keys ...string) string { return strings.Join(keys, "_") }
func splitKey(key string) []string  { return strings.Split(key, "_") }

// UnknownAsh reports whether an option uses ash of unknown source: it is shown, and its source is
// asked for before it is planned.
func (w *Dose) UnknownAsh(o dose.Option) bool {
	return slices.ContainsFunc(o.Parts, func(p dose.Part) bool {
		return w.Request.Materials[p.Batch].Family == material.Ash && w.Shelf[p.Batch] == nil
	})
}

// OnShelf reports whether everything that an option needs is in stock.
func (w *Dose) OnShelf(o dose.Option) bool {
	return !slices.ContainsFunc(o.Parts, func(p dose.Part) bool { return !p.Of.Has(p.Total) })
}

// AshInVain returns the batches of ash in stock that may not be applied to this bed.
func (w *Dose) AshInVain() (out []*garden.Stock) {
	for _, r := range w.Answer.Refused {
		stock := w.Shelf[r.Batch]
		if stock != nil && w.Request.Materials[r.Batch].Family == material.Ash && guard.Stopped(r.Guards) {
			out = append(out, stock)
		}
	}
	return out
}

// BatchKey returns the key of an option of one batch.
func BatchKey(id int64) string { return "b" + strconv.FormatInt(id, 10) }

// Pick returns an option by its key.
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

// askAshFirst is the refusal of ash of unknown source.
const askAshFirst = "say first what ash it is, where it was burnt and what went into the fire"

// Plan saves an option's applications and retest as tasks, replacing open ones of an earlier dose.
// encode writes the request for the record.
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
		if w.UnknownAsh(o) {
			return "", garden.Faults{"use": askAshFirst}
		}
		if _, err := w.PlanOption(tx, a.Today, o, encode); err != nil {
			return "", err
		}
		says := fmt.Sprintf("Planned %s and a retest for %s", text.Count(len(o.Applications), "application", "applications"), w.Record.Bed.Name)
		if o.Waits() {
			says += "; the rest waits for the test of " + text.DayYear(o.Retest)
		}
		return says, nil
	})
}

// Coming returns a dose's bed with what is reacting and what is planned.
func (svc Service) Coming(ctx context.Context, w *Dose, today quantity.Day) (c bedstate.Coming, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		batches, err := bedstate.BatchesByID(r)
		c = w.Record.Coming(w.Garden, batches, today)
		return err
	})
	return c, err
}
