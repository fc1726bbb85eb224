package dose

import (
	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/forecast"
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

// Answer is what a request comes to: plain values, from which its working is reported.
type Answer struct {
	Direction Direction
	// State is how the bed stands.
	bed.Judgement
	Target quantity.PH
	// Stand is what the trigger makes of it, a typed target apart.
	Stand crop.Stand
	// Buffering is the method as it was applied; zero where none was. Course is the
	// bed from its reading on with what was applied, OnWay what that has yet to bring.
	Buffering soil.Buffering
	Course    forecast.Course
	// asked is the request that it answers.
	asked *Request
	// StartSD is the uncertainty of where the course starts.
	StartSD float64
	OnWay   quantity.Rate
	// Potassium is the answer on potassium, beside the one on pH.
	Potassium Potassium
	// Magnesium is the answer on magnesium, where it is low and no lime is wanted.
	Magnesium Magnesium
	Need      Need
	// Options are the ways to meet the need, the best first; First says why it is.
	Options []Option
	First   Reason
	// Refused are the materials that may not be used, or do nothing.
	Refused []Refusal
	Guards  []guard.Finding
}

// Potassium is what would bring a bed that is short of potassium to 30 ppm over
// critical.
type Potassium struct {
	// Need is g K₂O/m²; 0 where none is short.
	Need    quantity.Rate
	Working []working.Step
	// Options are the ways to meet it, the best first. Ash among them counts in
	// the answer on pH too.
	Options []Option
	Refused []Refusal
}

// Need is the amount of pure CaCO₃ equivalent: below 0 when lowering. Low and
// High hold two in three of all doubts, High the further from 0. It is reported where
// the bed is left alone too.
type Need struct {
	CaCO3, Low, High quantity.Rate
	Working          []working.Step
}

// Part is one material of an option, and how its amount came about.
type Part struct {
	// Batch is the place of the material in the request's list, Of the material.
	Batch int
	Kind  material.Kind
	Of    *material.Batch
	Rate  quantity.Rate
	Total quantity.Mass
	// Applications is how many it is put on in.
	Applications int
	Worth        material.Worth
	Caps         material.Caps
	// Wanted is the CaCO₃ that was asked of it, or the K₂O where it is for
	// potassium; Asked the material that meets that, Allowed what the limits leave of
	// it, GoCap the most at one time.
	Wanted, Asked, Allowed, GoCap quantity.Rate
	Limits                        []Limit
	// Limit is what kept it from meeting what was wanted; "" if nothing.
	Limit string
	// From is the first day that was looked at. LeftOut is set when applications found no
	// day; Half when the first application is half, and a test stands before the rest; Moved
	// is the rule that keeps it off on the day of the dose.
	From          quantity.Day
	LeftOut, Half bool
	// First is the most that may be applied before a test, where a test stands before the rest: what was applied since the reading is
	// part of it. Share is what it is of the whole need.
	First quantity.Rate
	Share float64
	// Rest waits for the test: it has no day. RestTotal is that over the bed.
	Rest      quantity.Rate
	RestTotal quantity.Mass
	Moved     calendar.Why
}

// caco3 is what the part brings, signed.
func (p *Part) caco3() quantity.Rate { return quantity.Rate(float64(p.Rate) * p.Worth.EffectiveCCE) }

// restCaCO3 is what of it waits for a test, signed.
func (p *Part) restCaCO3() quantity.Rate {
	return quantity.Rate(float64(p.Rest) * p.Worth.EffectiveCCE)
}

// k2o is the potash that it brings.
func (p *Part) k2o() quantity.Rate { return quantity.Rate(float64(p.Rate) * p.Worth.K2O) }

// Limit is a ceiling on the amount of a material, with the id of its reason and
// what it was computed from.
type Limit struct {
	ID   string
	Rate quantity.Rate
	// Given is the K₂O that the year has had, K the potassium that the bed holds by
	// now.
	Given quantity.Rate
	K     quantity.Concentration
}

// Spread is a value with its doubt.
type Spread struct{ Median, P05, P95 quantity.PH }

// Application is one application.
type Application struct {
	N     int
	Date  quantity.Day
	Part  int
	Kind  material.Kind
	Rate  quantity.Rate
	Total quantity.Mass
	// PHAfter is where the soil settles when this application has acted.
	PHAfter quantity.PH
	// TopAfter is that of the top 5 cm where the material is left on top; 0
	// where it is dug in.
	TopAfter quantity.PH
	// RetestFirst is set when a reading must stand before this application.
	RetestFirst bool
	// CaCO3 is what it brings, signed.
	CaCO3 quantity.Rate
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
	Acts         float64
	Applications []Application
	Retest       quantity.Day
	// SowFrom is the first day to sow or plant after the last application of ash; no day
	// where nothing is sown.
	SowFrom quantity.Day
	// PH is where it settles once all has acted. AtRetest is what the retest should
	// read, with what will have acted by its day: Reacted of what was applied by then,
	// 0 to 1.
	PH, AtRetest Spread
	Reacted      float64
	// Over is the chance of ending 0.2 or more past the band before a test stands
	// between.
	Over float64
	// Half is set where half goes on first, and a test stands before the rest.
	Half bool
	// short is what the applications lack of what was to go on before a test.
	short  quantity.Rate
	Guards []guard.Finding
	// ForPotassium is set where potassium is what it is for.
	ForPotassium bool
}

// Refusal is a material with what stands against it.
type Refusal struct {
	Batch  int
	Kind   material.Kind
	Guards []guard.Finding
}

// Waits reports whether part of an option waits for its test.
func (o *Option) Waits() bool {
	for i := range o.Parts {
		if o.Parts[i].Rest > 0 {
			return true
		}
	}
	return false
}
