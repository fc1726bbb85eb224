package crop

import (
	"strings"
	"unicode"
)

// alsoCalled are other usual names of crops, in the singular and lower case.
var alsoCalled = map[string]string{
	"zucchini": "courgette", "marrow": "squash", "butternut": "squash", "gourd": "pumpkin",
	"chilli": "pepper", "chili": "pepper", "paprika": "pepper", "capsicum": "pepper", "sweet pepper": "pepper", "bell pepper": "pepper",
	"gherkin": "cucumber", "beet": "beetroot", "swiss chard": "chard", "leaf beet": "chard",
	"white cabbage": "cabbage", "red cabbage": "cabbage", "savoy": "cabbage", "calabrese": "broccoli", "borecole": "kale",
	"spring onion": "onion", "shallot": "onion", "scallion": "onion",
	"french bean": "bean", "runner bean": "bean", "green bean": "bean", "dwarf bean": "bean", "climbing bean": "bean",
	"fava": "broad bean", "fava bean": "broad bean", "mangetout": "pea", "sugar snap": "pea",
	"corn": "sweet corn", "maize": "sweet corn", "sweetcorn": "sweet corn", "spud": "potato", "batata": "sweet potato",
	"blackcurrant": "currant", "redcurrant": "currant", "whitecurrant": "currant", "black currant": "currant", "red currant": "currant",
	"white currant": "currant", "vine": "grape", "grapevine": "grape", "bilberry": "blueberry", "cowberry": "lingonberry",
	"damson": "plum", "gage": "plum", "greengage": "plum", "mirabelle": "plum", "nectarine": "peach", "sweetpea": "sweet pea",
	"grass": "lawn", "turf": "lawn", "brussels sprout": "sprouts", "brussel sprout": "sprouts", "sprout": "sprouts",
	"rutabaga": "swede", "neep": "swede", "bok choi": "pak choi", "bok choy": "pak choi", "pak choy": "pak choi",
	"arugula": "rocket", "roquette": "rocket", "rucola": "rocket", "corn salad": "lambs lettuce", "mache": "lambs lettuce",
	"radicchio": "chicory", "escarole": "endive", "frisee": "endive", "eggplant": "aubergine", "globe artichoke": "artichoke",
	"groundnut": "peanut", "camomile": "chamomile", "bramble": "blackberry", "filbert": "hazel", "cobnut": "hazel", "hazelnut": "hazel",
	"elderberry": "elder", "elderflower": "elder", "tagetes": "marigold", "calendula": "marigold", "narcissus": "daffodil",
	"narcissi": "daffodil", "lucerne": "alfalfa", "vegetable": "general vegetables", "mixed vegetables": "general vegetables",
}

// byWords is every crop by its names in plain form.
var byWords = func() map[string]Crop {
	m := map[string]Crop{}
	for _, c := range Library {
		m[plain(c.Name)], m[plain(c.ID)] = c, c
	}
	for said, name := range alsoCalled {
		m[plain(said)] = m[plain(name)]
	}
	return m
}()

// plain returns a name in lower case, its words parted by one space, without other marks.
func plain(name string) string {
	name = strings.NewReplacer("'", "", "’", "").Replace(strings.ToLower(name))
	return strings.Join(strings.FieldsFunc(name, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), " ")
}

// plurals are the endings of plurals and what they stand for, the longer first.
var plurals = []struct{ ending, one string }{{"ies", "y"}, {"ves", "f"}, {"es", ""}, {"s", ""}}

// Called returns the crop of the library that a gardener calls so: by its own or another usual name, in the singular or the
// plural, in any case.
func Called(name string) (Crop, bool) {
	name = plain(name)
	if c, ok := byWords[name]; ok {
		return c, true
	}
	for _, p := range plurals {
		if stem, ok := strings.CutSuffix(name, p.ending); ok {
			if c, ok := byWords[stem+p.one]; ok {
				return c, true
			}
		}
	}
	return Crop{}, false
}
