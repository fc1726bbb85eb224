package text

import (
	"strconv"
	"strings"

	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/soil"
)

// names are the plain names of the ids in the core's tables.
var names = map[string]string{
	"sand": "sand", "loamy-sand": "loamy sand", "sandy-loam": "sandy loam", "loam": "loam",
	"silt-loam": "silt loam", "clay-loam": "clay loam", "clay": "clay", "muck": "muck (peaty soil)",

	"lab": "lab", "meter": "meter, freshly calibrated", "meter-stale": "meter, calibration over a week old",
	"probe": "stick-in probe", "kit": "colour kit", "fizz": "jar fizz",

	"water": "in water", "cacl2": "in calcium chloride", "kcl": "in potassium chloride",

	"dug": "dug in", "dug-among": "dug in, among plants that stay too",
	"surface": "left on top, no-dig", "established": "left on top, around plants",
	"bed": "bed", "lawn": "lawn", "tree": "tree rings", "pot": "pots", "heap": "heap",

	"table": "Texture", "organic-matter": "Organic matter", "smp": "SMP", "sikora": "Sikora", "adams-evans": "Adams–Evans",
	"moore-sikora": "Moore–Sikora", "mehlich": "Mehlich", "lab-rate": "Lab rate", "measured": "Measured",
	"learned":     "Learned",
	"equivalence": "By strength", "dusting": "Dusting", "measured-only": "If tested",
	"at-6": "At {step in}", "below-band": "Below the range", "middle": "Middle",

	"mehlich-3": "Mehlich-3", "ammonium-acetate": "ammonium acetate", "olsen": "Olsen’s solution", "morgan": "Morgan’s solution",
	"other": "another solution",

	"dry": "dry", "wet": "left out wet",
	"painted": "painted wood", "treated": "treated wood", "unknown": "an unknown fire", "pallets": "pallets not known clean",
	"briquettes": "briquettes", "pressed-logs": "pressed logs", "rubbish": "rubbish", "coal": "coal", "driftwood": "driftwood from the sea",

	"maritime": "maritime", "continental": "continental", "prairie": "prairie",
	"warm-temperate": "warm temperate", "subtropical": "subtropical",
	"none": "none", "faint": "faint", "clear": "clear", "strong": "strong",

	"acid-lover": "loves acid ground", "no-ash": "no ash", "tender-seed": "tender seed", "scab": "scab", "clubroot": "clubroot",
	"ash-welcome": "ash welcome", "not-food": "not for eating", "perennial": "stands for years",

	"question": "Question only", "yes": "Allowed", "no": "Kept off", "counts": "Counted", "ignored": "Left out",
	"careful": "Careful", "all-at-once": "All at once",
	"yearly": "Yearly", "twice": "Spring, autumn", "long": "Every {long rhythm} years",

	"short": "short", "enough": "enough", "plenty": "plenty", "too-much": "too much",
}

// shortNames are for a line that must be brief.
var shortNames = map[string]string{
	"meter": "meter", "meter-stale": "uncalibrated meter", "probe": "probe", "kit": "kit", "fizz": "fizz", "lab": "lab",
	"dug": "dug", "dug-among": "dug", "surface": "no-dig", "established": "around plants",
}

// Name returns the plain name of an id.
func Name[T ~string](id T) string {
	if n, ok := names[string(id)]; ok {
		return Units{}.say(n)
	}
	return string(id)
}

// Short returns the briefest name of an id.
func Short[T ~string](id T) string {
	if n, ok := shortNames[string(id)]; ok {
		return n
	}
	return Name(id)
}

// Material returns the plain name of a kind.
func Material[T ~string](k T) string {
	if m, ok := material.Find(material.Kind(k)); ok {
		return m.Name
	}
	return string(k)
}

// Crop returns the plain name of a crop.
func Crop(id string) string {
	if c, ok := crop.Find(id); ok {
		return c.Name
	}
	if id == "" {
		return "this crop"
	}
	// A crop of the gardener's own has its name in kebab case as id.
	return strings.ReplaceAll(id, "-", " ")
}

