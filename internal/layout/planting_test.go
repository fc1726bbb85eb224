package layout_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

func TestCompanionCropsUseOverlap(t *testing.T) {
	y := gardentest.New(t)
	require.NoError(t, y.Plant("tomato", "2027-05-01", false))
	require.NoError(t, y.Plant("spinach", "2027-05-01", true))
	p := y.State(gardentest.Today)
	assert.Equal(t, quantity.PH(6.5), p.Crop.Range.Low)
	assert.Equal(t, quantity.PH(6.8), p.Crop.Range.High)
	assert.False(t, p.Conflict)
	assert.Len(t, p.Next, 2)
}

func TestConflictingCropsGetNoDose(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Reading("2026-11-01", soil.Lab, 5.8))
	require.NoError(t, y.Plant("kale", "2027-05-01", false))
	require.NoError(t, y.Plant("blueberry", "2027-05-01", true))
	p := y.State(gardentest.Today)
	require.True(t, p.Conflict)
	assert.ElementsMatch(t, []string{"kale", "blueberry"}, []string{p.First.ID, p.Second.ID})
	w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
	require.NoError(t, err)
	assert.Equal(t, dose.Refused, w.Answer.Direction)
	assert.Equal(t, "crops-conflict", w.Answer.Guards[0].ID)
}

func TestAddPlantingClearsStanding(t *testing.T) {
	y := gardentest.New(t)
	require.NoError(t, y.Plant("carrot", "2026-04-20", false))
	require.NoError(t, y.Plant("kale", "2027-05-24", false))
	assert.Equal(t, []string{"carrot 2026-04-20 2027-05-24", "kale 2027-05-24 "}, y.Plantings())
	// One between them leaves when the one after it comes.
	require.NoError(t, y.Plant("lettuce", "2027-02-01", false))
	assert.Equal(t, []string{"carrot 2026-04-20 2027-02-01", "lettuce 2027-02-01 2027-05-24", "kale 2027-05-24 "}, y.Plantings())
	require.NoError(t, y.Plant("basil", "2027-06-01", true))
	assert.Equal(t, "kale 2027-05-24 ", y.Plantings()[2], "it stands on")
	var f garden.Faults
	require.ErrorAs(t, y.Plant("onion", "2027-06-01", false), &f)
	assert.Contains(t, f["sown"], "on that day already")
	require.ErrorAs(t, y.Plant("triffid", "2027-08-01", false), &f)
	assert.Contains(t, f["crop"], "of the library")
}

func own(name string, low, high, aim quantity.PH) garden.OwnCrop {
	return garden.OwnCrop{Name: name, Low: low, High: high, Aim: aim, Removal: 9}
}

func TestOwnCrops(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Reading("2026-11-01", soil.Lab, 5.8))
	_, err := y.App.Layout.SetCrop(gardentest.Ctx, y.Actor, own("Black salsify", 6.2, 7.2, 6.8))
	require.NoError(t, err)
	require.NoError(t, y.Plant("black-salsify", "2027-04-01", false))
	p := y.State(gardentest.Today)
	assert.Equal(t, "Black salsify", p.Crop.Name)
	assert.Equal(t, bed.Sour, p.Standing)
	w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
	require.NoError(t, err)
	assert.Equal(t, quantity.PH(6.8), w.Answer.Target, "its own aim")

	var f garden.Faults
	_, err = y.App.Layout.SetCrop(gardentest.Ctx, y.Actor, own("black SALSIFY", 6, 7, 6.5))
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f["name"], "already")
	_, l, err := y.App.Crops(gardentest.Ctx)
	require.NoError(t, err)
	mine, ok := l.Own("black-salsify")
	require.True(t, ok)
	_, err = y.App.Layout.DropCrop(gardentest.Ctx, y.Actor, mine.Code, mine.Version)
	require.ErrorAs(t, err, &f)
	assert.Contains(t, f["name"], "in the record of a bed", "what grew stays known")
}

