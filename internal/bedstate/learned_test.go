package bedstate_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/cache"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/gardentest"
	"zephyrfield/internal/outlook"
)

// Lime that moved a bed much less than promised, three times, shows strong buffering; striking a
// reading out reverses that.
func TestBedTeachesBuffering(t *testing.T) {
	y := gardentest.New(t)
	_, err := y.App.Outlook.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.ErrorIs(t, err, outlook.ErrNoReading)
	lime := func(day string) garden.Record {
		return &garden.Application{BedID: y.Bed.ID, Date: gardentest.Day(day), What: material.CalciticLime, Rate: 300, Total: 2880}
	}
	y.Add(y.Planting("dahlia", "2022-05-15", ""), y.Reading("2022-10-01", soil.Lab, 5.2), lime("2022-11-01"), y.Reading("2023-10-01",
		soil.Lab, 5.5),
		lime("2023-11-01"), y.Reading("2024-10-01", soil.Lab, 5.8), lime("2024-11-01"), y.Reading("2025-10-01", soil.Lab, 6.0))
	shown, err := y.App.Outlook.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	l := shown.Run.Learned
	assert.True(t, l.Counts)
	assert.Equal(t, 3, l.Tests)
	assert.Greater(t, l.Buffering.P05, 1.0)
	assert.Contains(t, text.Shown(l, shown.Method()), "the texture table says")
	assert.Contains(t, text.Shown(l, shown.Method()), "it is hard to shift")
	require.Len(t, shown.Checks, 3)
	assert.Contains(t, text.Check(shown.Checks[0], shown.Method()), "short")
	for _, p := range shown.Run.PH[1:] {
		assert.True(t, p.P05 < p.Median && p.Median < p.P95)
	}
	// Struck out, what it shown is gone: a pair of readings less.
	all := y.Record().Readings
	last := all[len(all)-1]
	_, err = y.App.Readings.Strike(gardentest.Ctx, y.Actor, last.ID, last.Version, "another bed’s")
	require.NoError(t, err)
	less, err := y.App.Outlook.Bed(gardentest.Ctx, y.Bed.ID, gardentest.Today)
	require.NoError(t, err)
	assert.Equal(t, 2, less.Run.Learned.Tests)
	assert.NotEqual(t, l.Buffering.Median, less.Run.Learned.Buffering.Median)
}

// Once learning counts, a dose uses it, unless another method is chosen; it can be reset, and the
// reset undone; doses of several beds and sharing use it too.
func TestDoseUsesLearningUntilReset(t *testing.T) {
	y := gardentest.NewBuffered(t)
	learned := y.Dose(dosing.Choice{})
	table := y.Dose(dosing.Choice{Buffering: soil.ByTable})
	assert.Equal(t, soil.ByLearned, learned.Request.Methods.Buffering)
	assert.Greater(t, float64(learned.Answer.Need.CaCO3), 1.2*float64(table.Answer.Need.CaCO3))
	many, err := y.App.Dosing.Many(gardentest.Ctx, nil, "", gardentest.Today)
	require.NoError(t, err)
	require.Len(t, many.Rows, 1)
	assert.InDelta(t, float64(learned.Answer.Need.CaCO3), float64(many.Rows[0].Answer.Need.CaCO3), 1e-9)
	b := y.Record().Bed
	put, err := y.App.Layout.Teach(gardentest.Ctx, y.Actor, b.ID, b.Version, gardentest.Today)
	require.NoError(t, err)
	aside := y.Dose(dosing.Choice{})
	assert.Equal(t, soil.ByTable, aside.Request.Methods.Buffering)
	assert.InDelta(t, float64(table.Answer.Need.CaCO3), float64(aside.Answer.Need.CaCO3), 1e-9)
	assert.Zero(t, aside.Record.Lesson.Learned().Tests)
	_, err = y.App.Undo(gardentest.Ctx, y.Actor, put.Journal)
	require.NoError(t, err)
	assert.InDelta(t, float64(learned.Answer.Need.CaCO3), float64(y.Dose(dosing.Choice{}).Answer.Need.CaCO3), 1e-9)
}

// A strongly buffered neighbour changes a bed's prior; only its own tests make it count.
func TestNeighboursTeach(t *testing.T) {
	y := gardentest.NewBuffered(t)
	other := y.Bed
	other.Meta, other.Name, other.X = garden.Meta{}, "Lower ledge", 20
	y.Add(&other)
	x := y.Reading("2025-10-01", soil.Lab, 5.6)
	x.BedID = other.ID
	y.Add(x)
	w, err := y.App.Dosing.Dose(gardentest.Ctx, other.ID, dosing.Choice{}, gardentest.Today)
	require.NoError(t, err)
	assert.Greater(t, w.Record.Lesson.Learned().Buffering.Median, 1.05)
	assert.Nil(t, w.Record.Lesson.Beside())
	assert.Equal(t, soil.ByTable, w.Request.Methods.Buffering)
}

