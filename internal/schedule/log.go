package schedule

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Filter is which of what went on is asked for; the zero Filter is all of it.
type Filter struct {
	Bed    int64
	What   material.Kind
	Season string
}

// Entry is one thing that went on.
type Entry struct {
	garden.Application
	Bed    garden.Bed
	Batch  *garden.Batch
	Season string
	// Brought is what it brings, g/m²: its lime as if all had acted.
	Brought ledger.Brought
}

// Sum is what went on a bed in a season, g/m².
type Sum struct {
	Bed     garden.Bed
	Season  string
	Brought ledger.Brought
}

// Log is what went on, newest first, with its sums by bed and season, and what there is to
// filter by.
type Log struct {
	Garden  garden.Garden
	Entries []Entry
	Sums    []Sum
	Beds    []garden.Bed
	// Shelf is what stands there on the day.
	Shelf   []garden.Batch
	Kinds   []material.Kind
	Seasons []string
}

// SeasonOf names the growing season of a day: the year, or in the south the two that it spans.
func SeasonOf(d quantity.Day, hemisphere string) string {
	if hemisphere != soil.South {
		return fmt.Sprint(d.Year())
	}
	from := d.Year()
	if d.Month() < 7 {
		from--
	}
	return fmt.Sprintf("%d/%02d", from, (from+1)%100)
}

// Log reads what went on up to a day.
func (svc Service) Log(ctx context.Context, f Filter, day quantity.Day) (l Log, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if l.Garden, err = r.Garden(); err != nil {
			return err
		}
		if l.Beds, err = garden.All[garden.Bed](r); err != nil {
			return err
		}
		batches, err := bedstate.BatchesByID(r)
		if err != nil {
			return err
		}
		for _, b := range batches {
			if b.Gone == 0 || b.Gone > day {
				l.Shelf = append(l.Shelf, b)
			}
		}
		slices.SortFunc(l.Shelf, func(a, b garden.Batch) int { return int(a.ID - b.ID) })
		all, err := garden.All[garden.Application](r)
		if err != nil {
			return err
		}
		l.gather(all, batches, f, day)
		return nil
	})
	return l, err
}

// gather picks what is asked for, and sums it up.
func (l *Log) gather(all []garden.Application, batches map[int64]garden.Batch, f Filter, day quantity.Day) {
	beds := make(map[int64]garden.Bed, len(l.Beds))
	for _, b := range l.Beds {
		beds[b.ID] = b
	}
	type key struct {
		bed    int64
		season string
	}
	at := map[key]int{}
	for _, a := range slices.Backward(all) {
		e := Entry{Application: a, Bed: beds[a.BedID], Season: SeasonOf(a.Date, l.Garden.Hemisphere)}
		if a.Date > day {
			continue
		}
		if !slices.Contains(l.Kinds, a.What) {
			l.Kinds = append(l.Kinds, a.What)
		}
		if !slices.Contains(l.Seasons, e.Season) {
			l.Seasons = append(l.Seasons, e.Season)
		}
		if f.Bed != 0 && f.Bed != a.BedID || f.What != "" && f.What != a.What || f.Season != "" && f.Season != e.Season {
			continue
		}
		if a.BatchID != nil {
			if b, ok := batches[*a.BatchID]; ok {
				e.Batch = &b
			}
		}
		e.Brought = BroughtBy(&a, l.Garden)
		l.Entries = append(l.Entries, e)
		k := key{a.BedID, e.Season}
		if _, ok := at[k]; !ok {
			at[k] = len(l.Sums)
			l.Sums = append(l.Sums, Sum{Bed: e.Bed, Season: e.Season})
		}
		l.Sums[at[k]].Brought.Add(e.Brought)
	}
	slices.SortStableFunc(l.Sums, func(a, b Sum) int {
		if a.Season != b.Season {
			return strings.Compare(b.Season, a.Season)
		}
		return int(a.Bed.ID - b.Bed.ID)
	})
	slices.SortFunc(l.Seasons, func(a, b string) int { return strings.Compare(b, a) })
	slices.SortFunc(l.Kinds, func(a, b material.Kind) int { return strings.Compare(text.Material(a), text.Material(b)) })
}

// BroughtBy is what something brought: its lime as if all had acted, the tap's water with that of the place.
func BroughtBy(a *garden.Application, g garden.Garden) (b ledger.Brought) {
	p, ok := a.Put()
	if !ok {
		return b
	}
	b = p.Brought()
	if mg := g.Alkalinity(); a.What == material.TapWater && mg != nil {
		b.CaCO3 += ledger.WaterLime(a.Rate, *mg)
	}
	return b
}

