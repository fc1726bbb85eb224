package schedule

import (
	"fmt"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// askLog asks about a note of what went on that is years old, or far more than is
// usual: of the family before, or than a year may have.
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
		f["put_amount"] = fmt.Sprintf("%s is ten times what went on before or more. Sure? Note it once more if it is", u.Rate(x.Rate))
	case ok && rec.Bed.Kind != garden.KindHeap && caps.Offered() && x.Rate > caps.Year*(1+1e-6):
		f["put_amount"] = fmt.Sprintf("%s is more than the %s of a year. Sure? Note it once more if it is", u.Rate(x.Rate),
			u.Rate(caps.Year))
	case a.Today-x.Date < ledger.YearDays:
		// How the bed stands now tells of the last year, not of those before.
		if why := rec.State.Stops(u, m, x.Rate, x.Date); why != "" {
			f["put_amount"] = why + text.IfTrue
		}
	}
	return a.Ask(f)
}
