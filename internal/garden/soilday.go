package garden

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// SoilDay is the soil's temperature at 10 cm as it was measured on a day.
type SoilDay struct {
	Meta
	Day  quantity.Day         `db:"day" json:"day"`
	Soil quantity.Temperature `db:"soil_c" json:"soil_c"`
	// Source is who told it; "" is the gardener.
	Source string `db:"source" json:"source"`
}

// LimitSoilTemperature is what soil at 10 cm may be.
var LimitSoilTemperature = Limit{-40, 60, false, "°C"}

var soilDayTable = Table{Name: "soil_days", Order: "day", One: "soil temperature", New: func() Record { return &SoilDay{} },
	Most: 100_000, Alone: []Alone{{"day", "day", "that day is there already", "put that one right"}}}

func (s *SoilDay) check(f Faults) {
	wanted(f, "day", s.Day)
	LimitSoilTemperature.hold(f, "soil_c", float64(s.Soil))
	if why := TextFault(s.Source, LongestName, false); why != "" {
		f["source"] = why
	}
}

// CheckSoilDay returns what is wrong with a soil temperature, by field.
func CheckSoilDay(s SoilDay, today quantity.Day) Faults {
	f := Faults{}
	s.check(f)
	switch {
	case f["day"] != "":
	case s.Day > today:
		f["day"] = "that day is still to come"
	case DayFault(s.Day) != "":
		f["day"] = DayFault(s.Day)
	}
	return f
}

// Warmth returns the place's soil temperatures: the usual ones, with what was measured.
func (g Garden) Warmth() soil.Climate { return g.ClimateNormals().With(g.Measured) }