// logFaults says what is wrong with an entry, by field.
func logFaults(x garden.Application, today quantity.Day) garden.Faults {
	f := garden.Faults{}
	if _, ok := material.Find(x.What); !ok {
		f["what"] = "choose what went on"
	}
	switch {
	case x.Date.IsZero():
		f["put_date"] = "a day is needed: when it went on"
	case x.Date > today:
		f["put_date"] = "that day is still to come"
	case garden.DayFault(x.Date) != "":
		f["put_date"] = garden.DayFault(x.Date)
	}
	if !garden.LimitAmount.Holds(float64(x.Total)) {
		f["put_amount"] = "how much went on? an amount above 0 is needed"
	}
	if why := garden.TextFault(x.Note, garden.LongestNote, true); why != "" {
		f["put_note"] = why
	}
	return f
}

// Note notes what went on outside a plan, today or earlier: an application
// without a task. What is of a batch leaves the shelf.
func (svc Service) Note(ctx context.Context, a garden.Actor, x garden.Application) (garden.Receipt, error) {
	if err := logFaults(x, a.Today).OrNil(); err != nil {
		return garden.Receipt{}, err
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) { return Note(tx, a, x) })
}

// Note keeps what went on outside a plan, within a change.
func Note(tx Tx, a garden.Actor, x garden.Application) (string, error) {
	b, err := garden.Get[garden.Bed](tx, x.BedID)
	if err != nil {
		return "", err
	}
	g, err := tx.Garden()
	if err != nil {
		return "", err
	}
	x.Rate, x.Note = x.Total.Per(b.Area()), strings.TrimSpace(x.Note)
	if !garden.LimitRate.Holds(float64(x.Rate)) {
		return "", garden.Faults{"put_amount": "on this bed that is more than a bed can take: " + garden.LimitRate.Says()}
	}
	s, err := taken(tx, &x)
	if err != nil {
		return "", err
	}
	rec, err := bedstate.ReadBed(tx, x.BedID, a.Today, a.Today)
	if err != nil {
		return "", err
	}
	if err := askLog(rec, g, a, x); err != nil {
		return "", err
	}
	err = leave(tx, &x)
	return fmt.Sprintf("Noted %s of %s on %s, %s", g.Units().Amount(x.Total, s.Measure()), garden.Called(x.What, &s), b.Name,
		text.DayYear(x.Date)), err
}

// taken is the batch that something is of, which makes it as strong as that was; the zero batch for none.
func taken(tx Tx, x *garden.Application) (s garden.Batch, err error) {
	if x.BatchID == nil {
		return s, nil
	}
	if s, err = garden.Get[garden.Batch](tx, *x.BatchID); err != nil {
		return s, err
	}
	x.From(s)
	return s, mayLeave(s, *x)
}

// leave keeps what went on; what is of a batch leaves the shelf.
func leave(tx Tx, x *garden.Application) error {
	if err := tx.Insert(x); err != nil || x.BatchID == nil {
		return err
	}
	out := garden.Movement{BatchID: *x.BatchID, Date: x.Date, Kind: garden.MovedOut, Amount: x.Total, ApplicationID: &x.ID}
	return tx.Insert(&out)
}

// Entry reads one thing that went on.
func (svc Service) Entry(ctx context.Context, id int64) (e Entry, g garden.Garden, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if g, err = r.Garden(); err != nil {
			return err
		}
		if e.Application, err = garden.Get[garden.Application](r, id); err != nil {
			return err
		}
		if e.BatchID != nil {
			b, err := garden.Get[garden.Batch](r, *e.BatchID)
			if err != nil {
				return err
			}
			e.Batch = &b
		}
		e.Bed, err = garden.Get[garden.Bed](r, e.BedID)
		return err
	})
	return e, g, err
}

// Incoming is a line of a table of what went on: its number, and the bed by its name.
type Incoming struct {
	Line int
	Bed  string
	Is   garden.Application
}

// ImportLog takes a table of what went on in, all of it or nothing: faults stand at "file". What
// stands in the log already is passed over.
func (svc Service) ImportLog(ctx context.Context, a garden.Actor, lines []Incoming) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		beds, err := garden.All[garden.Bed](tx)
		if err != nil {
			return "", err
		}
		there, err := garden.All[garden.Application](tx)
		if err != nil {
			return "", err
		}
		n := 0
		for _, l := range lines {
			at := slices.IndexFunc(beds, func(b garden.Bed) bool { return garden.Fold(b.Name) == garden.Fold(l.Bed) })
			if at < 0 {
				return "", garden.Faults{"file": fmt.Sprintf("line %d: no bed is called %q", l.Line, l.Bed)}
			}
			x := l.Is
			x.BedID, x.Rate = beds[at].ID, x.Total.Per(beds[at].Area())
			if slices.ContainsFunc(there, func(o garden.Application) bool { return sameEntry(o, x) }) {
				continue
			}
			f := logFaults(x, a.Today)
			if len(f) == 0 && !garden.LimitRate.Holds(float64(x.Rate)) {
				f["put_amount"] = "on this bed that is more than a bed can take: " + garden.LimitRate.Says()
			}
			for _, why := range f {
				return "", garden.Faults{"file": fmt.Sprintf("line %d: %s", l.Line, why)}
			}
			if err := tx.Insert(&x); err != nil {
				return "", err
			}
			there, n = append(there, x), n+1
		}
		if n == 0 {
			return "", garden.Faults{"file": "all of it stands in the log already"}
		}
		return "Took " + text.Count(n, "entry", "entries") + " of a file into the log", nil
	})
}

