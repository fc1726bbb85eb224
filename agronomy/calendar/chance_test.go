package calendar_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Sulfur wants eight warm weeks ahead: its window closes in August. A fortnight before, the last chance is reported; a day earlier it is
// not.
func TestLastChance(t *testing.T) {
	maritime, _ := soil.FindClimate("maritime", soil.North)
	caps, _ := material.CapsFor(material.Sulfur, soil.Ground{Worked: soil.Dug})
	s := calendar.Conditions{Weather: &maritime, Dug: true}
	end := quantity.Date(2027, 7, 1)
	for s.Rules(material.Sulfur, 50, caps, end+1) == calendar.Free {
		end++
	}
	require.Less(t, end, quantity.Date(2027, 9, 15))
	chance := func(d quantity.Day) quantity.Day { return s.LastChance(material.Sulfur, 50, caps, d) }
	assert.Equal(t, end, chance(end))
	assert.Equal(t, end, chance(end-14))
	assert.Zero(t, chance(end-15), "a day earlier")
	assert.Zero(t, chance(end+1), "it is shut")
	// An application planned in the window and now dated next spring missed it; one that is only
	// late did not.
	due := end - 3
	item := calendar.Item{ID: 1, Due: due, Rate: 50, Caps: caps}
	sulfur, _ := material.Find(material.SulfurPowder)
	item.Material = &sulfur
	after := s.Schedule([]calendar.Item{item}, end+1)[0]
	assert.Greater(t, after.Day, end+100)
	assert.True(t, after.Missed(due, end+1))
	before := s.Schedule([]calendar.Item{item}, end)[0]
	assert.False(t, before.Missed(due, end), "it may go on today")
}

// Being moved by intervals to other work is not a missed window, however far.
func TestIntervalsAreNotMissedWindows(t *testing.T) {
	today := quantity.Date(2027, 1, 26)
	for why, missed := range map[calendar.Why]bool{calendar.TooSoon: false, calendar.NearNitrogen: false, calendar.StepOrder: false,
		calendar.InGrowth: true, calendar.Occupied: true, calendar.ColdSoil: true} {
		p := calendar.Placed{Day: today + 56, Why: why}
		assert.Equal(t, missed, p.Missed(today-7, today), why)
	}
}