func TestLibraryCropIsChangedAndReset(t *testing.T) {
	y := gardentest.New(t)
	require.NoError(t, y.Plant("tomato", "2027-04-01", false))
	c := own("tomato", 5.8, 6.6, 6.2)
	c.Code = "tomato"
	_, err := y.App.Layout.SetCrop(gardentest.Ctx, y.Actor, c)
	require.NoError(t, err)
	assert.Equal(t, quantity.PH(6.2), y.State(gardentest.Today).Crop.Aim)
	_, err = y.App.Layout.SetCrop(gardentest.Ctx, y.Actor, c)
	require.ErrorIs(t, err, garden.ErrStale, "another window changed it")
	_, l, _ := y.App.Crops(gardentest.Ctx)
	assert.Len(t, l.All(), len(garden.NewLibrary(nil).All()), "changed, not added")
	mine, _ := l.Own("tomato")
	r, err := y.App.Layout.DropCrop(gardentest.Ctx, y.Actor, "tomato", mine.Version)
	require.NoError(t, err)
	assert.Equal(t, quantity.PH(6.5), y.State(gardentest.Today).Crop.Aim)
	_, err = y.App.Undo(gardentest.Ctx, y.Actor, r.Journal)
	require.NoError(t, err)
	assert.Equal(t, quantity.PH(6.2), y.State(gardentest.Today).Crop.Aim)
}

func TestInvalidCrops(t *testing.T) {
	y := gardentest.New(t)
	bad := func(c garden.OwnCrop, field string) {
		t.Helper()
		_, err := y.App.Layout.SetCrop(gardentest.Ctx, y.Actor, c)
		var f garden.Faults
		require.ErrorAs(t, err, &f)
		assert.NotEmpty(t, f[field], "%v", f)
	}
	bad(own("", 6, 7, 6.5), "name")
	bad(own("?!", 6, 7, 6.5), "name")
	bad(own("A", 2, 7, 6.5), "low")
	bad(own("A", 6, 11, 6.5), "high")
	bad(own("A", 7, 6, 6.5), "high")
	bad(own("A", 6, 7, 7.5), "aim")
	c := own("A", 6, 7, 6.5)
	c.Removal = -1
	bad(c, "removal")
	c = own("A", 6, 7, 6.5)
	c.Flags = "evergreen"
	bad(c, "flags")
	c = own("A", 6, 7, 6.5)
	c.Code = "nobody"
	_, err := y.App.Layout.SetCrop(gardentest.Ctx, y.Actor, c)
	require.ErrorIs(t, err, garden.ErrMissing)
}

func TestMarks(t *testing.T) {
	y := gardentest.New(t)
	m := garden.Mark{Name: "Cart path", Kind: garden.MarkPath, Width: 0.9, Points: garden.Corners{{X: 1, Y: 2}, {X: 9, Y: 2}}}
	_, err := y.App.Layout.SetMark(gardentest.Ctx, y.Actor, m)
	require.NoError(t, err)
	v, err := y.App.BedState.View(gardentest.Ctx, gardentest.Today)
	require.NoError(t, err)
	require.Len(t, v.Marks, 1)
	got := v.Marks[0]
	assert.Equal(t, m.Points, got.Points)
	got.Width = 1.2
	_, err = y.App.Layout.SetMark(gardentest.Ctx, y.Actor, got)
	require.NoError(t, err)
	_, err = y.App.Layout.SetMark(gardentest.Ctx, y.Actor, got)
	require.ErrorIs(t, err, garden.ErrStale)
	r, err := y.App.Layout.DropMark(gardentest.Ctx, y.Actor, got.ID, got.Version+1)
	require.NoError(t, err)
	_, err = y.App.Layout.DropMark(gardentest.Ctx, y.Actor, got.ID, got.Version+1)
	require.ErrorIs(t, err, garden.ErrMissing)
	_, err = y.App.Undo(gardentest.Ctx, y.Actor, r.Journal)
	require.NoError(t, err)
	v, _ = y.App.BedState.View(gardentest.Ctx, gardentest.Today)
	assert.InDelta(t, 1.2, v.Marks[0].Width, 1e-9)

	for field, bad := range map[string]func(*garden.Mark){
		"kind":    func(m *garden.Mark) { m.Kind = "moat" },
		"width":   func(m *garden.Mark) { m.Width = 0 },
		"corners": func(m *garden.Mark) { m.Points = m.Points[:1] },
	} {
		x := m
		bad(&x)
		var f garden.Faults
		_, err := y.App.Layout.SetMark(gardentest.Ctx, y.Actor, x)
		require.ErrorAs(t, err, &f)
		assert.NotEmpty(t, f[field])
	}
}

