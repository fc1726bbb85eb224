package garden

import (
	"context"
	"fmt"
	"sort"
	"strings"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
)

// Sheet is what is to be done by a day, with the beds it is done on.
type Sheet struct {
	Garden Garden
	Today  quantity.Day
	// Due are open and due, Coming open within the fortnight after, Settled
	// done or skipped today.
	Due, Coming, Settled []Task
	// Next is the first open task beyond the fortnight; nil when there is none.
	Next    *Task
	Beds    map[int64]Bed
	Batches map[int64]Batch
	// Held are the goes among them that are held back, with the day on which the
	// reading that they rest on was struck out.
	Held map[int64]quantity.Day
}

const fortnight quantity.Day = 14

// lookBack is how long before a past day what was due is still told.
const lookBack quantity.Day = 90

// tasksAsOf are the tasks that were, or will be, open on a day: past days as
// they stood then, days to come with all that is open now.
func tasksAsOf(r Reader, today, on quantity.Day) ([]Task, error) {
	if on >= today {
		return r.TasksOpen()
	}
	all, err := r.TasksBetween((on - lookBack).String(), (on + lookBack).String())
	open := all[:0]
	for _, t := range all {
		if t.Settled == 0 || t.Settled > on {
			open = append(open, t)
		}
	}
	return open, err
}

// Sheet reads the work of a day.
func (k Keeper) Sheet(ctx context.Context, today, on quantity.Day) (s Sheet, err error) {
	s.Today, s.Beds, s.Batches = on, map[int64]Bed{}, map[int64]Batch{}
	err = k.Store.Read(ctx, func(r Reader) error {
		if s.Garden, err = r.Garden(); err != nil {
			return err
		}
		open, err := tasksAsOf(r, today, on)
		if err != nil {
			return err
		}
		for i, t := range open {
			switch {
			case t.Due <= on:
				s.Due = append(s.Due, t)
			case t.Due <= on+fortnight:
				s.Coming = append(s.Coming, t)
			case s.Next == nil:
				s.Next = &open[i]
			}
		}
		if s.Settled, err = r.SettledOn(on.String()); err != nil {
			return err
		}
		held, err := r.Held()
		if err != nil {
			return err
		}
		s.Held = heldOn(held, on)
		beds, err := r.Beds()
		if err != nil {
			return err
		}
		for _, b := range beds {
			s.Beds[b.ID] = b
		}
		bs, err := r.Batches()
		for _, b := range bs {
			s.Batches[b.ID] = b
		}
		return err
	})
	return s, err
}

// heldOn are the goes that were held back by a day.
func heldOn(held []Held, on quantity.Day) map[int64]quantity.Day {
	out := make(map[int64]quantity.Day, len(held))
	for _, h := range held {
		if h.Struck <= on {
			out[h.Task] = h.Struck
		}
	}
	return out
}

// DueCount is how many tasks are open and due.
func (k Keeper) DueCount(ctx context.Context, today quantity.Day) (n int, err error) {
	err = k.Store.Read(ctx, func(r Reader) error { n, err = r.DueCount(today.String()); return err })
	return n, err
}

// PutOn ticks a go: total is what really went on; nil is what was planned. It
// becomes an application of the bed, and leaves the shelf.
func (k Keeper) PutOn(ctx context.Context, a Act, task, version int64, total *quantity.Mass) (Receipt, error) {
	return k.Store.Change(ctx, a.change(), func(tx Tx) (string, error) {
		t, b, err := openTask(tx, task, version)
		if err != nil {
			return "", err
		}
		if t.Kind != TaskGo {
			return "", Faults{"task": "only a go can be put on"}
		}
		held, err := tx.Held()
		if err != nil {
			return "", err
		}
		if on, ok := heldOn(held, a.Today)[t.ID]; ok {
			return "", Faults{"amount": "the reading that this rests on was struck out on " + words.DayYear(on) + "; plan the dose anew"}
		}
		put := t.Total
		if total != nil {
			if !(*total > 0 && *total <= 1e8) {
				return "", Faults{"amount": "how much went on? an amount above 0 kg is needed"}
			}
			put = *total
		}
		ap := Application{BedID: b.ID, TaskID: &t.ID, BatchID: t.BatchID, Date: a.Today, What: t.What, Total: put, Rate: put.Per(b.Area())}
		var s Batch
		if t.BatchID != nil {
			if s, err = tx.Batch(*t.BatchID); err != nil {
				return "", err
			}
			ap.from(s)
		}
		if err := tx.Insert(&ap); err != nil {
			return "", err
		}
		t.State, t.Settled = Done, a.Today
		if err := tx.Update(&t); err != nil {
			return "", err
		}
		name := words.Material(t.What)
		if t.BatchID != nil {
			name = s.Name
			if s.OnHand != nil {
				left := max(0, *s.OnHand-put)
				s.OnHand = &left
				if err := tx.Update(&s); err != nil {
					return "", err
				}
			}
		}
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		return fmt.Sprintf("Put %s of %s on %s", g.Units().Mass(put), words.Lower(name), b.Name), nil
	})
}

