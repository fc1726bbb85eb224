package words

import (
	"math"
	"strconv"

	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Kept says whether a promise was kept: as far as two readings can tell.
func Kept(k forecast.Kept) string {
	off := float64(k.Measured - k.Promised)
	read := "read " + PH(k.Measured) + " where " + PH(k.Promised) + " was promised"
	switch {
	case math.Abs(off) <= k.SD:
		return read + ": as promised, as near as readings can tell"
	case off < 0:
		return read + ": " + PH(quantity.PH(-off)) + " short"
	}
	return read + ": " + PH(quantity.PH(off)) + " over"
}

// besides are the schools as a bed is told beside them; any other is its school.
var besides = map[soil.School]string{soil.ByTable: "the texture table", soil.ByOrganicMatter: "organic matter and clay",
	soil.ByMeasured: "its jars", soil.ByLabRate: "the lab’s figure", soil.BySMP: "the lab’s buffer pH",
	soil.ByAdamsEvans: "the lab’s buffer pH", soil.ByMehlich: "the lab’s buffer pH"}

// Taught says what a bed's readings say of how stubborn it is beside a school.
func Taught(l forecast.Learned, school soil.School) string {
	beside := besides[school]
	if l.Tests == 0 {
		return "No test stands after a go yet: it is reckoned as " + beside + " has it."
	}
	s := l.Stubborn
	reach := num(s.P05, 2) + " to " + num(s.P95, 2)
	says := "From " + Count(l.Tests, "test", "tests") + " it is "
	switch {
	case !l.Counts:
		return says + times(s.Median) + " times as stubborn as " + beside + " has it, but anything from " + reach +
			" would fit: that does not count yet."
	case s.P05 > 1:
		return says + times(s.Median) + " times as stubborn as " + beside + " has it (" + reach + "): the same lime moves it less."
	case s.P95 < 1:
		return says + times(s.Median) + " times as stubborn as " + beside + " has it (" + reach + "): the same lime moves it more."
	}
	return says + "about as stubborn as " + beside + " has it (" + times(s.Median) + " times; " + reach + ")."
}

// times says a factor with one place.
func times(x float64) string { return strconv.FormatFloat(x, 'f', 1, 64) }

// Drifts says how a bed drifts from year to year.
func (u Units) Drifts(s forecast.Spread) string {
	rate := func(x float64) string { return u.Rate(quantity.Rate(math.Abs(x))) }
	switch {
	case s.P05 > 0:
		return "By itself it grows sweeter, by " + rate(s.Median) + " of lime’s worth a year."
	case s.P95 < 0:
		return "By itself it grows sourer, by " + rate(s.Median) + " of lime’s worth a year (" + rate(s.P95) + " to " + rate(s.P05) + ")."
	}
	return "By itself it stays about as it is."
}

// pulls name what moves a bed from year to year.
var pulls = map[string]string{forecast.PullRain: "rain", forecast.PullCrop: "crops", forecast.PullWater: "water",
	forecast.PullFeed: "feeds and manure"}

// Pull is what one of them comes to.
func (u Units) Pull(p forecast.Pull) string { return pulls[p.ID] + " " + u.Rate(quantity.Rate(p.Rate)) }
