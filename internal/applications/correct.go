package applications

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
)

// entry reads an entry for a change, with its bed.
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

// Correct changes an entry's day, amount and note, and, if it has neither task nor batch, its
// material. Stock and task follow.
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
		rec.State.Season.History = rec.Ledger() // without the entry itself
		if err := askLog(rec, g, a, x); err != nil {
			return "", err
		}
		if err := tx.Update(&x); err != nil {
			return "", err
		}
		if err := follow(tx, g, was, x); err != nil {
			return "", err
		}
		return fmt.Sprintf("Corrected: %s of %s on %s, %s", g.Units().Mass(x.Total), text.Material(x.What), b.Name,
			text.DayYear(x.Date)), nil
	})
}

// follow updates the stock and the task of a corrected entry.
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
	return schedule.FollowOn(tx, g, t, is.Date, is.Total != was.Total)
}

// Remove deletes an entry: its stock returns and its task is open again.
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
		return fmt.Sprintf("Deleted %s of %s on %s, %s", g.Units().Mass(x.Total), text.Material(x.What), b.Name,
			text.DayYear(x.Date)), err
	})
}
