package bedprep_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bedprep"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/soil"
)

func grows(id, from, to string) bedprep.Stand {
	c, ok := crop.Find(id)
	if !ok {
		panic(id)
	}
	return bedprep.Stand{Crop: c, From: at(from), To: at(to)}
}

// Potatoes in 2027, kale in 2028: no lime from the summer before the potatoes until they are off, then
// until twelve weeks before the kale.
func TestLimeHintsForBrassicasAndPotatoes(t *testing.T) {
	today := at("2026-11-24")
	hints := bedprep.Hints([]bedprep.Stand{grows("kale", "2028-05-20", ""), grows("potato", "2027-04-10", "2027-09-15")}, 5.9, today)
	require.Len(t, hints, 2)
	assert.Equal(t, bedprep.Hint{ID: bedprep.SourYear, Crop: hints[0].Crop, From: today, To: at("2027-09-15")}, hints[0])
	assert.Equal(t, bedprep.Hint{ID: bedprep.LimeFirst, Crop: hints[1].Crop, From: at("2027-09-15"), To: at("2028-05-20") - 84}, hints[1])
	// Kale right after potatoes leaves lime no time; a bed that is sweet enough asks for none.
	hints = bedprep.Hints([]bedprep.Stand{grows("potato", "2027-04-10", "2027-07-01"), grows("kale", "2027-07-10", "")}, 5.9, today)
	assert.Equal(t, bedprep.LimeTight, hints[1].ID)
	assert.Empty(t, bedprep.Hints([]bedprep.Stand{grows("kale", "2028-05-20", "")}, 6.6, today))
	assert.Len(t, bedprep.Hints([]bedprep.Stand{grows("kale", "2028-05-20", "")}, 0, today), 1, "an untested bed may ask for it")
	// Cleared on paper when the next was sown: they are lifted by the autumn all the same.
	hints = bedprep.Hints([]bedprep.Stand{grows("potato", "2027-04-10", "2028-05-20")}, 5.9, today)
	assert.Equal(t, at("2027-04-10")+182, hints[0].To)
	assert.Empty(t, bedprep.Hints([]bedprep.Stand{grows("potato", "2025-04-10", "2025-09-15")}, 5.9, today), "what is off asks for nothing")
}

// The calendar holds to it: a day before the potatoes' year lime may be applied, and again when they are off.
func TestPotatoYearBlocksLimeAndAsh(t *testing.T) {
	climate, _ := soil.FindClimate("maritime", soil.North)
	sown := at("2027-04-10")
	s := calendar.Conditions{Weather: &climate, SowingGap: 28, Starts: []calendar.Start{{Day: sown, Scab: true}}}
	lime := func(d string) calendar.Why { return s.Blocked(material.Lime, at(d)) }
	assert.Equal(t, calendar.Free, s.Blocked(material.Lime, sown-273))
	assert.Equal(t, calendar.PotatoYear, s.Blocked(material.Lime, sown-272))
	assert.Equal(t, calendar.PotatoYear, lime("2027-03-01"))
	assert.Equal(t, calendar.PotatoYear, s.Blocked(material.Ash, at("2027-01-15")))
	assert.Equal(t, calendar.Free, s.Blocked(material.Potash, at("2027-03-01")), "feeds may")
	assert.Equal(t, calendar.PotatoYear, s.Blocked(material.Lime, sown+181))
	s.Cleared = at("2027-09-15")
	assert.Equal(t, calendar.Free, lime("2027-09-15"), "off the ground is off")
	s.Starts[0].Scab = false
	s.Cleared = 0
	assert.Equal(t, calendar.Free, lime("2027-01-15"), "another crop has no such year")
}
