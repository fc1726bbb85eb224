package text

import (
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/working"
)

// reasons are the sentences on why two beds must not share a sample.
var reasons = map[sampling.ReasonID]func(u Units, v working.Values) string{
	sampling.OtherUse: func(u Units, v working.Values) string {
		return sprintf("%s and %s", Name(v.Text("a")), Name(v.Text("b")))
	},
	sampling.OtherSoil: func(u Units, v working.Values) string {
		return sprintf("different soil, %s and %s", Name(v.Text("a")), Name(v.Text("b")))
	},
	sampling.OtherFreeLime: func(u Units, v working.Values) string { return "one fizzes with vinegar, the other does not" },
	sampling.OtherDepth: func(u Units, v working.Values) string {
		if v.N("a") == v.N("b") {
			return sprintf("%s and %s", Short(v.Text("a_worked")), Short(v.Text("b_worked")))
		}
		return sprintf("different depth, %s and %s", u.Depth(quantity.Depth(v.N("a"))), u.Depth(quantity.Depth(v.N("b"))))
	},
	sampling.OtherTreatments: func(u Units, v working.Values) string {
		return sprintf("treated differently in the last {treated} months: %s, %s and %s", families[v.Text("family")],
			u.Rate(quantity.Rate(v.N("a"))), u.Rate(quantity.Rate(v.N("b"))))
	},
	sampling.OtherCropGroup: func(u Units, v working.Values) string {
		return sprintf("%s needs %s ground, %s %s", Crop(v.Text("a")), cropGroups[v.Text("a_group")], Crop(v.Text("b")),
			cropGroups[v.Text("b_group")])
	},
	sampling.OwnSample: func(Units, working.Values) string {
		return "a surprising test is confirmed by a sample of its own"
	},
	sampling.OtherReading: func(u Units, v working.Values) string {
		return sprintf("last read %s and %s, more than {apart} apart", p1(v, "a"), p1(v, "b"))
	},
	sampling.OneUnread: func(Units, working.Values) string { return "one was never read, the other was" },
}

// families are the plain names of groups of materials.
var families = map[string]string{"lime": "lime", "hydrated-lime": "hydrated lime", "ash": "ash", "sulfur": "sulfur",
	"aluminium-sulfate": "aluminium sulfate",
	"iron-sulfate":      "iron sulfate", "ammonium-sulfate": "ammonium sulfate", "urea": "urea", "potash": "potassium sulfate",
	"organic": "compost"}

// cropGroups are the names of the crop groups.
var cropGroups = map[string]string{"acid": "acid", "sour": "sour", "middle": "middling", "sweet": "sweet"}

// Reason words in the reader's units why two beds must not share a sample.
func (u Units) Reason(r sampling.Reason) string { return u.say(reasons[r.ID](u, r.With)) }

// Reasons joins the sentences of reasons in one line.
func Reasons(rs []sampling.Reason) string { return Units{}.Reasons(rs) }

// Reasons words all of them in the reader's units.
func (u Units) Reasons(rs []sampling.Reason) string {
	out := make([]string, len(rs))
	for i, r := range rs {
		out[i] = u.Reason(r)
	}
	return strings.Join(out, "; ")
}

// dues are the sentences on why a bed belongs on a round.
var dues = map[sampling.Due]string{sampling.Confirm: "a surprising test to confirm",
	sampling.NeverRead: "never read", sampling.RetestDue: "retest due",
	sampling.LookDue: "not read for a long time", sampling.WeakMethod: "last read by a weak method"}

// DueFor returns the sentence on why a bed belongs on a round, "" when it does not yet.
func DueFor(d sampling.Due) string { return dues[d] }
