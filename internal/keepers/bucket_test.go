package keepers_test

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/bucket"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/present"
)

// filled is a yard with a sour bed, a blueberry bed, and a bin of ash.
func filled(t *testing.T) (y *yard, blue garden.Bed, ash garden.Batch) {
	y = newYard(t)
	y.add(y.crop("dahlia", "2027-05-15", ""), y.read("2026-11-12", soil.Lab, 5.7))
	blue = y.bed
	blue.Meta, blue.Name, blue.Y = garden.Meta{}, "Blueberries", 5
	y.add(&blue)
	at5 := y.read("2026-11-12", soil.Lab, 5.6)
	at5.BedID = blue.ID
	y.add(at5, &garden.Planting{BedID: blue.ID, Crop: "blueberry", Sown: at("2021-11-10")})
	ash = garden.Batch{Name: "Oven ash", Kind: material.HardwoodAsh, Condition: material.Dry, Source: material.Clean,
		OnHand: ptr(quantity.Mass(20000)), Scoop: ptr(quantity.Mass(100))}
	y.add(&ash)
	return y, blue, ash
}

func (y *yard) bucket(what string) bucket.Bucket {
	y.t.Helper()
	b, err := y.keep.Bucket.View(ctx, what, y.act.Today)
	require.NoError(y.t, err)
	return b
}

func (y *yard) pour(p bucket.Pour) error {
	_, err := y.keep.Bucket.PutOn(ctx, y.act, p, present.EncodePlan)
	return err
}

// A bucket of ash may go on the sour bed, by its dose, and never on the blueberries; one tap
// puts the go on, the rest in the year, and takes it off the shelf.
func TestABucketGoesWhereItMay(t *testing.T) {
	y, blue, ash := filled(t)
	key := desk.BatchKey(ash.ID)
	b := y.bucket(key)
	require.Len(t, b.Places, 2)
	assert.True(t, b.Places[0].Today(today))
	assert.False(t, b.Places[1].Today(today))
	assert.NotEmpty(t, b.Places[1].Against)
	dose, err := y.keep.Desk.Dose(ctx, y.bed.ID, desk.Choice{}, today)
	require.NoError(t, err)
	want, ok := dose.Pick(key)
	require.True(t, ok)
	assert.Equal(t, want.Goes[0].Total, b.Places[0].Go.Total)
	assert.Error(t, y.pour(bucket.Pour{What: key, Bed: blue.ID}), "a forged post")
	assert.Error(t, y.pour(bucket.Pour{What: key, Bed: y.bed.ID, On: today + 1}))
	require.NoError(t, y.pour(bucket.Pour{What: key, Bed: y.bed.ID}))
	assert.InDelta(t, 20000-float64(want.Goes[0].Total), y.left(), 1e-6)
	rec, err := y.keep.Plots.Bed(ctx, y.bed.ID, today)
	require.NoError(t, err)
	require.Len(t, rec.Applications, 1)
	open := 0
	for _, task := range rec.Tasks {
		if task.State == garden.Open && task.Kind == garden.TaskGo {
			open++
		}
	}
	assert.Equal(t, len(want.Goes)-1, open)
	// The next go is weeks away: not today a second time.
	assert.False(t, y.bucket(key).Places[0].Today(today))
	assert.Error(t, y.pour(bucket.Pour{What: key, Bed: y.bed.ID}))
}

