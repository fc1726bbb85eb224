package keepers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// warmed takes in soil temperatures that lie so far off the usual, on each of some days up to today.
func (y *yard) warmed(off quantity.Temperature, days int) {
	y.t.Helper()
	climate, _ := soil.FindClimate("maritime", soil.North)
	var all []garden.SoilDay
	for n := range days {
		d := y.act.Today - quantity.Day(n)
		all = append(all, garden.SoilDay{Day: d, Soil: climate.At(d) + off, Source: "station"})
	}
	n, _, err := y.keep.Ground.TakeSoil(ctx, y.act, all)
	require.NoError(y.t, err)
	require.Equal(y.t, days, n)
}

// Late April, as a rule too cold for sulfur until May: a warm spring opens it, a frozen bed takes nothing,
// and what lies in cold ground has acted less.
func TestMeasuredSoilMovesWindowsAndReaction(t *testing.T) {
	y := newYard(t)
	lime := garden.Application{BedID: y.bed.ID, Date: today - 60, What: material.CalciticLime, Rate: 200, Total: 1920}
	y.add(y.crop("blueberry", "2025-03-10", ""), y.read("2026-09-01", soil.Lab, 5.9), &lime)
	y.act.Today = at("2027-04-25")
	blocked := func() calendar.Why {
		p := y.plot(y.act.Today)
		return p.Season.Blocked(material.Sulfur, y.act.Today)
	}
	now := func() quantity.PH { return y.plot(y.act.Today).AtWork.Now }
	usual := now()
	require.Equal(t, calendar.ColdSoil, blocked())
	y.warmed(4, 200)
	warm := now()
	assert.Equal(t, calendar.Free, blocked())
	assert.Greater(t, float64(warm), float64(usual), "lime acts faster in warm ground")
	// Put right: the same days, cold.
	y.warmed(-3, 200)
	assert.Less(t, float64(now()), float64(usual))
	y.warmed(-11, 1)
	p := y.plot(y.act.Today)
	assert.Equal(t, calendar.FrozenGround, p.Season.Blocked(material.Lime, y.act.Today))
}

func TestSoilTemperaturesAreTakenOnce(t *testing.T) {
	y := newYard(t)
	y.warmed(1, 5)
	all, err := y.keep.Ground.Soil(ctx)
	require.NoError(t, err)
	require.Len(t, all.Days, 5)
	same := append([]garden.SoilDay(nil), all.Days...)
	for i := range same {
		same[i].Meta = garden.Meta{}
	}
	n, _, err := y.keep.Ground.TakeSoil(ctx, y.act, same)
	require.NoError(t, err)
	assert.Zero(t, n, "a station tells the same days again and again")
	// What the gardener measured stays, whatever the station says after.
	_, _, err = y.keep.Ground.TakeSoil(ctx, y.act, []garden.SoilDay{{Day: today, Soil: 3}})
	require.NoError(t, err)
	n, _, err = y.keep.Ground.TakeSoil(ctx, y.act, []garden.SoilDay{{Day: today, Soil: 9, Source: "station"}})
	require.NoError(t, err)
	assert.Zero(t, n)
	_, _, err = y.keep.Ground.TakeSoil(ctx, y.act, []garden.SoilDay{{Day: today + 1, Soil: 3}})
	faultAt(t, err, "day", "still to come")
	_, _, err = y.keep.Ground.TakeSoil(ctx, y.act, []garden.SoilDay{{Day: today, Soil: 61}})
	faultAt(t, err, "soil_c", "60")
	// A day that is told twice in a table holds by its last line.
	n, _, err = y.keep.Ground.TakeSoil(ctx, y.act, []garden.SoilDay{{Day: today - 9, Soil: 3}, {Day: today - 9, Soil: 4}})
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	g, err := y.keep.Place(ctx)
	require.NoError(t, err)
	climate := g.Warmth()
	got, ok := climate.MeasuredOn(today - 9)
	assert.True(t, ok)
	assert.EqualValues(t, 4, got)
}

