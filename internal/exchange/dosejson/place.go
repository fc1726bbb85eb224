package dosejson

import (
	"fmt"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// measured returns a climate with measured days.
func measured(c soil.Climate, days []SoilDay) (soil.Climate, error) {
	var out []soil.Warm10
	seen := map[quantity.Day]bool{}
	for i, x := range days {
		field := fmt.Sprintf("place.soil_measured[%d]", i)
		d, err := day(field+".date", x.Date, true)
		switch {
		case err != nil:
			return c, err
		case !(x.SoilC >= -40 && x.SoilC <= 60):
			return c, bad(field+".soil_c", "a temperature from -40 to 60 is needed")
		case seen[d]:
			return c, bad(field+".date", "that day is there already")
		}
		seen[d] = true
		out = append(out, soil.Warm10{Day: d, Soil: quantity.Temperature(x.SoilC)})
	}
	if n := len(out); n > 0 && span(out) > mostMeasuredSpan {
		return c, bad("place.soil_measured", "they span more than %d days", mostMeasuredSpan)
	}
	return c.With(out), nil
}

// mostMeasuredSpan is the longest span of measured days.
const mostMeasuredSpan = 36_600

func span(days []soil.Warm10) quantity.Day {
	first, last := days[0].Day, days[0].Day
	for _, x := range days {
		first, last = min(first, x.Day), max(last, x.Day)
	}
	return last - first
}
