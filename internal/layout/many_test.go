package layout_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/layout"
)

// Beds like another lie in a row across it, none over another, their names counted on, and go again at one press.
func TestLike(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""))
	_, r, err := y.App.Layout.Like(gardentest.Ctx, y.Actor, y.Bed.ID, 12, 0.3)
	require.NoError(t, err)
	all := y.Beds()
	require.Len(t, all, 13)
	for n := 2; n <= 13; n++ {
		b, ok := all[fmt.Sprintf("%s %d", y.Bed.Name, n)]
		require.True(t, ok, n)
		assert.InDelta(t, float64(n-1)*(y.Bed.H+0.3), b.Y-y.Bed.Y, 1e-9, "across a bed that lies east and west")
		rec, err := y.App.BedState.Bed(gardentest.Ctx, b.ID, gardentest.Today)
		require.NoError(t, err)
		assert.Equal(t, "dahlia", rec.Plantings[0].Crop, "with its crop")
	}
	y.TakeBack(r.Journal)
	require.Len(t, y.Beds(), 1)
	// One that runs north is followed to its east; a name that ends with a number is counted on from there; what lies there is
	// left out.
	tall := garden.Bed{Name: "East 7", Kind: garden.KindBed, Shape: garden.ShapeRect, X: 20, Y: 1, W: 0.75, H: 15,
		Texture: soil.Loam, Depth: 0.15, Worked: soil.Dug, FreeLime: soil.LimeUnknown}
	act := y.Actor
	act.Key = "tall"
	tall, _, err = y.App.Layout.AddBed(gardentest.Ctx, act, tall, layout.First{Crop: "dahlia", Sown: gardentest.Today})
	require.NoError(t, err)
	shed := tall
	shed.Meta, shed.Name, shed.X, shed.W = garden.Meta{}, "Shed bed", 21.2, 1
	act.Key = "shed"
	_, _, err = y.App.Layout.AddBed(gardentest.Ctx, act, shed, layout.First{Crop: "dahlia", Sown: gardentest.Today})
	require.NoError(t, err)
	act.Key = "like"
	last, _, err := y.App.Layout.Like(gardentest.Ctx, act, tall.ID, 1, 0.25)
	require.NoError(t, err)
	assert.Equal(t, "East 8", last.Name)
	assert.InDelta(t, 23, last.X, 1e-9, "past the bed that lies there")
	for n, between := range map[int]float64{0: 0.3, 101: 0.3, 2: -0.1, 3: 21} {
		act.Key = fmt.Sprint("bad", n)
		_, _, err = y.App.Layout.Like(gardentest.Ctx, act, tall.ID, n, between)
		assert.Error(t, err, n)
	}
}

// A table adds all its beds or none; a part of the garden lies in a row of its own.
func TestAddTableIsAtomic(t *testing.T) {
	y := gardentest.New(t)
	row := func(line int, name, part string) layout.New {
		return layout.New{Line: line, Crop: "tomato", Sown: gardentest.Today, Bed: garden.Bed{Name: name, Part: part, Kind: garden.KindBed,
			Shape: garden.ShapeRect, W: 15, H: 0.75, Texture: soil.Loam, Depth: 0.15, Worked: soil.Dug, FreeLime: soil.LimeUnknown}}
	}
	bad := []layout.New{row(2, "East 1", "East"), row(3, "East 1", "East"), row(4, "East 2", "East")}
	bad[2].Crop = "kryptonite"
	_, err := y.App.Layout.AddTable(gardentest.Ctx, y.Actor, bad)
	require.ErrorContains(t, err, "line 3: there is a bed called East 1 already")
	require.ErrorContains(t, err, "line 4, crop", "all that is wrong at once")
	assert.Len(t, y.Beds(), 1)
	rows := []layout.New{row(2, "East 1", "East"), row(3, "East 2", "East"), row(4, "Tunnel 1", "Tunnel"), row(5, "East 3", "East")}
	_, err = y.App.Layout.AddTable(gardentest.Ctx, y.Actor, rows)
	require.NoError(t, err)
	all := y.Beds()
	require.Len(t, all, 5)
	var list []garden.Bed
	for _, b := range all {
		for _, o := range list {
			assert.False(t, garden.Overlaps(b, o), "%s and %s", b.Name, o.Name)
		}
		list = append(list, b)
	}
	assert.Greater(t, all["East 1"].Y, y.Bed.Y, "below what is there")
	assert.InDelta(t, all["East 1"].X, all["East 3"].X, 1e-9)
}

// The parts of a table lie beside or below each other so that the plan fills its drawing, whatever their beds; no bed on another.
func TestAddTableUsesThePlansRoom(t *testing.T) {
	for name, c := range map[string]struct {
		w, h   float64
		parts  []int
		within float64
	}{"rows": {15, 0.75, []int{12, 8}, 2.6}, "uprights": {0.75, 15, []int{12, 8}, 4.5}, "squares": {3, 3, []int{4, 4, 4, 4}, 2.6}} {
		y := gardentest.New(t)
		var table []layout.New
		for part, n := range c.parts {
			for i := range n {
				b := y.Bed
				b.Meta, b.Name, b.W, b.H, b.Part = garden.Meta{}, fmt.Sprintf("Part %d, %d", part, i), c.w, c.h, fmt.Sprintf("Part %d", part)
				table = append(table, layout.New{Bed: b, Crop: "tomato", Sown: gardentest.Today})
			}
		}
		_, err := y.App.Layout.AddTable(gardentest.Ctx, y.Actor, table)
		require.NoError(t, err, name)
		var list []garden.Bed
		var east, south float64
		for _, b := range y.Beds() {
			for _, o := range list {
				assert.False(t, garden.Overlaps(b, o), "%s: %s and %s", name, b.Name, o.Name)
			}
			list = append(list, b)
			_, high := b.Bounds()
			east, south = max(east, high.X), max(south, high.Y)
		}
		assert.Less(t, max(east/south, south/east), c.within, name)
	}
}

