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

// Work is something that is to be applied: of a family, DugClay where it is dug into ground of clay.
type Work struct {
	Family  material.Family
	DugClay bool
}

// WorkOn is what of a family goes on a bed's ground, as it is worked.
func WorkOn(f material.Family, g *soil.Ground) Work {
	clay := g.Texture.ID == soil.Clay || g.Texture.ID == soil.ClayLoam
	return Work{f, clay && g.Worked == soil.Dug && g.Use != soil.UseLawn}
}

// skyRule is one row of the day rules; also is what it holds for besides its families, nil for nothing.
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
	// Clay that is wet is not dug: lime waits as ash does.
	{Rainy, onlyAsh, func(w Work) bool { return w.DugClay && has(limes, w.Family) }, func(s *Skies, at int) bool {
		x := (*s)[at].Rain
		return x != nil && *x > MostRain
	}},
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

// Against is what the weather of a day has against any of some work.
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

// holds reports whether a rule is one of a kind of work.
func (r *skyRule) holds(w Work) bool { return has(r.families, w.Family) || r.also != nil && r.also(w) }

// NextFair is the first day after one with fair weather for all of some work; no day
// where none is known.
func (s *Skies) NextFair(after quantity.Day, work ...Work) quantity.Day {
	for _, x := range *s {
		if x.Day > after && s.Against(x.Day, work...) == Fair {
			return x.Day
		}
	}
	return 0
}
