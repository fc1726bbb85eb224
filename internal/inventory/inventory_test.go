package inventory_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/applications"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/inventory"
)

func TestBuys(t *testing.T) {
	y := gardentest.New(t)
	lime := garden.Batch{Name: "Lime", Kind: material.CalciticLime, OnHand: gardentest.Kg(10), Price: gardentest.Ptr(0.4),
		Bag: gardentest.Kg(25)}
	y.Add(&lime)
	y.Planned(material.CalciticLime, lime.ID, 10)
	assert.Empty(t, y.Shed().Buys, "what is there is enough to the gram")
	y.Planned(material.CalciticLime, lime.ID, 0.001)
	s := y.Shed()
	require.Len(t, s.Buys, 1)
	assert.Equal(t, 1, s.Buys[0].Bags)
	assert.InDelta(t, 1, float64(s.Buys[0].Need), 1e-6)
	assert.InDelta(t, 10, *s.Buys[0].Cost, 1e-9, "a whole bag")
	// A go of the kind alone takes the same bag; a kind that is not there has no price.
	y.Planned(material.CalciticLime, 0, 25)
	y.Planned(material.SulfurPowder, 0, 0.3)
	s = y.Shed()
	require.Len(t, s.Buys, 2)
	assert.Equal(t, 2, s.Buys[0].Bags)
	assert.InDelta(t, 20, s.Cost, 1e-9)
	assert.Equal(t, 1, s.Unpriced)
	assert.Nil(t, s.Buys[1].Cost)
	assert.InDelta(t, 300, float64(s.Buys[1].Amount), 1e-9)
	assert.Equal(t, "Ledge", s.Buys[0].Beds[0].Bed)
	assert.InDelta(t, 20, *s.Buys[0].Beds[0].Cost, 1e-9)
	assert.Nil(t, s.Saved, "no ash is planned")
	// 4 kg of ash at 50 in 100 stand in for 2 kg of pure lime, at 0.97 a kilogram of bag.
	oven := garden.Batch{Name: "Oven", Kind: material.HardwoodAsh, CCE: gardentest.Ptr(quantity.Percent(50)), Condition: material.Dry,
		Source: material.Clean, OnHand: gardentest.Kg(9)}
	y.Add(&oven)
	y.Planned(material.HardwoodAsh, oven.ID, 4)
	assert.InDelta(t, 2*0.4/0.97, *y.Shed().Saved, 1e-9)
	assert.Len(t, y.Shed().Buys, 2, "ash is not bought")
}

func TestMixBins(t *testing.T) {
	y := gardentest.New(t)
	a := garden.Batch{Name: "A", Kind: material.HardwoodAsh, Source: material.Clean, Condition: material.Dry, OnHand: gardentest.Kg(3)}
	b := garden.Batch{Name: "B", Kind: material.HardwoodAsh, Source: material.Coal, Condition: material.Dry, OnHand: gardentest.Kg(1)}
	c := garden.Batch{Name: "C", Kind: material.HardwoodAsh, Source: material.Clean, Condition: material.Dry}
	y.Add(&a, &b, &c)
	for says, parts := range map[string][]inventory.Part{
		"two bins":    {{Batch: a.ID}},
		"weigh c":     {{Batch: a.ID}, {Batch: c.ID}},
		"not so much": {{Batch: a.ID}, {Batch: b.ID, Amount: gardentest.Kg(1.001)}},
	} {
		_, err := y.App.Inventory.Mix(gardentest.Ctx, y.Actor, "Mix", parts)
		var f garden.Faults
		require.ErrorAs(t, err, &f, says)
		assert.Contains(t, f["mix"], says)
	}
	r, err := y.App.Inventory.Mix(gardentest.Ctx, y.Actor, "Mix", []inventory.Part{{Batch: a.ID, Amount: gardentest.Kg(2)}, {Batch: b.ID}})
	require.NoError(t, err)
	by := map[string]inventory.Stock{}
	for _, x := range y.Shed().Stock {
		by[x.Name] = x
	}
	assert.InDelta(t, 1000, float64(*by["A"].Left), 1e-9)
	assert.InDelta(t, 0, float64(*by["B"].Left), 1e-9)
	assert.InDelta(t, 3000, float64(*by["Mix"].Left), 1e-9)
	mix := by["Mix"]
	assert.True(t, mix.Of.Barred())
	_, err = y.App.Undo(gardentest.Ctx, garden.Actor{Key: "u", At: y.Actor.At, Today: gardentest.Today}, r.Journal)
	require.NoError(t, err)
	assert.Len(t, y.Shed().Stock, 3)
}

