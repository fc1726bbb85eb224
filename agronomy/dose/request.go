package dose

import (
	"fmt"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/forecast"
	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// Request is the input of a dose: a bed on the day of the dose, before which nothing is dated, and
// what is wanted.
type Request struct {
	bed.Record
	// Target is nil for the crop's aim; a Crop is then required.
	Target  *quantity.PH
	Methods Methods
	// Materials are the usable batches; empty: the usual ones.
	Materials []material.Batch
	// Foretold is the median of the bed's own forecast from its last reading on, without planned
	// work; nil: the course is computed from the request. Proved is the proven strength of each of
	// Materials relative to its computed one; nil: 1.
	Foretold *forecast.Course
	Proved   []float64
	// Assumed are values that were missing, as assumed; the working lists them.
	Assumed working.Values
	// Surprise is the bed's last test when it lies far from the forecast and awaits confirmation;
	// nothing is applied until then. Nil if none.
	Surprise *forecast.Surprise
	// Unlearned is the number of the bed's tests when the learned method was asked for and they do
	// not suffice, so that its base method answers. Nil otherwise.
	Unlearned *int
	// Begun is set when a correction has begun: the bed is brought to its aim whatever the trigger
	// says inside the range, until a test is near the aim or past it.
	Begun bool
}

// InputError names the invalid field by its JSON name.
type InputError struct{ Field, Why string }

func (e *InputError) Error() string { return e.Field + ": " + e.Why }

func bad(field, format string, args ...any) error {
	return &InputError{field, fmt.Sprintf(format, args...)}
}

// Bounds of valid input.
const (
	MinPH, MaxPH         quantity.PH    = 3, 10
	MaxArea              quantity.Area  = 50000 // 5 ha
	MinDepth, MaxDepth   quantity.Depth = 0.02, 0.60
	MinTarget, MaxTarget quantity.PH    = 4.0, 7.8
	MaxStones                           = quantity.Percent(80)
	MaxPPM                              = 20000 // of a nutrient in the soil, mg/kg
	MaxCEC                              = 200   // cmol₊/kg
	MaxAlkalinity                       = 2000  // of the water, mg/L CaCO₃
	MaxStrength                         = 180   // CCE, per cent
	MaxPotash                           = 60    // K₂O, per cent
	MaxRate                             = 1e5   // of one application, g/m²
	mostCores                           = 500
	fewestYear, lastYear                = 1900, 2200
)

// check validates the request.
func (r *Request) check() error {
	switch y := r.Date.Year(); {
	case r.Date.IsZero():
		return bad("date", "a day is needed")
	case y < fewestYear || y > lastYear:
		return bad("date", "%s is not a day that a garden can be planned on", r.Date)
	}
	for _, check := range []func() error{r.checkGround, r.checkReadings, r.checkAims, r.checkMaterials, r.checkHistory, r.checkCrops} {
		if err := check(); err != nil {
			return err
		}
	}
	return nil
}

func (r *Request) checkGround() error {
	g := &r.Ground
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
	case g.Clay != nil && !(*g.Clay >= 0 && *g.Clay <= 100):
		return bad("bed.clay_pct", "a share from 0 to 100 is needed")
	case !(g.Stones >= 0 && g.Stones <= MaxStones):
		return bad("bed.stones_pct", "a share from 0 to %.0f is needed", float64(MaxStones))
	case g.CEC != nil && !(*g.CEC > 0 && *g.CEC <= MaxCEC):
		return bad("bed.cec", "a capacity above 0 and to %d is needed", MaxCEC)
	}
	return nil
}

func (r *Request) checkReadings() error {
	for i, x := range r.Readings() {
		at := "reading"
		if i > 0 {
			at = fmt.Sprintf("readings[%d]", i-1)
		}
		if err := CheckReading(at, x); err != nil {
			return err
		}
		if x.Date > r.Date {
			return bad(at+".date", "%s is later than the day of the dose, %s", x.Date, r.Date)
		}
	}
	return nil
}

func (r *Request) checkAims() error {
	switch {
	case len(r.With) > 0 && r.Crop == nil:
		return bad("crop", "name the first crop here, the others in crops")
	case r.Water != nil && !(*r.Water >= 0 && *r.Water <= MaxAlkalinity):
		return bad("bed.water_alkalinity_mg_l", "a figure from 0 to %d is needed", MaxAlkalinity)
	case r.Crop == nil && r.Target == nil:
		return bad("crop", "name a crop, or a target_ph")
	case r.Target != nil && !(*r.Target >= MinTarget && *r.Target <= MaxTarget):
		return bad("target_ph", "a pH from 4.0 to 7.8 is needed")
	}
	return nil
}

