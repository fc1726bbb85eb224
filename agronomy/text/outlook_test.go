package text_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
)

// A headline tells what happened last: which way it moved, and how that stands to what was promised.
func TestCheckHeadlines(t *testing.T) {
	kept := func(from, promised, measured quantity.PH, why forecast.Why) forecast.Check {
		return forecast.Check{From: from, Promised: promised, Measured: measured, SD: 0.2, Why: why}
	}
	for says, k := range map[string]forecast.Check{
		"raised from 5.6 to 6.1, 0.4 short of what was expected": kept(5.6, 6.5, 6.1, forecast.OtherBuffering),
		"raised from 5.6 to 6.4, as expected":                    kept(5.6, 6.5, 6.4, forecast.AsPromised),
		"raised from 5.6 to 7.0, 0.5 over what was expected":     kept(5.6, 6.5, 7, forecast.OtherBuffering),
		"lowered from 5.9 to 5.5, as expected":                   kept(5.9, 5.4, 5.5, forecast.AsPromised),
		"was 5.6, and is 5.6, with more to come":                 kept(5.6, 5.7, 5.62, forecast.TooSoon),
		"was 6.0, and is 6.0, 0.5 short of what was expected":    kept(6, 6.5, 6, forecast.Strength),
	} {
		assert.Equal(t, says, text.Happened(k))
	}
}

// The reason of a miss goes the right way: raised by too little is hard to shift, raised by too much the reverse, and lowered by too
// little is hard to shift again.
func TestMissReasonHasRightDirection(t *testing.T) {
	kept := func(from, promised, measured quantity.PH, why forecast.Why) string {
		return text.Check(forecast.Check{From: from, Promised: promised, Measured: measured, SD: 0.2, Why: why}, soil.ByTable)
	}
	assert.Contains(t, kept(5.6, 6.5, 6, forecast.OtherBuffering),
		"0.5 short. Most likely the bed needs more lime than the texture table says")
	assert.Contains(t, kept(5.6, 6.5, 7, forecast.OtherBuffering), "0.5 over. Most likely the bed needs less lime")
	assert.Contains(t, kept(6.5, 5.5, 6, forecast.OtherBuffering), "0.5 over. Most likely the bed needs more lime")
	assert.Contains(t, kept(5.6, 6.5, 6, forecast.Strength), "weaker than expected: test its batch")
	assert.Contains(t, kept(5.6, 6.5, 6, forecast.Drifted), "sour by itself faster")
	assert.Contains(t, kept(5.6, 6.5, 7, forecast.Drifted), "turns sweet by itself")
	assert.Contains(t, kept(5.6, 6.5, 6, forecast.ByChance), "test again before acting on it")
	assert.Contains(t, kept(5.6, 5.7, 6.1, forecast.TooEarly), "0.4 over. It was tested too soon to tell")
	assert.Contains(t, kept(5.6, 5.7, 6.1, forecast.TooEarly), "crumbs of it in the sample")
	assert.Contains(t, kept(5.6, 6, 5.6, forecast.TooEarly), "may act later than expected")
	soon := text.Check(forecast.Check{From: 5.6, Promised: 5.8, Measured: 5.7, Settles: 6.5, Reacted: 0.3, SD: 0.2, Why: forecast.TooSoon},
		soil.ByTable)
	assert.Contains(t, soon, "70 % has yet to act")
	assert.Contains(t, soon, "settle at 6.5")
}

// The effect of learning on a dose is always mentioned: more, less, equal, unused, or not for
// lowering.
func TestShownDose(t *testing.T) {
	l := soil.Learned{Beside: soil.ByTable, Factor: 1.4, Tests: 3}
	u := text.Units{}
	assert.Contains(t, u.ShownDose(l, 450, 321.5, true),
		"Learned from 3 tests, it needs 450 g/m² of lime, as pure lime: 40 % more than the texture table says")
	assert.Contains(t, u.ShownDose(l, 161, 321.5, true), "50 % less")
	one := l
	one.Tests = 1
	assert.Contains(t, u.ShownDose(one, 161, 321.5, true), "Learned from 1 test, it needs")
	assert.Contains(t, text.BasedOn(one), "are learned from 1 test: ")
	assert.Contains(t, u.ShownDose(l, 325, 321.5, true), "about as much")
	assert.Contains(t, u.ShownDose(l, 450, 321.5, false), "left out here: 450 g/m² instead of 322 g/m²")
	assert.Contains(t, u.ShownDose(l, -100, -100, true), "for lowering it, the texture table is used")
}

