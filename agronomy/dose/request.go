// Package dose works out what a bed needs and how to give it: the need, the
// options that could meet it, each option's goes with their days, and the
// whole working.
//
// [For] is the one entry. It holds no clock and draws no chance: the same
// request gives the same answer.
package dose

import (
	"fmt"

	"zephyrfield/agronomy/calendar"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// Schools are the choices between published rules that differ.
type Schools struct {
	Buffering soil.School
	Ash       material.AshSchool
	Act       crop.ActSchool
}

// DefaultSchools are those used when none is named.
var DefaultSchools = Schools{soil.ByTable, material.Equivalence, crop.BelowBand}

// Request is everything a dose rests on.
type Request struct {
	Date    quantity.Day
	Climate soil.Climate
	Ground  soil.Ground
	Reading soil.Reading
	// Crop is nil when none is named; then Target must be set.
	Crop *crop.Crop
	// Target is nil to take the crop's aim.
	Target  *quantity.PH
	Schools Schools
	// Materials is what may be used; empty: the usual ones.
	Materials []material.Batch
	// History is what was put on the bed, in any order.
	History []calendar.Put
	// Sowing is the next sowing, Cleared the day the standing crop is off.
	Sowing, Cleared quantity.Day
}

// InputError names the field that keeps a request from being worked, by its
// name in the request's JSON.
type InputError struct{ Field, Why string }

func (e *InputError) Error() string { return e.Field + ": " + e.Why }

func bad(field, format string, args ...any) error {
	return &InputError{field, fmt.Sprintf(format, args...)}
}

// Limits of what a bed can be.
const (
	MinPH, MaxPH         quantity.PH    = 3, 10
	MaxArea              quantity.Area  = 50000 // 5 ha
	MinDepth, MaxDepth   quantity.Depth = 0.02, 0.60
	mostCores                           = 500
	mostPPM                             = 20000
	mostCEC                             = 200
	fewestYear, lastYear                = 1900, 2200
)

// check refuses what cannot be.
func (r *Request) check() error {
	switch y := r.Date.Year(); {
	case r.Date.IsZero():
		return bad("date", "a day is needed")
	case y < fewestYear || y > lastYear:
		return bad("date", "%s is not a day that a garden can be planned on", r.Date)
	}
	g := r.Ground
	switch {
	case !(g.Area > 0):
		return bad("bed.area_m2", "an area above 0 is needed")
	case g.Area > MaxArea:
		return bad("bed.area_m2", "%.0f m² is more than 5 ha; split the ground", float64(g.Area))
	case !(g.Depth >= MinDepth && g.Depth <= MaxDepth):
		return bad("bed.depth_cm", "a depth from 2 to 60 cm is needed")
	case g.Texture.ID == "":
		return bad("bed.texture", "a texture is needed")
	case g.OrganicMatter != nil && !(*g.OrganicMatter >= 0 && *g.OrganicMatter <= 100):
		return bad("bed.organic_matter_pct", "a share from 0 to 100 is needed")
	case g.ClayShare != nil && !(*g.ClayShare >= 0 && *g.ClayShare <= 100):
		return bad("bed.clay_pct", "a share from 0 to 100 is needed")
	case g.CEC != nil && !(*g.CEC > 0 && *g.CEC <= mostCEC):
		return bad("bed.cec", "a capacity above 0 and to %d is needed", mostCEC)
	}
	if err := CheckReading(r.Reading); err != nil {
		return err
	}
	switch {
	case r.Reading.Date > r.Date:
		return bad("reading.date", "%s is later than the day of the dose, %s", r.Reading.Date, r.Date)
	case r.Crop == nil && r.Target == nil:
		return bad("crop", "name a crop, or a target_ph")
	case r.Target != nil && !(*r.Target >= MinPH && *r.Target <= MaxPH):
		return bad("target_ph", "a pH from 3 to 10 is needed")
	}
	for i, b := range r.Materials {
		if err := checkBatch(i, b); err != nil {
			return err
		}
	}
	for i, p := range r.History {
		switch {
		case p.Date.IsZero():
			return bad(fmt.Sprintf("history[%d].date", i), "a day is needed")
		case p.Date > r.Date:
			return bad(fmt.Sprintf("history[%d].date", i), "%s is later than the day of the dose", p.Date)
		case !(p.Rate >= 0 && p.Rate <= 1e5):
			return bad(fmt.Sprintf("history[%d].g_m2", i), "an amount from 0 to 100000 g/m² is needed")
		}
	}
	if r.Sowing != 0 && r.Cleared != 0 && r.Sowing < r.Cleared {
		return bad("sowing", "%s is before the bed is cleared, %s", r.Sowing, r.Cleared)
	}
	return nil
}

// CheckReading refuses a reading that cannot be. Errors are *InputError with
// fields named reading.….
func CheckReading(r soil.Reading) error {
	if r.Date.IsZero() {
		return bad("reading.date", "a day is needed")
	}
	if _, ok := soil.FindMethod(r.Method); !ok {
		return bad("reading.method", "%q is not a way of reading", r.Method)
	}
	if r.Method == soil.Fizz {
		if r.PH != 0 {
			return bad("reading.ph", "jar fizz gives no figure")
		}
		if r.Fizz.Vinegar == "" || r.Fizz.Soda == "" {
			return bad("reading.fizz", "both jars are needed")
		}
	} else {
		if _, ok := soil.FindBasis(r.Basis); !ok {
			return bad("reading.basis", "%q is not a basis", r.Basis)
		}
		if !(r.PH >= MinPH && r.PH <= MaxPH) {
			return bad("reading.ph", "a pH from 3 to 10 is needed")
		}
	}
	switch {
	case r.Cores < 1 || r.Cores > mostCores:
		return bad("reading.cores", "a number of cores from 1 to %d is needed", mostCores)
	case r.Potassium != nil && !(*r.Potassium >= 0 && *r.Potassium <= mostPPM):
		return bad("reading.k_ppm", "a figure from 0 to %d is needed", mostPPM)
	case r.Magnesium != nil && !(*r.Magnesium >= 0 && *r.Magnesium <= mostPPM):
		return bad("reading.mg_ppm", "a figure from 0 to %d is needed", mostPPM)
	}
	return nil
}

func checkBatch(i int, b material.Batch) error {
	at := func(f string) string { return fmt.Sprintf("materials[%d].%s", i, f) }
	share := func(p *quantity.Percent, most quantity.Percent) bool {
		return p == nil || *p > 0 && *p <= most
	}
	switch {
	case b.Kind == "":
		return bad(at("kind"), "a kind is needed")
	case (b.Raises() || b.Lowers()) && !material.Dosed(b.Family):
		return bad(at("kind"), "this version gives no rate for %s", b.Kind)
	case !share(b.Measured, 180):
		return bad(at("cce_pct"), "a share above 0 and to 180 is needed")
	case !share(b.Effective, 180):
		return bad(at("effective_pct"), "a share above 0 and to 180 is needed")
	case b.Potash != nil && !(*b.Potash >= 0 && *b.Potash <= 60):
		return bad(at("k2o_pct"), "a share from 0 to 60 is needed")
	case b.OnHand != nil && !(*b.OnHand >= 0 && *b.OnHand <= 1e9):
		return bad(at("kg"), "an amount of 0 or more is needed")
	}
	return nil
}

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
	// Crop is the crop that was reckoned with; its Band is the band.
	Crop      crop.Crop
	Target    quantity.PH
	Potassium soil.PotassiumScale
	Need      Need
	// Options are the ways to meet the need, the best first.
	Options []Option
	// Refused are the materials that may not be used, or do nothing.
	Refused []Refusal
	Guards  []guard.Finding
}

// Need is the amount of pure CaCO₃ equivalent: below 0 when lowering. Low and
// High are one standard deviation of the school.
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
}

// Option is one way to meet the need within the next 365 days.
type Option struct {
	Parts []Part
	// CaCO3 is what it brings, Unmet what it leaves; both signed as the need.
	CaCO3, Unmet quantity.Rate
	// Limit is the id of what kept it from meeting the need; "" if nothing.
	Limit  string
	K2O    quantity.Rate
	KAfter *quantity.Concentration
	Goes   []Go
	Retest quantity.Day
	// SowFrom is the first day to sow or plant after the last go of ash; no day
	// where nothing is sown.
	SowFrom quantity.Day
	PH      Spread
	Guards  []guard.Finding
	Working []working.Step
}

// Refusal is a material with what stands against it.
type Refusal struct {
	Batch  int
	Kind   material.Kind
	Guards []guard.Finding
}
