package gardentest

import (
	"testing"

	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/inventory"
	"zephyrfield/internal/spreading"
	"zephyrfield/internal/web/present"
)

// Shed returns the inventory as of Today.
func (g *Garden) Shed() inventory.Shed {
	g.T.Helper()
	s, err := g.App.Inventory.View(Ctx, Today)
	require.NoError(g.T, err)
	return s
}

// Kg points to a mass.
func Kg(x float64) *quantity.Mass { return Ptr(quantity.Mass(x) * quantity.Kilogram) }

// Planned plans an application of each mass, 100 days apart, of a batch, or of a kind where id is 0.
func (g *Garden) Planned(k material.Kind, id int64, kilos ...float64) {
	for i, m := range kilos {
		t := garden.Task{BedID: g.Bed.ID, Kind: garden.TaskApplication, Due: Today + quantity.Day(100*i), What: k, Rate: 100, Total: *Kg(m),
			State: garden.Open, Depth: 0.15}
		if id != 0 {
			t.BatchID = &id
		}
		g.Add(&t)
	}
}

// ShelvedLime adds 10 kg of lime.
func (g *Garden) ShelvedLime() garden.Batch {
	b := garden.Batch{Name: "Lime", Kind: material.CalciticLime, OnHand: Kg(10)}
	g.Add(&b)
	return b
}

// ShelvedAsh adds a batch of ash with two applications from it, a season apart.
func (g *Garden) ShelvedAsh(onHand *quantity.Mass) garden.Batch {
	b := garden.Batch{Name: "Oven ash", Kind: material.HardwoodAsh, Condition: material.Dry, Source: material.Clean, OnHand: onHand}
	g.Add(&b)
	for _, due := range []string{"2026-09-20", "2026-11-24"} {
		g.Add(&garden.Task{BedID: g.Bed.ID, Kind: garden.TaskApplication, Due: Day(due), What: material.HardwoodAsh, BatchID: &b.ID, Rate: 100,
			Total: 960, State: garden.Open, Depth: 0.15})
	}
	return b
}

// Left returns the stock of the only batch; negative if unknown.
func (g *Garden) Left() float64 {
	g.T.Helper()
	var out *quantity.Mass
	require.NoError(g.T, g.App.Store.Read(Ctx, func(r garden.Reader) error {
		shelf, err := garden.Shelf(r)
		if err == nil {
			out = shelf[0].Left
		}
		return err
	}))
	if out == nil {
		return -1
	}
	return float64(*out)
}

// PutOn ticks a task on a day and returns its journal entry.
func (g *Garden) PutOn(t garden.Task, on string) int64 {
	g.T.Helper()
	r, err := g.App.Applications.PutOn(Ctx, g.Actor, applications.Tick{Task: t.ID, Version: t.Version, On: Day(on)})
	require.NoError(g.T, err)
	return r.Journal
}

// TakeBack undoes a journal entry.
func (g *Garden) TakeBack(line int64) {
	g.T.Helper()
	_, err := g.App.Undo(Ctx, g.Actor, line)
	require.NoError(g.T, err)
}

// Lines returns the number of changes that touch a bed.
func (g *Garden) Lines(bed int64) int {
	g.T.Helper()
	ls, err := g.App.JournalOf(Ctx, bed, 100)
	require.NoError(g.T, err)
	return len(ls)
}

// NewFilled returns a garden with a sour bed, a blueberry bed and a bin of ash.
func NewFilled(t *testing.T) (g *Garden, blue garden.Bed, ash garden.Batch) {
	g = New(t)
	g.Add(g.Planting("dahlia", "2027-05-15", ""), g.Reading("2026-11-12", soil.Lab, 5.7))
	blue = g.Bed
	blue.Meta, blue.Name, blue.Y = garden.Meta{}, "Blueberries", 5
	g.Add(&blue)
	at5 := g.Reading("2026-11-12", soil.Lab, 5.6)
	at5.BedID = blue.ID
	g.Add(at5, &garden.Planting{BedID: blue.ID, Crop: "blueberry", Sown: Day("2021-11-10")})
	ash = garden.Batch{Name: "Oven ash", Kind: material.HardwoodAsh, Condition: material.Dry, Source: material.Clean,
		OnHand: Ptr(quantity.Mass(20000)), Scoop: Ptr(quantity.Mass(100))}
	g.Add(&ash)
	return g, blue, ash
}

// Places returns where a material may go today.
func (g *Garden) Places(what string) spreading.Places {
	g.T.Helper()
	b, err := g.App.Spreading.Places(Ctx, what, g.Actor.Today)
	require.NoError(g.T, err)
	return b
}

// Spread puts an amount on.
func (g *Garden) Spread(p spreading.Amount) error {
	_, err := g.App.Spreading.PutOn(Ctx, g.Actor, p, present.EncodePlan)
	return err
}
