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

// Direction is the direction in which pH should change.
type Direction string

// Directions.
const (
	Raise   Direction = "raise"
	Lower   Direction = "lower"
	Leave   Direction = "none"
	Refused Direction = "refused"
)

// Answer is the result of a request: plain values, from which its working is derived.
type Answer struct {
	Direction Direction
	// State is the verdict on the bed.
	bed.Judgement
	Target quantity.PH
	// Stand is the trigger's verdict, ignoring a typed target.
	Stand crop.Stand
	// Buffering is the lime method as applied; zero if none was. Course is the bed's course from
	// its reading on with earlier applications, OnWay what those have yet to bring.
	Buffering soil.Buffering
	Course    forecast.Course
	// asked is the request.
	asked *Request
	// StartSD is the standard deviation of the start of the course, pH.
	StartSD float64
	OnWay   quantity.Rate
	// Potassium is the answer on potassium, beside the one on pH.
	Potassium Potassium
	// Magnesium is the answer on magnesium, when it is low and no lime is needed.
	Magnesium Magnesium
	Need      Need
	// Options are the ways to meet the need, best first; First is the reason for the first place.
	Options []Option
	First   Reason
	// Refused are the materials that must not be used or have no effect.
	Refused []Refusal
	Guards  []guard.Finding
}

// Potassium is the answer on potassium: what brings a short bed to soil.AboveCritical over
// critical.
type Potassium struct {
	// Need is g K₂O/m², 0 when none is short.
	Need    quantity.Rate
	Working []working.Step
	// Options are the ways to meet it, best first. Ash among them also counts in the answer on pH.
	Options []Option
	Refused []Refusal
}

// Need is the amount of pure CaCO₃ equivalent, negative when lowering. Low and High are its 1/6 and
// 5/6 quantiles, High the one further from 0. It is set even when the bed is left alone.
type Need struct {
	CaCO3, Low, High quantity.Rate
	Working          []working.Step
}

// Part is one material of an option with the figures behind its amount.
type Part struct {
	// Batch is the index of the material in the request, Of the material.
	Batch int
	Kind  material.Kind
	Of    *material.Batch
	Rate  quantity.Rate
	Total quantity.Mass
	// Applications is the number of applications.
	Applications int
	Worth        material.Worth
	Caps         material.Caps
	// Wanted is the CaCO₃ wanted of it (K₂O for potassium), Asked the amount of material for that,
	// Allowed what the limits leave of it, OnceCap the most at one time.
	Wanted, Asked, Allowed, OnceCap quantity.Rate
	Limits                          []Limit
	// Limit is the id of the limit that left it short; "" if none.
	Limit string
	// From is the first day considered. LeftOut is set when applications found no day; Half when
	// the first application is half, with a test before the rest; Moved is the rule that blocks the
	// day of the dose.
	From          quantity.Day
	LeftOut, Half bool
	// First is the most before a test, including what was applied since the reading, when a test
	// precedes the rest. Share is its share of the whole need.
	First quantity.Rate
	Share float64
	// Rest waits for the test and has no day. RestTotal is the mass over the bed.
	Rest      quantity.Rate
	RestTotal quantity.Mass
	Moved     calendar.Why
}

// caco3 returns what the part brings, negative when lowering.
func (p *Part) caco3() quantity.Rate { return quantity.Rate(float64(p.Rate) * p.Worth.EffectiveCCE) }

// restCaCO3 returns what of it waits for a test, negative when lowering.
func (p *Part) restCaCO3() quantity.Rate {
	return quantity.Rate(float64(p.Rest) * p.Worth.EffectiveCCE)
}

// k2o returns the potash that it brings.
func (p *Part) k2o() quantity.Rate { return quantity.Rate(float64(p.Rate) * p.Worth.K2O) }

// Limit is an upper bound on the amount of a material, with the id of its reason and its inputs.
type Limit struct {
	ID   string
	Rate quantity.Rate
	// Given is the K₂O applied in the year, K the bed's current potassium.
	Given quantity.Rate
	K     quantity.Concentration
}

// Spread is a median with the 5th and 95th percentile.
type Spread struct{ Median, P05, P95 quantity.PH }

// Application is one application.
type Application struct {
	N     int
	Date  quantity.Day
	Part  int
	Kind  material.Kind
	Rate  quantity.Rate
	Total quantity.Mass
	// PHAfter is the pH after this application has reacted.
	PHAfter quantity.PH
	// TopAfter is the pH of the top 5 cm after it, when the material stays on top; 0 when it is dug
	// in.
	TopAfter quantity.PH
	// RetestFirst is set when a reading must precede this application.
	RetestFirst bool
	// CaCO3 is what it brings, negative when lowering.
	CaCO3 quantity.Rate
}

// Option is one way to meet the need within the next 365 days.
type Option struct {
	Parts []Part
	// CaCO3 is what it brings, Shortfall what it leaves of the need; both with the sign of the need.
	// ShortfallK2O is the shortfall K₂O in an answer on potassium.
	CaCO3, Shortfall, ShortfallK2O quantity.Rate
	// Limit is the id of the limit that left the need shortfall; "" if none.
	Limit string
	// K2O, Calcium, Magnesium and N are nutrients that it brings.
	K2O, Calcium, Magnesium, N quantity.Rate
	KAfter                     *quantity.Concentration
	// Cost is in the garden's currency; nil when a price is unknown.
	Cost *float64
	// Acts is the number of weeks in which the slowest part does nine tenths of its work, dug in,
	// at its reference temperature.
	Acts         float64
	Applications []Application
	Retest       quantity.Day
	// SowFrom is the first day to sow or plant after the last application of ash; 0 when nothing is
	// sown.
	SowFrom quantity.Day
	// PH is the final pH. AtRetest is the expected reading of the retest; Reacted is the share, 0
	// to 1, of what was applied by then that has reacted.
	PH, AtRetest Spread
	Reacted      float64
	// Over is the probability of ending 0.2 or more past the range before a test.
	Over float64
	// Half is set when half is applied first, with a test before the rest.
	Half bool
	// short is what the applications lack of the amount for before a test.
	short  quantity.Rate
	Guards []guard.Finding
	// ForPotassium is set when the option supplies potassium.
	ForPotassium bool
}

// Refusal is a refused material with its findings.
type Refusal struct {
	Batch  int
	Kind   material.Kind
	Guards []guard.Finding
}

// Waits reports whether part of an option waits for a test.
func (o *Option) Waits() bool {
	for i := range o.Parts {
		if o.Parts[i].Rest > 0 {
			return true
		}
	}
	return false
}
