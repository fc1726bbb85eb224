// Package working represents the steps of a computation that are shown to the user: ids with typed
// values and a source. Package text turns them into sentences.
package working

import "zephyrfield/agronomy/quantity"

// Unit is the unit of a number in a step.
type Unit string

// Units of step values, SI or the field's own.
const (
	None        Unit = ""
	PH          Unit = "pH"
	Rate        Unit = "g/m²"
	Mass        Unit = "g"
	Area        Unit = "m²"
	Depth       Unit = "m"
	Percent     Unit = "%"
	PPM         Unit = "mg/kg"
	SoilMass    Unit = "kg/m²"
	PerSoil     Unit = "g/kg per pH"
	PerKilogram Unit = "g/kg"
	ShortTons   Unit = "short tons/acre"
	PoundsAcre  Unit = "lb/acre"
	Ratio       Unit = "ratio"
	Weeks       Unit = "weeks"
	Days        Unit = "days"
	Date        Unit = "day"
	Temperature Unit = "°C"
	CEC         Unit = "cmol/kg"
	Count       Unit = "count"
	Text        Unit = "text"
)

// Value is one named, typed value. Texts are ids, never sentences.
type Value struct {
	Name string
	Unit Unit
	N    float64
	Text string
}

// Num returns a number with its unit.
func Num[T ~float64](name string, unit Unit, n T) Value {
	return Value{Name: name, Unit: unit, N: float64(n)}
}

// Int returns a count.
func Int(name string, unit Unit, n int) Value {
	return Value{Name: name, Unit: unit, N: float64(n)}
}

// On returns a day.
func On(name string, d quantity.Day) Value {
	return Value{Name: name, Unit: Date, N: float64(d)}
}

// ID returns a value that refers to a row of one of the program's tables.
func ID[T ~string](name string, id T) Value {
	return Value{Name: name, Unit: Text, Text: string(id)}
}

// Values is a list of named values.
type Values []Value

// Get returns a value by name, or the zero Value.
func (v Values) Get(name string) Value {
	for _, x := range v {
		if x.Name == name {
			return x
		}
	}
	return Value{}
}

// N returns the number of the named value.
func (v Values) N(name string) float64 { return v.Get(name).N }

// Text returns the text of the named value.
func (v Values) Text(name string) string { return v.Get(name).Text }

// Day returns the day of the named value.
func (v Values) Day(name string) quantity.Day { return quantity.Day(v.Get(name).N) }

// Step is one line of a working: a result, its inputs, and the published rule. Source is an id in
// package text's list of sources.
type Step struct {
	ID     string
	Result Value
	From   Values
	Source string
}
