package text

import (
	"math"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/working"
)

// Units are the reader's chosen units by id; the zero value is metric. The working is always
// computed in metric.
type Units struct {
	AreaIn, DepthIn, WeightIn, RateIn string
}

// unit is a row of the table of units: its name and its size in internal units.
type unit struct {
	id, name string
	size     float64
}

// The units on offer, the default first. Length units follow area units.
var (
	areaUnits   = []unit{{"", "m²", 1}, {"ft2", "ft²", float64(quantity.SquareFoot)}}
	lengthUnits = []unit{{"", "m", 1}, {"ft2", "ft", 0.3048}}
	depthUnits  = []unit{{"", "cm", float64(quantity.Centimetre)}, {"in", "in", float64(quantity.Inch)}}
	weightUnits = []unit{{"", "kg", float64(quantity.Kilogram)}, {"lb", "lb", float64(quantity.Pound)}}
	rateUnits   = []unit{{"", "g/m²", 1}, {"oz-yd2", "oz/yd²", float64(quantity.OunceAvoirdupois) / (9 * float64(quantity.SquareFoot))},
		{"lb-100ft2", "lb/100 ft²", float64(quantity.PoundPer100SqFt)}, {"lb-1000ft2", "lb/1000 ft²", float64(quantity.PoundPer1000SqFt)}}
)

// UnitChoice is one unit to choose from.
type UnitChoice struct{ ID, Name string }

// AreaUnits, DepthUnits, WeightUnits and RateUnits are what can be chosen.
func AreaUnits() []UnitChoice   { return choices(areaUnits) }
func DepthUnits() []UnitChoice  { return choices(depthUnits) }
func WeightUnits() []UnitChoice { return choices(weightUnits) }
func RateUnits() []UnitChoice   { return choices(rateUnits) }

func choices(us []unit) []UnitChoice {
	out := make([]UnitChoice, len(us))
	for i, u := range us {
		out[i] = UnitChoice{u.id, u.name}
	}
	return out
}

func find(us []unit, id string) unit {
	for _, u := range us {
		if u.id == id {
			return u
		}
	}
	return us[0]
}

// Known reports whether every unit is one of the tables'.
func (u Units) Known() bool {
	return find(areaUnits, u.AreaIn).id == u.AreaIn && find(depthUnits, u.DepthIn).id == u.DepthIn &&
		find(weightUnits, u.WeightIn).id == u.WeightIn && find(rateUnits, u.RateIn).id == u.RateIn
}

// Scale is the unit of a form's field.
type Scale struct {
	// Name is the unit's name, Size its size in metres, grams or g/m².
	Name string
	Size float64
}

// Handy returns a default value in this unit: as it is in metres and kilograms, rounded to whole
// feet, inches and pounds.
func (s Scale) Handy(usual float64) float64 {
	if tens := math.Log10(s.Size); tens == math.Trunc(tens) {
		return usual
	}
	return math.Max(1, math.Round(usual/s.Size)) * s.Size
}

// Lengths, Depths and Weights are the scales of a form's fields.
func (u Units) Lengths() Scale { return scale(lengthUnits, u.AreaIn) }

// Depths returns the scale of depths.
func (u Units) Depths() Scale { return scale(depthUnits, u.DepthIn) }

// Weights returns the scale of weights.
func (u Units) Weights() Scale { return scale(weightUnits, u.WeightIn) }

// Corers returns the scale of a corer's width, and Samples that of what a lab wants.
func (u Units) Corers() Scale {
	if u.DepthIn != "" {
		return Scale{"in", float64(quantity.Inch)}
	}
	return Scale{"mm", 0.001}
}

// Samples returns the scale of a sample's weight.
func (u Units) Samples() Scale {
	if u.WeightIn != "" {
		return Scale{"oz", float64(quantity.OunceAvoirdupois)}
	}
	return Scale{"g", 1}
}

// Corer returns the sentence on how wide a corer is.
func (u Units) Corer(d quantity.Depth) string {
	in := u.Corers()
	return trim(float64(d)/in.Size, 0, 2) + " " + in.Name
}

