package calendar

import (
	"slices"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
)

// Sky is the weather of a day, measured or forecast; nil is not known.
type Sky struct {
	Day quantity.Day
	// Soil is at 10 cm; Air is the day's mean, Low its lowest.
	Soil, Air, Low *quantity.Temperature
	Wind           *quantity.Speed
	Rain           *quantity.Rainfall
	// Snow is how deep it lies.
	Snow *quantity.Depth
}

// SkyWhy is the id of what the weather has against a day; "" is nothing.
type SkyWhy string

// What the weather has against a day.
const (
	Fair    SkyWhy = ""
	Windy   SkyWhy = "wind"
	Rainy   SkyWhy = "rain"
	Frosty  SkyWhy = "frost"
	Snowy   SkyWhy = "snow"
	Soaked  SkyWhy = "wet"
	Unknown SkyWhy = "unknown"
)

// The day rules. Wind and rain are the guide's; a hard night and three soaking days stand
// for ground that is frozen or waterlogged where nobody looked.
const (
	// MostWind is the wind from which dust blows, MostRain what ash may get in a day.
	MostWind quantity.Speed    = 4
	MostRain quantity.Rainfall = 8
	// HardNight freezes the top of the ground.
	HardNight quantity.Temperature = -3
	// SoakingRain in SoakingDays, the day's own among them, leaves the ground waterlogged.
	SoakingRain quantity.Rainfall = 35
	SoakingDays quantity.Day      = 3
)

// skyRule is one row of the day rules.
type skyRule struct {
	why      SkyWhy
	families []material.Family
	against  func(s *Skies, at int) bool
}

var dusty = []material.Family{material.Lime, material.HydratedLime, material.Ash, material.Sulfur, material.Iron, material.Aluminium}

var skyRules = []skyRule{
	{Snowy, allDosed, func(s *Skies, at int) bool { x := (*s)[at].Snow; return x != nil && *x > 0 }},
	{Frosty, allDosed, func(s *Skies, at int) bool {
		x := &(*s)[at]
		return x.Soil != nil && soil.Frozen(*x.Soil) || x.Low != nil && *x.Low <= HardNight
	}},
	{Soaked, allDosed, func(s *Skies, at int) bool { return s.rain(at) > SoakingRain }},
	{Windy, dusty, func(s *Skies, at int) bool { x := (*s)[at].Wind; return x != nil && *x >= MostWind }},
	{Rainy, onlyAsh, func(s *Skies, at int) bool { x := (*s)[at].Rain; return x != nil && *x > MostRain }},
}

// Skies are days in their order.
type Skies []Sky

// rain is what fell in the soaking days up to one.
func (s *Skies) rain(at int) (sum quantity.Rainfall) {
	for i := at; i >= 0 && (*s)[at].Day-(*s)[i].Day < SoakingDays; i-- {
		if x := (*s)[i].Rain; x != nil {
			sum += *x
		}
	}
	return sum
}

// find is where a day stands; -1 where it is not there.
func (s *Skies) find(d quantity.Day) int {
	return slices.IndexFunc(*s, func(x Sky) bool { return x.Day == d })
}

// On is the weather of a day; ok is false where it is not known.
func (s *Skies) On(d quantity.Day) (x Sky, ok bool) {
	at := s.find(d)
	if at < 0 {
		return x, false
	}
	return (*s)[at], true
}

// Against is what the weather of a day has against putting any of some families on.
func (s *Skies) Against(d quantity.Day, families ...material.Family) SkyWhy {
	at := s.find(d)
	if at < 0 {
		return Unknown
	}
	for _, r := range skyRules {
		if slices.ContainsFunc(families, func(f material.Family) bool { return has(r.families, f) }) && r.against(s, at) {
			return r.why
		}
	}
	return Fair
}

// NextFair is the first day after one with fair weather for all of some families; no day
// where none is known.
func (s *Skies) NextFair(after quantity.Day, families ...material.Family) quantity.Day {
	for _, x := range *s {
		if x.Day > after && s.Against(x.Day, families...) == Fair {
			return x.Day
		}
	}
	return 0
}
