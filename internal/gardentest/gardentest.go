// Package gardentest provides tests of use cases with a garden over a real store, and helpers to
// fill it.
package gardentest

import (
	"context"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/app"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/store"
	"zephyrfield/internal/web/present"
)

// Ptr points to a value.
func Ptr[T any](v T) *T { return &v }

// Day parses a day and panics where it is none.
func Day(s string) quantity.Day {
	d, err := quantity.ParseDay(s)
	if err != nil {
		panic(err)
	}
	return d
}

// Today is the tests' default day.
var Today = Day("2026-11-24")

// Garden is a garden with one bed.
type Garden struct {
	T     *testing.T
	Store *store.Store
	App   app.Services
	Bed   garden.Bed
	Actor garden.Actor
}

// New opens an empty store with one loam bed, closed when the test ends.
func New(t *testing.T) *Garden {
	t.Helper()
	st, err := store.Open(context.Background(), filepath.Join(t.TempDir(), "garden.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = st.Close() })
	g := &Garden{T: t, Store: st, App: app.Of(st),
		Actor: garden.Actor{Who: "test", At: time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC), Today: Today}}
	g.Bed = garden.Bed{Name: "Ledge", Kind: garden.KindBed, Shape: garden.ShapeRect, W: 6.4, H: 1.5, Texture: "loam", Depth: 0.15,
		Worked: soil.Dug, FreeLime: soil.LimeNone,
		CEC: Ptr(quantity.CationExchangeCapacity(12))}
	g.Add(&g.Bed)
	return g
}

// Add inserts records.
func (g *Garden) Add(rs ...garden.Record) {
	g.T.Helper()
	_, err := g.App.Store.Change(context.Background(), garden.Change{}, func(tx garden.Tx) (string, error) {
		for _, r := range rs {
			if err := tx.Insert(r); err != nil {
				return "", err
			}
		}
		return "added", nil
	})
	require.NoError(g.T, err)
}

// Reading returns a reading of the bed on the water basis; it is not stored.
func (g *Garden) Reading(day string, m soil.Method, ph quantity.PH) *garden.Reading {
	return &garden.Reading{BedID: g.Bed.ID, Date: Day(day), Method: m, Basis: soil.Water, PH: &ph, Cores: 12, Depth: 0.15}
}

// Planting returns a planting of the bed, cleared "" where it stands; it is not stored.
func (g *Garden) Planting(id, sown, cleared string) *garden.Planting {
	p := &garden.Planting{BedID: g.Bed.ID, Crop: id, Sown: Day(sown)}
	if cleared != "" {
		p.Cleared = Day(cleared)
	}
	return p
}

// State returns the state of the only bed on a day.
func (g *Garden) State(day quantity.Day) bedstate.State {
	g.T.Helper()
	v, err := g.App.BedState.View(context.Background(), day)
	require.NoError(g.T, err)
	require.Len(g.T, v.Beds, 1)
	return v.Beds[0]
}

// Dose computes the bed's dose as of Today.
func (g *Garden) Dose(c dosing.Choice) *dosing.Dose {
	g.T.Helper()
	w, err := g.App.Dosing.Dose(context.Background(), g.Bed.ID, c, Today)
	require.NoError(g.T, err)
	return &w
}

// Plan plans the option of a key, under an idempotency key.
func (g *Garden) Plan(key, use string) error { return g.PlanChoice(key, use, dosing.Choice{}) }

// PlanChoice plans it under a choice.
func (g *Garden) PlanChoice(key, use string, c dosing.Choice) error {
	a := g.Actor
	a.Key = key
	_, err := g.App.Dosing.Plan(context.Background(), a, g.Bed.ID, c, use, present.EncodePlan)
	return err
}

// FirstKey returns the key of the best option of the bed's dose.
func (g *Garden) FirstKey() string {
	w := g.Dose(dosing.Choice{})
	return w.Key(w.Answer.Options[0])
}

// OpenTasks returns the bed's open tasks.
func (g *Garden) OpenTasks() (out []garden.Task) {
	rec, err := g.App.BedState.Bed(context.Background(), g.Bed.ID, Today)
	require.NoError(g.T, err)
	for _, t := range rec.Tasks {
		if t.State == garden.Open {
			out = append(out, t)
		}
	}
	return out
}

// Beds returns the garden's beds by name.
func (g *Garden) Beds() map[string]garden.Bed {
	_, all, err := g.App.BedState.Names(Ctx, Today)
	require.NoError(g.T, err)
	out := map[string]garden.Bed{}
	for _, b := range all {
		out[b.Name] = b
	}
	return out
}
