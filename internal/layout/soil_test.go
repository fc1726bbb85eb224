package layout_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
)

// Late April, as a rule too cold for sulfur until May: a warm spring opens it, a frozen bed takes nothing,
// and what lies in cold ground has acted less.
func TestMeasuredSoilAffectsWindowsAndReaction(t *testing.T) {
	y := gardentest.New(t)
	lime := garden.Application{BedID: y.Bed.ID, Date: gardentest.Today - 60, What: material.CalciticLime, Rate: 200, Total: 1920}
	y.Add(y.Planting("blueberry", "2025-03-10", ""), y.Reading("2026-09-01", soil.Lab, 5.9), &lime)
	y.Actor.Today = gardentest.Day("2027-04-25")
	blocked := func() calendar.Why {
		p := y.State(y.Actor.Today)
		return p.Season.Blocked(material.Sulfur, y.Actor.Today)
	}
	now := func() quantity.PH { return y.State(y.Actor.Today).AtWork.Now }
	usual := now()
	require.Equal(t, calendar.ColdSoil, blocked())
	y.Warmed(4, 200)
	warm := now()
	assert.Equal(t, calendar.Free, blocked())
	assert.Greater(t, float64(warm), float64(usual), "lime acts faster in warm ground")
	// Put right: the same days, cold.
	y.Warmed(-3, 200)
	assert.Less(t, float64(now()), float64(usual))
	y.Warmed(-11, 1)
	p := y.State(y.Actor.Today)
	assert.Equal(t, calendar.FrozenGround, p.Season.Blocked(material.Lime, y.Actor.Today))
}

func TestSoilTemperaturesAreImportedOnce(t *testing.T) {
	y := gardentest.New(t)
	y.Warmed(1, 5)
	all, err := y.App.Layout.Soil(gardentest.Ctx)
	require.NoError(t, err)
	require.Len(t, all.Days, 5)
	same := append([]garden.SoilDay(nil), all.Days...)
	for i := range same {
		same[i].Meta = garden.Meta{}
	}
	n, _, err := y.App.Layout.ImportSoil(gardentest.Ctx, y.Actor, same)
	require.NoError(t, err)
	assert.Zero(t, n, "a station tells the same days again and again")
	// What the gardener measured stays, whatever the station says after.
	_, _, err = y.App.Layout.ImportSoil(gardentest.Ctx, y.Actor, []garden.SoilDay{{Day: gardentest.Today, Soil: 3}})
	require.NoError(t, err)
	n, _, err = y.App.Layout.ImportSoil(gardentest.Ctx, y.Actor, []garden.SoilDay{{Day: gardentest.Today, Soil: 9, Source: "station"}})
	require.NoError(t, err)
	assert.Zero(t, n)
	_, _, err = y.App.Layout.ImportSoil(gardentest.Ctx, y.Actor, []garden.SoilDay{{Day: gardentest.Today + 1, Soil: 3}})
	gardentest.FaultAt(t, err, "day", "still to come")
	_, _, err = y.App.Layout.ImportSoil(gardentest.Ctx, y.Actor, []garden.SoilDay{{Day: gardentest.Today, Soil: 61}})
	gardentest.FaultAt(t, err, "soil_c", "60")
	// A day that is reported twice in a table holds by its last line.
	n, _, err = y.App.Layout.ImportSoil(gardentest.Ctx, y.Actor, []garden.SoilDay{{Day: gardentest.Today - 9, Soil: 3},
		{Day: gardentest.Today - 9, Soil: 4}})
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	g, err := y.App.Place(gardentest.Ctx)
	require.NoError(t, err)
	climate := g.Warmth()
	got, ok := climate.MeasuredOn(gardentest.Today - 9)
	assert.True(t, ok)
	assert.EqualValues(t, 4, got)
}