func TestUnplannedApplicationsCount(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Reading("2026-11-01", soil.Lab, 5.4), y.Planting("tomato", "2027-04-03", ""))
	before, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
	require.NoError(t, err)
	_, err = y.App.Applications.Note(gardentest.Ctx, y.Actor, garden.Application{BedID: y.Bed.ID, What: material.CalciticLime,
		Date:  gardentest.Day("2026-11-10"),
		Total: 960})
	require.NoError(t, err)
	after, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
	require.NoError(t, err)
	assert.InDelta(t, 100, float64(after.Record.Applications[0].Rate), 1e-9, "960 g on 9.6 m²")
	assert.InDelta(t, 97, float64(before.Answer.Need.CaCO3-after.Answer.Need.CaCO3), 0.01, "on its way")
	for field, a := range map[string]garden.Application{
		"what":       {Date: gardentest.Today, Total: 1},
		"put_date":   {What: material.CalciticLime, Date: gardentest.Today + 1, Total: 1},
		"put_amount": {What: material.CalciticLime, Date: gardentest.Today},
	} {
		a.BedID = y.Bed.ID
		var f garden.Faults
		_, err := y.App.Applications.Note(gardentest.Ctx, y.Actor, a)
		require.ErrorAs(t, err, &f)
		assert.NotEmpty(t, f[field])
	}
}

func TestSheetOfAnotherDay(t *testing.T) {
	y := gardentest.New(t)
	task := func(due, settled, state string) *garden.Task {
		t := &garden.Task{BedID: y.Bed.ID, Kind: garden.TaskApplication, Due: gardentest.Day(due), What: material.CalciticLime, Rate: 100,
			Total: 960,
			State: state, Depth: 0.15}
		if settled != "" {
			t.Settled = gardentest.Day(settled)
		}
		return t
	}
	y.Add(task("2026-10-01", "2026-10-20", garden.Done), task("2026-11-20", "", garden.Open), task("2027-02-01", "", garden.Open))
	count := func(on string) [3]int {
		s, err := y.App.Schedule.Sheet(gardentest.Ctx, gardentest.Today, gardentest.Day(on))
		require.NoError(t, err)
		return [3]int{len(s.Due), len(s.Coming), len(s.Settled)}
	}
	assert.Equal(t, [3]int{1, 0, 0}, count("2026-11-24"), "today")
	assert.Equal(t, [3]int{1, 0, 0}, count("2026-10-10"), "it was due then, and not done yet")
	assert.Equal(t, [3]int{0, 0, 1}, count("2026-10-20"), "the day it was done")
	assert.Equal(t, [3]int{0, 1, 0}, count("2026-11-10"))
	assert.Equal(t, [3]int{1, 1, 0}, count("2027-02-02"), "what is late pushes the next to twelve weeks after it")
	assert.Equal(t, [3]int{2, 0, 0}, count("2027-02-16"))
}

