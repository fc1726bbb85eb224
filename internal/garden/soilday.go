package garden

import (
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// SoilDay is a measured soil temperature at 10 cm.
type SoilDay struct {
	Meta
	Day  quantity.Day         `db:"day" json:"day"`
	Soil quantity.Temperature `db:"soil_c" json:"soil_c"`
	// Source is its source; "" is the gardener.
	Source string `db:"source" json:"source"`
}

// LimitSoilTemperature bounds it.
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

// CheckSoilDay validates a soil temperature, by field.
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

// Warmth returns the place's soil temperatures: usual, with measured days.
func (g Garden) Warmth() soil.Climate { return g.ClimateNormals().With(g.Measured) }
