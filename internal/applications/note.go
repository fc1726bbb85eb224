package applications

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// logFaults validates an entry, by field.
func logFaults(x garden.Application, today quantity.Day) garden.Faults {
	f := garden.Faults{}
	if _, ok := material.Find(x.What); !ok {
		f["what"] = "choose what was put on"
	}
	switch {
	case x.Date.IsZero():
		f["put_date"] = "a day is needed: when it was put on"
	case x.Date > today:
		f["put_date"] = "that day is still to come"
	case garden.DayFault(x.Date) != "":
		f["put_date"] = garden.DayFault(x.Date)
	}
	if !garden.LimitAmount.Holds(float64(x.Total)) {
		f["put_amount"] = "how much was put on? an amount above 0 is needed"
	}
	if why := garden.TextFault(x.Note, garden.LongestNote, true); why != "" {
		f["put_note"] = why
	}
	return f
}

// Note records an unplanned application, today or earlier. Its batch leaves the shelf.
func (svc Service) Note(ctx context.Context, a garden.Actor, x garden.Application) (garden.Receipt, error) {
	if err := logFaults(x, a.Today).OrNil(); err != nil {
		return garden.Receipt{}, err
	}
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) { return Note(tx, a, x) })
}

// Note records an unplanned application within a transaction.
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

// taken sets an application's properties from its batch and returns the batch; the zero batch for
// none.
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

// leave saves an application and takes it off its batch.
func leave(tx Tx, x *garden.Application) error {
	if err := tx.Insert(x); err != nil || x.BatchID == nil {
		return err
	}
	out := garden.Movement{BatchID: *x.BatchID, Date: x.Date, Kind: garden.MovedOut, Amount: x.Total, ApplicationID: &x.ID}
	return tx.Insert(&out)
}

// Incoming is a line of an imported table: its number, the entry, and the bed's name.
type Incoming struct {
	Line int
	Bed  string
	Is   garden.Application
}

// ImportLog imports a table of applications, all or nothing: faults are at "file". Lines that are
// already in the log are skipped.
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

// sameEntry reports whether two entries are equal, to the gram.
func sameEntry(a, b garden.Application) bool {
	off := a.Total - b.Total
	return a.BedID == b.BedID && a.Date == b.Date && a.What == b.What && max(off, -off) < 1
}

// askLog asks for confirmation of an entry that is years old, or far over the usual: of its family
// before, or of the yearly cap.
func askLog(rec bedstate.Record, g garden.Garden, a garden.Actor, x garden.Application) error {
	f := garden.Faults{}
	if a.Today-x.Date > garden.FarBack {
		f["put_date"] = fmt.Sprintf("that is %s ago. Sure? Note it once more if it is",
			text.Count(int((a.Today-x.Date)/ledger.YearDays), "year", "years"))
	}
	m, _ := material.Find(x.What)
	usual, n := quantity.Rate(0), 0
	for _, old := range rec.Applications {
		if o, ok := material.Find(old.What); ok && o.Family == m.Family {
			usual, n = usual+old.Rate, n+1
		}
	}
	u := g.Units()
	caps, ok := m.CapsOn(rec.State.Ground)
	switch {
	case n > 0 && x.Rate >= garden.FarOver*usual/quantity.Rate(n):
		f["put_amount"] = fmt.Sprintf("%s is ten times what was put on before or more. Sure? Note it once more if it is", u.Rate(x.Rate))
	case ok && rec.Bed.Kind != garden.KindHeap && caps.Offered() && x.Rate > caps.Year*(1+1e-6):
		f["put_amount"] = fmt.Sprintf("%s is more than the %s of a year. Sure? Note it once more if it is", u.Rate(x.Rate),
			u.Rate(caps.Year))
	case a.Today-x.Date < ledger.YearDays:
		// The current state says something about the last year only.
		if why := rec.State.Stops(u, m, x.Rate, x.Date); why != "" {
			f["put_amount"] = why + text.IfTrue
		}
	}
	return a.Ask(f)
}
