package text

import (
	"zephyrfield/agronomy/guard"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/working"
)

// Guarded is a guard in words.
type Guarded struct {
	ID    string
	Level guard.Level
	// Says is why; Lifts is what would end it, "" when nothing would.
	Says, Lifts string
}

// ways begin the sentence on what ends a guard.
var ways = map[guard.Level]string{guard.Stop: "The way out: ", guard.Caution: "To remove this warning: ",
	guard.Note: "To change this: "}

// WayOut returns the sentence on what would end the guard; "" when nothing would.
func (g Guarded) WayOut() string {
	if g.Lifts == "" {
		return ""
	}
	return ways[g.Level] + Lower(g.Lifts)
}

// Guard returns a finding in words, in metric.
func Guard(f guard.Finding) Guarded { return Units{}.Guard(f) }

// Guard returns a finding in words.
func (u Units) Guard(f guard.Finding) Guarded {
	g := Guarded{ID: f.ID, Level: f.Level}
	if w, ok := guards[f.ID]; ok {
		g.Says, g.Lifts = w(u, f.With)
		g.Says, g.Lifts = u.say(g.Says), u.say(g.Lifts)
		return g
	}
	// The calendar's rules: a stop that passes with time, or never in a year.
	if _, ok := limits[f.ID]; ok {
		why := u.limit(f.ID)
		if d := f.With.Day("until"); d != 0 {
			g.Says = sprintf("Not before %s: on the day of the dose %s.", DayYear(d), why)
			return g
		}
		g.Says, g.Lifts = sprintf("No day in the next %s is suitable: %s.", u.say("{horizon}"), why), "A later day."
	}
	return g
}

// Guards returns findings in words, in metric.
func Guards(fs []guard.Finding) []Guarded { return Units{}.Guards(fs) }

// Guards returns findings in words.
func (u Units) Guards(fs []guard.Finding) []Guarded {
	out := make([]Guarded, len(fs))
	for i, f := range fs {
		out[i] = u.Guard(f)
	}
	return out
}

// HasGuard reports whether a rule has its sentence.
func HasGuard(id string) bool {
	_, rule := guards[id]
	_, day := limits[id]
	return rule || day
}

// HasStep reports whether a step has its sentence.
func HasStep(id string) bool { _, ok := steps[id]; return ok }

func (u Units) rate(v working.Values, n string) string { return u.Rate(quantity.Rate(v.N(n))) }

func p1(v working.Values, n string) string { return PH(quantity.PH(v.N(n))) }

// onTop reports whether a guard's material lands on the top 5 cm of a layered reading.
func onTop(v working.Values) bool { return v.N("layered") == 1 && v.Text("worked") != "dug" }

// chance returns the sentence on how many in a hundred.
func chance(v working.Values) string { return num(v.N("chance"), 0) }

// some adds where the far end of the likely pH lies, if it is further by a tenth than what was told.
func some(v working.Values, further float64) string {
	if further < 0.1 {
		return ""
	}
	return ", some at " + p1(v, "p95")
}

// NoDoseOfHeaps returns the sentence on why a heap gets no dose, and what to test instead.
func NoDoseOfHeaps() string {
	g := Guard(guard.Finding{ID: "heap-no-dose"})
	return g.Says + " " + g.Lifts
}

// byPace chooses what lifts the warning of ending past the range; the careful pace is not named if
// it is already in use.
func byPace(v working.Values, careful, allAtOnce string) string {
	if v.N("careful") == 1 {
		return careful
	}
	return allAtOnce
}

func layers(v working.Values) string {
	var out []string
	to := 0.0
	for _, x := range v {
		switch x.Name {
		case "to":
			to = x.N
		case "ph":
			out = append(out, PH(quantity.PH(x.N))+" down to "+Depth(quantity.Depth(to)))
		}
	}
	return List(out)
}

func fixed(says, lifts string) func(Units, working.Values) (string, string) {
	return func(Units, working.Values) (string, string) { return says, lifts }
}

