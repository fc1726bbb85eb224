package spreading_test

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/spreading"
	"zephyrfield/internal/web/present"
)

// Ash is allowed on the sour bed by its dose, and never on the blueberries; one tap records the
// application, plans the rest, and reduces the stock.
func TestPlaces(t *testing.T) {
	y, blue, ash := gardentest.NewFilled(t)
	key := dosing.BatchKey(ash.ID)
	b := y.Places(key)
	require.Len(t, b.Places, 2)
	assert.True(t, b.Places[0].Today(gardentest.Today))
	assert.False(t, b.Places[1].Today(gardentest.Today))
	assert.NotEmpty(t, b.Places[1].Against)
	dose, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, gardentest.Today)
	require.NoError(t, err)
	want, ok := dose.Pick(key)
	require.True(t, ok)
	assert.Equal(t, want.Applications[0].Total, b.Places[0].Application.Total)
	assert.Error(t, y.Spread(spreading.Amount{What: key, Bed: blue.ID}), "a forged post")
	assert.Error(t, y.Spread(spreading.Amount{What: key, Bed: y.Bed.ID, On: gardentest.Today + 1}))
	require.NoError(t, y.Spread(spreading.Amount{What: key, Bed: y.Bed.ID}))
	assert.InDelta(t, 20000-float64(want.Applications[0].Total), y.Left(), 1e-6)
	rec, err := y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	require.Len(t, rec.Applications, 1)
	open := 0
	for _, task := range rec.Tasks {
		if task.State == garden.Open && task.Kind == garden.TaskApplication {
			open++
		}
	}
	assert.Equal(t, len(want.Applications)-1, open)
	// The next application is weeks away: not today a second time.
	assert.False(t, y.Places(key).Places[0].Today(gardentest.Today))
	assert.Error(t, y.Spread(spreading.Amount{What: key, Bed: y.Bed.ID}))
}

// Barred or hot ash is allowed nowhere.
func TestBarredMaterialGoesNowhere(t *testing.T) {
	y, _, ash := gardentest.NewFilled(t)
	key := dosing.BatchKey(ash.ID)
	for name, spoil := range map[string]func(*garden.Batch){
		"barred": func(b *garden.Batch) { b.Source = material.Painted },
		"hot":    func(b *garden.Batch) { b.Source, b.Burnt = material.Clean, gardentest.Today-6 },
	} {
		now, err := y.App.Inventory.Batch(gardentest.Ctx, ash.ID)
		require.NoError(t, err)
		spoil(&now)
		_, err = y.App.Inventory.Set(gardentest.Ctx, y.Actor, now)
		require.NoError(t, err)
		b := y.Places(key)
		assert.Empty(t, b.Places, name)
		assert.True(t, b.Barred || b.Hot, name)
		assert.Error(t, y.Spread(spreading.Amount{What: key, Bed: y.Bed.ID}), name)
	}
	now, err := y.App.Inventory.Batch(gardentest.Ctx, ash.ID)
	require.NoError(t, err)
	now.Burnt, now.Source = gardentest.Today-7, material.Clean
	_, err = y.App.Inventory.Set(gardentest.Ctx, y.Actor, now)
	require.NoError(t, err)
	assert.True(t, y.Places(key).Places[0].Today(gardentest.Today), "cold after seven days")
}

// Feeds follow their own measure: never beside lime, never past what a bed may have at once.
func TestFeedHasOwnRate(t *testing.T) {
	y, _, _ := gardentest.NewFilled(t)
	const manure = "manure"
	assert.NotEmpty(t, y.Places(manure).Places[0].Stopped, "it would wash out in November")
	y.Actor.Today = inOctober
	b := y.Places(manure)
	require.True(t, b.Held.Feed())
	require.True(t, b.Places[0].Today(inOctober))
	most := b.Places[0].Most.Over(y.Bed.Area())
	require.Error(t, y.Spread(spreading.Amount{What: manure, Bed: y.Bed.ID}), "how much?")
	over := most * 1.01
	err := y.Spread(spreading.Amount{What: manure, Bed: y.Bed.ID, Amount: &over})
	var f garden.Faults
	require.True(t, errors.As(err, &f))
	assert.Contains(t, f["amount"], "at one time")
	require.NoError(t, y.Spread(spreading.Amount{What: manure, Bed: y.Bed.ID, Amount: &most}))
	some := quantity.Mass(100)
	assert.Error(t, y.Spread(spreading.Amount{What: "poultry-manure", Bed: y.Bed.ID, Amount: &some}), "the year's nitrogen is on")
}

