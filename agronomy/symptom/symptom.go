// Package symptom is the table of symptoms seen on plants and soil, each with the test that
// would explain it. A symptom never leads to a dose by itself.
package symptom

import "zephyrfield/agronomy/quantity"

// Test is a kind of test.
type Test string

// Tests.
const (
	PH        Test = "ph"
	Iron      Test = "iron"
	Potassium Test = "potassium"
	Phosphor  Test = "phosphorus"
	Calcium   Test = "calcium"
	Apart     Test = "apart"
	Nitrogen  Test = "nitrogen"
	Air       Test = "air-and-water"
)

// Symptom is a symptom with the tests that would explain it, the most telling first.
type Symptom struct {
	ID    string
	Tests []Test
}

// Symptoms lists the symptoms in the order in which they are offered. Source: guide, section 15.
var Symptoms = []Symptom{
	{"green-veins", []Test{PH, Iron}},
	{"scorched-edges", []Test{Potassium}},
	{"purple-leaves", []Test{PH, Phosphor}},
	{"fruit-ends", []Test{Air, Calcium}},
	{"scab", []Test{PH}},
	{"clubbed-roots", []Test{PH}},
	{"moss", []Test{PH, Air}},
	{"dying-in-one-place", []Test{Apart}},
	{"pale-all-over", []Test{Nitrogen}},
	{"rotten-smell", []Test{Air}},
}

// Find returns a symptom by its id.
func Find(id string) (Symptom, bool) {
	for _, s := range Symptoms {
		if s.ID == id {
			return s, true
		}
	}
	return Symptom{}, false
}

// Fresh is how long a symptom remains a question for the next round.
const Fresh quantity.Day = 400

// Answered reports whether a reading taken on a day with pH or potassium answers a symptom seen
// before: it includes the first of the symptom's tests that a reading can include.
func (s Symptom) Answered(seen, read quantity.Day, ph, potassium bool) bool {
	if read < seen {
		return false
	}
	for _, t := range s.Tests {
		if t == PH && ph || t == Potassium && potassium {
			return true
		}
	}
	return false
}
