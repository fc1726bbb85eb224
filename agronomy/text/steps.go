package text

import (
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/working"
)

// Line is a step of a working in words.
type Line struct {
	ID string
	// Label is the result's name, Value the figure, How its computation.
	Label, Value, How string
	Source            string
}

type sentence func(v working.Values, r working.Value) (label, how string)

// Step returns one step in words.
func Step(s working.Step) Line {
	l := Line{ID: s.ID, Value: Value(s.Result), Source: Units{}.say(sources[s.Source])}
	if f, ok := steps[s.ID]; ok {
		l.Label, l.How = f(s.From, s.Result)
		l.Label, l.How = Units{}.say(l.Label), Units{}.say(l.How)
	}
	return l
}

// Steps returns a working in words.
func Steps(ss []working.Step) []Line {
	out := make([]Line, len(ss))
	for i, s := range ss {
		out[i] = Step(s)
	}
	return out
}

// Value formats one value with its unit.
func Value(v working.Value) string {
	switch v.Unit {
	case working.PH:
		return "pH " + PH2(quantity.PH(v.N))
	case working.Rate:
		return Rate(quantity.Rate(v.N))
	case working.Mass:
		// The working is exact; the rest of the page is what one can weigh.
		if v.N >= 1000 {
			return num(v.N/1000, 2) + " kg"
		}
		return num(v.N, 0) + " g"
	case working.Area:
		return Area(quantity.Area(v.N))
	case working.Depth:
		return Depth(quantity.Depth(v.N))
	case working.Percent:
		return Percent(quantity.Percent(v.N))
	case working.PPM:
		return PPM(quantity.Concentration(v.N))
	case working.Date:
		return DayYear(quantity.Day(v.N))
	case working.PerSoil, working.PerKilogram:
		return num(v.N, 3) + " g/kg"
	case working.SoilMass:
		return num(v.N, 1) + " kg/m²"
	case working.Count, working.None, working.Ratio:
		return num(v.N, 3)
	case working.Text:
		return Name(v.Text)
	case working.CEC:
		return num(v.N, 1) + " cmol/kg"
	}
	return num(v.N, 2) + " " + string(v.Unit)
}

func ph(v working.Values, name string) string { return PH2(quantity.PH(v.N(name))) }
func rate(v working.Values, name string) string {
	return Rate(quantity.Rate(v.N(name)))
}
func pc(v working.Values, name string) string { return Percent(quantity.Percent(v.N(name))) }

// pieces writes "0.30 × 1.2 + 0.90 × 1.7" from the repeated share and slope.
func pieces(v working.Values, each func(share, slope float64) string) string {
	var out []string
	share := 0.0
	for _, x := range v {
		switch x.Name {
		case "share":
			share = x.N
		case "tons":
			out = append(out, each(share, x.N))
		}
	}
	return strings.Join(out, " + ")
}

const tonRate = float64(quantity.ShortTonPerAcre)

// taken are the names of assumed values.
var taken = map[string]string{
	"table": "texture table", "worked": "worked", "depth": "depth", "method": "read by", "cores": "cores", "basis": "read",
	"buffering": "lime need by",
	"use":       "use", "climate": "climate", "free_lime": "free lime", "cec": "CEC", "clay": "clay",
	"crop": "no crop named: range {usual low} to {usual high}, potash carried off", "date": "read on",
}

// Taken returns the sentence on an assumed value.
func Taken(v working.Value) string {
	name := taken[v.Name]
	switch v.Unit {
	case working.CEC:
		return name + " " + num(v.N, 0) + " cmol/kg"
	case working.Text:
		return name + " " + Name(v.Text)
	}
	return name + " " + Value(v)
}

// worth returns the sentence on how strong a material is beside pure lime.
func worth(percent float64) string {
	if percent < 0 {
		return num(-percent/100, 2) + " g of lime offset by 1 g"
	}
	return num(percent, 0) + " % as strong as pure lime"
}