// A bucket of what is barred, or hot, goes nowhere, whatever asks.
func TestABarredBucketGoesNowhere(t *testing.T) {
	y, _, ash := filled(t)
	key := desk.BatchKey(ash.ID)
	for name, spoil := range map[string]func(*garden.Batch){
		"barred": func(b *garden.Batch) { b.Source = material.Painted },
		"hot":    func(b *garden.Batch) { b.Source, b.Burnt = material.Clean, today-6 },
	} {
		now, err := y.keep.Shelf.Batch(ctx, ash.ID)
		require.NoError(t, err)
		spoil(&now)
		_, err = y.keep.Shelf.Set(ctx, y.act, now)
		require.NoError(t, err)
		b := y.bucket(key)
		assert.Empty(t, b.Places, name)
		assert.True(t, b.Barred || b.Hot, name)
		assert.Error(t, y.pour(bucket.Pour{What: key, Bed: y.bed.ID}), name)
	}
	now, err := y.keep.Shelf.Batch(ctx, ash.ID)
	require.NoError(t, err)
	now.Burnt, now.Source = today-7, material.Clean
	_, err = y.keep.Shelf.Set(ctx, y.act, now)
	require.NoError(t, err)
	assert.True(t, y.bucket(key).Places[0].Today(today), "cold after seven days")
}

// Feeds go by their own measure: never beside lime, never past what a bed may have at once.
func TestAFeedGoesByItsOwnMeasure(t *testing.T) {
	y, _, _ := filled(t)
	const manure = "manure"
	assert.NotEmpty(t, y.bucket(manure).Places[0].Stopped, "it would wash out in November")
	y.act.Today = inOctober
	b := y.bucket(manure)
	require.True(t, b.Held.Feed())
	require.True(t, b.Places[0].Today(inOctober))
	most := b.Places[0].Most.Over(y.bed.Area())
	require.Error(t, y.pour(bucket.Pour{What: manure, Bed: y.bed.ID}), "how much?")
	over := most * 1.01
	err := y.pour(bucket.Pour{What: manure, Bed: y.bed.ID, Amount: &over})
	var f garden.Faults
	require.True(t, errors.As(err, &f))
	assert.Contains(t, f["amount"], "at one time")
	require.NoError(t, y.pour(bucket.Pour{What: manure, Bed: y.bed.ID, Amount: &most}))
	some := quantity.Mass(100)
	assert.Error(t, y.pour(bucket.Pour{What: "poultry-manure", Bed: y.bed.ID, Amount: &some}), "the year's nitrogen is on")
}

// inOctober is a day on which manure may go on.
var inOctober = at("2027-10-20")

// Pots, heaps and acid lovers are offered none of what harms them.
func TestManureGoesWhereItMay(t *testing.T) {
	y, blue, _ := filled(t)
	y.act.Today = inOctober
	pots := y.bed
	pots.Meta, pots.Name, pots.Kind, pots.Y = garden.Meta{}, "Pots", garden.KindPots, 9
	y.add(&pots)
	r := y.read("2027-10-01", soil.Lab, 6.2)
	r.BedID = pots.ID
	y.add(r, &garden.Planting{BedID: pots.ID, Crop: "tomato", Sown: at("2028-05-01")})
	for what, may := range map[string][3]bool{"manure": {true, true, false}, "poultry-manure": {true, false, false},
		"mushroom-compost": {true, false, true}, "compost": {true, true, true}} {
		for _, p := range y.bucket(what).Places {
			i := map[int64]int{y.bed.ID: 0, blue.ID: 1, pots.ID: 2}[p.Bed.ID]
			assert.Equal(t, may[i], len(p.Against) == 0, "%s on %s", what, p.Bed.Name)
			some := quantity.Mass(100)
			assert.Equal(t, may[i] && p.Today(inOctober), y.pour(bucket.Pour{What: what, Bed: p.Bed.ID, Amount: &some}) == nil, "%s on %s", what,
				p.Bed.Name)
		}
	}
}

// Potash goes by what the bed is short of: none where there is enough, however it is asked.
func TestPotashInABucketGoesByThePotassium(t *testing.T) {
	for ppm, may := range map[quantity.Concentration]bool{70: true, 200: false} {
		y := newYard(t)
		r := y.read("2026-11-12", soil.Lab, 6.5)
		r.Potassium, r.Extractant = &ppm, soil.AmmoniumAcetate
		y.add(y.crop("dahlia", "2027-05-15", ""), r)
		b := y.bucket("potassium-sulfate")
		require.False(t, b.Held.Feed())
		assert.Equal(t, may, b.Places[0].Day > 0, "%v ppm", ppm)
		if !may {
			some := quantity.Mass(100)
			assert.Error(t, y.pour(bucket.Pour{What: "potassium-sulfate", Bed: y.bed.ID, Amount: &some}))
		}
	}
}

