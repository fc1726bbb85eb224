package text

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/working"
)

// whys are one-sentence explanations of the methods.
var whys = map[string]string{
	"table": "Old soil-survey figures by texture: a pH is all they need. Good to about half as much either way. The usual " +
		"choice, since a pH is what most gardens have.",
	"organic-matter": "Works from organic matter and clay: surer where a lab gave the organic matter.",
	"learned": "What this bed’s own retests have shown, against the method used before. It can be used once the " +
		"retests show enough.",
	"equivalence": "Ash is dosed by its strength; untested, at about half that of lime. The usual choice: ash counts as the lime " +
		"that it holds.",
	"dusting":       "Never more than {dusting} of ash, once a year, whatever the test says.",
	"measured-only": "No rate for ash until its batch has been tested.",
	"below-band":    "Treat once the soil is below the crop’s range. The usual choice: inside the range liming gains nothing.",
	"at-6":          "Treat only below the range and at {step in} or well under it: fewer applications, more patience.",
	"middle":        "Treat as soon as the soil is under the middle of the range.",
	"question":      "Two jars raise a question and give no dose. The usual choice: fizz tells sour from sweet, not how much.",
	"yes":           "Ash may be used near tomatoes as near other crops. The usual choice.",
	"no":            "No ash on tomatoes.",
	"counts":        "The lime in the water is counted. The usual choice: hard tap water makes a bed sweeter year by year.",
	"ignored":       "Water is left out: for light watering.",
	"careful": "First the largest part of the dose that has at most one chance in {careful over} of ending {past range} too high, then a " +
		"test, then the rest. The usual choice: a test costs little, and lime cannot be taken back.",
	"all-at-once": "The whole dose, in as few applications as the caps allow, and a test at the end.",
	"yearly":      "Once a year after an application, in the season of the first reading. The usual choice.",
	"twice":       "In spring and in autumn: a spring check after autumn liming.",
	"long":        "Every {long years} years; every {most years} on a clay that is left alone.",
	"acid-lover":  "Never ash; lime only when it is below its range, and gently.",
	"no-ash":      "No ash; lime may be used below the range.",
	"tender-seed": "Seed or seedlings are harmed by fresh ash: {tender gap} from ash to sowing instead of {usual gap}, and none " +
		"until the plants are established.",
	"scab":        "No ash and no lime in its year: a sour soil holds scab back. Under {lock-out}, where it locks up, lime to {scab}.",
	"clubroot":    "Aim at {clubroot}, which holds clubroot back.",
	"ash-welcome": "Takes ash as a side dressing while it grows.",
	"not-food":    "Flowers, shrubs, lawn and green manures: not eaten.",
	"perennial":   "Lime and ash are put on while it is dormant.",
	"climate":     "Warm in warm temperate and subtropical places, cool elsewhere. The usual choice.",
	"cool":        "Cool, wet or once-wooded soils: the stronger column of the lime table.",
	"warm":        "Warm, weathered soils: the milder column.",
}

// questions are the names of the questions.
var questions = map[string]string{
	"buffering": "How the lime need is worked out", "ash": "How ash is measured", "act": "When to treat",
	"pace":   "How much at first",
	"retest": "How often a bed is tested again",
	"water":  "Lime in hard water", "tomato_ash": "Ash near tomatoes", "fizz": "What two jars can decide",
}

// Question returns the name of a question.
func Question(name string) string { return questions[name] }

// Why words in a sentence what a choice means.
func Why[T ~string](id T) string { return Units{}.say(whys[string(id)]) }

// stands are the sentences on why a method leaves a bed alone.
var stands = map[crop.Stand]string{
	crop.InRange: "that is where the crop wants it",
	crop.Patient: "the approach you chose leaves it alone here",
	crop.Drifts:  "too sweet by less than {drifts}: pH falls by itself, so leave it alone",
}

// Stand returns the sentence on why a method leaves a bed alone.
func Stand(v working.Values) string {
	s := crop.Stand(v.Text("stand"))
	if s == crop.TooClose {
		return sprintf("too close to tell: a single reading is good to ± %s", num(v.N("sd"), 2))
	}
	return Units{}.say(stands[s])
}