// Potatoes that come keep lime off the bed, but where it is so sour that they starve: there lime goes first.
func TestPotatoesKeepLimeOffUnlessTheyStarve(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("bean", "2027-03-01", "2027-08-01"), y.crop("potato", "2027-08-15", ""), y.read("2026-11-12", soil.Lab, 5.7))
	blocked := func(day string) calendar.Why {
		p := y.plot(today)
		return p.Season.Blocked(material.Lime, at(day))
	}
	assert.Equal(t, calendar.Free, blocked("2026-11-10"))
	assert.Equal(t, calendar.PotatoYear, blocked("2027-02-01"))
	y.add(y.read("2026-11-20", soil.Lab, 4.5))
	assert.Equal(t, calendar.Free, blocked("2027-02-01"))
}

// What a change that was taken back had measured is not reckoned with.
func TestMeasuredSoilOfAChangeThatFailedIsForgotten(t *testing.T) {
	y := newYard(t)
	_, err := y.store.Change(ctx, y.act.Change(), func(tx garden.Tx) (string, error) {
		if err := tx.Insert(&garden.SoilDay{Day: today, Soil: 20}); err != nil {
			return "", err
		}
		g, err := tx.Garden()
		if err != nil {
			return "", err
		}
		assert.Len(t, g.Measured, 1, "the change itself sees it")
		return "", garden.ErrStale
	})
	require.ErrorIs(t, err, garden.ErrStale)
	g, err := y.keep.Place(ctx)
	require.NoError(t, err)
	assert.Empty(t, g.Measured)
}

// What stands for years keeps a dug bed from being dug, from the day on which it was planted, wherever the bed is told of.
func TestABedOfStandingCropsIsDugNoMore(t *testing.T) {
	y := newYard(t)
	y.add(y.crop("asparagus", "2026-04-10", ""), y.read("2026-11-12", soil.Lab, 5.9),
		&garden.Application{BedID: y.bed.ID, Date: at("2026-01-10"), What: material.CalciticLime, Rate: 100, Total: 960})
	p := y.plot(today)
	assert.Equal(t, soil.Established, p.Ground.Worked)
	assert.Equal(t, at("2026-04-10"), p.Ground.DugUntil)
	assert.Equal(t, soil.Dug, y.plot(at("2026-04-09")).Ground.Worked, "the day before it was planted")
	w := y.worked()
	require.NotEmpty(t, w.Answer.Options)
	for _, g := range w.Answer.Options[0].Goes {
		assert.LessOrEqual(t, float64(g.Rate), 250.0)
	}
	assert.Equal(t, soil.Established, w.Lesson.Record.Ground.Worked, "the forecast has it alike")
	y.bed.Worked = soil.DugAmong
	_, err := y.keep.Ground.EditBed(ctx, y.act, y.bed)
	require.NoError(t, err)
	assert.Equal(t, soil.Dug, y.plot(today).Ground.Worked, "the gardener says otherwise")
}

// Soil that is measured anew on days that were measured before moves what a bed has taught, and what is kept of it, at once.
func TestSoilThatIsPutRightMovesWhatABedHasTaught(t *testing.T) {
	y := newYard(t)
	lime := garden.Application{BedID: y.bed.ID, Date: at("2025-11-10"), What: material.CalciticLime, Rate: 250, Total: 2400}
	y.add(y.crop("tomato", "2025-03-10", ""), y.read("2025-10-20", soil.Lab, 5.6), &lime, y.read("2026-03-20", soil.Lab, 5.9),
		y.read("2026-09-20", soil.Lab, 6.0))
	y.act.Today = at("2026-11-24")
	figures := func() []float64 {
		s, err := y.keep.Seasons.Bed(ctx, y.bed.ID, y.act.Today)
		require.NoError(t, err)
		l := s.Lesson.Learned()
		return []float64{l.Stubborn.Median, l.Stubborn.P05, s.Run.PH[len(s.Run.PH)-1].Median}
	}
	y.warmed(0, 730)
	usual := figures()
	y.warmed(-3, 730)
	cold := figures()
	assert.NotEqual(t, usual, cold)
	y.store.Rest()
	assert.Equal(t, figures(), cold, "as it is found with nothing kept")
}