// sameEntry tells whether two entries say the same, to the gram.
func sameEntry(a, b garden.Application) bool {
	off := a.Total - b.Total
	return a.BedID == b.BedID && a.Date == b.Date && a.What == b.What && max(off, -off) < 1
}

// entry reads an entry to be changed, with its bed.
func entry(tx Tx, id, version int64) (x garden.Application, b garden.Bed, err error) {
	if x, err = garden.Get[garden.Application](tx, id); err != nil {
		return x, b, err
	}
	if x.Version != version {
		return x, b, garden.ErrStale
	}
	b, err = garden.Get[garden.Bed](tx, x.BedID)
	return x, b, err
}

// Correct puts an entry right: its day, amount and note, and what it is of where it came
// neither from a task nor off the shelf. The shelf and the task follow.
func (svc Service) Correct(ctx context.Context, a garden.Actor, id, version int64, is garden.Application) (garden.Receipt, error) {
	if err := logFaults(is, a.Today).OrNil(); err != nil {
		return garden.Receipt{}, err
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		x, b, err := entry(tx, id, version)
		if err != nil {
			return "", err
		}
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		was := x
		x.Date, x.Total, x.Told, x.Note = is.Date, is.Total, is.Told, strings.TrimSpace(is.Note)
		if x.TaskID == nil && x.BatchID == nil {
			x.What = is.What
		}
		if x.Rate = x.Total.Per(b.Area()); !garden.LimitRate.Holds(float64(x.Rate)) {
			return "", garden.Faults{"put_amount": "on this bed that is more than a bed can take: " + garden.LimitRate.Says()}
		}
		rec, err := bedstate.ReadBed(tx, x.BedID, a.Today, a.Today)
		if err != nil {
			return "", err
		}
		rec.Applications = slices.DeleteFunc(rec.Applications, func(o garden.Application) bool { return o.ID == x.ID })
		rec.State.Season.History = rec.Ledger() // as if it had not gone on
		if err := askLog(rec, g, a, x); err != nil {
			return "", err
		}
		if err := tx.Update(&x); err != nil {
			return "", err
		}
		if err := follow(tx, g, was, x); err != nil {
			return "", err
		}
		return fmt.Sprintf("Put right: %s of %s on %s, %s", g.Units().Mass(x.Total), text.Material(x.What), b.Name,
			text.DayYear(x.Date)), nil
	})
}

// follow puts the shelf and the task of an entry right after it.
func follow(tx Tx, g garden.Garden, was, is garden.Application) error {
	moves, err := garden.Where[garden.Movement](tx, "application_id", is.ID)
	if err != nil {
		return err
	}
	for _, m := range moves {
		m.Date, m.Amount = is.Date, is.Total
		if err := tx.Update(&m); err != nil {
			return err
		}
	}
	if is.TaskID == nil {
		return nil
	}
	t, err := garden.Get[garden.Task](tx, *is.TaskID)
	if err != nil {
		return err
	}
	t.Settled = is.Date
	if err := tx.Update(&t); err != nil {
		return err
	}
	return followOn(tx, g, t, is.Date, is.Total != was.Total)
}

// Remove takes an entry out: its stock is on the shelf again, and its task is to do again.
func (svc Service) Remove(ctx context.Context, a garden.Actor, id, version int64) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		x, b, err := entry(tx, id, version)
		if err != nil {
			return "", err
		}
		moves, err := garden.Where[garden.Movement](tx, "application_id", id)
		if err != nil {
			return "", err
		}
		for _, m := range moves {
			if err := tx.Delete(&m); err != nil {
				return "", err
			}
		}
		if err := tx.Delete(&x); err != nil {
			return "", err
		}
		if x.TaskID != nil {
			t, err := garden.Get[garden.Task](tx, *x.TaskID)
			if err != nil {
				return "", err
			}
			t.State, t.Settled = garden.Open, 0
			if err := tx.Update(&t); err != nil {
				return "", err
			}
		}
		g, err := tx.Garden()
		return fmt.Sprintf("Took out %s of %s on %s, %s", g.Units().Mass(x.Total), text.Material(x.What), b.Name,
			text.DayYear(x.Date)), err
	})
}