// inOctober is a day on which manure may be applied.
var inOctober = gardentest.Day("2027-10-20")

// Pots, heaps and acid lovers are offered none of what harms them.
func TestManurePlaces(t *testing.T) {
	y, blue, _ := gardentest.NewFilled(t)
	y.Actor.Today = inOctober
	pots := y.Bed
	pots.Meta, pots.Name, pots.Kind, pots.Y = garden.Meta{}, "Pots", garden.KindPots, 9
	y.Add(&pots)
	r := y.Reading("2027-10-01", soil.Lab, 6.2)
	r.BedID = pots.ID
	y.Add(r, &garden.Planting{BedID: pots.ID, Crop: "tomato", Sown: gardentest.Day("2028-05-01")})
	for what, may := range map[string][3]bool{"manure": {true, true, false}, "poultry-manure": {true, false, false},
		"mushroom-compost": {true, false, true}, "compost": {true, true, true}} {
		for _, p := range y.Places(what).Places {
			i := map[int64]int{y.Bed.ID: 0, blue.ID: 1, pots.ID: 2}[p.ManyRow.Dose.Record.Bed.ID]
			assert.Equal(t, may[i], len(p.Against) == 0, "%s on %s", what, p.ManyRow.Dose.Record.Bed.Name)
			some := quantity.Mass(100)
			assert.Equal(t, may[i] && p.Today(inOctober), y.Spread(spreading.Amount{What: what, Bed: p.ManyRow.Dose.Record.Bed.ID,
				Amount: &some}) == nil, "%s on %s",
				what,
				p.ManyRow.Dose.Record.Bed.Name)
		}
	}
}

// Potash follows what the bed is short of: none where there is enough, however it is asked.
func TestPotashFollowsPotassium(t *testing.T) {
	for ppm, may := range map[quantity.Concentration]bool{70: true, 200: false} {
		y := gardentest.New(t)
		r := y.Reading("2026-11-12", soil.Lab, 6.5)
		r.Potassium, r.Extractant = &ppm, soil.AmmoniumAcetate
		y.Add(y.Planting("dahlia", "2027-05-15", ""), r)
		b := y.Places("potassium-sulfate")
		require.False(t, b.Held.Feed())
		assert.Equal(t, may, b.Places[0].Day > 0, "%v ppm", ppm)
		if !may {
			some := quantity.Mass(100)
			assert.Error(t, y.Spread(spreading.Amount{What: "potassium-sulfate", Bed: y.Bed.ID, Amount: &some}))
		}
	}
}

// Manure keeps three weeks from lime: a day less is too near.
func TestManureKeepsIntervalToLime(t *testing.T) {
	for days, may := range map[quantity.Day]bool{20: false, 21: true} {
		y, _, _ := gardentest.NewFilled(t)
		y.Actor.Today = inOctober
		y.Add(&garden.Application{BedID: y.Bed.ID, Date: inOctober - days, What: material.CalciticLime, Rate: 50, Total: 480})
		assert.Equal(t, may, y.Places("manure").Places[0].Today(inOctober), "%d days after", days)
		some := quantity.Mass(5000)
		err := y.Spread(spreading.Amount{What: "manure", Bed: y.Bed.ID, Amount: &some})
		assert.Equal(t, may, err == nil, "%d days after: %v", days, err)
		if err != nil { // else the year's nitrogen is on
			assert.True(t, y.Places("rotted-manure").Places[0].Today(inOctober), "rotted manure gives off none")
		}
	}
}

