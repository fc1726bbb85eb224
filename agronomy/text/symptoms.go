package text

import "zephyrfield/agronomy/symptom"

// seenSigns are the name of each symptom and what it points to.
var seenSigns = map[string][2]string{
	"green-veins": {"Yellow leaves, green veins",
		"It points to a pH that locks iron up, not to hunger: read the pH before anything is put on."},
	"scorched-edges": {"Scorched leaf edges, old leaves first", "It points to potassium: have potassium tested."},
	"purple-leaves":  {"Purple leaves", "Cold keeps phosphorus from the plant, and so does sour soil: read the pH."},
	"fruit-ends": {"Fruit that rots at its end",
		"It points to uneven watering before calcium: water evenly, and have calcium tested if it continues."},
	"scab":               {"Scab on potatoes", "It points to ground too sweet for potatoes: read the pH, and keep lime and ash off."},
	"clubbed-roots":      {"Clubbed roots", "It points to ground too sour for the cabbage family: read the pH."},
	"moss":               {"Moss or sorrel", "It points to sour, wet or worn ground: read the pH, and look at the drainage."},
	"dying-in-one-place": {"Plants keep dying in one place", "Sample that place apart from the rest of the bed."},
	"pale-all-over":      {"Pale all over", "It points to nitrogen, not to pH."},
	"rotten-smell":       {"Few worms, a rotten smell", "Air and water first: loosen, drain, add organic matter."},
}

// SymptomName returns a symptom's name.
func SymptomName(id string) string { return seenSigns[id][0] }

// SymptomSays returns what a symptom points to.
func SymptomSays(id string) string { return seenSigns[id][1] }

// signTests are the tests, worded to follow "ask".
var signTests = map[symptom.Test]string{symptom.PH: "read the pH", symptom.Iron: "iron", symptom.Potassium: "have potassium tested",
	symptom.Phosphor: "phosphorus", symptom.Calcium: "have calcium tested", symptom.Apart: "sample that place apart",
	symptom.Nitrogen: "look at nitrogen",
	symptom.Air:      "look at air and water"}

// SymptomAsks returns the first thing to do about a symptom.
func SymptomAsks(id string) string {
	s, ok := symptom.Find(id)
	if !ok {
		return ""
	}
	return signTests[s.Tests[0]]
}
