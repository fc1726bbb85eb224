package keepers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/desk"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/seasons"
)

// Lime that moved a bed by much less than promised, thrice, says that it is stubborn; a reading that is struck out
// unsays it.
func TestABedTeachesHowStubbornItIs(t *testing.T) {
	y := newYard(t)
	_, err := y.keep.Seasons.Bed(ctx, y.bed.ID, today)
	require.ErrorIs(t, err, seasons.ErrNoReading)
	lime := func(day string) garden.Record {
		return &garden.Application{BedID: y.bed.ID, Date: at(day), What: material.CalciticLime, Rate: 300, Total: 2880}
	}
	y.add(y.crop("dahlia", "2022-05-15", ""), y.read("2022-10-01", soil.Lab, 5.2), lime("2022-11-01"), y.read("2023-10-01", soil.Lab, 5.5),
		lime("2023-11-01"), y.read("2024-10-01", soil.Lab, 5.8), lime("2024-11-01"), y.read("2025-10-01", soil.Lab, 6.0))
	taught, err := y.keep.Seasons.Bed(ctx, y.bed.ID, today)
	require.NoError(t, err)
	l := taught.Run.Learned
	assert.True(t, l.Counts)
	assert.Equal(t, 3, l.Tests)
	assert.Greater(t, l.Stubborn.P05, 1.0)
	assert.Contains(t, words.Taught(l, taught.School()), "the texture table has it")
	assert.Contains(t, words.Taught(l, taught.School()), "moves it less")
	require.Len(t, taught.Checks, 3)
	assert.Contains(t, words.Kept(taught.Checks[0], taught.School()), "short")
	for _, p := range taught.Run.PH[1:] {
		assert.True(t, p.P05 < p.Median && p.Median < p.P95)
	}
	// Struck out, what it taught is gone: a pair of readings less.
	all := y.rec().Readings
	last := all[len(all)-1]
	_, err = y.keep.Readings.Strike(ctx, y.act, last.ID, last.Version, "another bed’s")
	require.NoError(t, err)
	less, err := y.keep.Seasons.Bed(ctx, y.bed.ID, today)
	require.NoError(t, err)
	assert.Equal(t, 2, less.Run.Learned.Tests)
	assert.NotEqual(t, l.Stubborn.Median, less.Run.Learned.Stubborn.Median)
}

// stubborn is a ledge that lime moved by much less than promised, thrice.
func stubborn(t *testing.T) *yard {
	y := newYard(t)
	lime := func(day string) garden.Record {
		return &garden.Application{BedID: y.bed.ID, Date: at(day), What: material.CalciticLime, Rate: 300, Total: 2880}
	}
	y.add(y.crop("dahlia", "2022-05-15", ""), y.read("2022-10-01", soil.Lab, 5.2), lime("2022-11-01"), y.read("2023-10-01", soil.Lab, 5.5),
		lime("2023-11-01"), y.read("2024-10-01", soil.Lab, 5.8), lime("2024-11-01"), y.read("2025-10-01", soil.Lab, 6.0))
	return y
}

func (y *yard) dosed(c desk.Choice) *desk.Worked {
	y.t.Helper()
	w, err := y.keep.Desk.Dose(ctx, y.bed.ID, c, today)
	require.NoError(y.t, err)
	return &w
}