// What may be applied later goes on then: a crop that still stands, a feed that is for spring.
func TestMaterialWaitsForItsDay(t *testing.T) {
	y, _, ash := gardentest.NewFilled(t)
	y.Add(y.Planting("kale", "2026-05-20", "2027-02-01"))
	key := dosing.BatchKey(ash.ID)
	b := y.Places(key)
	assert.Greater(t, b.Places[0].Day, gardentest.Today)
	assert.Error(t, y.Spread(spreading.Amount{What: key, Bed: y.Bed.ID}))
	feed := y.Places("ammonium-sulfate").Places[0]
	assert.False(t, feed.Today(gardentest.Today))
	assert.NotEmpty(t, feed.Stopped)
	some := quantity.Mass(50)
	assert.Error(t, y.Spread(spreading.Amount{What: "ammonium-sulfate", Bed: y.Bed.ID, Amount: &some}))
}

// Several beds at once: each bed's own dose, what they take in all, and all in the year with
// one change that one undo takes back.
func TestSeveralBedsAtOnce(t *testing.T) {
	y, blue, ash := gardentest.NewFilled(t)
	m, err := y.App.Dosing.Many(gardentest.Ctx, nil, "", gardentest.Today)
	require.NoError(t, err)
	require.Len(t, m.Rows, 2)
	for i := range m.Rows {
		w, err := y.App.Dosing.Dose(gardentest.Ctx, m.Rows[i].Dose.Record.Bed.ID, dosing.Choice{}, gardentest.Today)
		require.NoError(t, err)
		require.NotNil(t, m.Rows[i].Option)
		assert.Equal(t, w.Answer.Options[0].CaCO3, m.Rows[i].Option.CaCO3)
	}
	// Ash for all: the blueberries are offered none, and an older page that asks is refused.
	key := dosing.BatchKey(ash.ID)
	m, err = y.App.Dosing.Many(gardentest.Ctx, nil, key, gardentest.Today)
	require.NoError(t, err)
	require.Len(t, m.Totals, 1)
	assert.Equal(t, m.Rows[0].Option.Parts[0].Total, m.Totals[0].Total)
	assert.Nil(t, m.Rows[1].Option)
	_, err = y.App.Dosing.PlanMany(gardentest.Ctx, y.Actor, []int64{y.Bed.ID, blue.ID}, key, present.EncodePlan)
	require.ErrorIs(t, err, dosing.ErrNoOption)
	tasks := func(bed int64) int {
		rec, err := y.App.BedState.Bed(gardentest.Ctx, bed, gardentest.Today)
		require.NoError(t, err)
		return len(rec.Tasks)
	}
	assert.Zero(t, tasks(y.Bed.ID), "all or nothing")
	r, err := y.App.Dosing.PlanMany(gardentest.Ctx, y.Actor, []int64{y.Bed.ID, blue.ID}, "", present.EncodePlan)
	require.NoError(t, err)
	assert.Positive(t, tasks(y.Bed.ID)*tasks(blue.ID))
	y.TakeBack(r.Journal)
	assert.Zero(t, tasks(y.Bed.ID)+tasks(blue.ID))
}

