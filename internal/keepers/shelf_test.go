package keepers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/shelf"
	"zephyrfield/internal/year"
)

func (y *yard) shed() shelf.Shed {
	y.t.Helper()
	s, err := y.keep.Shelf.View(ctx, today)
	require.NoError(y.t, err)
	return s
}

func kg(x float64) *quantity.Mass { return ptr(quantity.Mass(x) * quantity.Kilogram) }

// goes plans goes of a batch, or of a kind where id is 0.
func (y *yard) planned(k material.Kind, id int64, kilos ...float64) {
	for i, m := range kilos {
		t := garden.Task{BedID: y.bed.ID, Kind: garden.TaskGo, Due: today + quantity.Day(100*i), What: k, Rate: 100, Total: *kg(m),
			State: garden.Open, Depth: 0.15}
		if id != 0 {
			t.BatchID = &id
		}
		y.add(&t)
	}
}

func TestWhatIsToBeBought(t *testing.T) {
	y := newYard(t)
	lime := garden.Batch{Name: "Lime", Kind: material.CalciticLime, OnHand: kg(10), Price: ptr(0.4), Bag: kg(25)}
	y.add(&lime)
	y.planned(material.CalciticLime, lime.ID, 10)
	assert.Empty(t, y.shed().Buys, "what is there is enough to the gram")
	y.planned(material.CalciticLime, lime.ID, 0.001)
	s := y.shed()
	require.Len(t, s.Buys, 1)
	assert.Equal(t, 1, s.Buys[0].Bags)
	assert.InDelta(t, 1, float64(s.Buys[0].Need), 1e-6)
	assert.InDelta(t, 10, *s.Buys[0].Cost, 1e-9, "a whole bag")
	// A go of the kind alone takes the same bag; a kind that is not there has no price.
	y.planned(material.CalciticLime, 0, 25)
	y.planned(material.SulfurPowder, 0, 0.3)
	s = y.shed()
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
	oven := garden.Batch{Name: "Oven", Kind: material.HardwoodAsh, CCE: ptr(quantity.Percent(50)), Condition: material.Dry,
		Source: material.Clean, OnHand: kg(9)}
	y.add(&oven)
	y.planned(material.HardwoodAsh, oven.ID, 4)
	assert.InDelta(t, 2*0.4/0.97, *y.shed().Saved, 1e-9)
	assert.Len(t, y.shed().Buys, 2, "ash is not bought")
}

func TestBinsTippedTogether(t *testing.T) {
	y := newYard(t)
	a := garden.Batch{Name: "A", Kind: material.HardwoodAsh, Source: material.Clean, Condition: material.Dry, OnHand: kg(3)}
	b := garden.Batch{Name: "B", Kind: material.HardwoodAsh, Source: material.Coal, Condition: material.Dry, OnHand: kg(1)}
	c := garden.Batch{Name: "C", Kind: material.HardwoodAsh, Source: material.Clean, Condition: material.Dry}
	y.add(&a, &b, &c)
	for says, parts := range map[string][]shelf.Part{
		"two bins":    {{Batch: a.ID}},
		"weigh c":     {{Batch: a.ID}, {Batch: c.ID}},
		"not so much": {{Batch: a.ID}, {Batch: b.ID, Amount: kg(1.001)}},
	} {
		_, err := y.keep.Shelf.Mix(ctx, y.act, "Mix", parts)
		var f garden.Faults
		require.ErrorAs(t, err, &f, says)
		assert.Contains(t, f["mix"], says)
	}
	r, err := y.keep.Shelf.Mix(ctx, y.act, "Mix", []shelf.Part{{Batch: a.ID, Amount: kg(2)}, {Batch: b.ID}})
	require.NoError(t, err)
	by := map[string]shelf.Stock{}
	for _, x := range y.shed().Stock {
		by[x.Name] = x
	}
	assert.InDelta(t, 1000, float64(*by["A"].Left), 1e-9)
	assert.InDelta(t, 0, float64(*by["B"].Left), 1e-9)
	assert.InDelta(t, 3000, float64(*by["Mix"].Left), 1e-9)
	mix := by["Mix"]
	assert.True(t, mix.Of.Barred())
	_, err = y.keep.Undo(ctx, garden.Act{Key: "u", At: y.act.At, Today: today}, r.Journal)
	require.NoError(t, err)
	assert.Len(t, y.shed().Stock, 3)
}