var steps = map[string]sentence{
	"basis": func(v working.Values, _ working.Value) (string, string) {
		return sprintf("%s %s, as water would read", ph(v, "read"), Name(v.Text("basis"))),
			sprintf("%s + %s", ph(v, "read"), num(v.N("shift"), 1))
	},
	"texture-table": func(v working.Values, r working.Value) (string, string) {
		sum := pieces(v, func(share, tons float64) string { return num(share, 2) + " × " + num(tons, 2) })
		if v.N("to") < v.N("from") {
			sum = "−(" + sum + ")"
		}
		return sprintf("%s to %s in a %s %s", ph(v, "from"), ph(v, "to"), v.Text("table"), Name(v.Text("texture"))),
			sprintf("%s short tons/acre for 7 in; 1 short ton/acre is {ton} g/m²", sum)
	},
	"sulfur-table": func(v working.Values, r working.Value) (string, string) {
		sum := pieces(v, func(share, tons float64) string { return num(share, 2) + " × " + num(tons*tonRate, 0) })
		return sprintf("%s down to %s in a %s", ph(v, "from"), ph(v, "to"), Name(v.Text("texture"))),
			sprintf("−(%s) g/m² per pH unit for 7 in: printed sulfur table × {sulfur gram} above {sulfur from}, cool lime table below", sum)
	},
	"depth": func(v working.Values, r working.Value) (string, string) {
		printed := num(v.N("table_depth")*100, 2)
		how := sprintf("%s × %s / %s", num(v.N("need"), 1), num(v.N("depth")*100, 1), printed)
		if stones := v.N("stones"); stones > 0 {
			how += sprintf(" × (1 − %s), without the stones", num(stones/100, 2))
		}
		return sprintf("for %s, not %s", Depth(quantity.Depth(v.N("depth"))), num(v.N("table_depth")*100, 1)), how
	},
	"assumed": func(v working.Values, r working.Value) (string, string) {
		all := make([]string, len(v))
		for i, x := range v {
			all[i] = Taken(x)
		}
		return "assumed", List(all)
	},
	"joined": func(v working.Values, r working.Value) (string, string) {
		how := sprintf("by method the mean, or the median of three and more; surer ones count more; ± %s", num(v.N("sd"), 2))
		if left := int(v.N("left")); left > 0 {
			how += sprintf("; %s too old, or from before an application, left out", Count(left, "is", "are"))
		}
		return sprintf("%s readings together", num(v.N("readings"), 0)), how
	},
	"layer": func(v working.Values, r working.Value) (string, string) {
		how := "the need over this layer"
		if v.N("need") != 0 && r.N == 0 {
			how = map[bool]string{true: "sweeter", false: "more sour"}[v.N("need") < 0] + " than wanted; not dug, so it does not help the others"
		}
		return sprintf("%s to %s deep at %s, to %s", num(v.N("from")*100, 1), Depth(quantity.Depth(v.N("until"))), ph(v, "ph"),
			ph(v, "to")), how
	},
	"layers-mixed": func(v working.Values, r working.Value) (string, string) {
		return "all layers together, dug through", sprintf("their sum; as if all %s read %s", Depth(quantity.Depth(v.N("depth"))),
			ph(v, "from"))
	},
	"layers-lacking": func(v working.Values, r working.Value) (string, string) {
		return "what the layers lack, not dug", sprintf("only what is missing, nothing offset; as if all %s read %s",
			Depth(quantity.Depth(v.N("depth"))), ph(v, "from"))
	},
	"smp": func(v working.Values, r working.Value) (string, string) {
		return sprintf("%s to %s by SMP buffer %s", ph(v, "from"), ph(v, "to"), ph(v, "buffer")),
			sprintf("printed lines at LTI %s give %s short tons/acre for 8 in; × {effective} × {ton}", num(v.N("lti"), 1),
				num(v.N("printed"), 3))
	},
	"adams-evans": func(v working.Values, r working.Value) (string, string) {
		return sprintf("%s to %s by Adams–Evans buffer %s", ph(v, "from"), ph(v, "to"), ph(v, "buffer")),
			sprintf("{ae rate} × ({ae end} − %s) / %s × (%s − %s) × {ae factor} = %s lb/acre; × {effective} × {pound}", ph(v, "buffer"),
				num(v.N("h1"), 4), num(v.N("h1"), 4), num(v.N("h2"), 4), num(v.N("printed"), 0))
	},
	"mehlich": func(v working.Values, r working.Value) (string, string) {
		return sprintf("%s to %s by Mehlich buffer %s", ph(v, "from"), ph(v, "to"), ph(v, "buffer")),
			sprintf("acidity ({mehlich top} − %s) / {mehlich step} = %s; %s short tons/acre for 8 in; × {effective} × {ton}",
				ph(v, "buffer"), num(v.N("ac"), 2), num(v.N("printed"), 3))
	},
	"lab-rate": func(v working.Values, r working.Value) (string, string) {
		return sprintf("the lab’s own rate, %s to %s", ph(v, "from"), ph(v, "to")),
			sprintf("%s of limestone at %s CCE over %s", rate(v, "rate"), pc(v, "cce"), Depth(quantity.Depth(v.N("lab_depth"))))
	},
	"lab-rate-target": func(v working.Values, r working.Value) (string, string) {
		return sprintf("%s to %s instead of to %s", ph(v, "from"), ph(v, "to"),
			ph(v, "lab_to")), "along the texture’s curve, scaled to meet the lab’s figure"
	},
	"level": func(v working.Values, r working.Value) (string, string) {
		return "where the bed was, by all its readings together", sprintf("the last reads %s; the others, and what was put on between "+
			"them, say %s ± %s", ph(v, "read"), ph(v, "level"), num(v.N("sd"), 2))
	},
	"learned": func(v working.Values, r working.Value) (string, string) {
		return "what this bed’s own retests have shown", sprintf("%s × %s, from %s", rate(v, "need"), num(v.N("factor"), 2),
			Count(int(v.N("tests")), "retest", "retests"))
	},
	"jar-series": func(v working.Values, r working.Value) (string, string) {
		how := sprintf("from jar to jar: %s g/kg at %s less %s g/kg at %s", num(v.N("until"), 3), ph(v, "to"), num(v.N("at"), 3),
			ph(v, "from"))
		if n := int(v.N("merged")); n > 0 {
			how += sprintf("; %s not above the one before and joined with it", Count(n, "jar was", "jars were"))
		}
		return sprintf("lime per kg of soil, from %s jars", num(v.N("jars"), 0)), how
	},
	"jars-by-mass": func(v working.Values, r working.Value) (string, string) {
		return sprintf("over %s", Depth(quantity.Depth(v.N("depth")))), sprintf("%s g/kg × %s kg soil/m²", num(v.N("lime"), 3),
			num(v.N("soil"), 1))
	},
	"density": func(v working.Values, r working.Value) (string, string) {
		why := "stones left out"
		if quantity.Percent(v.N("om")) > soil.UsualOM {
			why = sprintf("lighter because of its %s organic matter", pc(v, "om"))
		}
		return "what the soil weighs, " + why, sprintf("%s kg/m³ × %s × (1 − %s stones)", num(v.N("density"), 0),
			Depth(quantity.Depth(v.N("depth"))), num(v.N("stones")/100, 2))
	},
	"buffer-capacity": func(v working.Values, r working.Value) (string, string) {
		return "the lab’s lime buffer capacity", "mg CaCO₃ per kg and pH unit / 1000"
	},
	"as-potash": func(v working.Values, r working.Value) (string, string) {
		return sprintf("as %s, for its potash", Material(v.Text("kind"))), sprintf("%s / %s K₂O", rate(v, "need"), pc(v, "k2o"))
	},
	"potassium-now": func(v working.Values, r working.Value) (string, string) {
		how := sprintf("%s + (%s put on − %s carried off) × {k of k2o} / %s × %s − %s leached", num(v.N("read"), 0), rate(v, "given"),
			rate(v, "carried"), num(v.N("soil"), 1), num(v.N("held"), 3), num(v.N("leached"), 1))
		switch w := v.N("weighed"); {
		case w > 0:
			how += sprintf(" + %s by the tests before it", num(w, 1))
		case w < 0:
			how += sprintf(" − %s by the tests before it", num(-w, 1))
		}
		return sprintf("potassium carried forward from %s", DayYear(v.Day("date"))), how
	},
	"potassium-need": func(v working.Values, r working.Value) (string, string) {
		return sprintf("potash (K₂O) from %s to %s ppm, {above critical} over critical", num(v.N("now"), 0), num(v.N("to"), 0)),
			sprintf("(%s − %s) / {k of k2o} × %s / %s", num(v.N("to"), 1), num(v.N("now"), 1), num(v.N("soil"), 1), num(v.N("held"), 3))
	},
	"magnesium-need": func(v working.Values, r working.Value) (string, string) {
		return sprintf("magnesium from %s to {mg aim} ppm, at most {mg most} in a year", num(v.N("mg"), 0)),
			sprintf("({mg aim} − %s) mg/kg × %s = %s; %s given", num(v.N("mg"), 1), num(v.N("soil"), 1), rate(v, "wants"), rate(v, "given"))
	},
	"potassium-most": func(v working.Values, r working.Value) (string, string) {
		return "most potash in a year", sprintf("{most removal} × %s carried off − %s given", rate(v, "removal"), rate(v, "given"))
	},
	"ph-room": func(v working.Values, r working.Value) (string, string) {
		return "most for its potash before pH is too near the top of the range", sprintf("from %s to %s, at %s", ph(v, "from"), ph(v, "to"),
			worth(v.N("strength")))
	},
	"organic-matter": func(v working.Values, r working.Value) (string, string) {
		return "lime per kg of soil and pH unit",
			sprintf("{per om} × %s OM + {per clay} × %s clay", pc(v, "om"), pc(v, "clay"))
	},
	"by-soil-mass": func(v working.Values, r working.Value) (string, string) {
		return sprintf("%s to %s over %s", ph(v, "from"), ph(v, "to"), Depth(quantity.Depth(v.N("depth")))),
			sprintf("%s g/kg × %s kg soil/m² × %s pH", num(v.N("per"), 3), num(v.N("soil"), 1), num(v.N("to")-v.N("from"), 2))
	},
	"on-its-way": func(v working.Values, r working.Value) (string, string) {
		return sprintf("already on its way: %s of %s", Material(v.Text("kind")), DayYear(v.Day("date"))),
			sprintf("%s × %s × %s still to act", rate(v, "rate"), worth(v.N("strength")), pc(v, "left"))
	},
	"free-lime": func(v working.Values, r working.Value) (string, string) {
		return "free lime is used up first",
			sprintf("%s × %s g/kg × %s kg soil/m² = %s more acid", num(v.N("share"), 1), num(v.N("per"), 0), num(v.N("soil"), 1),
				rate(v, "acid"))
	},
	"left-alone": func(v working.Values, r working.Value) (string, string) {
		span := sprintf("pH %s against %s to %s", ph(v, "ph"), PH(quantity.PH(v.N("low"))), PH(quantity.PH(v.N("high"))))
		return "leave it alone", span + "; " + Stand(v)
	},
	"at-work": func(v working.Values, r working.Value) (string, string) {
		return "leave it alone", sprintf("%s of lime, as pure lime, is still at work and should bring it to about %s", rate(v, "on_way"),
			ph(v, "settles"))
	},
	"as-material": func(v working.Values, r working.Value) (string, string) {
		s := v.N("strength")
		if s < 0 {
			return sprintf("as %s", Material(v.Text("kind"))),
				sprintf("%s / %s: 1 g offsets %s g of lime", num(-v.N("need"), 1), num(-s/100, 3), num(-s/100, 2))
		}
		how := sprintf("%s / %s; strength ± %s", num(v.N("need"), 1), num(s/100, 3), pc(v, "sd"))
		if fine, stone := v.N("fine"), v.N("stone"); fine < 100 {
			how += sprintf("; its fineness counts %s against the table’s limestone at %s", num(fine*stone/1e4, 2), num(stone/100, 2))
		}
		return sprintf("as %s, %s as strong as pure lime", Material(v.Text("kind")), Percent(quantity.Percent(s))), how
	},
	"first-part": func(v working.Values, r working.Value) (string, string) {
		const label = "put on before a test"
		if v.N("first") > r.N+1 {
			return label, sprintf("one application that stays on top; %s waits for a test of the top layer", rate(v, "rest"))
		}
		return label, sprintf("%s of the need: the largest part, in steps of {pace step}, with at most %s of ending {past range} past "+
			"the range; %s waits for a test", pc(v, "share"), pc(v, "chance"), rate(v, "rest"))
	},
	"joint": func(v working.Values, _ working.Value) (string, string) {
		return "as likely too much as too little", sprintf("where it is (about %s) and how much it takes are estimated together: %s apart",
			ph(v, "level"), rate(v, "apart"))
	},
	"year-cap": func(v working.Values, r working.Value) (string, string) {
		return sprintf("most in any 365 days, %s", Material(v.Text("kind"))), "table of caps, what was put on before counted"
	},
	"supply": func(v working.Values, r working.Value) (string, string) {
		return "what is on the shelf", sprintf("%s over %s", Mass(quantity.Mass(v.N("kg"))), Area(quantity.Area(v.N("area"))))
	},
	"ash-advice": func(v working.Values, r working.Value) (string, string) {
		return "most ash without a lab or a calibrated meter", sprintf("%s in any 365 days, what was put on before counted", rate(v, "advice"))
	},
	"dusting": func(v working.Values, r working.Value) (string, string) {
		return "a light dusting", sprintf("never more than %s, once a year", rate(v, "cap"))
	},
	"potassium-untested": func(v working.Values, r working.Value) (string, string) {
		return "most ash with potassium untested",
			sprintf("(%s carried off − %s given) / %s K₂O", rate(v, "removal"), rate(v, "given"), pc(v, "k2o"))
	},
	"potassium-room": func(v working.Values, r working.Value) (string, string) {
		return "most ash before potassium is too much",
			sprintf("(%s − %s) / {k of k2o} × %s / %s / %s K₂O", num(v.N("ceiling"), 1), num(v.N("k"), 1), num(v.N("soil"), 1),
				num(v.N("held"), 3), pc(v, "k2o"))
	},
	"potassium-year": func(v working.Values, r working.Value) (string, string) {
		return "most ash in a year, potassium not short",
			sprintf("({most removal} × %s carried off − %s given) / %s K₂O", rate(v, "removal"), rate(v, "given"), pc(v, "k2o"))
	},
	"on-bed": func(v working.Values, r working.Value) (string, string) {
		how := sprintf("%s × %s = %s", rate(v, "rate"), Area(quantity.Area(v.N("area"))), MassExact(quantity.Mass(r.N)))
		if l := v.Text("limit"); l != "" {
			how += "; " + Limit(l)
		}
		return sprintf("%s on %s", Material(v.Text("kind")), Area(quantity.Area(v.N("area")))), how
	},
	"goes": func(v working.Values, r working.Value) (string, string) {
		return "applications, as few and equal as the caps allow",
			sprintf("%s, at most %s at one time (%s), %s weeks apart", rate(v, "rate"), rate(v, "cap"), Name(v.Text("worked")),
				num(v.N("weeks"), 0))
	},
	"settles": func(v working.Values, r working.Value) (string, string) {
		return "where it settles", sprintf("from %s with %s of lime, as pure lime; usually from %s to %s (reading ± %s, method ± %s)",
			ph(v, "from"), rate(v, "caco3"), ph(v, "p05"), ph(v, "p95"), num(v.N("reading_sd"), 2), pc(v, "school_sd"))
	},
	"settles-by-record": func(v working.Values, r working.Value) (string, string) {
		says := sprintf("from %s, its level by all readings, with %s of lime, as pure lime", num(v.N("from"), 2), rate(v, "caco3"))
		if v.N("each") != 0 {
			says += sprintf("; %s move it by one there", rate(v, "each"))
		}
		return "where it settles by the bed’s own record", says + sprintf("; usually from %s to %s (reading ± %s, method ± %s)",
			ph(v, "p05"), ph(v, "p95"), num(v.N("reading_sd"), 2), pc(v, "school_sd"))
	},
	"at-retest": func(v working.Values, r working.Value) (string, string) {
		return "what the test of " + DayYear(v.Day("retest")) + " should read",
			sprintf("with %s of what is on by then acted; usually from %s to %s",
				Percent(quantity.Percent(quantity.Round(v.N("reacted"), 0))), ph(v, "p05"), ph(v, "p95"))
	},
	"potash": func(v working.Values, r working.Value) (string, string) {
		return "potash it brings (K₂O)", sprintf("%s × %s; %s g/m²", MassExact(quantity.Mass(v.N("total"))), pc(v, "share"),
			num(v.N("rate"), 1))
	},
	"potassium": func(v working.Values, r working.Value) (string, string) {
		how := sprintf("%s × {k of k2o} / %s × %s = +%s; too much from %s", num(v.N("k2o"), 1), num(v.N("soil"), 1),
			num(v.N("held"), 3), num(v.N("rise"), 0), num(v.N("ceiling"), 0))
		if b := v.Get("before"); b.Name != "" {
			return sprintf("potassium in the soil, from %s", PPM(quantity.Concentration(b.N))), how
		}
		return "rise of potassium in the soil", how
	},
}