// Rates returns the scale of rates.
func (u Units) Rates() Scale { return scale(rateUnits, u.RateIn) }

func scale(us []unit, id string) Scale {
	x := find(us, id)
	return Scale{x.name, x.size}
}

// Mass returns an amount that a person can weigh: 2.2 kg, 350 g; 4.9 lb, 12.5 oz.
func (u Units) Mass(m quantity.Mass) string {
	if u.WeightIn == "" {
		w := float64(m.Weighable())
		if math.Abs(w) >= 1000 {
			return trim(w/1000, 0, 1) + " kg"
		}
		return trim(w, 0, 0) + " g"
	}
	// Tenths of a pound, half ounces below one, tenths of an ounce below two.
	if pounds := quantity.Round(float64(m/quantity.Pound), 1); math.Abs(pounds) >= 1 {
		return trim(pounds, 0, 1) + " lb"
	}
	ounces := float64(m / quantity.OunceAvoirdupois)
	if math.Abs(ounces) >= 2 {
		ounces = math.Round(ounces*2) / 2
	}
	return trim(ounces, 0, 1) + " oz"
}

// MassExact returns an amount to the gram, or the hundredth of an ounce.
func (u Units) MassExact(m quantity.Mass) string {
	if u.WeightIn == "" {
		return trim(float64(m), 0, 0) + " g"
	}
	return trim(float64(m/quantity.OunceAvoirdupois), 0, 2) + " oz"
}

// Rate formats whole grams per square metre, tenths below 10, kilograms from 2000; or three
// significant figures in the chosen unit.
func (u Units) Rate(r quantity.Rate) string {
	if u.RateIn == "" {
		if math.Abs(float64(r)) >= 2000 {
			return trim(float64(r)/1000, 0, 1) + " kg/m²"
		}
		d := 0
		if math.Abs(float64(r)) < 10 {
			d = 1
		}
		return trim(float64(r), 0, d) + " g/m²"
	}
	x := find(rateUnits, u.RateIn)
	v := float64(r) / x.size
	d := 1
	if math.Abs(v) < 10 {
		d = 2
	}
	return trim(v, 0, d) + " " + x.name
}

// Area formats with one decimal below 100.
func (u Units) Area(a quantity.Area) string {
	x := find(areaUnits, u.AreaIn)
	v := float64(a) / x.size
	d := 1
	if v >= 100 {
		d = 0
	}
	return trim(v, 0, d) + " " + x.name
}

// Depth formats in centimetres or inches.
func (u Units) Depth(d quantity.Depth) string {
	x := find(depthUnits, u.DepthIn)
	return trim(float64(d)/x.size, 0, 1) + " " + x.name
}

// Square formats a square of ground by its sides.
func (u Units) Square(side quantity.Depth) string {
	in := find(depthUnits, u.DepthIn)
	return trim(float64(side)/in.size, 0, 0) + " × " + u.Depth(quantity.Depth(math.Round(float64(side)/in.size)*in.size))
}

// Length formats in metres or feet.
func (u Units) Length(m float64) string {
	x := u.Lengths()
	return trim(m/x.Size, 0, 2) + " " + x.Name
}

// value formats a step's figure, with the reader's units if they are not metric.
func (u Units) value(v working.Value) string {
	own := Value(v)
	said := own
	switch v.Unit {
	case working.Rate:
		said = u.Rate(quantity.Rate(v.N))
	case working.Mass:
		if u.WeightIn != "" {
			said = u.Mass(quantity.Mass(v.N))
		}
	case working.Area:
		said = u.Area(quantity.Area(v.N))
	case working.Depth:
		said = u.Depth(quantity.Depth(v.N))
	}
	if said == own {
		return own
	}
	return own + " (" + said + ")"
}

// Steps returns a working in words: its sums are metric, what they come to stands in the reader's
// units too.
func (u Units) Steps(ss []working.Step) []Line {
	out := Steps(ss)
	for i, s := range ss {
		out[i].Value = u.value(s.Result)
	}
	return out
}
