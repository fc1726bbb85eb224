package layout

import (
	"context"
	"fmt"
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// Soil is the measured soil temperatures, newest first.
type Soil struct {
	Garden garden.Garden
	Days   []garden.SoilDay
}

// Soil returns them.
func (svc Service) Soil(ctx context.Context) (s Soil, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error {
		if s.Garden, err = r.Garden(); err != nil {
			return err
		}
		s.Days, err = garden.All[garden.SoilDay](r)
		slices.Reverse(s.Days)
		return err
	})
	return s, err
}

// ImportSoil imports soil temperatures: existing days are corrected, equal ones skipped, and values
// typed by the gardener are not overwritten by a source. n is the number of changes; with 0 nothing
// is written.
func (svc Service) ImportSoil(ctx context.Context, a garden.Actor, days []garden.SoilDay) (n int, r garden.Receipt, err error) {
	for _, d := range days {
		if err := garden.CheckSoilDay(d, a.Today).OrNil(); err != nil {
			return 0, r, err
		}
	}
	fresh, err := svc.fresh(ctx, days)
	if err != nil || len(fresh) == 0 {
		return 0, r, err
	}
	r, err = garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		if fresh, err = freshIn(tx, days); err != nil {
			return "", err
		}
		n = 0
		for i := range fresh {
			x := &fresh[i]
			if x.ID == 0 {
				err = tx.Insert(x)
			} else {
				err = tx.Update(x)
			}
			if err != nil {
				return "", err
			}
			n++
		}
		return importedSoil(fresh), nil
	})
	return n, r, err
}

func importedSoil(fresh []garden.SoilDay) string {
	if len(fresh) == 1 {
		return fmt.Sprintf("Soil of %s was %s", text.DayYear(fresh[0].Day), text.Temperature(fresh[0].Soil))
	}
	first, last := fresh[0].Day, fresh[0].Day
	for _, x := range fresh {
		first, last = min(first, x.Day), max(last, x.Day)
	}
	return fmt.Sprintf("Imported the soil’s temperature of %s, %s to %s", text.Count(len(fresh), "day", "days"), text.DayYear(first),
		text.DayYear(last))
}

// fresh returns the days with a new value.
func (svc Service) fresh(ctx context.Context, days []garden.SoilDay) (out []garden.SoilDay, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error { out, err = freshIn(r, days); return err })
	return out, err
}

func freshIn(r garden.Reader, days []garden.SoilDay) (out []garden.SoilDay, err error) {
	all, err := garden.All[garden.SoilDay](r)
	if err != nil {
		return nil, err
	}
	had := make(map[quantity.Day]garden.SoilDay, len(all))
	for _, x := range all {
		had[x.Day] = x
	}
	for _, d := range days {
		was, ok := had[d.Day]
		if ok && (was.Soil == d.Soil && was.Source == d.Source || was.Source == "" && d.Source != "") {
			continue
		}
		d.Meta = was.Meta
		out = append(out, d)
		had[d.Day] = d // of a repeated day the last value counts
	}
	return distinctDays(out), nil
}

// distinctDays keeps the last value of each day.
func distinctDays(days []garden.SoilDay) (out []garden.SoilDay) {
	for i, x := range days {
		if !slices.ContainsFunc(days[i+1:], func(y garden.SoilDay) bool { return y.Day == x.Day }) {
			out = append(out, x)
		}
	}
	return out
}

// DropSoil deletes one.
func (svc Service) DropSoil(ctx context.Context, a garden.Actor, id, version int64) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		x, err := garden.Get[garden.SoilDay](tx, id)
		if err != nil {
			return "", err
		}
		x.Version = version
		return "Deleted the soil’s temperature of " + text.DayYear(x.Day), tx.Delete(&x)
	})
}
