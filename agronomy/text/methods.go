package text

import (
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/working"
)

// whys are one-sentence explanations of the methods.
var whys = map[string]string{
	"table": "Old soil-survey figures by texture: all that is needed is a pH. Good to about a half either way. The usual " +
		"choice, since a pH is what most gardens have.",
	"organic-matter": "Reckons from organic matter and clay: surer where a lab gave the organic matter.",
	"learned": "What this bed’s own retests have taught, beside the method that it was reckoned by before. It stands once the " +
		"retests say enough.",
	"equivalence": "Ash is dosed by its strength; untested, at about half that of lime. The usual choice: ash is lime, and counts as " +
		"much of it as it holds.",
	"dusting":       "Never more than {dusting} of ash, once a year, whatever the test says.",
	"measured-only": "No rate for ash until its batch has been tested.",
	"below-band":    "Step in once the soil is below the crop’s band. The usual choice: inside the band liming gains nothing.",
	"at-6":          "Step in only below the band and at {step in} or well under it: fewer goes, more patience.",
	"middle":        "Step in as soon as the soil is under the middle of the band.",
	"question":      "Two jars raise a question and carry no dose. The usual choice: fizz tells sour from sweet, not how much.",
	"yes":           "Ash may go near tomatoes like near other crops. The usual choice.",
	"no":            "No ash on tomatoes.",
	"counts":        "What the water brings is counted. The usual choice: a hard tap sweetens a bed year by year.",
	"ignored":       "Light watering is left out of account.",
	"careful": "First the largest part of the dose that has at most one chance in {careful over} of ending {past range} too high, then a " +
		"test, then the rest. The usual choice: a test costs little, and lime cannot be taken back.",
	"all-at-once": "The whole dose, in as few applications as the caps allow, and a test at the end.",
	"yearly":      "Once a year after a go, in the season of the first reading. The usual choice.",
	"twice":       "In spring and in autumn: a spring check after autumn liming.",
	"long":        "Every {long years} years; a clay left alone every {most years}.",
	"acid-lover":  "Never ash; lime only when it is below its band, and gently.",
	"no-ash":      "No ash; lime may be used below the band.",
	"tender-seed": "Seed or seedlings are harmed by fresh ash: {tender gap} from ash to sowing instead of {usual gap}, and none " +
		"until the plants stand.",
	"scab":        "No ash and no lime in its year: a sour soil holds scab back. Under {lock-out}, where it locks up, lime to {scab}.",
	"clubroot":    "Aim at {clubroot}, which holds clubroot back.",
	"ash-welcome": "Takes ash as a side dressing while it grows.",
	"not-food":    "Flowers, shrubs, lawn and green manures: nobody eats of it.",
	"perennial":   "Lime and ash go on while it is dormant.",
	"climate":     "Warm in warm temperate and subtropical places, cool elsewhere. The usual choice.",
	"cool":        "Cool, wet or once-wooded soils: the stronger column of the lime table.",
	"warm":        "Warm, weathered soils: the milder column.",
}

// questions are the names of the questions.
var questions = map[string]string{
	"buffering": "Method of the lime need", "ash": "How strong ash counts", "act": "When to treat",
	"pace":   "How much at first",
	"retest": "How often a bed is tested again",
	"water":  "What hard water counts for", "tomato_ash": "Ash near tomatoes", "fizz": "What two jars are good for",
}

// Question returns the name of a question.
func Question(name string) string { return questions[name] }

// Why words in a sentence what a choice means.
func Why[T ~string](id T) string { return Units{}.say(whys[string(id)]) }

// stands are the sentences on why a method leaves a bed alone.
var stands = map[crop.Stand]string{
	crop.InBand:  "that is where the crop wants it",
	crop.Patient: "the approach you chose leaves it alone here",
	crop.Drifts:  "too sweet by less than {drifts}: soil drifts down by itself, so it is left to",
}

// Stand returns the sentence on why a method leaves a bed alone.
func Stand(v working.Values) string {
	s := crop.Stand(v.Text("stand"))
	if s == crop.TooClose {
		return sprintf("too close to tell: a single reading is good to ± %s", num(v.N("sd"), 2))
	}
	return Units{}.say(stands[s])
}