// Skip leaves a task out, with the reason.
func (k Keeper) Skip(ctx context.Context, a Act, task, version int64, why string) (Receipt, error) {
	return k.Store.Change(ctx, a.change(), func(tx Tx) (string, error) {
		t, b, err := openTask(tx, task, version)
		if err != nil {
			return "", err
		}
		t.State, t.Settled, t.Why = Skipped, a.Today, strings.TrimSpace(why)
		if err := tx.Update(&t); err != nil {
			return "", err
		}
		what := "the retest"
		if t.Kind == TaskGo {
			what = "a go of " + words.Material(t.What)
		}
		return fmt.Sprintf("Skipped %s on %s", what, b.Name), nil
	})
}

// earliest is the first year that a record may be of.
const earliest = 1950

// Log notes what went on outside a plan, today or earlier: an application
// without a task.
func (k Keeper) Log(ctx context.Context, a Act, x Application) (Receipt, error) {
	f := Faults{}
	if _, ok := material.Find(x.What); !ok {
		f["what"] = "choose what went on"
	}
	switch {
	case x.Date.IsZero():
		f["put_date"] = "a day is needed: when it went on"
	case x.Date > a.Today:
		f["put_date"] = "that day is still to come"
	case x.Date.Year() < earliest:
		f["put_date"] = "that is too long ago"
	}
	if !(x.Total > 0 && x.Total <= 1e8) {
		f["put_amount"] = "how much went on? an amount above 0 is needed"
	}
	if err := f.orNil(); err != nil {
		return Receipt{}, err
	}
	return k.Store.Change(ctx, a.change(), func(tx Tx) (string, error) {
		b, err := tx.Bed(x.BedID)
		if err != nil {
			return "", err
		}
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		x.Rate, x.Note = x.Total.Per(b.Area()), strings.TrimSpace(x.Note)
		return fmt.Sprintf("Noted %s of %s on %s, %s", g.Units().Mass(x.Total), words.Material(x.What), b.Name, words.DayYear(x.Date)), tx.Insert(&x)
	})
}

func openTask(tx Tx, id, version int64) (t Task, b Bed, err error) {
	if t, err = tx.Task(id); err != nil {
		return t, b, err
	}
	if t.Version != version || t.State != Open {
		return t, b, ErrStale
	}
	b, err = tx.Bed(t.BedID)
	return t, b, err
}

// Undo takes a change back.
func (k Keeper) Undo(ctx context.Context, a Act, journal int64) (Receipt, error) {
	return k.Store.Undo(ctx, a.change(), journal)
}

// Entry reads a line of the journal.
func (k Keeper) Entry(ctx context.Context, id int64) (e Entry, err error) {
	err = k.Store.Read(ctx, func(r Reader) error { e, err = r.Entry(id); return err })
	return e, err
}

// Journal reads the last lines, newest first.
func (k Keeper) Journal(ctx context.Context, limit int) (es []Entry, err error) {
	err = k.Store.Read(ctx, func(r Reader) error { es, err = r.Journal(limit); return err })
	return es, err
}

// longestName is the most letters of a bed's name.
const longestName = 60

// farthest is the most metres from the plan's corner.
const farthest = 2000

// CheckBed says what is wrong with a bed and its crop, by field. Whether the
// crop is one of the garden's is seen when it is added.
func CheckBed(b Bed, crp string, sown quantity.Day) error {
	f := checkGround(b)
	checkPlanting(f, Planting{Crop: crp, Sown: sown})
	return f.orNil()
}

func checkPlanting(f Faults, p Planting) {
	if p.Crop == "" {
		f["crop"] = "choose what grows there next"
	}
	if p.Sown.IsZero() {
		f["sown"] = "a day is needed: when it was, or will be, sown or planted"
	}
}

