package garden

import (
	"context"

	"zephyrfield/agronomy/quantity"
)

// Outlook says what a plot's pH should be on a day to come, from the goes that
// are planned; ok is false when it has nothing to go by.
type Outlook interface {
	Expect(p Plot, open []Task, day quantity.Day) (ph quantity.PH, ok bool)
}

// Planned is the plainest outlook: each planned go has done its work by its
// day. It knows no drift and no doubt.
type Planned struct{}

// Expect implements Outlook.
func (Planned) Expect(p Plot, open []Task, day quantity.Day) (ph quantity.PH, ok bool) {
	if p.Reading == nil {
		return 0, false
	}
	ph = p.PH
	for _, t := range open {
		if t.BedID == p.Bed.ID && t.Kind == TaskGo && t.PHAfter != nil && t.Due <= day {
			ph, ok = *t.PHAfter, true
		}
	}
	return ph, ok
}

// On reads the garden on any day: before today as it was last measured then,
// after it as the outlook expects it.
func (k Keeper) On(ctx context.Context, today, day quantity.Day, o Outlook) (View, error) {
	v, err := k.View(ctx, day)
	if err != nil || day <= today {
		return v, err
	}
	toDo := v.ToDo()
	for i := range v.Plots {
		p := &v.Plots[i]
		if ph, ok := o.Expect(*p, toDo, day); ok {
			p.Stand(ph)
		}
	}
	return v, nil
}