func TestABatchThatWasUsedStaysInTheRecords(t *testing.T) {
	y := newYard(t)
	lime := y.shelvedLime()
	y.planned(material.CalciticLime, lime.ID, 1)
	_, err := y.keep.Shelf.Drop(ctx, y.act, lime.ID, lime.Version)
	assert.ErrorContains(t, err, "planned from it")
	task := y.open()[0]
	y.putOn(task, "2026-11-24")
	_, err = y.keep.Shelf.Drop(ctx, y.act, lime.ID, lime.Version)
	require.NoError(t, err)
	assert.Empty(t, y.shed().Stock)
	b, err := y.keep.Shelf.Batch(ctx, lime.ID)
	require.NoError(t, err)
	assert.Equal(t, today, b.Gone)
	unused := y.shelvedLime()
	_, err = y.keep.Shelf.Drop(ctx, y.act, unused.ID, unused.Version)
	require.NoError(t, err)
	_, err = y.keep.Shelf.Batch(ctx, unused.ID)
	assert.ErrorIs(t, err, garden.ErrMissing)
}

func (y *yard) shelvedLime() garden.Batch {
	b := garden.Batch{Name: "Lime", Kind: material.CalciticLime, OnHand: kg(10)}
	y.add(&b)
	return b
}

// A go that takes more than there is by the shelf is asked about once; what is barred or
// hot goes nowhere.
func TestWhatATickTakesFromTheShelf(t *testing.T) {
	y := newYard(t)
	lime := garden.Batch{Name: "Lime", Kind: material.CalciticLime, OnHand: kg(1)}
	y.add(&lime)
	y.planned(material.CalciticLime, lime.ID, 1.2)
	task := y.open()[0]
	tick := year.Tick{Task: task.ID, Version: task.Version, On: today}
	_, err := y.keep.Year.PutOn(ctx, y.act, tick)
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f["amount"], "more than the 1 kg that are left")
	sure := y.act
	sure.Sure = f[garden.SureField]
	_, err = y.keep.Year.PutOn(ctx, sure, tick)
	require.NoError(t, err)
	assert.InDelta(t, 0, float64(*y.shed().Stock[0].Left), 1e-9, "never below nothing")

	// What the batch was taken for goes with the go: its strength, and how fine it is.
	coarse := newYard(t)
	grit := garden.Batch{Name: "Grit", Kind: material.CalciticLime, OnHand: kg(9), CCE: ptr(quantity.Percent(90)), Moisture: 10,
		Fineness: garden.Figures{0, 50, 40, 10}}
	coarse.add(&grit)
	coarse.planned(material.CalciticLime, grit.ID, 1)
	coarse.putOn(coarse.open()[0], "2026-11-24")
	rec, err := coarse.keep.Plots.Bed(ctx, coarse.bed.ID, today)
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
		"may hide":       {Kind: material.HardwoodAsh, Source: material.Clean, Burnt: today - material.HotDays + 1},
	} {
		bin.Name, bin.Condition, bin.OnHand = name, material.Dry, kg(9)
		y := newYard(t)
		y.add(&bin)
		y.planned(material.HardwoodAsh, bin.ID, 1)
		task := y.open()[0]
		_, err := y.keep.Year.PutOn(ctx, y.act, year.Tick{Task: task.ID, Version: task.Version, On: today})
		assert.ErrorContains(t, err, name)
	}
}