// Where a bed goes against its range, with what is planned and without.
func TestSeasonAside(t *testing.T) {
	may, july := quantity.Date(2028, 5, 1), quantity.Date(2027, 7, 1)
	span := crop.Range{Low: 6, High: 7}
	for says, c := range map[string]text.Course{
		"Left alone, it stays in its range until May 2028":          {Reads: 6.5, Level: 6.4, Leaves: may},
		"Left alone, it stays in its range for five years and more": {Reads: 6, Level: 7},
		"It reads 7.1, above its range; by all its other readings it is at 6.34, in its range. Left alone, it stays in its range for " +
			"five years and more": {Reads: 7.1, Level: 6.34, Apart: true},
		// What it reads and what its line says are both told where they differ.
		"It reads 7.1, above its range; by all its readings it is at 6.34, in its range. Left alone, it stays in its " +
			"range until May 2028": {
			Reads: 7.1, Level: 6.34, Leaves: may},
		"It reads 6.1, in its range; by all its readings it is at 5.95, below its range. With 1 application planned, it comes into its " +
			"range in July 2027 and stays": {Reads: 6.1, Level: 5.95, Comes: july, Planned: 1},
		"With 2 applications planned, it comes into its range in July 2027 and leaves it in May 2028": {
			Comes: july, Leaves: may, Planned: 2},
		"With 1 application planned, it comes into its range in July 2027 and stays": {Comes: july, Planned: 1},
		"Left alone, it does not come into its range within five years":              {},
	} {
		c.Range = span
		assert.Equal(t, says+".", text.SeasonAside(c))
	}
	assert.Equal(t, "Kale turns more sour by 0.08 a year", text.SeasonTitle("Kale", -0.08))
	assert.Equal(t, "Tunnel turns sweeter by 0.10 a year", text.SeasonTitle("Tunnel", 0.1))
	assert.Equal(t, "Lawn stays where it is", text.SeasonTitle("Lawn", -0.019))
	assert.Contains(t, text.DoseHolds("A dose", text.Course{Range: span, Comes: july, Leaves: may}),
		"into its range in July 2027, and keep it there until May 2028")
	assert.Contains(t, text.DoseHolds("A dose", text.Course{Range: span}), "would not bring it into its range")
}

// Unexplained potassium is mentioned.
func TestUnexplainedPotassium(t *testing.T) {
	u := text.Units{}
	told := u.PotashMoved(text.Potash{From: 124, To: 82, Brought: 10, Carried: 11, Named: -6})
	assert.Contains(t, told, "fell from 124 to 82 ppm")
	assert.Contains(t, told, "explains 6 of it: the rest is unexplained")
	assert.NotContains(t, u.PotashMoved(text.Potash{From: 124, To: 115, Carried: 5, Named: -9}), "no record")
	scale := soil.PotassiumScale{Critical: 105, EnoughTo: 165, Ceiling: 210}
	assert.Equal(t, "Potassium down from 121 to 101 ppm, short", text.PotassiumTitle(121, 101, 98, scale))
	assert.Equal(t, "Potassium steady near 126 ppm", text.PotassiumTitle(121, 126, 119, scale))
	assert.Equal(t, "Potassium fell to 101 ppm; about 115 now, enough", text.PotassiumBrief(121, 101, 115, scale))
	assert.Equal(t, "Potassium steady near 112 ppm; about 98 now, short", text.PotassiumTitle(111, 112, 98, scale))
}

// What beds say together is reported once it stands apart from nothing.
func TestGardenShown(t *testing.T) {
	bias := map[soil.Method]forecast.Normal{soil.Kit: {Mean: 0.3, SD: 0.1}, soil.Lab: {Mean: 0.02, SD: 0.04},
		soil.Probe: {Mean: -0.4, SD: 0.1}}
	told := text.GardenShown(bias, []text.BatchShown{{"oven ash", forecast.Normal{Mean: -0.3, SD: 0.12}, 4},
		{"bag", forecast.Normal{Mean: 0.01, SD: 0.05}, 3}})
	if assert.Len(t, told, 3) {
		assert.Contains(t, told[0], "by kit come out 0.30 high here")
		assert.Contains(t, told[1], "by probe come out 0.40 low here")
		assert.Contains(t, told[2], "Oven ash has proved 0.74 times as strong as expected, from 4 beds")
	}
}