// A mix by hand is put in the year as it was slid; what may not go on is not.
func TestPlanMix(t *testing.T) {
	y, blue, ash := gardentest.NewFilled(t)
	taken := []dosing.Taken{{Key: dosing.BatchKey(ash.ID), Total: 1500}, {Key: string(material.CalciticLime), Total: 1200}}
	m, err := y.App.Dosing.Mix(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, taken, gardentest.Today)
	require.NoError(t, err)
	require.True(t, m.OK, "%v", m.Against)
	_, err = y.App.Dosing.PlanMix(gardentest.Ctx, y.Actor, y.Bed.ID, dosing.Choice{}, taken, present.EncodePlan)
	require.NoError(t, err)
	rec, err := y.App.BedState.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	by := map[material.Kind]quantity.Mass{}
	for _, task := range rec.Tasks {
		by[task.What] += task.Total
	}
	assert.Less(t, float64(by[material.HardwoodAsh]), 1500.0, "its first part has a day, the rest waits for a test")
	for _, rest := range rec.Rests {
		by[rest.What] += rest.Total
	}
	assert.InDelta(t, 1500, float64(by[material.HardwoodAsh]), 1e-6)
	assert.InDelta(t, 1200, float64(by[material.CalciticLime]), 1e-6)
	_, err = y.App.Dosing.PlanMix(gardentest.Ctx, y.Actor, blue.ID, dosing.Choice{}, taken[:1], present.EncodePlan)
	assert.Error(t, err, "never ash for blueberries")
}

// Ash of unknown source cannot be planned in any way, by mix or for many beds neither.
func TestUnknownAshIsRefused(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("dahlia", "2027-05-15", ""), y.Reading("2026-11-12", soil.Lab, 5.7))
	key := string(material.HardwoodAsh)
	taken := []dosing.Taken{{Key: key, Total: 1000}}
	m, err := y.App.Dosing.Mix(gardentest.Ctx, y.Bed.ID, dosing.Choice{}, taken, gardentest.Today)
	require.NoError(t, err)
	require.True(t, m.OK, "it is shown")
	var f garden.Faults
	_, err = y.App.Dosing.PlanMix(gardentest.Ctx, y.Actor, y.Bed.ID, dosing.Choice{}, taken, present.EncodePlan)
	assert.True(t, errors.As(err, &f), "a mix: %v", err)
	_, err = y.App.Dosing.PlanMany(gardentest.Ctx, y.Actor, []int64{y.Bed.ID}, key, present.EncodePlan)
	assert.True(t, errors.As(err, &f), "many beds: %v", err)
}

// Shared out by hand: the amount stays, beds that are left out get nothing, and what cannot
// be is reported at its field.
func TestFixedShares(t *testing.T) {
	y, blue, ash := gardentest.NewFilled(t)
	hand := dosing.ByHand{Bed: y.Bed.ID, Key: dosing.BatchKey(ash.ID), Total: 1000}
	s, err := y.App.Dosing.Share(gardentest.Ctx, dosing.ShareChoice{Out: []int64{blue.ID},
		Hand: []dosing.ByHand{hand}}, gardentest.Today, nil, nil)
	require.NoError(t, err)
	require.Len(t, s.Beds, 1)
	require.NotNil(t, s.Free)
	assert.InDelta(t, 1000, float64(s.Given[0][0].Over(y.Bed.Area())), 1e-6)
	assert.GreaterOrEqual(t, s.Cost, s.Free.Cost-1e-9)
	hand.Total = 19000
	_, err = y.App.Dosing.Share(gardentest.Ctx, dosing.ShareChoice{Hand: []dosing.ByHand{hand}}, gardentest.Today, nil, nil)
	var f garden.Faults
	require.True(t, errors.As(err, &f))
	assert.Contains(t, f, hand.Field())
	// To the foot of the range only, it takes less.
	all := dose.Methods{Pace: dose.AllAtOnce}
	whole, err := y.App.Dosing.Share(gardentest.Ctx, dosing.ShareChoice{Methods: all}, gardentest.Today, nil, nil)
	require.NoError(t, err)
	foot, err := y.App.Dosing.Share(gardentest.Ctx, dosing.ShareChoice{Methods: all, Foot: true}, gardentest.Today, nil, nil)
	require.NoError(t, err)
	assert.Less(t, float64(foot.Beds[0].Need), float64(whole.Beds[0].Need))
	quick, _, err := y.App.Dosing.Quick(gardentest.Ctx, dosing.ShareChoice{}, gardentest.Today)
	require.NoError(t, err)
	assert.True(t, quick)
}