// sources are the citations of rules.
var sources = map[string]string{
	"soil-survey":  "Ground limestone by texture, soil surveys of the 1950s",
	"sulfur-table": "Printed sulfur table, lb/acre for 7 in to pH {sulfur from}",
	"learned":      "this bed’s own record",
	"aitken-1990":  "Aitken, Moody & McKinley 1990, organic carbon = OM/1.72",
	"trust":        "Table of methods and bases",
	"crops":        "Crop library",
	"ash":          "Rules for wood ash",
	"ash-schools":  "Approaches to ash strength",
	"act-schools":  "Approaches to when to treat",
	"potassium": "Critical K by the extractant ({acetate} + {acetate cec} × CEC for ammonium acetate); K₂O × {k share} × 1000 / soil " +
		"mass × {held}/(1 + {held cec} × CEC)",
	"free-lime":  "{lime per cent} g acid equivalent per kg of soil and per cent of free lime",
	"density":    "Bulk density by texture; 100/(OM/{organic} + (100 − OM)/D) above {light} organic matter",
	"surprise":   "A surprising test is confirmed first",
	"overshot":   "Lime that overshot is waited for",
	"calcium":    "The lab’s calcium",
	"magnesium":  "Magnesium to {mg aim} ppm",
	"mixes":      "Heaps and pots",
	"manure":     "Rules for manure and compost",
	"pace":       "Careful pace: the first part, a test, then the rest",
	"caps":       "Table of caps and spacing",
	"materials":  "Table of materials",
	"defaults":   "Defaults of this program",
	"shelf":      "Your shelf",
	"bed":        "Your bed",
	"doubt":      "Reading, method and strength together",
	"forecast":   "Reading, method and strength together",
	"calendar":   "Windows by soil temperature and season",
	"on-its-way": "What was put on after the reading, or had not yet acted",
	"smp":        "SMP and Sikora lines, short tons/acre for 8 in; {effective} of a printed rate is effective",
	"adams-evans": "Adams–Evans and Moore–Sikora: pH = {h free} − {h slope} H + {h square} H²; " +
		"{effective} of a printed rate is effective",
	"mehlich":   "Mehlich buffer, short tons/acre for 8 in; {effective} of a printed rate is effective",
	"lab":       "Your lab",
	"jars":      "Your own jars",
	"layers":    "A layered reading gives a need per layer",
	"water":     "Alkalinity of the water",
	"retest":    "Table of retests",
	"surface":   "What is left on top works in the top {top layer} first",
	"nutrients": "Table of lock-up by pH",
	"safety":    "Safety",
}