// Manure keeps three weeks from lime: a day less is too near.
func TestManureInABucketKeepsFromLime(t *testing.T) {
	for days, may := range map[quantity.Day]bool{20: false, 21: true} {
		y, _, _ := filled(t)
		y.act.Today = inOctober
		y.add(&garden.Application{BedID: y.bed.ID, Date: inOctober - days, What: material.CalciticLime, Rate: 50, Total: 480})
		assert.Equal(t, may, y.bucket("manure").Places[0].Today(inOctober), "%d days after", days)
		some := quantity.Mass(5000)
		err := y.pour(bucket.Pour{What: "manure", Bed: y.bed.ID, Amount: &some})
		assert.Equal(t, may, err == nil, "%d days after: %v", days, err)
		if err != nil { // else the year's nitrogen is on
			assert.True(t, y.bucket("rotted-manure").Places[0].Today(inOctober), "rotted manure gives off none")
		}
	}
}

// What may go on later goes on then: a crop that still stands, a feed that is for spring.
func TestABucketWaitsForItsDay(t *testing.T) {
	y, _, ash := filled(t)
	y.add(y.crop("kale", "2026-05-20", "2027-02-01"))
	key := desk.BatchKey(ash.ID)
	b := y.bucket(key)
	assert.Greater(t, b.Places[0].Day, today)
	assert.Error(t, y.pour(bucket.Pour{What: key, Bed: y.bed.ID}))
	feed := y.bucket("ammonium-sulfate").Places[0]
	assert.False(t, feed.Today(today))
	assert.NotEmpty(t, feed.Stopped)
	some := quantity.Mass(50)
	assert.Error(t, y.pour(bucket.Pour{What: "ammonium-sulfate", Bed: y.bed.ID, Amount: &some}))
}

// Several beds at once: each bed's own dose, what they take in all, and all in the year with
// one change that one undo takes back.
func TestSeveralBedsAtOnce(t *testing.T) {
	y, blue, ash := filled(t)
	m, err := y.keep.Desk.Many(ctx, nil, "", today)
	require.NoError(t, err)
	require.Len(t, m.Rows, 2)
	for i := range m.Rows {
		w, err := y.keep.Desk.Dose(ctx, m.Rows[i].Bed.ID, desk.Choice{}, today)
		require.NoError(t, err)
		require.NotNil(t, m.Rows[i].Option)
		assert.Equal(t, w.Answer.Options[0].CaCO3, m.Rows[i].Option.CaCO3)
	}
	// Ash for all: the blueberries are offered none, and an older page that asks is refused.
	key := desk.BatchKey(ash.ID)
	m, err = y.keep.Desk.Many(ctx, nil, key, today)
	require.NoError(t, err)
	require.Len(t, m.Totals, 1)
	assert.Equal(t, m.Rows[0].Option.Parts[0].Total, m.Totals[0].Total)
	assert.Nil(t, m.Rows[1].Option)
	_, err = y.keep.Desk.PutMany(ctx, y.act, []int64{y.bed.ID, blue.ID}, key, present.EncodePlan)
	require.ErrorIs(t, err, desk.ErrNoOption)
	tasks := func(bed int64) int {
		rec, err := y.keep.Plots.Bed(ctx, bed, today)
		require.NoError(t, err)
		return len(rec.Tasks)
	}
	assert.Zero(t, tasks(y.bed.ID), "all or nothing")
	r, err := y.keep.Desk.PutMany(ctx, y.act, []int64{y.bed.ID, blue.ID}, "", present.EncodePlan)
	require.NoError(t, err)
	assert.Positive(t, tasks(y.bed.ID)*tasks(blue.ID))
	y.takeBack(r.Journal)
	assert.Zero(t, tasks(y.bed.ID)+tasks(blue.ID))
}

