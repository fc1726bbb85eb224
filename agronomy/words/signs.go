package words

import "zephyrfield/agronomy/sign"

// seenSigns tell what is seen, and what it points to.
var seenSigns = map[string][2]string{
	"green-veins": {"Yellow leaves, green veins",
		"It points to a pH that locks iron up, not to hunger: read the pH before anything goes on."},
	"scorched-edges": {"Scorched leaf edges, old leaves first", "It points to potassium: have potassium tested."},
	"purple-leaves":  {"Purple leaves", "Cold holds phosphorus back, and so does a sour soil: read the pH."},
	"fruit-ends": {"Fruit that rots at its end",
		"It points to uneven water before it points to calcium: water evenly, and have calcium tested if it goes on."},
	"scab":               {"Scab on potatoes", "It points to ground too sweet for potatoes: read the pH, and keep lime and ash off."},
	"clubbed-roots":      {"Clubbed roots", "It points to ground too sour for the cabbage family: read the pH."},
	"moss":               {"Moss or sorrel", "It points to sour, wet or worn ground: read the pH, and look at the drainage."},
	"dying-in-one-place": {"Plants die again in one place", "Sample that place apart from the rest of the bed."},
	"pale-all-over":      {"Pale all over", "It points to nitrogen, not to pH."},
	"rotten-smell":       {"Few worms, a rotten smell", "Air and water first: loosen, drain, add organic matter."},
}

// SignName is what is seen.
func SignName(id string) string { return seenSigns[id][0] }

// SignSays is what it points to.
func SignSays(id string) string { return seenSigns[id][1] }

// signTests are the tests that would tell, as they stand after “ask”.
var signTests = map[sign.Test]string{sign.PH: "read the pH", sign.Iron: "iron", sign.Potassium: "have potassium tested",
	sign.Phosphor: "phosphorus", sign.Calcium: "have calcium tested", sign.Apart: "sample that place apart", sign.Nitrogen: "look at nitrogen",
	sign.Air: "look at air and water"}

// SignAsks is the first thing to do about a sign.
func SignAsks(id string) string {
	s, ok := sign.Find(id)
	if !ok {
		return ""
	}
	return signTests[s.Tests[0]]
}