// Once it counts, a dose goes by what the bed has taught, unless another school is chosen; it can be put aside, and taken
// back; several beds at once and the sharing-out go by it too.
func TestADoseGoesByWhatTheBedTaughtUntilThatIsPutAside(t *testing.T) {
	y := stubborn(t)
	learned := y.dosed(desk.Choice{})
	table := y.dosed(desk.Choice{Buffering: soil.ByTable})
	assert.Equal(t, soil.ByLearned, learned.Request.Schools.Buffering)
	assert.Greater(t, float64(learned.Answer.Need.CaCO3), 1.2*float64(table.Answer.Need.CaCO3))
	many, err := y.keep.Desk.Many(ctx, nil, "", today)
	require.NoError(t, err)
	require.Len(t, many.Rows, 1)
	assert.InDelta(t, float64(learned.Answer.Need.CaCO3), float64(many.Rows[0].Answer.Need.CaCO3), 1e-9)
	b := y.rec().Bed
	put, err := y.keep.Ground.Teach(ctx, y.act, b.ID, b.Version, today)
	require.NoError(t, err)
	aside := y.dosed(desk.Choice{})
	assert.Equal(t, soil.ByTable, aside.Request.Schools.Buffering)
	assert.InDelta(t, float64(table.Answer.Need.CaCO3), float64(aside.Answer.Need.CaCO3), 1e-9)
	assert.Zero(t, aside.Lesson.Learned().Tests)
	_, err = y.keep.Undo(ctx, y.act, put.Journal)
	require.NoError(t, err)
	assert.InDelta(t, float64(learned.Answer.Need.CaCO3), float64(y.dosed(desk.Choice{}).Answer.Need.CaCO3), 1e-9)
}

// A neighbour that is as stubborn makes what is thought of a bed's ground more so; its own tests alone make it count.
func TestNeighboursTeach(t *testing.T) {
	y := stubborn(t)
	other := y.bed
	other.Meta, other.Name, other.X = garden.Meta{}, "Lower ledge", 20
	y.add(&other)
	x := y.read("2025-10-01", soil.Lab, 5.6)
	x.BedID = other.ID
	y.add(x)
	w, err := y.keep.Desk.Dose(ctx, other.ID, desk.Choice{}, today)
	require.NoError(t, err)
	assert.Greater(t, w.Lesson.Learned().Stubborn.Median, 1.05)
	assert.Nil(t, w.Lesson.Beside())
	assert.Equal(t, soil.ByTable, w.Request.Schools.Buffering)
}

// The promise that a test kept or missed is told of the reading that tested it.
func TestAPromiseIsToldOfTheReadingThatTestedIt(t *testing.T) {
	y := stubborn(t)
	l := y.dosed(desk.Choice{}).Lesson
	k, ok := l.Last(at("2025-10-01"))
	require.True(t, ok)
	assert.Less(t, k.Miss(), 0.0)
	assert.Contains(t, words.Happened(k), "raised from 5.8 to 6.0")
	_, ok = l.Last(at("2024-10-01"))
	assert.False(t, ok)
}

// What was learned follows what it rests on: a habit of the place, a reading of a neighbour, a batch that was put right; and nothing
// else makes it another.
func TestLessonsFollowTheRecords(t *testing.T) {
	y := stubborn(t)
	first := *y.dosed(desk.Choice{}).Lesson.Learned()
	y.add(&garden.Mark{Kind: "path", Name: "Path", Points: garden.Corners{{X: 0, Y: 0}, {X: 1, Y: 1}}, Width: 1})
	assert.Equal(t, first, *y.dosed(desk.Choice{}).Lesson.Learned(), "a path teaches nothing")
	g, err := y.keep.Place(ctx)
	require.NoError(t, err)
	g.Climate = "subtropical"
	_, err = y.keep.Ground.SetPlace(ctx, y.act, g)
	require.NoError(t, err)
	second := *y.dosed(desk.Choice{}).Lesson.Learned()
	assert.NotEqual(t, first.Drift.Median, second.Drift.Median, "rain pulls more there")
	y.add(y.read("2026-03-01", soil.Lab, 6.1))
	third := *y.dosed(desk.Choice{}).Lesson.Learned()
	assert.NotEqual(t, second.Stubborn.Median, third.Stubborn.Median)
	assert.Equal(t, second.Tests+1, third.Tests)
	// On an earlier day it had taught less.
	past, err := y.keep.Desk.Dose(ctx, y.bed.ID, desk.Choice{Now: today}, at("2024-12-01"))
	require.NoError(t, err)
	assert.Equal(t, 2, past.Lesson.Learned().Tests)
	// On a day to come, what is known today.
	ahead, err := y.keep.Desk.Dose(ctx, y.bed.ID, desk.Choice{Now: today}, today+400)
	require.NoError(t, err)
	assert.Equal(t, third.Stubborn, ahead.Lesson.Learned().Stubborn)
}