// Many beds are changed at once, or none; what is left empty stays; one that was changed in the meantime is not overwritten in what
// nobody chose.
func TestChangeMany(t *testing.T) {
	y := gardentest.New(t)
	_, _, err := y.App.Layout.Like(gardentest.Ctx, y.Actor, y.Bed.ID, 3, 0.5)
	require.NoError(t, err)
	var ids []int64
	for _, b := range y.Beds() {
		ids = append(ids, b.ID)
	}
	act := y.Actor
	act.Key = "change"
	r, err := y.App.Layout.ChangeMany(gardentest.Ctx, act, ids, layout.Change{Texture: soil.Clay, Depth: 0.2, Part: " Terrace ", SetPart: true,
		Crop: "tomato", Sown: gardentest.Today + 1})
	require.NoError(t, err)
	for _, b := range y.Beds() {
		assert.Equal(t, soil.Clay, b.Texture)
		assert.Equal(t, "Terrace", b.Part)
		assert.InDelta(t, 0.2, float64(b.Depth), 1e-9)
		assert.Equal(t, y.Bed.Worked, b.Worked, "what was left empty")
		rec, err := y.App.BedState.Bed(gardentest.Ctx, b.ID, gardentest.Today+2)
		require.NoError(t, err)
		assert.Equal(t, "tomato", rec.Plantings[len(rec.Plantings)-1].Crop)
	}
	y.TakeBack(r.Journal)
	for _, b := range y.Beds() {
		assert.Equal(t, y.Bed.Texture, b.Texture)
		assert.Empty(t, b.Part)
	}
	for key, c := range map[string]layout.Change{"none": {}, "day": {Sown: gardentest.Today}, "deep": {Depth: 0.9},
		"crop": {Crop: "triffid", Sown: gardentest.Today}} {
		act.Key = key
		_, err = y.App.Layout.ChangeMany(gardentest.Ctx, act, ids, c)
		assert.Error(t, err, key)
	}
	act.Key = "nobody"
	_, err = y.App.Layout.ChangeMany(gardentest.Ctx, act, nil, layout.Change{Depth: 0.2})
	assert.Error(t, err)
	act.Key = "retire"
	_, err = y.App.Layout.ChangeMany(gardentest.Ctx, act, ids[:2], layout.Change{Retire: true})
	require.NoError(t, err)
	assert.Len(t, y.Beds(), 2)
}

// Four hundred long beds of a table lie in rows, none on another, the whole no more than three times as long as deep; thirty lie in one.
func TestAddTableLaysOutRows(t *testing.T) {
	for n, rows := range map[int]int{30: 1, 400: 4} {
		y := gardentest.New(t)
		var table []layout.New
		for i := range n {
			b := y.Bed
			b.Meta, b.Name, b.W, b.H, b.Part = garden.Meta{}, fmt.Sprintf("East %d", i+1), 0.75, 15, "East field"
			table = append(table, layout.New{Bed: b, Crop: "tomato", Sown: gardentest.Today})
		}
		_, err := y.App.Layout.AddTable(gardentest.Ctx, y.Actor, table)
		require.NoError(t, err)
		v, err := y.App.BedState.View(gardentest.Ctx, gardentest.Today)
		require.NoError(t, err)
		at := map[float64]bool{}
		var right, top, foot float64
		top = 1e9
		for i, p := range v.Beds {
			if p.Bed.Part == "" {
				continue
			}
			at[p.Bed.Y] = true
			low, high := p.Bed.Bounds()
			right, top, foot = max(right, high.X), min(top, low.Y), max(foot, high.Y)
			for _, o := range v.Beds[:i] {
				require.False(t, garden.Overlaps(p.Bed, o.Bed), "%s lies on %s", p.Bed.Name, o.Bed.Name)
			}
		}
		assert.Len(t, at, rows)
		assert.Less(t, right, 3*(foot-top)+2)
	}
}

// Crops are taken as a gardener writes them, the garden's own before the library's.
func TestTableOfBedsTakesCropsAsWritten(t *testing.T) {
	y := gardentest.New(t)
	y.Add(&garden.OwnCrop{Code: "oca", Name: "Oca tubers", Low: 5.5, High: 6.5, Aim: 6, Removal: 15})
	var rows []layout.New
	wants := map[string]string{"Sweet corn": "sweet-corn", "Courgettes": "courgette", "OCA TUBERS": "oca", "runner beans": "bean",
		"kale": "kale"}
	for name := range wants {
		rows = append(rows, layout.New{Bed: garden.Bed{Name: "For " + name, Kind: garden.KindBed, Shape: garden.ShapeRect, W: 4, H: 1,
			Texture: soil.Loam, Depth: 0.15, Worked: soil.Dug, FreeLime: soil.LimeUnknown}, Crop: name, Sown: gardentest.Today,
			Line: len(rows) + 2})
	}
	_, err := y.App.Layout.AddTable(gardentest.Ctx, y.Actor, rows)
	require.NoError(t, err)
	all := y.Beds()
	for name, id := range wants {
		rec, err := y.App.BedState.Bed(gardentest.Ctx, all["For "+name].ID, gardentest.Today)
		require.NoError(t, err)
		assert.Equal(t, id, rec.Plantings[0].Crop, name)
	}
}