func (r *Request) checkMaterials() error {
	for i, b := range r.Materials {
		if err := checkBatch(fmt.Sprintf("materials[%d].", i), b); err != nil {
			return err
		}
	}
	return nil
}

func (r *Request) checkHistory() error {
	for i := range r.History {
		at := fmt.Sprintf("history[%d]", i)
		if err := CheckApplication(at, &r.History[i]); err != nil {
			return err
		}
		if d := r.History[i].Date; d > r.Date {
			return bad(at+".date", "%s is later than the day of the dose", d)
		}
	}
	return nil
}

// CheckApplication validates an earlier application; at is its JSON name. Errors are *InputError.
func CheckApplication(at string, p *ledger.Application) error {
	switch {
	case p.Date.IsZero():
		return bad(at+".date", "a day is needed")
	case !(p.Rate >= 0 && p.Rate <= MaxRate):
		return bad(at+".g_m2", "an amount from 0 to 100000 g/m² is needed")
	case p.Measured != nil && !(*p.Measured > 0 && *p.Measured <= MaxStrength):
		return bad(at+".cce_pct", "a share above 0 and to %d is needed", MaxStrength)
	case p.Potash != nil && !(*p.Potash >= 0 && *p.Potash <= MaxPotash):
		return bad(at+".k2o_pct", "a share from 0 to %d is needed", MaxPotash)
	}
	return checkFineness(at+".fineness_pct", p.Fineness)
}

func (r *Request) checkCrops() error {
	for i, x := range r.Grown {
		switch {
		case x.From.IsZero():
			return bad(fmt.Sprintf("grown[%d].from", i), "a day is needed")
		case x.From > r.Date:
			return bad(fmt.Sprintf("grown[%d].from", i), "%s is later than the day of the dose", x.From)
		case x.To != 0 && x.To < x.From:
			return bad(fmt.Sprintf("grown[%d].to", i), "%s is before %s", x.To, x.From)
		}
	}
	// A standing crop was sown before the day on which it will be off.
	for _, x := range []struct {
		field string
		day   quantity.Day
	}{{"sowing", r.Sowing}, {"planted", r.Planted}} {
		if x.day > r.Date && r.Cleared != 0 && x.day < r.Cleared {
			return bad(x.field, "%s is before the bed is cleared, %s", x.day, r.Cleared)
		}
	}
	return nil
}

// CheckReading validates a reading; at is its JSON name. Errors are *InputError.
func CheckReading(at string, r soil.Reading) error {
	if r.Date.IsZero() {
		return bad(at+".date", "a day is needed")
	}
	if _, ok := soil.FindMethod(r.Method); !ok {
		return bad(at+".method", "%q is not a way of reading", r.Method)
	}
	for _, check := range []func(string, *soil.Reading) error{checkPH, checkReport, checkLabRate, checkLayers} {
		if err := check(at, &r); err != nil {
			return err
		}
	}
	return nil
}

func checkPH(at string, r *soil.Reading) error {
	if r.Method == soil.Fizz {
		if r.PH != 0 {
			return bad(at+".ph", "jar fizz gives no figure")
		}
		if r.Fizz.Vinegar == "" || r.Fizz.Soda == "" {
			return bad(at+".fizz", "both jars are needed")
		}
		return nil
	}
	if _, ok := soil.FindBasis(r.Basis); !ok {
		return bad(at+".basis", "%q is not a basis", r.Basis)
	}
	if !(r.PH >= MinPH && r.PH <= MaxPH) {
		return bad(at+".ph", "a pH from 3 to 10 is needed")
	}
	if w := r.Water(); w > MaxPH {
		return bad(at+".ph", "as water would read it is %.2f; a pH from 3 to 10 is needed", float64(w))
	}
	return nil
}

