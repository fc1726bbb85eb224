package calendar

import (
	"slices"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Sky is the weather of a day, measured or forecast; nil fields are unknown.
type Sky struct {
	Day quantity.Day
	// Soil is at 10 cm; Air is the day's mean, Low its lowest.
	Soil, Air, Low *quantity.Temperature
	Wind           *quantity.Speed
	Rain           *quantity.Rainfall
	// Snow is its depth.
	Snow *quantity.Depth
}

// SkyWhy is the id of the weather rule that blocks a day; "" is none.
type SkyWhy string

// The weather rules.
const (
	Fair    SkyWhy = ""
	Windy   SkyWhy = "wind"
	Rainy   SkyWhy = "rain"
	Frosty  SkyWhy = "frost"
	Snowy   SkyWhy = "snow"
	Soaked  SkyWhy = "wet"
	Unknown SkyWhy = "unknown"
)

// Thresholds. Wind and rain are the guide's; a hard night and three days of soaking rain stand for
// frozen or waterlogged ground where nobody looked.
const (
	// Dust blows from MostWind on; ash stays dry up to MostRain in a day.
	MostWind quantity.Speed    = 4
	MostRain quantity.Rainfall = 8
	// HardNight is the air temperature that freezes the top of the ground.
	HardNight quantity.Temperature = -3
	// SoakingRain within SoakingDays, the day itself included, waterlogs the ground.
	SoakingRain quantity.Rainfall = 35
	SoakingDays quantity.Day      = 3
)

// Work is an application of a family; DugClay is set when it is dug into clay.
type Work struct {
	Family  material.Family
	DugClay bool
}

// WorkOn returns the Work of a family on a bed's ground.
func WorkOn(f material.Family, g *soil.Ground) Work {
	clay := g.Texture.ID == soil.Clay || g.Texture.ID == soil.ClayLoam
	return Work{f, clay && g.Worked == soil.Dug && g.Use != soil.UseLawn}
}

// skyRule is one row of the weather rules; also names further cases besides its families, nil for
// none.
type skyRule struct {
	why      SkyWhy
	families []material.Family
	also     func(Work) bool
	against  func(s *Skies, at int) bool
}

var dusty = []material.Family{material.Lime, material.HydratedLime, material.Ash, material.Sulfur, material.Iron, material.Aluminium}

var skyRules = []skyRule{
	{Snowy, allDosed, nil, func(s *Skies, at int) bool { x := (*s)[at].Snow; return x != nil && *x > 0 }},
	{Frosty, allDosed, nil, func(s *Skies, at int) bool {
		x := &(*s)[at]
		return x.Soil != nil && soil.Frozen(*x.Soil) || x.Low != nil && *x.Low <= HardNight
	}},
	{Soaked, allDosed, nil, func(s *Skies, at int) bool { return s.rain(at) > SoakingRain }},
	{Windy, dusty, nil, func(s *Skies, at int) bool { x := (*s)[at].Wind; return x != nil && *x >= MostWind }},
	// Wet clay is not dug, so lime waits as ash does.
	{Rainy, onlyAsh, func(w Work) bool { return w.DugClay && has(limes, w.Family) }, func(s *Skies, at int) bool {
		x := (*s)[at].Rain
		return x != nil && *x > MostRain
	}},
}

// Skies are days in order.
type Skies []Sky

// rain returns the sum of the soaking days up to an index.
func (s *Skies) rain(at int) (sum quantity.Rainfall) {
	for i := at; i >= 0 && (*s)[at].Day-(*s)[i].Day < SoakingDays; i-- {
		if x := (*s)[i].Rain; x != nil {
			sum += *x
		}
	}
	return sum
}

// find returns a day's index, or -1.
func (s *Skies) find(d quantity.Day) int {
	return slices.IndexFunc(*s, func(x Sky) bool { return x.Day == d })
}

// On returns the weather of a day; ok is false when it is unknown.
func (s *Skies) On(d quantity.Day) (x Sky, ok bool) {
	at := s.find(d)
	if at < 0 {
		return x, false
	}
	return (*s)[at], true
}

// Against returns the first rule that blocks any of some work on a day.
func (s *Skies) Against(d quantity.Day, work ...Work) SkyWhy {
	at := s.find(d)
	if at < 0 {
		return Unknown
	}
	for _, r := range skyRules {
		if slices.ContainsFunc(work, r.holds) && r.against(s, at) {
			return r.why
		}
	}
	return Fair
}

// holds reports whether a rule applies to a kind of work.
func (r *skyRule) holds(w Work) bool { return has(r.families, w.Family) || r.also != nil && r.also(w) }

// NextFair returns the first day after a day with fair weather for all of some work; 0 if none is
// known.
func (s *Skies) NextFair(after quantity.Day, work ...Work) quantity.Day {
	for _, x := range *s {
		if x.Day > after && s.Against(x.Day, work...) == Fair {
			return x.Day
		}
	}
	return 0
}
