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
		return "cancels " + num(-in100/100, 1) + " times its weight of lime"
	}
	return ""
}

// Cubic words a volume of stacked wood.
func Cubic(m3 float64) string { return num(m3, 1) + " m³" }

// does is the use of each material, and its limits, in one line.
var does = map[material.Kind]string{
	"calcitic-lime":            "Raises pH over months.",
	"dolomitic-lime":           "Raises pH slowly and brings magnesium.",
	"pelleted-lime":            "Raises pH over months; little dust.",
	"hydrated-lime":            "Raises pH within weeks. It burns: trained hands only.",
	"shell-meal":               "Raises pH, by its fineness.",
	"gypsum":                   "Feeds calcium. It moves no pH.",
	"wood-ash-unknown":         "Raises pH within weeks and feeds potassium.",
	"wood-ash-hardwood":        "Raises pH within weeks and feeds potassium.",
	"wood-ash-softwood":        "Raises pH within weeks and feeds potassium.",
	"wood-ash-twigs":           "Raises pH within weeks and feeds potassium.",
	"leaf-ash":                 "Raises pH within weeks and feeds potassium.",
	"elemental-sulfur-powder":  "Lowers pH over a warm season.",
	"elemental-sulfur-pellets": "Lowers pH over two warm seasons.",
	"aluminium-sulfate":        "Lowers pH within weeks. Never where food grows.",
	"iron-sulfate":             "Lowers pH within weeks; it stains.",
	"ammonium-sulfate":         "A nitrogen feed that lowers pH a little. Never near lime or ash.",
	"urea":                     "A nitrogen feed that lowers pH a little. Never near lime or ash.",
	"ammonium-nitrate":         "A nitrogen feed that makes ground a little sourer over the years. Never near lime or ash.",
	"monoammonium-phosphate":   "Feeds nitrogen and phosphorus; makes ground sourer over the years. Never near lime or ash.",
	"calcium-nitrate":          "A quick nitrogen feed that makes ground a little sweeter over the years.",
	"tap-water":                "Brings the lime that is dissolved in it: hard water makes ground a little sweeter over the years.",
	"citric-acid":              "Lowers pH for weeks only: for pots.",
	"potassium-sulfate":        "Feeds potassium. It moves no pH.",
	"kieserite":                "Feeds magnesium. It moves no pH.",
	"epsom-salt":               "Feeds magnesium at once. It moves no pH.",
	"peat":                     "Makes ground lighter. It moves pH too little to reckon with.",
	"compost":                  "Feeds a little of all. It moves no pH to reckon with.",
	"mushroom-compost":         "Feeds a little of all; there may be chalk in it.",
	"leaf-mould":               "Makes ground lighter. It moves no pH to reckon with.",
	"manure":                   "Feeds. Never near lime or ash; {manure gap} before planting.",
	"sheep-manure":             "Feeds. Never near lime or ash; {manure gap} before planting.",
	"poultry-pellets":          "Feeds strongly; {rotted gap} before planting.",
	"rotted-manure":            "Feeds; {rotted gap} before planting.",
	"horse-manure":             "Feeds. Never near lime or ash; {manure gap} before planting.",
	"poultry-manure":           "Feeds strongly. Never near lime or ash; {manure gap} before planting.",
	"coffee-grounds":           "Near neutral once brewed: for the heap.",
	"pine-needles":             "A mulch. It moves no pH to reckon with.",
	"bone-meal":                "Feeds phosphorus slowly. It moves no pH to reckon with.",
	"blood-meal":               "A quick nitrogen feed. It moves no pH to reckon with.",
	"hoof-and-horn":            "A slow nitrogen feed. It moves no pH to reckon with.",
	"fish-meal":                "Feeds nitrogen and phosphorus. It moves no pH to reckon with.",
	"green-manure":             "Gives back what it took. It moves no pH to reckon with.",
	"straw":                    "A mulch that feeds potassium. It moves no pH to reckon with.",
	"rock-phosphate":           "Feeds phosphorus on sour ground, over years.",
	"rock-dust":                "Too slow to reckon with.",
	"wood-chips":               "A mulch. Fresh and dug in, it borrows nitrogen.",
	"leaves":                   "A mulch. They move no pH to reckon with.",
	"plant-feed":               "Mostly water: a drink, no dose.",
}

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
func Does(m material.Material) string { return Units{}.say(does[m.Kind]) }

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