func checkReport(at string, r *soil.Reading) error {
	switch {
	case r.Cores < 1 || r.Cores > mostCores:
		return bad(at+".cores", "a number of cores from 1 to %d is needed", mostCores)
	case r.Potassium != nil && !(*r.Potassium >= 0 && *r.Potassium <= MaxPPM):
		return bad(at+".k_ppm", "a figure from 0 to %d is needed", MaxPPM)
	case r.Magnesium != nil && !(*r.Magnesium >= 0 && *r.Magnesium <= MaxPPM):
		return bad(at+".mg_ppm", "a figure from 0 to %d is needed", MaxPPM)
	case r.Calcium != nil && !(*r.Calcium >= 0 && *r.Calcium <= MaxPPM):
		return bad(at+".ca_ppm", "a figure from 0 to %d is needed", MaxPPM)
	case r.KRange != nil && !(r.KRange.From > 0 && r.KRange.To >= r.KRange.From && r.KRange.To <= MaxPPM):
		return bad(at+".k_range", "an optimum from above 0 up to its end is needed")
	case r.Buffer != nil && !(r.Buffer.PH >= MinPH && r.Buffer.PH <= 8.2):
		return bad(at+".buffer.ph", "a buffer pH from 3 to 8.2 is needed")
	case r.BufferCapacity != 0 && !(r.BufferCapacity > 10 && r.BufferCapacity <= 50000):
		return bad(at+".buffer_capacity_mg_kg", "from above 10 to 50000 mg/kg per pH is needed")
	}
	return nil
}

func checkLabRate(at string, r *soil.Reading) error {
	switch l := r.LabRate; {
	case l == nil:
		return nil
	case !(l.Rate > 0 && l.Rate <= 20000):
		return bad(at+".lab_rate.g_m2", "a rate above 0 and to 20000 is needed")
	case !(l.Depth >= MinDepth && l.Depth <= MaxDepth):
		return bad(at+".lab_rate.depth_cm", "a depth from 2 to 60 cm is needed")
	case !(l.CCE > 0 && l.CCE <= 150):
		return bad(at+".lab_rate.cce_pct", "a share above 0 and to 150 is needed")
	case !(l.Target >= MinPH && l.Target <= MaxPH):
		return bad(at+".lab_rate.target_ph", "a pH from 3 to 10 is needed")
	}
	return nil
}

// checkLayers checks that layers go down and their values are valid.
func checkLayers(at string, r *soil.Reading) error {
	last := quantity.Depth(0)
	for i, l := range r.Layers {
		switch {
		case !(l.From >= last-1e-9 && l.To > l.From && l.To <= 2*MaxDepth):
			return bad(fmt.Sprintf("%s.layers[%d]", at, i), "layers go down, one below the other, to 120 cm")
		case !(l.PH >= MinPH && l.PH <= MaxPH):
			return bad(fmt.Sprintf("%s.layers[%d].ph", at, i), "a pH from 3 to 10 is needed")
		}
		if row, _ := soil.FindBasis(r.Basis); l.PH+row.Shift > MaxPH {
			return bad(fmt.Sprintf("%s.layers[%d].ph", at, i), "as water would read it is %.2f; a pH from 3 to 10 is needed",
				float64(l.PH+row.Shift))
		}
		last = l.To
	}
	return nil
}

// CheckBatch validates a batch. The error is an *InputError, or nil.
func CheckBatch(b material.Batch) error { return checkBatch("", b) }

func checkBatch(path string, b material.Batch) error {
	at := func(f string) string { return path + f }
	share := func(p *quantity.Percent, most quantity.Percent) bool {
		return p == nil || *p > 0 && *p <= most
	}
	switch {
	case b.Kind == "":
		return bad(at("kind"), "a kind is needed")
	case !share(b.Measured, MaxStrength):
		return bad(at("cce_pct"), "a share above 0 and to %d is needed", MaxStrength)
	case !share(b.Effective, MaxStrength):
		return bad(at("effective_pct"), "a share above 0 and to %d is needed", MaxStrength)
	case b.Potash != nil && !(*b.Potash >= 0 && *b.Potash <= MaxPotash):
		return bad(at("k2o_pct"), "a share from 0 to %d is needed", MaxPotash)
	case b.Crushed && b.Fineness != nil:
		return bad(at("crushed_by_hand"), "give its fineness or say that it was crushed by hand, not both")
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
	return checkFineness(at("fineness_pct"), b.Fineness)
}

// checkFineness validates the shares of a fineness; nil is all in the finest class.
func checkFineness(field string, shares *[4]quantity.Percent) error {
	if shares == nil {
		return nil
	}
	sum := quantity.Percent(0)
	for _, p := range shares {
		if !(p >= 0 && p <= 100) {
			return bad(field, "shares from 0 to 100 are needed")
		}
		sum += p
	}
	switch b := (material.Batch{Fineness: shares}); {
	case sum < 99 || sum > 101:
		return bad(field, "the four shares make %.0f, not 100", float64(sum))
	case b.Fine() <= 0:
		return bad(field, "nothing of it is fine enough to react")
	}
	return nil
}