// A mix by hand is put in the year as it was slid; what may not go on is not.
func TestAMixByHandIsPutInTheYearAsItWasSlid(t *testing.T) {
	y, blue, ash := filled(t)
	taken := []desk.Taken{{Key: desk.BatchKey(ash.ID), Total: 1500}, {Key: string(material.CalciticLime), Total: 1200}}
	m, err := y.keep.Desk.Mix(ctx, y.bed.ID, desk.Choice{}, taken, today)
	require.NoError(t, err)
	require.True(t, m.OK, "%v", m.Against)
	_, err = y.keep.Desk.PutMix(ctx, y.act, y.bed.ID, desk.Choice{}, taken, present.EncodePlan)
	require.NoError(t, err)
	rec, err := y.keep.Plots.Bed(ctx, y.bed.ID, today)
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
	_, err = y.keep.Desk.PutMix(ctx, y.act, blue.ID, desk.Choice{}, taken[:1], present.EncodePlan)
	assert.Error(t, err, "never ash for blueberries")
}

// Ash of which nobody told goes into the year by no way, a mix or many beds neither.
func TestAshUntoldIsAskedAboutHoweverItIsPutIn(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("dahlia", "2027-05-15", ""), y.read("2026-11-12", soil.Lab, 5.7))
	key := string(material.HardwoodAsh)
	taken := []desk.Taken{{Key: key, Total: 1000}}
	m, err := y.keep.Desk.Mix(ctx, y.bed.ID, desk.Choice{}, taken, today)
	require.NoError(t, err)
	require.True(t, m.OK, "it is shown")
	var f garden.Faults
	_, err = y.keep.Desk.PutMix(ctx, y.act, y.bed.ID, desk.Choice{}, taken, present.EncodePlan)
	assert.True(t, errors.As(err, &f), "a mix: %v", err)
	_, err = y.keep.Desk.PutMany(ctx, y.act, []int64{y.bed.ID}, key, present.EncodePlan)
	assert.True(t, errors.As(err, &f), "many beds: %v", err)
}

// Shared out by hand: the amount stays, beds that are left out get nothing, and what cannot
// be is told at its field.
func TestSharingOutByOnesOwnHand(t *testing.T) {
	y, blue, ash := filled(t)
	hand := desk.ByHand{Bed: y.bed.ID, Key: desk.BatchKey(ash.ID), Total: 1000}
	s, err := y.keep.Desk.Share(ctx, desk.ShareChoice{Out: []int64{blue.ID}, Hand: []desk.ByHand{hand}}, today, nil)
	require.NoError(t, err)
	require.Len(t, s.Beds, 1)
	require.NotNil(t, s.Free)
	assert.InDelta(t, 1000, float64(s.Given[0][0].Over(y.bed.Area())), 1e-6)
	assert.GreaterOrEqual(t, s.Cost, s.Free.Cost-1e-9)
	hand.Total = 19000
	_, err = y.keep.Desk.Share(ctx, desk.ShareChoice{Hand: []desk.ByHand{hand}}, today, nil)
	var f garden.Faults
	require.True(t, errors.As(err, &f))
	assert.Contains(t, f, hand.Field())
	// To the foot of the band only, it takes less.
	all := dose.Schools{Pace: dose.AllAtOnce}
	whole, err := y.keep.Desk.Share(ctx, desk.ShareChoice{Schools: all}, today, nil)
	require.NoError(t, err)
	foot, err := y.keep.Desk.Share(ctx, desk.ShareChoice{Schools: all, Foot: true}, today, nil)
	require.NoError(t, err)
	assert.Less(t, float64(foot.Beds[0].Need), float64(whole.Beds[0].Need))
	quick, _, err := y.keep.Desk.Quick(ctx, desk.ShareChoice{}, today)
	require.NoError(t, err)
	assert.True(t, quick)
}