func TestUsedBatchStaysInRecords(t *testing.T) {
	y := gardentest.New(t)
	lime := y.ShelvedLime()
	y.Planned(material.CalciticLime, lime.ID, 1)
	_, err := y.App.Inventory.Drop(gardentest.Ctx, y.Actor, lime.ID, lime.Version)
	assert.ErrorContains(t, err, "planned from it")
	task := y.OpenTasks()[0]
	y.PutOn(task, "2026-11-24")
	_, err = y.App.Inventory.Drop(gardentest.Ctx, y.Actor, lime.ID, lime.Version)
	require.NoError(t, err)
	assert.Empty(t, y.Shed().Stock)
	b, err := y.App.Inventory.Batch(gardentest.Ctx, lime.ID)
	require.NoError(t, err)
	assert.Equal(t, gardentest.Today, b.Gone)
	unused := y.ShelvedLime()
	_, err = y.App.Inventory.Drop(gardentest.Ctx, y.Actor, unused.ID, unused.Version)
	require.NoError(t, err)
	_, err = y.App.Inventory.Batch(gardentest.Ctx, unused.ID)
	assert.ErrorIs(t, err, garden.ErrMissing)
}

// A go that takes more than there is by the shelf is asked about once; what is barred or
// hot goes nowhere.
func TestTickReducesStock(t *testing.T) {
	y := gardentest.New(t)
	lime := garden.Batch{Name: "Lime", Kind: material.CalciticLime, OnHand: gardentest.Kg(1)}
	y.Add(&lime)
	y.Planned(material.CalciticLime, lime.ID, 1.2)
	task := y.OpenTasks()[0]
	tick := applications.Tick{Task: task.ID, Version: task.Version, On: gardentest.Today}
	_, err := y.App.Applications.PutOn(gardentest.Ctx, y.Actor, tick)
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f["amount"], "more than the 1 kg that are left")
	sure := y.Actor
	sure.Sure = f[garden.SureField]
	_, err = y.App.Applications.PutOn(gardentest.Ctx, sure, tick)
	require.NoError(t, err)
	assert.InDelta(t, 0, float64(*y.Shed().Stock[0].Left), 1e-9, "never below nothing")

	// What the batch was taken for goes with the application: its strength, and how fine it is.
	coarse := gardentest.New(t)
	grit := garden.Batch{Name: "Grit", Kind: material.CalciticLime, OnHand: gardentest.Kg(9), CCE: gardentest.Ptr(quantity.Percent(90)),
		Moisture: 10,
		Fineness: garden.Figures{0, 50, 40, 10}}
	coarse.Add(&grit)
	coarse.Planned(material.CalciticLime, grit.ID, 1)
	other := coarse.OpenTasks()[0]
	_, err = coarse.App.Applications.PutOn(gardentest.Ctx, coarse.Actor, applications.Tick{Task: other.ID, Version: other.Version,
		Total: gardentest.Kg(0.7)})
	require.NoError(t, err)
	assert.InDelta(t, 8300, coarse.Left(), 1e-6, "what went on, not what was planned")
	rec, err := coarse.App.BedState.Bed(gardentest.Ctx, coarse.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	assert.Equal(t, grit.Fineness, rec.Applications[0].Fineness)
	assert.InDelta(t, 81, float64(*rec.Applications[0].CCE), 1e-9)
	put, ok := rec.Applications[0].Put()
	require.True(t, ok)
	m, _ := material.Find(material.CalciticLime)
	whole, went := grit.Material(m), put.Batch()
	assert.InDelta(t, whole.Worth().EffectiveCCE, went.Worth().EffectiveCCE, 1e-9)
	assert.InDelta(t, whole.Speed().HalfLife, went.Speed().HalfLife, 1e-9)

	for name, bin := range map[string]garden.Batch{
		"coal went into": {Kind: material.HardwoodAsh, Source: material.Coal},
		"may hide":       {Kind: material.HardwoodAsh, Source: material.Clean, Burnt: gardentest.Today - material.HotDays + 1},
	} {
		bin.Name, bin.Condition, bin.OnHand = name, material.Dry, gardentest.Kg(9)
		y := gardentest.New(t)
		y.Add(&bin)
		y.Planned(material.HardwoodAsh, bin.ID, 1)
		task := y.OpenTasks()[0]
		_, err := y.App.Applications.PutOn(gardentest.Ctx, y.Actor, applications.Tick{Task: task.ID, Version: task.Version, On: gardentest.Today})
		assert.ErrorContains(t, err, name)
	}
}