// Limit returns the sentence on what kept an option from meeting the need.
func Limit(id string) string {
	return Units{}.limit(id)
}

func (u Units) limit(id string) string {
	if s, ok := limits[id]; ok {
		return u.say(s)
	}
	return id
}

var limits = map[string]string{
	"year-cap":           "the year’s cap is reached",
	"barred":             "it is not to be used where anything grows",
	"supply":             "that is all there is on the shelf",
	"acid-lover-year":    "an acid lover gets no more in a year",
	"dusting":            "a light dusting, once a year, is the approach you chose",
	"ash-advice":         "more than is common needs a lab or a calibrated meter",
	"ph-room":            "more would bring pH too near the top of the range",
	"top-layer":          "the top {top layer} can take no more",
	"top-test":           "what stays on top waits for a test before more goes on",
	"band-top":           "more would carry it past the edge of the crop’s range",
	"potassium-ceiling":  "more would push potassium too high",
	"potassium-year":     "more would feed too much potassium in one year",
	"potassium-untested": "with potassium untested, no more than the crop carries off",

	"frozen":               "the ground is frozen then",
	"ground-shut":          "the ground lies frozen, under snow or waterlogged; look again in a week",
	"ash-near-sowing":      "it would be too near the sowing: none until the plants are established",
	"hydrated-near-sowing": "hydrated lime is kept off from {hydrated gap} before a sowing or planting until {hydrated stand} after",
	"manure-near-planting": "fresh manure needs {manure gap} before planting",
	"rotted-near-planting": "rotted manure needs {rotted gap} before planting",
	"manure-near-harvest":  "fresh manure needs {harvest gap} days before the harvest, {clear gap} where the crop hangs clear of the soil",
	"washes-out":           "the winter’s rain would wash it out",
	"in-growth":            "plants are growing",
	"bed-occupied":         "the bed is full",
	"sulfur-cold-soil":     "the soil is too cold for sulfur",
	"nitrogen-21-days":     "nitrogen feed or fresh manure was put on less than {nitrogen days} before",
	"lime-sulfur-season":   "lime or ash and sulfur may not share a season",
	"spring-to-midsummer":  "it is for spring to midsummer",
	"lime-21-days":         "lime or ash was put on less than {nitrogen days} before",
	"past-52-weeks":        "the rest would come more than {horizon} ahead",
	"too-soon-after-last":  "applications must be kept apart",
	"too-soon-to-test":     "ash needs {after ash} and lime {after lime} before a sample shows what it did",
	"plan-order":           "what comes before it in its dose comes first",
	"own-days":             "that is not one of your days",
	"side-roots":           "that is all that the soil over one plant’s roots takes at one time",
	"potato-year":          "it is the potato year there: lime or ash before them brings scab",
	"step-order":           "the step before it, with its wait, comes first",
}

// Brief returns a material's family in a word.
func Brief(k material.Kind) string {
	m, _ := material.Find(k)
	switch m.Family {
	case material.Lime, material.HydratedLime:
		return "lime"
	case material.Ash:
		return "ash"
	case material.Sulfur:
		return "sulfur"
	}
	return m.Name
}

// freeLime words a class of free lime in per cent of the soil.
func freeLime(f soil.FreeLime) string {
	low, high := f.Range()
	switch last := len(soil.FreeLimeClasses) - 1; {
	case f == soil.LimeNone:
		return "no free lime"
	case high <= 0:
		return "" // it was not looked for
	case low <= 0:
		return "up to " + Percent(high) + " free lime"
	case f == soil.FreeLimeClasses[last]:
		return "over " + Percent(low) + " free lime"
	}
	return num(float64(low), 1) + " to " + Percent(high) + " free lime"
}

// FreeLime words a class of free lime, and what is assumed.
func FreeLime(f soil.FreeLime) string {
	says := freeLime(f)
	if share := f.Share(); share > 0 {
		says += ", counted as " + strconv.FormatFloat(float64(share), 'f', -1, 64) + " %"
	}
	return says
}
