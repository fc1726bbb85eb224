package dose

import (
	"fmt"
	"strconv"
	"strings"

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
	// Date is the day of the dose: nothing is dated before it.
	Date quantity.Day
	// Climate is the place's soil temperatures, by its own months.
	Climate soil.Climate
	Ground  soil.Ground
	Reading soil.Reading
	// More are further readings of the same bed, to be joined with Reading.
	More []soil.Reading
	// Crop is nil when none is named; then Target must be set.
	Crop *crop.Crop
	// With are crops that stand in the bed together with Crop.
	With []crop.Crop
	// Water is the alkalinity of what the bed is watered with, mg/L CaCO₃; nil
	// when not known.
	Water *float64
	// Target is nil to take the crop's aim.
	Target  *quantity.PH
	Schools Schools
	// Materials is what may be used; empty: the usual ones.
	Materials []material.Batch
	// History is what was put on the bed, in any order.
	History []calendar.Put
	// Assumed are values that nobody gave, as they were taken; the working
	// states them.
	Assumed working.Values
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
	for i, x := range r.readings() {
		at := "reading"
		if i > 0 {
			at = fmt.Sprintf("readings[%d]", i-1)
		}
		if err := checkReading(at, x); err != nil {
			return err
		}
		if x.Date > r.Date {
			return bad(at+".date", "%s is later than the day of the dose, %s", x.Date, r.Date)
		}
	}
	switch {
	case len(r.With) > 0 && r.Crop == nil:
		return bad("crop", "name the first crop here, the others in crops")
	case r.Water != nil && !(*r.Water >= 0 && *r.Water <= 2000):
		return bad("bed.water_alkalinity_mg_l", "a figure from 0 to 2000 is needed")
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

// readings are all that were given, the leading one first.
func (r *Request) readings() []soil.Reading {
	if len(r.More) == 0 {
		return []soil.Reading{r.Reading}
	}
	return append([]soil.Reading{r.Reading}, r.More...)
}

// CheckReading refuses a reading that cannot be. Errors are *InputError with
// fields named reading.….
func CheckReading(r soil.Reading) error { return checkReading("reading", r) }

func checkReading(at string, r soil.Reading) error {
	if r.Date.IsZero() {
		return bad(at+".date", "a day is needed")
	}
	if _, ok := soil.FindMethod(r.Method); !ok {
		return bad(at+".method", "%q is not a way of reading", r.Method)
	}
	if r.Method == soil.Fizz {
		if r.PH != 0 {
			return bad(at+".ph", "jar fizz gives no figure")
		}
		if r.Fizz.Vinegar == "" || r.Fizz.Soda == "" {
			return bad(at+".fizz", "both jars are needed")
		}
	} else {
		if _, ok := soil.FindBasis(r.Basis); !ok {
			return bad(at+".basis", "%q is not a basis", r.Basis)
		}
		if !(r.PH >= MinPH && r.PH <= MaxPH) {
			return bad(at+".ph", "a pH from 3 to 10 is needed")
		}
		if w := r.Water(); w > MaxPH {
			return bad(at+".ph", "as water would read it is %.2f; a pH from 3 to 10 is needed", float64(w))
		}
	}
	switch {
	case r.Cores < 1 || r.Cores > mostCores:
		return bad(at+".cores", "a number of cores from 1 to %d is needed", mostCores)
	case r.Potassium != nil && !(*r.Potassium >= 0 && *r.Potassium <= mostPPM):
		return bad(at+".k_ppm", "a figure from 0 to %d is needed", mostPPM)
	case r.Magnesium != nil && !(*r.Magnesium >= 0 && *r.Magnesium <= mostPPM):
		return bad(at+".mg_ppm", "a figure from 0 to %d is needed", mostPPM)
	case r.KRange != nil && !(r.KRange.From > 0 && r.KRange.To >= r.KRange.From && r.KRange.To <= mostPPM):
		return bad(at+".k_range", "an optimum from above 0 up to its end is needed")
	case r.Buffer != nil && !(r.Buffer.PH >= MinPH && r.Buffer.PH <= 8.2):
		return bad(at+".buffer.ph", "a buffer pH from 3 to 8.2 is needed")
	case r.BufferCapacity != 0 && !(r.BufferCapacity > 10 && r.BufferCapacity <= 50000):
		return bad(at+".buffer_capacity_mg_kg", "from above 10 to 50000 mg/kg per pH is needed")
	}
	if l := r.LabRate; l != nil {
		switch {
		case !(l.Rate > 0 && l.Rate <= 20000):
			return bad(at+".lab_rate.g_m2", "a rate above 0 and to 20000 is needed")
		case !(l.Depth >= MinDepth && l.Depth <= MaxDepth):
			return bad(at+".lab_rate.depth_cm", "a depth from 2 to 60 cm is needed")
		case !(l.CCE > 0 && l.CCE <= 150):
			return bad(at+".lab_rate.cce_pct", "a share above 0 and to 150 is needed")
		case !(l.Target >= MinPH && l.Target <= MaxPH):
			return bad(at+".lab_rate.target_ph", "a pH from 3 to 10 is needed")
		}
	}
	last := quantity.Depth(0)
	for i, l := range r.Layers {
		switch {
		case !(l.From >= last-1e-9 && l.To > l.From && l.To <= 2*MaxDepth):
			return bad(fmt.Sprintf("%s.layers[%d]", at, i), "layers go down, one below the other, to 120 cm")
		case !(l.PH >= MinPH && l.PH <= MaxPH):
			return bad(fmt.Sprintf("%s.layers[%d].ph", at, i), "a pH from 3 to 10 is needed")
		}
		last = l.To
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
	case !share(b.Measured, 180):
		return bad(at("cce_pct"), "a share above 0 and to 180 is needed")
	case !share(b.Effective, 180):
		return bad(at("effective_pct"), "a share above 0 and to 180 is needed")
	case b.Potash != nil && !(*b.Potash >= 0 && *b.Potash <= 60):
		return bad(at("k2o_pct"), "a share from 0 to 60 is needed")
	case b.OnHand != nil && !(*b.OnHand >= 0 && *b.OnHand <= 1e9):
		return bad(at("kg"), "an amount of 0 or more is needed")
	case !(b.Moisture >= 0 && b.Moisture <= 90):
		return bad(at("moisture_pct"), "a share from 0 to 90 is needed")
	case !(b.Charcoal >= 0 && b.Charcoal <= 95):
		return bad(at("charcoal_pct"), "a share from 0 to 95 is needed")
	case b.Vinegar != nil && !(b.Vinegar.MilliLitres > 0 && b.Vinegar.CCE() <= 180):
		return bad(at("vinegar_ml"), "that many millilitres for 10 g cannot be")
	case b.Vinegar != nil && b.Vinegar.Strength != 5 && b.Vinegar.Strength != 9:
		return bad(at("vinegar_pct"), "vinegar of 5 or 9 %% is meant")
	case b.Vinegar != nil && (b.Measured != nil || b.Effective != nil):
		return bad(at("vinegar_ml"), "give the vinegar test or the measured strength, not both")
	case b.Price != nil && !(*b.Price >= 0 && *b.Price <= 1e6):
		return bad(at("price_kg"), "a price of 0 or more is needed")
	}
	if b.Fineness == nil {
		return nil
	}
	sum := quantity.Percent(0)
	for _, p := range b.Fineness {
		if !(p >= 0 && p <= 100) {
			return bad(at("fineness_pct"), "shares from 0 to 100 are needed")
		}
		sum += p
	}
	switch {
	case sum < 99 || sum > 101:
		return bad(at("fineness_pct"), "the four shares make %.0f, not 100", float64(sum))
	case b.Fine() <= 0:
		return bad(at("fineness_pct"), "nothing of it is fine enough to react")
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
	// Reading is what it rests on: the one, or what several came to.
	Reading soil.Reading
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
	// strength is g CaCO₃ equivalent per g, of this go's material.
	strength float64
}

// Option is one way to meet the need within the next 365 days.
type Option struct {
	Parts []Part
	// CaCO3 is what it brings, Unmet what it leaves; both signed as the need.
	CaCO3, Unmet quantity.Rate
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
	// PH is where it settles once all has acted; AtRetest once the goes before
	// the retest have.
	PH, AtRetest Spread
	Guards       []guard.Finding

	// from and parts are what Working tells of.
	from  *sum
	parts []part
}

// Key names an option by its materials: the places of its parts in the
// request's list.
func (o Option) Key() string {
	keys := make([]string, len(o.Parts))
	for i, p := range o.Parts {
		keys[i] = strconv.Itoa(p.Batch)
	}
	return strings.Join(keys, "-")
}

// Refusal is a material with what stands against it.
type Refusal struct {
	Batch  int
	Kind   material.Kind
	Guards []guard.Finding
}
