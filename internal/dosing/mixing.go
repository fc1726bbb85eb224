package dosing

import (
	"context"
	"fmt"
	"slices"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// Taken is an amount of one material, by its key, chosen by hand for a bed.
type Taken struct {
	Key   string
	Total quantity.Mass
}

// Mixed is a dose with amounts chosen by hand.
type Mixed struct {
	Dose
	// Option is the resulting option if OK is set; Against are the findings against it.
	Option  dose.Option
	OK      bool
	Against []dose.Refusal
}

// MaterialKey returns the key of a material of the request.
func (w *Dose) MaterialKey(i int) string { return w.Key(dose.Option{Parts: []dose.Part{{Batch: i}}}) }

// Mixable returns the indexes of the materials of some families that may be mixed by hand, without
// barred ones and those in the wrong direction for this bed.
func (w *Dose) Mixable(families ...material.Family) (out []int) {
	for i := range w.Request.Materials {
		b := &w.Request.Materials[i]
		right := b.Raises() && w.Answer.Direction != dose.Lower || b.Lowers() && w.Answer.Direction == dose.Lower
		if slices.Contains(families, b.Family) && right && !b.Barred() {
			out = append(out, i)
		}
	}
	return out
}

// MostOf returns the upper end of a material's slider: the yearly cap on this bed, or the stock.
func (w *Dose) MostOf(i int) quantity.Mass {
	b := &w.Request.Materials[i]
	caps, _ := b.CapsOn(w.Record.State.Ground)
	most := caps.Year.Over(w.Request.Ground.Area)
	if b.OnHand != nil {
		most = min(most, *b.OnHand)
	}
	return most
}

// Mix evaluates amounts that were chosen by hand.
func (svc Service) Mix(ctx context.Context, bed int64, c Choice, taken []Taken, today quantity.Day) (m Mixed, err error) {
	err = garden.Ask(ctx, svc.Store, func(r Reader) error { m, err = mixed(r, bed, c, taken, today); return err })
	return m, err
}

func mixed(r Reader, bed int64, c Choice, taken []Taken, today quantity.Day) (m Mixed, err error) {
	if m.Dose, err = worked(r, bed, c, today); err != nil {
		return m, err
	}
	rates := make([]quantity.Rate, len(m.Request.Materials))
	for _, t := range taken {
		for i := range rates {
			if m.MaterialKey(i) == t.Key {
				rates[i] += t.Total.Per(m.Request.Ground.Area)
			}
		}
	}
	m.Option, m.Against, m.OK, err = dose.ByHand(m.Request, rates)
	return m, garden.FaultOf(err)
}

// PlanMix plans amounts that were chosen by hand.
func (svc Service) PlanMix(ctx context.Context, a garden.Actor, bed int64, c Choice, taken []Taken,
	encode func(*Dose) (garden.JSON, error)) (garden.Receipt, error) {
	return garden.Do(ctx, svc.Store, a.Change(), func(tx Tx) (string, error) {
		m, err := mixed(tx, bed, c, taken, a.Today)
		switch {
		case err != nil:
			return "", err
		case !m.OK:
			return "", garden.Faults{"mix": "that mix is not allowed as it is"}
		case m.UnknownAsh(m.Option):
			return "", garden.Faults{"mix": askAshFirst}
		}
		if _, err := m.PlanOption(tx, a.Today, m.Option, encode); err != nil {
			return "", err
		}
		return fmt.Sprintf("Planned %s and a retest for %s", text.Count(len(m.Option.Applications), "application", "applications"),
			m.Dose.Record.Bed.Name), nil
	})
}