// Potatoes that come keep lime off the bed, but where it is so sour that they starve: there lime goes first.
func TestPotatoesBlockLimeAboveLockOut(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("bean", "2027-03-01", "2027-08-01"), y.Planting("potato", "2027-08-15", ""), y.Reading("2026-10-01", soil.Lab, 5.7))
	blocked := func(day string) calendar.Why {
		p := y.State(gardentest.Today)
		return p.Season.Blocked(material.Lime, gardentest.Day(day))
	}
	assert.Equal(t, calendar.Free, blocked("2026-11-10"))
	assert.Equal(t, calendar.PotatoYear, blocked("2027-02-01"))
	y.Add(y.Reading("2026-11-20", soil.Lab, 4.5))
	assert.Equal(t, calendar.Free, blocked("2027-02-01"))
}

// What a change that was taken back had measured is not assumed.
func TestFailedSoilImportIsRolledBack(t *testing.T) {
	y := gardentest.New(t)
	_, err := y.Store.Change(gardentest.Ctx, y.Actor.Change(), func(tx garden.Tx) (string, error) {
		if err := tx.Insert(&garden.SoilDay{Day: gardentest.Today, Soil: 20}); err != nil {
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
	g, err := y.App.Place(gardentest.Ctx)
	require.NoError(t, err)
	assert.Empty(t, g.Measured)
}

// What stands for years keeps a dug bed from being dug, from the day on which it was planted, wherever the bed is shown.
func TestPerennialBedIsNotDug(t *testing.T) {
	y := gardentest.New(t)
	y.Add(y.Planting("asparagus", "2026-04-10", ""), y.Reading("2026-11-12", soil.Lab, 5.9),
		&garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2026-01-10"), What: material.CalciticLime, Rate: 100, Total: 960})
	p := y.State(gardentest.Today)
	assert.Equal(t, soil.Established, p.Ground.Worked)
	assert.Equal(t, gardentest.Day("2026-04-10"), p.Ground.DugUntil)
	assert.Equal(t, soil.Dug, y.State(gardentest.Day("2026-04-09")).Ground.Worked, "the day before it was planted")
	w := y.LastDose()
	require.NotEmpty(t, w.Answer.Options)
	for _, g := range w.Answer.Options[0].Applications {
		assert.LessOrEqual(t, float64(g.Rate), 250.0)
	}
	assert.Equal(t, soil.Established, w.Record.Lesson.Record.Ground.Worked, "the forecast has it alike")
	y.Bed.Worked = soil.DugAmong
	_, err := y.App.Layout.EditBed(gardentest.Ctx, y.Actor, y.Bed)
	require.NoError(t, err)
	assert.Equal(t, soil.Dug, y.State(gardentest.Today).Ground.Worked, "the gardener says otherwise")
}

// Soil that is measured again on days that were measured before moves what a bed has shown, and what is kept of it, at once.
func TestCorrectedSoilChangesLesson(t *testing.T) {
	y := gardentest.New(t)
	lime := garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2025-11-10"), What: material.CalciticLime, Rate: 250, Total: 2400}
	y.Add(y.Planting("tomato", "2025-03-10", ""), y.Reading("2025-10-20", soil.Lab, 5.6), &lime, y.Reading("2026-03-20", soil.Lab, 5.9),
		y.Reading("2026-09-20", soil.Lab, 6.0))
	y.Actor.Today = gardentest.Day("2026-11-24")
	figures := func() []float64 {
		s, err := y.App.Outlook.Bed(gardentest.Ctx, y.Bed.ID, y.Actor.Today)
		require.NoError(t, err)
		l := s.Record.Lesson.Learned()
		return []float64{l.Buffering.Median, l.Buffering.P05, s.Run.PH[len(s.Run.PH)-1].Median}
	}
	y.Warmed(0, 730)
	usual := figures()
	y.Warmed(-3, 730)
	cold := figures()
	assert.NotEqual(t, usual, cold)
	y.Store.Rest()
	assert.Equal(t, figures(), cold, "as it is found with nothing kept")
}