// knownCrop tells a fault when the garden does not know a crop.
func knownCrop(r Reader, code string) (crop.Crop, error) {
	l, err := library(r)
	if err != nil {
		return crop.Crop{}, err
	}
	c, ok := l.Find(code)
	if !ok {
		return c, Faults{"crop": "choose a crop of the library"}
	}
	return c, nil
}

func checkGround(b Bed) Faults {
	f := Faults{}
	switch n := len([]rune(strings.TrimSpace(b.Name))); {
	case n == 0:
		f["name"] = "give the bed a name"
	case n > longestName:
		f["name"] = fmt.Sprintf("at most %d letters", longestName)
	}
	if !has(Kinds, b.Kind) {
		f["kind"] = "choose what kind of ground it is"
	}
	size := func(field string, v float64, what string) {
		if !(v > 0) {
			f[field] = "a " + what + " above 0 m is needed"
		} else if v > farthest {
			f[field] = fmt.Sprintf("%d m is the most", farthest)
		}
	}
	size("w", b.W, "length")
	size("h", b.H, "width")
	for field, v := range map[string]float64{"x": b.X, "y": b.Y} {
		if !(v >= 0 && v <= farthest) {
			f[field] = fmt.Sprintf("a place from 0 to %d m is needed", farthest)
		}
	}
	switch {
	case !has(Shapes, b.Shape):
		f["shape"] = "choose a shape"
	case b.Shape == ShapeRings && (b.Rings < 1 || b.Rings > 500):
		f["rings"] = "from 1 to 500 rings"
	case b.Shape == ShapeCircle && b.W != b.H:
		f["h"] = "a circle is as wide as it is long"
	case b.Shape == ShapeOutline:
		if why := CheckCorners(b.Corners); why != "" {
			f["corners"] = why
		}
	}
	if !(b.Turn >= -360 && b.Turn <= 360) {
		f["turn"] = "a turn from −360 to 360 degrees is needed"
	}
	if a := b.Area(); f["w"] == "" && f["h"] == "" && a > dose.MaxArea {
		f["w"] = fmt.Sprintf("%s is more than 5 ha; split the ground", words.Area(a))
	}
	if _, ok := soil.FindTexture(b.Texture); !ok {
		f["texture"] = "choose a texture"
	}
	if !(b.Depth >= dose.MinDepth && b.Depth <= dose.MaxDepth) {
		f["depth"] = "a depth from 2 to 60 cm is needed"
	}
	if b.OrganicMatter != nil && !(*b.OrganicMatter >= 0 && *b.OrganicMatter <= 100) {
		f["om"] = "a share from 0 to 100 % is needed"
	}
	checkSoil(b, f)
	switch b.Worked {
	case soil.Dug, soil.Surface, soil.Established:
	default:
		f["worked"] = "choose how it is worked"
	}
	switch b.FreeLime {
	case soil.LimeUnknown, soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong:
	default:
		f["free_lime"] = "choose what the vinegar drop did"
	}
	return f
}

func has(list []string, s string) bool {
	for _, x := range list {
		if x == s {
			return true
		}
	}
	return false
}

// AddBed adds a bed with its crop.
func (k Keeper) AddBed(ctx context.Context, a Act, b Bed, crp string, sown quantity.Day) (Bed, Receipt, error) {
	b.Name = strings.TrimSpace(b.Name)
	if err := CheckBed(b, crp, sown); err != nil {
		return b, Receipt{}, err
	}
	r, err := k.Store.Change(ctx, a.change(), func(tx Tx) (string, error) {
		if _, err := knownCrop(tx, crp); err != nil {
			return "", err
		}
		if err := tx.Insert(&b); err != nil {
			return "", err
		}
		return "Added " + b.Name, tx.Insert(&Planting{BedID: b.ID, Crop: crp, Sown: sown})
	})
	return b, r, err
}

// FreeSpot proposes a place for a new bed: under all that is on the plan.
func FreeSpot(ps []Plot) (x, y float64) {
	x, y = 1, 1
	for _, p := range ps {
		_, high := p.Bed.Bounds()
		y = max(y, high.Y+0.5)
	}
	if len(ps) > 0 {
		xs := make([]float64, len(ps))
		for i, p := range ps {
			xs[i] = p.Bed.X
		}
		sort.Float64s(xs)
		x = xs[0]
	}
	return x, y
}