var guards = map[string]func(Units, working.Values) (says, lifts string){
	"fizz-only": fixed("Jar fizz tells only sour, near neutral or sweet; no amount can rest on it.",
		"Read the bed with a lab, a meter or a colour kit."),
	"above-band-top": func(u Units, v working.Values) (string, string) {
		if onTop(v) {
			return sprintf("The top {top layer} read %s, at or above the top of the range (%s): what is left on top stays there, however "+
					"sour "+
					"it is below.", p1(v, "lands"), p1(v, "high")),
				sprintf("Digging it through once, or a new reading of the top {top layer} below %s.", p1(v, "high"))
		}
		return sprintf("The soil reads %s, at or above the top of the range (%s). More lime or ash would do harm.", p1(v, "lands"),
				p1(v, "high")),
			sprintf("A new reading below %s.", p1(v, "high"))
	},
	"ash-acid-lover": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s loves acid ground: never ash.", Capital(Crop(v.Text("crop")))), "Another crop."
	},
	"potato-year": fixed("Potatoes are kept sour against scab: no ash in their year, and lime only under {lock-out}.",
		"The year after potatoes."),
	"ash-unsuited-crop": func(_ Units, v working.Values) (string, string) {
		return sprintf("Ash does not suit %s.", Crop(v.Text("crop"))), "Use lime, or another crop."
	},
	"ash-at-6.5": func(_ Units, v working.Values) (string, string) {
		if onTop(v) {
			return sprintf("The top {top layer} read %s; from {ash top} up, no ash.",
				p1(v, "lands")), "A new reading of the top {top layer} below {ash top}."
		}
		return sprintf("The soil reads %s; from {ash top} up, no ash.", p1(v, "lands")), "A new reading below {ash top}."
	},
	"ash-tomato": fixed("The approach you chose keeps ash from tomatoes.", "Another approach, or lime."),
	"hydrated-acid-lover": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s wants sour ground: never hydrated lime.",
			Capital(Crop(v.Text("crop")))), "Ground lime, gently, if it is below its range."
	},
	"sulfides": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s in mineral soil may mean sulfides, as in old marsh: pH gives no lime rate.",
			p1(v, "sourest")), "A lab’s test for sulfides, and its advice."
	},
	"sodium": func(_ Units, v working.Values) (string, string) {
		return sprintf("At %s sodium may be the cause, not lime: no rate.", p1(v, "sweetest")), "A lab’s test for sodium."
	},
	"ash-source": func(_ Units, v working.Values) (string, string) {
		return sprintf("No: %s.", Barred(v.Text("source"))), "Take it to the waste collection."
	},
	"ash-not-measured": fixed("This ash has no measured strength, and your approach gives no rate without one.",
		"A vinegar test or a lab figure for this batch, or another approach."),
	"potassium-ceiling": func(_ Units, v working.Values) (string, string) {
		says := sprintf("Potassium is %s ppm, at or over the ceiling of %s: no more of it.", num(v.N("k"), 0), num(v.N("ceiling"), 0))
		if v.N("ash") == 1 {
			return says, "A later test below the ceiling; until then use lime."
		}
		return says, "A later test below the ceiling."
	},
	"sulfur-free-lime": func(u Units, v working.Values) (string, string) {
		if v.Text("free_lime") == "unknown" {
			return "At {free lime} or more the soil may hold free lime, which eats sulfur for years. It has not been tested.",
				"Drip vinegar on a crumb of dry soil and note how it fizzes."
		}
		return sprintf("The soil fizzes: free lime would take up enough acid to offset %s of lime before pH moves. Lowering the whole bed "+
				"is not practical.", u.rate(v, "acid")),
			"Use an acid-mix raised bed or pot, chelated iron, acid-forming nitrogen, spot treatment, or crops that stand it."
	},
	"lowering-impractical": func(u Units, v working.Values) (string, string) {
		if v.Text("free_lime") != "faint" {
			return sprintf("It fizzes: free lime first takes up enough acid to offset about %s of lime. Lowering the bed is not practical.",
					u.rate(v, "acid")),
				"An acid-mix raised bed or pot, chelated iron, spot treatment, or crops that stand it."
		}
		return sprintf("A faint fizz above {limy}: free lime may use up acid for %s of lime. Lowering is hardly practical.",
				u.rate(v, "acid")),
			"An acid-mix raised bed or pot, chelated iron, acid-forming nitrogen, or crops that stand it."
	},
	"free-lime-trace": func(u Units, v working.Values) (string, string) {
		return sprintf("Even without a fizz, free lime may take up enough acid to offset %s of lime before pH moves.", u.rate(v, "acid")),
			"A lab’s figure for free lime."
	},
	"weak-method": func(_ Units, v working.Values) (string, string) {
		tail := ""
		if v.N("half") == 1 {
			tail = " Half at most, then a test."
		}
		return sprintf("The reading is by %s, good to about ± %s.%s", Short(v.Text("method")), num(v.N("sd"), 1), tail),
			"A lab test, or a meter calibrated within {calibration}."
	},
	"not-learned-yet": func(_ Units, v working.Values) (string, string) {
		return sprintf("Its %s after lime or ash do not show enough yet: the %s method is used.", Count(int(v.N("tests")), "test", "tests"),
			Lower(Name(v.Text("school")))), "More tests after applications."
	},
	"surprising-test": func(_ Units, v working.Values) (string, string) {
		again := "Test it once more"
		if v.N("more") == 1 {
			again = "A second test agreed with neither. Test it a third time"
		}
		return sprintf("%s read, %s expected. %s before anything is put on.", p1(v, "read"), p1(v, "expected"), again),
			"A confirming test on " + DayYear(v.Day("test")) + " or later, by the same or a surer method."
	},
	"stale-reading": func(_ Units, v working.Values) (string, string) {
		if v.N("old") == 0 {
			return sprintf("Something was put on after the reading of %s that was not planned from it.",
				DayYear(v.Day("date"))), "A new reading."
		}
		return sprintf("The reading of %s is more than %s months old.", DayYear(v.Day("date")), num(v.N("months"), 0)), "A new reading."
	},
	"sampled-too-soon": fixed("Sampled too soon: ash needs {after ash} and lime {after lime} to act.",
		"A new reading after that time."),
	"large-change": func(_ Units, v working.Values) (string, string) {
		return sprintf("From %s to %s is more than one pH unit in a year.", p1(v, "ph"), p1(v, "target")),
			"A target within one unit this year."
	},
	"target-outside-band": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s lies outside the range of %s, %s to %s.", p1(v, "target"), Crop(v.Text("crop")), p1(v, "low"), p1(v, "high")),
			"A target inside the range."
	},
	"potassium-beside-magnesium": func(_ Units, v working.Values) (string, string) {
		return sprintf("Potassium is %s ppm against %s of magnesium: more than {k mg high} times as much crowds it out.", num(v.N("k"), 0),
			num(v.N("mg"), 0)), "No potassium feed, or magnesium."
	},
	"calcium-low": func(_ Units, v working.Values) (string, string) {
		says := sprintf("Calcium is short: %s ppm.", num(v.N("ca"), 0))
		if v.N("sour") == 1 {
			return says + " Lime brings it.", ""
		}
		return says + " Gypsum brings it without moving pH: {gypsum once} at a time, {gypsum year} a year. Where fruit rots at its end, water " +
			"evenly first.", ""
	},
	"magnesium-low": func(_ Units, v working.Values) (string, string) {
		return sprintf("Magnesium is low (%s ppm, want {magnesium low}): dolomitic lime brings some.",
			num(v.N("mg"), 0)), "A test at {magnesium low} ppm or more."
	},
	"overshoot": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s in 100 would end at %s or more, %s past the range%s.", chance(v),
				PH(quantity.PH(v.N("high")+v.N("past"))), p1(v, "past"), some(v, v.N("p95")-v.N("high")-v.N("past"))),
			byPace(v, "A lab’s buffer pH, or what this bed has shown.",
				"The careful pace, a lab’s buffer pH, or what this bed has shown.")
	},
	"undershoot": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s in 100 would end at %s or less, %s under the range%s.", chance(v),
				PH(quantity.PH(v.N("low")-v.N("past"))), p1(v, "past"), some(v, v.N("low")-v.N("past")-v.N("p95"))),
			byPace(v, "A surer reading.", "The careful pace, or a surer reading.")
	},
	"ash-over-common-advice": func(u Units, v working.Values) (string, string) {
		lifts := "A mix with lime, or lime alone."
		if v.N("mix") == 1 {
			lifts = "Less ash and more lime."
		}
		return sprintf("%s of ash a year is over common advice, {ash advice}: only for a tested need.",
			u.rate(v, "total")), lifts
	},
	"ash-years": func(u Units, v working.Values) (string, string) {
		much := sprintf("%s of ash in {ash span} years", u.rate(v, "total"))
		if v.N("running") == 1 {
			much = "more than {much ash} of ash {much years} years running"
		}
		return sprintf("That makes %s: its cadmium and boron stay in the soil.", much), "A test of the soil or the ash for cadmium and boron."
	},
	"dolomite-magnesium": func(_ Units, v working.Values) (string, string) {
		return sprintf("Magnesium is high (%s ppm), or high against the potassium: dolomitic lime adds to it.",
			num(v.N("mg"), 0)), "Calcitic lime."
	},
	"too-close-to-tell": func(_ Units, v working.Values) (string, string) {
		return sprintf("Too close to tell: %s against %s to %s, and a single reading is good to ± %s.", PH2(quantity.PH(v.N("ph"))),
				p1(v, "low"), p1(v, "high"), num(v.N("sd"), 2)),
			"A second reading, or a target of your own."
	},
	"drifts-down": func(_ Units, v working.Values) (string, string) {
		return sprintf("At %s it is less than {drifts} over the range: pH falls by itself, so leave it alone.",
			p1(v, "ph")), "A target of your own."
	},
	"potato-lock-out": fixed("Under {lock-out} even potatoes starve: lime may bring it to {scab}, no further, so that scab is kept "+
		"down.", ""),
	"muck-by-organic-matter": func(_ Units, v working.Values) (string, string) {
		return sprintf("With %s organic matter this is muck, whatever texture was chosen; it counts as muck.", pc(v, "om")),
			"A lab figure of {muck} or less."
	},
	"lime-late": func(_ Units, v working.Values) (string, string) {
		return sprintf("Lime works slowly: about %s of it will have acted by the sowing of %s. The crop after that benefits.",
				Percent(quantity.Percent(quantity.Round(v.N("share"), 0))), DayYear(v.Day("sowing"))),
			"{Lime time} from liming to sowing."
	},
	"layers-differ": func(_ Units, v working.Values) (string, string) {
		return sprintf("It reads %s; dug through, about %s.", layers(v), p1(v, "mixed")), "Digging it through before the next crop."
	},
	"smp-range": fixed("The SMP tables end at a target of {smp top}; above that the last line is extended.",
		"A target of {smp top} or less."),
	"buffer-gives-nothing": func(u Units, v working.Values) (string, string) {
		return sprintf("On sand the buffer formula gives nothing although %s is under %s; the texture table gives %s.", p1(v, "ph"),
				p1(v, "target"), u.rate(v, "table")),
			"The texture table as the method."
	},
	"fizz-dusting": func(u Units, v working.Values) (string, string) {
		return sprintf("Two jars say sour, not how sour: a light dusting, at most %s of ash, once a year.", u.rate(v, "cap")),
			"A reading by kit, meter or lab."
	},
	"potassium-stale": func(_ Units, v working.Values) (string, string) {
		if s := v.Text("state"); s == "plenty" || s == "too-much" {
			return sprintf("The potassium figure of %s is more than %s months old; since it was high, no more is allowed.",
				DayYear(v.Day("date")), num(v.N("months"), 0)), "A new potassium test."
		}
		return sprintf("The potassium figure of %s is more than %s months old and counts as unknown.", DayYear(v.Day("date")),
			num(v.N("months"), 0)), "A new potassium test."
	},
	"potassium-muck": fixed("On muck potassium is judged by volume: these figures do not fit it.", "The lab’s own range."),
	guard.TooLittle: func(u Units, v working.Values) (string, string) {
		if v.N("moves") > 0 {
			return sprintf("Only %s of %s is needed; it moves pH by less than %s.", u.rate(v, "rate"), Material(v.Text("kind")),
				p1(v, "moves")), ""
		}
		return sprintf("Only %s of %s is needed; under %s it is not worth spreading.", u.rate(v, "rate"), Material(v.Text("kind")),
			u.rate(v, "least")), ""
	},
	"potassium-unknown": fixed("Potassium has not been tested, so ash is limited to what the crop carries off.", "A potassium test."),
	"potassium-magnesium": func(_ Units, v working.Values) (string, string) {
		return sprintf("Potassium would reach %s ppm, high enough to crowd out magnesium.",
			num(v.N("k"), 0)), "Less ash, or dolomitic lime."
	},
	"seed-crop": func(_ Units, v working.Values) (string, string) {
		return sprintf("Fresh ash harms seed and seedlings of %s: none from {tender gap} before sowing until the plants are established.",
			Crop(v.Text("crop"))), "Established plants: {sown stands} after sowing, {planted stands} after planting out."
	},
	"ash-wet":       fixed("This ash was left out wet: most of its potash has washed away and its strength is unsure.", "A vinegar test."),
	"hydrated-lime": fixed("Hydrated lime burns skin and eyes and works within days: for trained hands only.", "Use ground lime."),
	"lime-acid-lover": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s wants sour ground: at most {acid lime} of lime in a year, and only below its range.",
			Capital(Crop(v.Text("crop")))), ""
	},
	"surface-slow": func(_ Units, v working.Values) (string, string) {
		says := "Left on top, it works in the top {top layer} first: test that before each further application."
		if v.N("lawn") == 1 {
			return says, ""
		}
		return says, "Digging it in."
	},
	"established-shrubs": fixed("Around established plants: small amounts, repeated, kept off the stems.", ""),
	"days-left-out":      fixed("Not all of it fits within {horizon}: some must wait until next year.", ""),

	"no-ph-change": func(_ Units, v working.Values) (string, string) {
		switch v.Text("kind") {
		case "gypsum":
			return "Gypsum feeds calcium and does not move pH.", ""
		case "coffee-grounds":
			return "Brewed coffee grounds are near neutral and belong in the compost.", ""
		case "citric-acid":
			return "Citric acid does not last: pH rebounds in weeks. For pots only.", ""
		}
		return sprintf("%s barely moves pH.", Capital(Material(v.Text("kind")))), ""
	},
	"wrong-way": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s would move pH the wrong way; this bed needs it brought %s.", Capital(Material(v.Text("kind"))),
			map[string]string{"raise": "up", "lower": "down"}[v.Text("way")]), ""
	},
	"typical-strength": fixed("The strength is the usual one for its kind; ash can differ by a factor of three.",
		"A vinegar test of this batch."),
	"target-overrides": func(_ Units, v working.Values) (string, string) {
		return sprintf("The reading is where your approach would leave it alone; the %s that you typed is used.",
			p1(v, "target")), "Clear the target."
	},
	"lock-up-high":  fixed("Above {lock high} iron, manganese, zinc and phosphorus are locked up.", ""),
	"lock-up-low":   fixed("Below {lock low} phosphorus, calcium, magnesium and molybdenum are locked up.", ""),
	"aluminium-low": fixed("Below {loose metals} aluminium and manganese come loose and harm roots.", ""),
	"methods-disagree": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s and %s differ by %s; neither can be preferred.", Capital(Short(v.Text("a"))), Short(v.Text("b")),
				p1(v, "apart")),
			"A third reading."
	},
	"crops-conflict": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s wants %s or more, %s %s or less: no pH suits both.", Capital(Crop(v.Text("a"))), p1(v, "low"),
				Crop(v.Text("b")), p1(v, "high")),
			"Grow them apart."
	},
	"ash-hot": func(_ Units, v working.Values) (string, string) {
		if v.Day("cool") == 0 {
			return "It may still hold embers.", "When none is left: {hot days} under its lid, and cold to the touch right through."
		}
		return "Ash less than {hot days} old may hide embers.", sprintf("From %s, cold to the touch right through.", Day(v.Day("cool")))
	},
	guard.AcidSpentID: func(u Units, v working.Values) (string, string) {
		return sprintf("Free lime uses up acid to offset %s of lime before pH moves: more than a year may have.", u.rate(v, "acid")),
			"An acid mix in pots or a raised bed, or crops that like it sweet."
	},
	"sulfur-after-lime": func(_ Units, v working.Values) (string, string) {
		return sprintf("The lime or ash of %s did this. Wait: pH falls by itself.", DayYear(v.Day("date"))),
			"A test that is still too sweet {overshot months} months after it."
	},
	"heap-no-dose":   fixed("A heap gets no dose: no test of it tells what the beds will get.", "Test the bed that its compost goes on."),
	"pots-by-recipe": fixed("Pots hold a mix, not soil: its lime depends on what it is made of.", "A mix made by its recipe, or new compost."),
	"manure-pots":    fixed("Manure is too strong for pots: its salts and ammonia burn roots.", "Garden compost, or a bed in open ground."),
	"manure-seed-bed": func(_ Units, v working.Values) (string, string) {
		return sprintf("The seed and seedlings of %s are harmed by fresh or poultry manure.", Crop(v.Text("crop"))),
			"Rotted manure or compost, or a crop that is planted out strong."
	},
	"chalky-acid-lover": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s loves acid ground, and there is chalk in %s.", Capital(Crop(v.Text("crop"))),
			Material(material.Kind(v.Text("kind")))), "Leaf mould, or another crop."
	},
	"aluminium-food": fixed("Aluminium sulfate is not for ground that grows food.", "Sulfur instead, or a crop that is not eaten."),
	"outranked": fixed("A weaker reading differed by more than {disagree}; the lab or calibrated meter is used.",
		"A fresh reading by the weaker method."),
	"outlier": func(_ Units, v working.Values) (string, string) {
		return sprintf("%s lies more than {outlier} from the middle of its kind and counts for little.", Capital(Count(int(v.N("n")), "reading",
			"readings"))), "Read again."
	},
	"fizz-doubts": fixed("The jar test disagrees with the figure.", "A lab test."),
	"buried-acid": func(u Units, v working.Values) (string, string) {
		return sprintf("Under %s the soil reads %s: lime moves down a centimetre a year, so roots reach sour soil.",
				u.Depth(quantity.Depth(v.N("depth"))), p1(v, "below")),
			"Digging deeper, once."
	},
	"potassium-too-much": func(_ Units, v working.Values) (string, string) {
		return sprintf("Potassium is too much (%s ppm, ceiling %s): no ash, and little manure or compost.", num(v.N("k"), 0),
			num(v.N("ceiling"), 0)), "A later test below the ceiling."
	},
	"potassium-extractant": func(_ Units, v working.Values) (string, string) {
		what := "The lab’s extraction method for potassium is not known"
		if e := v.Text("extractant"); e != "" {
			what = "The lab’s extraction method for potassium was " + Name(e)
		}
		return what + "; the figures here are for ammonium acetate.", "The lab’s extraction method, or its own optimum range."
	},
	"hard-water": func(_ Units, v working.Values) (string, string) {
		return sprintf("The water is hard (%s mg/L): every can makes this bed a little sweeter.",
			num(v.N("alkalinity"), 0)), "Rain water."
	},
	"adams-evans-range": fixed("This method is made for targets to {ae top} and light soils (CEC to {ae cec}).",
		"A buffer made for heavier soil, or a lower target."),
	"ash-old": func(_ Units, v working.Values) (string, string) {
		if quantity.Day(v.N("days")) > material.StaleDays {
			return "This ash is more than {stale ash} old: its potash is unknown and counted at the most it can hold.",
				"A test of this batch."
		}
		return "This ash is more than {old ash} old; it keeps only dry and lidded.", "A vinegar test."
	},
	"black-walnut": fixed("Black walnut went into this ash: keep it from tomatoes and their kin, and from seedlings.",
		"Ash of other wood."),
	"aluminium-sour": fixed("Below {loose metals} the soil frees aluminium already; aluminium sulfate adds to it.", "Sulfur instead."),
	"salt-seedlings": fixed("It is a salt: keep it off seedlings, a week before sowing at least.", "Established plants."),
	"feeds-nitrogen": func(u Units, v working.Values) (string, string) {
		return sprintf("It brings %s of nitrogen: count it in what the crop gets.", u.rate(v, "n")), ""
	},
	"yellow-leaves": fixed("Yellow leaves with green veins here point to pH, not to hunger: test before feeding.", ""),
	"not-offered-here": func(_ Units, v working.Values) (string, string) {
		where := Name(v.Text("worked"))
		if v.Text("use") == "lawn" {
			where = "lawn"
		}
		return sprintf("%s is not used here (%s).", Capital(Material(v.Text("kind"))), where), ""
	},
	"first-part-gone": func(u Units, v working.Values) (string, string) {
		return sprintf("The first part of this dose was put on by %s. The rest waits for a test, from %s on.", Day(v.Day("date")),
			DayYear(v.Day("retest"))), "That test."
	},
	"half-gone": func(u Units, v working.Values) (string, string) {
		return sprintf("Half of what this reading allows was put on by %s. The rest waits for a test, from %s on.", Day(v.Day("date")),
			DayYear(v.Day("retest"))), "That test, or a lab’s now."
	},
	"nothing-to-give": func(u Units, v working.Values) (string, string) {
		return sprintf("Nothing can be put on: %s.", u.limit(v.Text("limit"))), ""
	},
	"more-than": func(u Units, v working.Values) (string, string) {
		return sprintf("No more than %s here: %s.", u.rate(v, "most"), u.limit(v.Text("limit"))), ""
	},
}

// Barred returns the sentence on why an ash goes on no growing ground.
func Barred[T ~string](source T) string { return Name(source) + " went into this batch" }
