package svg_test

import (
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/schedule"
	"zephyrfield/internal/web/svg"
)

func yearOf(tasks ...garden.Task) schedule.Year {
	from := quantity.Date(2026, 8, 1)
	return schedule.Year{From: from, To: from.AddMonths(18) - 1, Tasks: tasks, Windows: []bedstate.YearWindow{
		{Family: material.Lime, Windows: []calendar.Window{{From: from, To: from + 30}, {From: from + 31, To: from + 60, Best: true}}},
		{Family: material.Ash, Windows: []calendar.Window{{From: from + 80, To: from + 200, Opens: calendar.InGrowth,
			Closes: calendar.NearSowing}}}, {Family: material.Sulfur}}}
}

func TestRibbonLabelsDoNotOverlap(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 7))
	for range 200 {
		var tasks []garden.Task
		due := quantity.Date(2026, 8, 3)
		for range rng.IntN(25) {
			due += quantity.Day(rng.IntN(40))
			kinds := []material.Kind{material.HardwoodAsh, material.CalciticLime, material.SulfurPowder}
			tasks = append(tasks, garden.Task{BedID: int64(rng.IntN(3) + 1), Kind: garden.TaskApplication, Due: due, What: kinds[rng.IntN(3)],
				State: garden.Open})
		}
		r := svg.RibbonOf(yearOf(tasks...), map[int64]string{1: "Upper ledge", 2: "Kale and roots", 3: "Strip"}, today, today, 1280, false)
		ends := map[svg.Px]svg.Px{}
		for _, s := range r.Stakes {
			if s.Small {
				assert.Empty(t, s.Text)
				assert.NotEmpty(t, s.Says, "it keeps its words")
				continue
			}
			require.GreaterOrEqual(t, float64(s.X), float64(ends[s.Y])-4.01, "%s", s.Text)
			ends[s.Y] = s.X + svg.Px(12+6.4*float64(len(s.Text)))
		}
	}
}

func TestRibbonGroupsTasks(t *testing.T) {
	go1 := garden.Task{BedID: 1, Kind: garden.TaskApplication, Due: today - 2, What: material.HardwoodAsh, State: garden.Open}
	go2 := go1
	go2.BedID, go2.Due = 2, today+3
	done := go1
	done.State, done.Due, done.Settled = garden.Done, today-60, today-45
	left := go1
	left.State, left.Due, left.Settled = garden.Skipped, today-30, today-30
	test := garden.Task{BedID: 1, Kind: garden.TaskRetest, Due: today + 100, State: garden.Open}
	r := svg.RibbonOf(yearOf(done, left, go1, go2, test), map[int64]string{1: "Upper ledge", 2: "Strip"}, today, today+20, 1280, false)
	require.Len(t, r.Stakes, 3, "two near each other share a stake; what was skipped is not shown")
	assert.Equal(t, "ash, Upper ledge", r.Stakes[0].Text)
	assert.Equal(t, "stake-done", r.Stakes[0].Class)
	assert.Equal(t, "ash, 2 beds", r.Stakes[1].Text)
	assert.Contains(t, r.Stakes[1].Class, "stake-due")
	assert.Contains(t, r.Stakes[1].Says, "Upper ledge and Strip")
	assert.Equal(t, "retest, Upper ledge", r.Stakes[2].Text)
	assert.Len(t, r.Months, 18)
	require.Len(t, r.Lines, 3+4, "each bar and each day of a stake also stands in the table")
	assert.Equal(t, text.DayYear(today-45), r.Lines[2].When, "what was done stands on the day that it was done")
	assert.Equal(t, text.DayYear(today-2)+" to "+text.DayYear(today+3)+": ash on Upper ledge and Strip", r.Stakes[1].Says)
	assert.Equal(t, []string{text.DayYear(today - 2), text.DayYear(today + 3)}, []string{r.Lines[4].When, r.Lines[5].When},
		"each bed stands on its own day in the table")
	assert.Contains(t, r.Rows[1].Bars[0].Says, "Before it, plants are growing. After it, it would be too near the sowing",
		"a window says why it opens and closes")
	assert.True(t, r.HasToday)
	assert.Equal(t, int(today+20-r.From), r.Now)
	y := yearOf(done, go1)
	y.Samples = []garden.Sample{{Code: "1A", State: garden.SampleTaken, Taken: today - 90}}
	y.Held = map[int64]quantity.Day{go1.ID: today}
	y.Tasks[0].ID, y.Garden.FirstFrost = 7, "11-01"
	held := svg.RibbonOf(y, map[int64]string{1: "Upper ledge"}, today, today, 1280, false)
	assert.Equal(t, "held back: ash, Upper ledge", held.Stakes[1].Text)
	var last time.Time
	for _, l := range held.Lines {
		when, _, _ := strings.Cut(l.When, " to ")
		at, err := time.Parse("2 Jan 2006", when)
		require.NoError(t, err)
		assert.False(t, at.Before(last), "the table is in the order of its days")
		last = at
	}
	out := svg.RibbonOf(yearOf(), nil, today+2000, today, 1280, false)
	assert.False(t, out.HasToday, "today is out of view")
}

