package text

import (
	"strings"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
)

// skyWords are the sentences on what the weather has against a day, in a word and in a line.
var skyWords = map[calendar.SkyWhy]struct{ word, says string }{
	calendar.Fair:    {"go", "good"},
	calendar.Windy:   {"wind", "wind of {most wind} or more"},
	calendar.Rainy:   {"rain", "rain over {most rain}"},
	calendar.Frosty:  {"frost", "frozen ground"},
	calendar.Snowy:   {"snow", "snow"},
	calendar.Soaked:  {"wet", "waterlogged ground"},
	calendar.Unknown: {"?", "nobody knows yet"},
}

// SkyWord returns "go", or the weather rule that blocks a day, in a word.
func SkyWord(why calendar.SkyWhy) string { return skyWords[why].word }

// Speed formats in whole metres per second.
func Speed(v quantity.Speed) string { return num(float64(v), 0) + " m/s" }

// Rainfall formats in whole millimetres; less than half of one is none.
func Rainfall(mm quantity.Rainfall) string { return num(float64(mm), 0) + " mm" }

// SkySays formats a day's weather in figures.
func SkySays(x calendar.Sky) string {
	var says []string
	if x.Wind != nil {
		says = append(says, "wind "+Speed(*x.Wind))
	}
	if x.Soil != nil {
		says = append(says, "soil "+Temperature(*x.Soil))
	} else if x.Air != nil {
		says = append(says, "air "+Temperature(*x.Air))
	}
	if x.Low != nil && *x.Low < 0 {
		says = append(says, "down to "+Temperature(*x.Low))
	}
	switch {
	case x.Snow != nil && *x.Snow > 0:
		says = append(says, "snow")
	case x.Rain != nil && *x.Rain < 0.5:
		says = append(says, "dry")
	case x.Rain != nil:
		says = append(says, "rain "+Rainfall(*x.Rain))
	}
	return strings.Join(says, ", ")
}

// SkyAhead summarises the coming days' weather for an application.
func SkyAhead(skies calendar.Skies, from, n quantity.Day, work []calendar.Work) string {
	first := skies.Against(from, work...)
	d := from + 1
	for ; d < from+n && skies.Against(d, work...) == first; d++ {
	}
	what := Capital(skyWords[first].says)
	if first == calendar.Fair {
		what = "Good"
	}
	if d == from+n {
		return what + sprintf(" for all of the %s days.", Spelled(int(n)))
	}
	then := skyWords[skies.Against(d, work...)].says
	if next := skies.NextFair(d-1, work...); first != calendar.Fair {
		if next == 0 {
			return Units{}.say(what + " today; no good day among those that are forecast.")
		}
		return Units{}.say(what + " today; the next good day is " + Weekday(next) + ".")
	}
	return Units{}.say(what + " until " + Weekday(d-1) + "; then " + then + ".")
}
