package text

import (
	"strings"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
)

// Strength returns the sentence on how strong a batch is beside pure lime, with its doubt; "" for
// what moves no pH.
func Strength(w material.Worth) string {
	in100 := 100 * w.EffectiveCCE
	switch {
	case in100 > 0:
		return num(in100, 0) + " % as strong as pure lime, ± " + num(max(1, in100*w.LogSD), 0)
	case in100 < 0:
		return "offsets " + num(-in100/100, 1) + " times its weight of lime"
	}
	return ""
}

// Cubic words a volume of stacked wood.
func Cubic(m3 float64) string { return num(m3, 1) + " m³" }

// MagnesiumLow returns the sentence on what answers low magnesium: so much of each, half of it
// before a test where one figure stands alone.
func MagnesiumLow(read quantity.Concentration, ways []string, half bool) string {
	says := sprintf("Magnesium is low, %s: %s", PPM(read), strings.Join(ways, ", or "))
	if half {
		return says + ". Half of it now, the rest after another test."
	}
	return says + "."
}

// Does returns the sentence on what a material is for.
func Does(m material.Material) string { return Units{}.say(m.Does) }

// whyBarred says what is wrong with an ash of each source.
var whyBarred = map[material.Source]string{
	material.UnknownFire: "What nobody knows may be any of these.",
	material.Painted:     "Paint, stain and varnish leave lead and zinc in the ash.",
	material.Treated:     "Treated wood leaves copper, chromium or arsenic.",
	material.Pallets:     "Nobody knows what was spilt on them, or what they were treated with.",
	material.Briquettes:  "What binds them stays in the ash.",
	material.PressedLogs: "Wax and glue go into pressed logs.",
	material.Rubbish:     "Plastic and print leave heavy metals.",
	material.Coal:        "Coal ash holds heavy metals, and hardly any lime.",
	material.Driftwood:   "The sea’s salt stays in the ash.",
}

// WhyBarred returns the sentence on why ash of a source goes on no growing ground; "" for clean
// wood.
func WhyBarred(s material.Source) string { return whyBarred[s] }

// Family returns the plain name of a family.
func Family(f material.Family) string { return families[string(f)] }

// Clip shortens a text to a number of letters, with an ellipsis.
func Clip(s string, most int) string {
	if r := []rune(s); len(r) > most {
		return strings.TrimRight(string(r[:most-1]), " ,") + "…"
	}
	return s
}
