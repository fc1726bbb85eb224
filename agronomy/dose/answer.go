package dose

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// Direction is which way pH should go.
type Direction string

// Directions.
const (
	Raise   Direction = "raise"
	Lower   Direction = "lower"
	Leave   Direction = "none"
	Refused Direction = "refused"
)

// Answer is what a request comes to.
type Answer struct {
	Direction Direction
	// PH is the reading on the water basis, SD its doubt.
	PH quantity.PH
	SD float64
	// Reading is what it rests on: the one, or what several came to.
	Reading soil.Reading
	// Crop is the crop that was reckoned with; its Band is the band.
	Crop   crop.Crop
	Target quantity.PH
	// Stand is what the act school makes of it, a typed target apart.
	Stand crop.Stand
	// Profile is how it reads by depth.
	Profile soil.Profile
	// Potassium is the answer on potassium, beside the one on pH.
	Potassium Potassium
	Need      Need
	// Options are the ways to meet the need, the best first.
	Options []Option
	// Refused are the materials that may not be used, or do nothing.
	Refused []Refusal
	Guards  []guard.Finding
}

// Potassium is how a bed stands in potassium, and what would bring one that is
// short to 30 ppm over critical.
type Potassium struct {
	soil.PotassiumNow
	// Need is g K₂O/m²; 0 where none is short.
	Need    quantity.Rate
	Working []working.Step
	// Options are the ways to meet it, the best first. Ash among them counts in
	// the answer on pH too.
	Options []Option
	Refused []Refusal
}

// Need is the amount of pure CaCO₃ equivalent: below 0 when lowering. Low and
// High hold two in three of all doubts, High the further from 0. It is told where
// the bed is left alone too.
type Need struct {
	CaCO3, Low, High quantity.Rate
	Working          []working.Step
}

// Part is one material of an option.
type Part struct {
	// Batch is the place of the material in the request's list.
	Batch int
	Kind  material.Kind
	Rate  quantity.Rate
	Total quantity.Mass
}

// Spread is a value with its doubt.
type Spread struct{ Median, P05, P95 quantity.PH }

// Go is one application.
type Go struct {
	N     int
	Date  quantity.Day
	Part  int
	Kind  material.Kind
	Rate  quantity.Rate
	Total quantity.Mass
	// PHAfter is where the soil settles when this go has acted.
	PHAfter quantity.PH
	// TopAfter is that of the top 5 cm where the material is left on top; 0
	// where it is dug in.
	TopAfter quantity.PH
	// RetestFirst is set when a reading must stand before this go.
	RetestFirst bool
	// strength is g CaCO₃ equivalent per g, of this go's material.
	strength float64
}

// Option is one way to meet the need within the next 365 days.
type Option struct {
	Parts []Part
	// CaCO3 is what it brings, Unmet what it leaves; both signed as the need.
	// UnmetK2O is what an answer on potassium leaves.
	CaCO3, Unmet, UnmetK2O quantity.Rate
	// Limit is the id of what kept it from meeting the need; "" if nothing.
	Limit string
	// K2O, Calcium, Magnesium and N are what it brings besides.
	K2O, Calcium, Magnesium, N quantity.Rate
	KAfter                     *quantity.Concentration
	// Cost is in the gardener's money; nil when a price is not known.
	Cost *float64
	// Acts is how many weeks the slowest part takes to do nine tenths of its
	// work at its reference temperature, dug in.
	Acts   float64
	Goes   []Go
	Retest quantity.Day
	// SowFrom is the first day to sow or plant after the last go of ash; no day
	// where nothing is sown.
	SowFrom quantity.Day
	// PH is where it settles once all has acted. AtRetest is what the retest should
	// read, with what will have acted by its day: Reacted of what was put on by then,
	// 0 to 1.
	PH, AtRetest Spread
	Reacted      float64
	// Over is the chance of ending 0.2 or more past the band before a test stands
	// between.
	Over float64
	// Half is set where half goes on first, and a test stands before the rest.
	Half   bool
	Guards []guard.Finding

	// from and parts are what Working tells of, potassium is set where it is what
	// the option is for.
	from      *sum
	parts     []part
	potassium bool
}

// Refusal is a material with what stands against it.
type Refusal struct {
	Batch  int
	Kind   material.Kind
	Guards []guard.Finding
}
