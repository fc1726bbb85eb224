package text

import (
	"math"
	"strings"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/quantity"
)

// skyWords are the sentences on what the weather has against a day, in a word and in a line.
var skyWords = map[calendar.SkyWhy]struct{ word, says string }{
	calendar.Fair:    {"good", "good"},
	calendar.Windy:   {"wind", "wind of {most wind} or more"},
	calendar.Rainy:   {"rain", "rain over {most rain}"},
	calendar.Frosty:  {"frost", "frozen ground"},
	calendar.Snowy:   {"snow", "snow"},
	calendar.Soaked:  {"wet", "waterlogged ground"},
	calendar.Unknown: {"?", "no forecast yet"},
}

// SkyWord returns "good", or the weather rule that blocks a day, in a word.
func SkyWord(why calendar.SkyWhy) string { return skyWords[why].word }

// Speed formats in whole metres per second.
func Speed(v quantity.Speed) string { return num(float64(v), 0) + " m/s" }

// Rainfall formats in whole millimetres; less than half of one is none.
func Rainfall(mm quantity.Rainfall) string { return num(float64(mm), 0) + " mm" }

// besideEdge formats a figure of the weather in whole numbers, or in tenths where rounding would carry
// it to the other side of a rule's threshold: a day that is fair at 3.6 m/s does not read as the 4
// that stops another. blocked reports whether the rule holds for a figure.
func besideEdge(x float64, blocked func(float64) bool, whole func(float64) string) string {
	if blocked(x) == blocked(math.Round(x)) {
		return whole(x)
	}
	tenth := math.Floor(x*10) / 10
	if blocked(tenth) != blocked(x) {
		tenth = math.Ceil(x*10) / 10
	}
	return strings.Replace(whole(math.Round(tenth)), num(math.Round(tenth), 0), num(tenth, 1), 1)
}

// SkySays formats a day's weather in figures.
func SkySays(x calendar.Sky) string {
	var says []string
	if x.Wind != nil {
		says = append(says, "wind "+besideEdge(float64(*x.Wind), func(v float64) bool { return v >= float64(calendar.MostWind) },
			func(v float64) string { return Speed(quantity.Speed(v)) }))
	}
	if x.Soil != nil {
		says = append(says, "soil "+Temperature(*x.Soil))
	} else if x.Air != nil {
		says = append(says, "air "+Temperature(*x.Air))
	}
	if x.Low != nil && *x.Low < 0 {
		says = append(says, "down to "+besideEdge(float64(*x.Low), func(v float64) bool { return v <= float64(calendar.HardNight) },
			func(v float64) string { return Temperature(quantity.Temperature(v)) }))
	}
	switch {
	case x.Snow != nil && *x.Snow > 0:
		says = append(says, "snow")
	case x.Rain != nil && *x.Rain < 0.5:
		says = append(says, "dry")
	case x.Rain != nil:
		says = append(says, "rain "+besideEdge(float64(*x.Rain), func(v float64) bool { return v > float64(calendar.MostRain) },
			func(v float64) string { return Rainfall(quantity.Rainfall(v)) }))
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
			return Units{}.say(what + " today; no good day in the forecast.")
		}
		return Units{}.say(what + " today; the next good day is " + Weekday(next) + ".")
	}
	return Units{}.say(what + " until " + Weekday(d-1) + "; then " + then + ".")
}
