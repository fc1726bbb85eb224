package text

import (
	"zephyrfield/agronomy/forecast"
)

// Surprised words of a test that it is not what was expected, and what to do about it.
func Surprised(s *forecast.Surprise) string {
	says := sprintf("%s read, %s expected. ", PH(s.Read.PH), PH(s.Expected))
	if s.More {
		return says + "A second test agreed with neither: test it a third time, on " + DayYear(s.Test) + " or later, before anything is put on."
	}
	return says + "Test it once more, on " + DayYear(s.Test) + " or later, before anything is put on."
}

// Confirmed returns the sentence on what a confirming test said of a surprising one.
func Confirmed(v *forecast.Verdict) string {
	if v.Stood {
		return sprintf("The surprising test of %s (%s, %s expected) was right: this one agrees.", DayYear(v.First.Date), PH(v.First.PH),
			PH(v.Expected))
	}
	return sprintf("The surprising test of %s (%s) was not confirmed and is left out: the bed is as expected.", DayYear(v.First.Date),
		PH(v.First.PH))
}