// The promise that a test kept or missed is reported of the reading that tested it.
func TestPromiseIsReportedWithItsTest(t *testing.T) {
	y := gardentest.NewBuffered(t)
	l := y.Dose(dosing.Choice{}).Record.Lesson
	k, ok := l.Last(gardentest.Day("2025-10-01"))
	require.True(t, ok)
	assert.Less(t, k.Miss(), 0.0)
	assert.Contains(t, text.Happened(k), "raised from 5.8 to 6.0")
	_, ok = l.Last(gardentest.Day("2024-10-01"))
	assert.False(t, ok)
}

// A lesson changes with what it depends on: a default method, a neighbour's reading, a corrected
// batch; nothing else changes it.
func TestLessonsFollowTheRecords(t *testing.T) {
	y := gardentest.NewBuffered(t)
	first := *y.Dose(dosing.Choice{}).Record.Lesson.Learned()
	y.Add(&garden.Mark{Kind: "path", Name: "Path", Points: garden.Corners{{X: 0, Y: 0}, {X: 1, Y: 1}}, Width: 1})
	assert.Equal(t, first, *y.Dose(dosing.Choice{}).Record.Lesson.Learned(), "a path teaches nothing")
	g, err := y.App.Place(gardentest.Ctx)
	require.NoError(t, err)
	g.Climate = "subtropical"
	_, err = y.App.Layout.SetPlace(gardentest.Ctx, y.Actor, g)
	require.NoError(t, err)
	second := *y.Dose(dosing.Choice{}).Record.Lesson.Learned()
	assert.NotEqual(t, first.Drift.Median, second.Drift.Median, "rain pulls more there")
	y.Add(y.Reading("2026-03-01", soil.Lab, 6.1))
	third := *y.Dose(dosing.Choice{}).Record.Lesson.Learned()
	assert.NotEqual(t, second.Buffering.Median, third.Buffering.Median)
	assert.Equal(t, second.Tests+1, third.Tests)
	// On an earlier day it had shown less.
	past, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{Today: gardentest.Today}, gardentest.Day("2024-12-01"))
	require.NoError(t, err)
	assert.Equal(t, 2, past.Record.Lesson.Learned().Tests)
	// On a day to come, what is known today.
	ahead, err := y.App.Dosing.Dose(gardentest.Ctx, y.Bed.ID, dosing.Choice{Today: gardentest.Today}, gardentest.Today+400)
	require.NoError(t, err)
	assert.Equal(t, third.Buffering, ahead.Record.Lesson.Learned().Buffering)
}

// While sulfur still reacts after its test, the bed is tested again 52 weeks after it was applied,
// not in two years: in its summary, on Dose and on the walk. A planned test takes precedence.
func TestReactingSulfurIsTestedAgain(t *testing.T) {
	y := gardentest.New(t)
	sulfur := &garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2026-05-04"), What: material.SulfurPowder, Rate: 100, Total: 960}
	y.Add(y.Planting("bean", "2026-04-15", ""), y.Reading("2026-05-01", soil.Lab, 7.6), sulfur, y.Reading("2026-08-03", soil.Lab, 7.0))
	due := func(day string) sampling.Due {
		_, all, err := y.App.Rounds.Candidates(gardentest.Ctx, gardentest.Day(day))
		require.NoError(t, err)
		require.Len(t, all, 1)
		return all[0].Due
	}
	w := y.Dose(dosing.Choice{})
	require.NotNil(t, w.Record.State.AtWork)
	assert.Equal(t, gardentest.Day("2027-05-03"), w.LookAgain())
	assert.Empty(t, due("2027-05-02"))
	assert.Equal(t, sampling.RetestDue, due("2027-05-03"))
	y.Add(&garden.Task{BedID: y.Bed.ID, Kind: garden.TaskRetest, Due: gardentest.Day("2027-08-03"), State: garden.Open, Method: soil.Lab})
	assert.Equal(t, gardentest.Day("2027-08-03"), y.Dose(dosing.Choice{}).LookAgain())
	assert.Empty(t, due("2027-05-03"))
}