// Where sulfur still acts after its test, the bed is tested again 52 weeks after it went on, and not in two years: on its
// slip, on Dose and on the walk. A test that stands in the year goes before.
func TestABedInWhichSulfurStillActsIsTestedAgainInAYear(t *testing.T) {
	y := newYard(t)
	sulfur := &garden.Application{BedID: y.bed.ID, Date: at("2026-05-04"), What: material.SulfurPowder, Rate: 100, Total: 960}
	y.add(y.crop("bean", "2026-04-15", ""), y.read("2026-05-01", soil.Lab, 7.6), sulfur, y.read("2026-08-03", soil.Lab, 7.0))
	due := func(day string) sampling.Due {
		_, all, err := y.keep.Walk.Candidates(ctx, at(day))
		require.NoError(t, err)
		require.Len(t, all, 1)
		return all[0].Due
	}
	w := y.dosed(desk.Choice{})
	require.NotNil(t, w.AtWork)
	assert.Equal(t, at("2027-05-03"), w.LookAgain())
	assert.Empty(t, due("2027-05-02"))
	assert.Equal(t, sampling.RetestDue, due("2027-05-03"))
	y.add(&garden.Task{BedID: y.bed.ID, Kind: garden.TaskRetest, Due: at("2027-08-03"), State: garden.Open, Method: soil.Lab})
	assert.Equal(t, at("2027-08-03"), y.dosed(desk.Choice{}).LookAgain())
	assert.Empty(t, due("2027-05-03"))
}

// A reading a week after a go judges no promise for good: the retest that was promised is told of as the day to test again,
// and then held against what was promised, not against the early reading.
func TestAnEarlyReadingLeavesThePromiseOpen(t *testing.T) {
	y := newYard(t)
	lime := &garden.Application{BedID: y.bed.ID, Date: at("2025-08-22"), What: material.CalciticLime, Rate: 300, Total: 2880}
	due := at("2026-02-22")
	y.add(y.crop("bean", "2025-05-15", ""), y.read("2025-08-20", soil.Lab, 5.4), lime, y.read("2025-08-29", soil.Lab, 5.75))
	alone := y.season()
	require.Len(t, alone.Checks, 1)
	assert.NotContains(t, words.Kept(alone.Checks[0], soil.ByTable), "reading itself")
	free := y.dosed(desk.Choice{}).LookAgain()
	assert.Greater(t, free, due)
	y.add(&garden.Task{BedID: y.bed.ID, Kind: garden.TaskRetest, Due: due, State: garden.Open, Method: soil.Lab})
	assert.Equal(t, due, y.dosed(desk.Choice{}).LookAgain())
	y.add(y.read("2026-02-22", soil.Lab, 5.6))
	s := y.season()
	require.Len(t, s.Checks, 2)
	assert.InDelta(t, 5.4, float64(s.Checks[1].From), 1e-9)
	assert.Equal(t, s.Checks[0].Go, s.Checks[1].Go)
}

// A change of a bed that its lesson does not rest on leaves what was learned as it is, and what was found of it too; any other
// has it learned anew.
func TestANoteOfABedTeachesNothing(t *testing.T) {
	y := stubborn(t)
	version := func() string { return y.dosed(desk.Choice{}).Lesson.Version() }
	change := func(of func(b *garden.Bed)) {
		b := y.rec().Bed
		of(&b)
		_, err := y.keep.Ground.EditBed(ctx, y.act, b)
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
	y.add(y.read("2026-05-01", soil.Lab, 6.2))
	assert.False(t, seen[version()], "a reading")
}