func TestRibbonTableSaysWhyTasksWereMoved(t *testing.T) {
	moved := garden.Task{Kind: garden.TaskApplication, BedID: 1, Due: today + 3, What: material.HardwoodAsh, State: garden.Open}
	moved.ID = 5
	same := moved
	same.ID, same.BedID = 6, 2
	y := yearOf(moved, same)
	y.Moved = map[int64]bedstate.Move{5: {From: today - 10, Placed: calendar.Placed{Retest: true}}}
	var lines []svg.RibbonLine
	for _, l := range svg.RibbonOf(y, map[int64]string{1: "Upper ledge", 2: "Strip"}, today, today, 1280, false).Lines {
		if strings.HasPrefix(l.What, "Ash on ") {
			lines = append(lines, l)
		}
	}
	require.Len(t, lines, 2, "the reason stands beside the bed that it is for")
	assert.Equal(t, "Ash on Upper ledge; moved from "+text.DayYear(today-10)+": a retest stands before it", lines[0].What)
	assert.Equal(t, "task:5:why", lines[0].WhyFacts)
	assert.Equal(t, "Ash on Strip", lines[1].What)
	assert.Empty(t, lines[1].WhyFacts)
}

func TestManyTasksAreReadable(t *testing.T) {
	y := schedule.Year{From: quantity.Date(2026, 8, 1), To: quantity.Date(2028, 1, 31)}
	beds := map[int64]string{}
	kinds := []material.Kind{material.CalciticLime, material.HardwoodAsh, material.SulfurPowder, material.Urea, material.Compost,
		material.PotassiumSulfate, "bone-meal", "gypsum", "iron-sulfate", "rotted-manure"}
	for i, k := range kinds {
		beds[int64(i)] = "Long bed " + strconv.Itoa(i)
		y.Tasks = append(y.Tasks, garden.Task{Meta: garden.Meta{ID: int64(i + 1)}, BedID: int64(i), Kind: garden.TaskApplication,
			State: garden.Open,
			What:  k, Due: quantity.Date(2027, 3, 1) + quantity.Day(i/2)})
	}
	r := svg.RibbonOf(y, beds, today, today, 1280, false)
	require.Len(t, r.Stakes, len(kinds))
	counted, told := 0, 0
	ends := map[svg.Px]svg.Px{}
	for _, s := range r.Stakes {
		if s.Text == "" {
			continue
		}
		told++
		assert.GreaterOrEqual(t, float64(s.X), float64(ends[s.Y]), "%q lies on another", s.Text)
		ends[s.Y] = s.X + svg.Px(6*len(s.Text))
		if _, n, ok := strings.Cut(s.Text, " + "); ok {
			more, err := strconv.Atoi(strings.TrimSuffix(n, " more"))
			require.NoError(t, err)
			counted += more
		}
	}
	assert.Equal(t, len(kinds), told+counted)
	assert.Contains(t, r.Stakes[1].Says, "rotted manure", "the label that counts says which")
}