// Lime of the day of its reading is at work on that very day; so is what a later test found not to have acted yet.
func TestLimeOfTheReadingsDayIsAtWork(t *testing.T) {
	y := gardentest.New(t)
	day := gardentest.Day("2026-03-10")
	y.Add(y.Planting("bean", "2026-05-15", ""), y.Reading("2026-03-10", soil.Lab, 5.4))
	assert.Nil(t, y.State(day).AtWork)
	y.Add(&garden.Application{BedID: y.Bed.ID, Date: day, What: material.CalciticLime, Rate: 300, Total: 2880})
	on, after := y.State(day).AtWork, y.State(day+1).AtWork
	require.NotNil(t, on)
	require.NotNil(t, after)
	assert.Equal(t, material.CalciticLime, on.What)
	assert.InDelta(t, float64(after.Now), float64(on.Now), 0.01)
	assert.Greater(t, on.Settles, on.Now)
	y.Add(y.Reading("2026-05-10", soil.Lab, 5.7))
	retest := gardentest.Day("2026-05-10")
	on, after = y.State(retest).AtWork, y.State(retest+1).AtWork
	require.NotNil(t, on)
	require.NotNil(t, after)
	assert.InDelta(t, float64(after.Settles), float64(on.Settles), 0.01)
}

// A reading a week after an application decides no promise: the planned retest is reported as the
// next test, and compared with the promise, not with the early reading.
func TestEarlyReadingLeavesPromiseOpen(t *testing.T) {
	y := gardentest.New(t)
	lime := &garden.Application{BedID: y.Bed.ID, Date: gardentest.Day("2025-08-22"), What: material.CalciticLime, Rate: 300, Total: 2880}
	due := gardentest.Day("2026-02-22")
	y.Add(y.Planting("bean", "2025-05-15", ""), y.Reading("2025-08-20", soil.Lab, 5.4), lime, y.Reading("2025-08-29", soil.Lab, 5.75))
	alone := y.Forecast()
	require.Len(t, alone.Checks, 1)
	assert.NotContains(t, text.Check(alone.Checks[0], soil.ByTable), "reading itself")
	free := y.Dose(dosing.Choice{}).LookAgain()
	assert.Greater(t, free, due)
	y.Add(&garden.Task{BedID: y.Bed.ID, Kind: garden.TaskRetest, Due: due, State: garden.Open, Method: soil.Lab})
	assert.Equal(t, due, y.Dose(dosing.Choice{}).LookAgain())
	y.Add(y.Reading("2026-02-22", soil.Lab, 5.6))
	s := y.Forecast()
	require.Len(t, s.Checks, 2)
	assert.InDelta(t, 5.4, float64(s.Checks[1].From), 1e-9)
	assert.Equal(t, s.Checks[0].First, s.Checks[1].First)
}

// A change that a lesson does not depend on keeps it and its cached values; any other recomputes
// it.
func TestBedNoteKeepsLesson(t *testing.T) {
	y := gardentest.NewBuffered(t)
	version := func() string { return y.Dose(dosing.Choice{}).Record.Lesson.Version() }
	change := func(of func(b *garden.Bed)) {
		b := y.Record().Bed
		of(&b)
		_, err := y.App.Layout.EditBed(gardentest.Ctx, y.Actor, b)
		require.NoError(t, err)
	}
	first := version()
	change(func(b *garden.Bed) { b.Note = "Stakes are short." })
	assert.Equal(t, first, version())
	change(func(b *garden.Bed) { b.Name, b.X = "Ledge", b.X+20 })
	assert.Equal(t, first, version())
	seen := map[string]bool{first: true}
	for what, of := range map[string]func(b *garden.Bed){
		"the texture":        func(b *garden.Bed) { b.Texture = soil.Clay },
		"the organic matter": func(b *garden.Bed) { x := quantity.Percent(7); b.OrganicMatter = &x },
		"the depth":          func(b *garden.Bed) { b.Depth = 0.2 },
	} {
		change(of)
		now := version()
		assert.False(t, seen[now], what)
		seen[now] = true
	}
	y.Add(y.Reading("2026-05-01", soil.Lab, 6.2))
	assert.False(t, seen[version()], "a reading")
}

// The same day asked of two days' lessons is two values, also where both are of one version.
func TestValuesAreKeptByTheirLesson(t *testing.T) {
	y := gardentest.NewBuffered(t)
	kind := cache.Kind{Name: "of a test", Room: 10}
	err := garden.Ask(gardentest.Ctx, y.Store, func(r bedstate.Reader) error {
		var lessons []*bedstate.Lesson
		for _, day := range []quantity.Day{gardentest.Today - 2, gardentest.Today - 1} {
			all, err := bedstate.LessonsOf(r, day, gardentest.Today)
			if err != nil {
				return err
			}
			lessons = append(lessons, all.ByBed[y.Bed.ID])
		}
		require.Equal(t, lessons[0].Version(), lessons[1].Version())
		for range 2 {
			for i, l := range lessons {
				got := bedstate.OfLesson(l, kind, gardentest.Today-1, func() int { return i })
				assert.Equal(t, i, got)
			}
		}
		return nil
	})
	require.NoError(t, err)
}