func TestInvalidPlaces(t *testing.T) {
	y := gardentest.New(t)
	g, err := y.App.Place(gardentest.Ctx)
	require.NoError(t, err)
	for field, bad := range map[string]func(*garden.Garden){
		"units":       func(g *garden.Garden) { g.RateUnit = "stone/rood" },
		"currency":    func(g *garden.Garden) { g.Currency = "doubloons" },
		"water_ph":    func(g *garden.Garden) { g.WaterPH = gardentest.Ptr(quantity.PH(14)) },
		"alkalinity":  func(g *garden.Garden) { g.WaterAlkalinity = gardentest.Ptr(-1.0) },
		"hardness":    func(g *garden.Garden) { g.WaterHardness = gardentest.Ptr(1e6) },
		"rain":        func(g *garden.Garden) { g.Rain = garden.Figures{1, 2} },
		"last_frost":  func(g *garden.Garden) { g.LastFrost = "May" },
		"first_frost": func(g *garden.Garden) { g.FirstFrost = "02-30" },
	} {
		x := g
		bad(&x)
		var f garden.Faults
		require.ErrorAs(t, garden.CheckPlace(x), &f)
		assert.NotEmpty(t, f[field], field)
	}
	g.Rain, g.LastFrost = garden.Figures{1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12}, "05-12"
	g.AreaUnit, g.Currency, g.WaterHardness = "ft2", "kr", gardentest.Ptr(100.0)
	_, err = y.App.Layout.SetPlace(gardentest.Ctx, y.Actor, g)
	require.NoError(t, err)
	now, err := y.App.Place(gardentest.Ctx)
	require.NoError(t, err)
	assert.Equal(t, "05-12", now.Weather().LastFrost.String())
	assert.InDelta(t, 12, now.Weather().Rain[11], 1e-9)
	assert.Equal(t, "11-01", now.Weather().FirstFrost.String(), "the climate’s, where it was left empty")
	assert.InDelta(t, 80, *now.Alkalinity(), 1e-9)
	assert.Equal(t, "103 ft²", now.Units().Area(y.Bed.Area()))
}

func TestTapWater(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Reading("2026-11-01", soil.Lab, 6.1), y.Planting("tomato", "2027-04-03", ""))
	g, _ := y.App.Place(gardentest.Ctx)
	g.WaterAlkalinity = gardentest.Ptr(220.0)
	_, err := y.App.Layout.SetPlace(gardentest.Ctx, y.Actor, g)
	require.NoError(t, err)
	hard := func() bool {
		w, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
		require.NoError(t, err)
		for _, f := range w.Answer.Guards {
			if f.ID == "hard-water" {
				return true
			}
		}
		return false
	}
	assert.False(t, hard(), "rain-fed")
	y.Bed.Watered = garden.Tap
	_, err = y.App.Layout.EditBed(gardentest.Ctx, y.Actor, y.Bed)
	require.NoError(t, err)
	assert.True(t, hard())
}

func TestRetiredBedStaysRetired(t *testing.T) {
	y := gardentest.New(t)
	_, err := y.App.Layout.Retire(gardentest.Ctx, y.Actor, y.Bed.ID, y.Bed.Version)
	require.NoError(t, err)
	var b garden.Bed
	require.NoError(t, y.App.Store.Read(gardentest.Ctx, func(r garden.Reader) (err error) {
		b,
			err = garden.Get[garden.Bed](r, y.Bed.ID)
		return err
	}))
	require.NotZero(t, b.Retired)
	for day, there := range map[quantity.Day]int{b.Retired - 1: 1, b.Retired: 0} {
		_, beds, err := y.App.BedState.Names(gardentest.Ctx, day)
		require.NoError(t, err)
		assert.Len(t, beds, there, "there until the day on which it is retired")
	}
	was := b.Retired
	b.Retired, b.Note = 0, "The form knows nothing of it."
	act := y.Actor
	act.Key = "changed"
	_, err = y.App.Layout.EditBed(gardentest.Ctx, act, b)
	require.NoError(t, err)
	require.NoError(t, y.App.Store.Read(gardentest.Ctx, func(r garden.Reader) (err error) {
		b,
			err = garden.Get[garden.Bed](r, y.Bed.ID)
		return err
	}))
	assert.Equal(t, was, b.Retired)
}
