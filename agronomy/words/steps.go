package words

import (
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/working"
)

// Line is a step of a working in words.
type Line struct {
	ID string
	// Label says what was found, Value is the figure, How the sum behind it.
	Label, Value, How string
	Source            string
}

type sentence func(v working.Values, r working.Value) (label, how string)

// Step puts one step into words.
func Step(s working.Step) Line {
	l := Line{ID: s.ID, Value: Value(s.Result), Source: sources[s.Source]}
	if f, ok := steps[s.ID]; ok {
		l.Label, l.How = f(s.From, s.Result)
	}
	return l
}

// Steps puts a working into words.
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
	case working.PerSoil:
		return num(v.N, 2) + " g/kg"
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

// taken names what was taken for granted.
var taken = map[string]string{
	"table": "texture table", "worked": "worked", "depth": "depth", "method": "read by", "cores": "cores", "basis": "read", "buffering": "school",
	"use": "use", "climate": "climate", "free_lime": "free lime", "cec": "CEC", "clay": "clay", "crop": "no crop named: band 6.0 to 7.0, potash carried off", "date": "read on",
}

// Taken says one thing that was taken for granted.
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

// worth says how strong a material is beside pure lime.
func worth(percent float64) string {
	if percent < 0 {
		return num(-percent/100, 2) + " g of lime cancelled by 1 g"
	}
	return num(percent, 0) + " % as strong as pure lime"
}

var steps = map[string]sentence{
	"basis": func(v working.Values, _ working.Value) (string, string) {
		return sprintf("%s %s, as water would read", ph(v, "read"), Name(v.Text("basis"))),
			sprintf("%s + %s", ph(v, "read"), map[string]string{"cacl2": "0.6", "kcl": "0.9"}[v.Text("basis")])
	},
	"texture-table": func(v working.Values, r working.Value) (string, string) {
		sum := pieces(v, func(share, tons float64) string { return num(share, 2) + " × " + num(tons, 2) })
		if v.N("to") < v.N("from") {
			sum = "−(" + sum + ")"
		}
		return sprintf("%s to %s in a %s %s", ph(v, "from"), ph(v, "to"), v.Text("table"), Name(v.Text("texture"))),
			sprintf("%s short tons/acre for 7 in; 1 short ton/acre is %s g/m²", sum, num(tonRate, 2))
	},
	"sulfur-table": func(v working.Values, r working.Value) (string, string) {
		sum := pieces(v, func(share, tons float64) string { return num(share, 2) + " × " + num(tons*tonRate, 0) })
		return sprintf("%s down to %s in a %s", ph(v, "from"), ph(v, "to"), Name(v.Text("texture"))),
			sprintf("−(%s) g/m² per pH unit for 7 in: printed sulfur table × 3.12 above 6.5, cool lime table below", sum)
	},
	"depth": func(v working.Values, r working.Value) (string, string) {
		printed := num(v.N("table_depth")*100, 2)
		return sprintf("for %s, not %s", Depth(quantity.Depth(v.N("depth"))), num(v.N("table_depth")*100, 1)),
			sprintf("%s × %s / %s", num(v.N("need"), 1), num(v.N("depth")*100, 1), printed)
	},
	"assumed": func(v working.Values, r working.Value) (string, string) {
		all := make([]string, len(v))
		for i, x := range v {
			all[i] = Taken(x)
		}
		return "taken for granted, nobody said otherwise", List(all)
	},
	"joined": func(v working.Values, r working.Value) (string, string) {
		return sprintf("%s readings together", num(v.N("readings"), 0)),
			sprintf("by method the mean, or the median of three and more; the surer count more; ± %s", num(v.N("sd"), 2))
	},
	"layer": func(v working.Values, r working.Value) (string, string) {
		how := "the need over this layer"
		if v.N("need") < 0 && r.N == 0 {
			how = "sweeter than wanted; not dug, so it cannot help the others"
		}
		return sprintf("%s of soil at %s, to %s", Depth(quantity.Depth(v.N("thick"))), ph(v, "ph"), ph(v, "to")), how
	},
	"layers-mixed": func(v working.Values, r working.Value) (string, string) {
		return "all layers together, dug through", sprintf("their sum; as if all %s read %s", Depth(quantity.Depth(v.N("depth"))), ph(v, "from"))
	},
	"layers-lacking": func(v working.Values, r working.Value) (string, string) {
		return "what the layers lack, not dug", sprintf("only what is missing, never offset; as if all %s read %s", Depth(quantity.Depth(v.N("depth"))), ph(v, "from"))
	},
	"smp": func(v working.Values, r working.Value) (string, string) {
		return sprintf("%s to %s by SMP buffer %s", ph(v, "from"), ph(v, "to"), ph(v, "buffer")),
			sprintf("printed lines at LTI %s give %s short tons/acre for 8 in; × 0.75 × %s", num(v.N("lti"), 1), num(v.N("printed"), 3), num(tonRate, 2))
	},
	"adams-evans": func(v working.Values, r working.Value) (string, string) {
		return sprintf("%s to %s by Adams–Evans buffer %s", ph(v, "from"), ph(v, "to"), ph(v, "buffer")),
			sprintf("8000 × (8.00 − %s) / %s × (%s − %s) × 1.5 = %s lb/acre; × 0.75 × 0.112085", ph(v, "buffer"), num(v.N("h1"), 4), num(v.N("h1"), 4), num(v.N("h2"), 4), num(v.N("printed"), 0))
	},
	"mehlich": func(v working.Values, r working.Value) (string, string) {
		return sprintf("%s to %s by Mehlich buffer %s", ph(v, "from"), ph(v, "to"), ph(v, "buffer")),
			sprintf("acidity (6.6 − %s) / 0.25 = %s; %s short tons/acre for 8 in; × 0.75 × %s", ph(v, "buffer"), num(v.N("ac"), 2), num(v.N("printed"), 3), num(tonRate, 2))
	},
	"lab-rate": func(v working.Values, r working.Value) (string, string) {
		return sprintf("the lab's own rate, %s to %s", ph(v, "from"), ph(v, "to")),
			sprintf("%s of limestone at %s CCE over %s", rate(v, "rate"), pc(v, "cce"), Depth(quantity.Depth(v.N("lab_depth"))))
	},
	"lab-rate-target": func(v working.Values, r working.Value) (string, string) {
		return sprintf("%s to %s instead of to %s", ph(v, "from"), ph(v, "to"), ph(v, "lab_to")), "along the texture's curve, scaled to meet the lab's figure"
	},
	"jar-series": func(v working.Values, r working.Value) (string, string) {
		return sprintf("lime per kg of soil and pH unit, from %s jars", num(v.N("jars"), 0)),
			sprintf("straight line by least squares; each jar left out in turn: ± %s pH", num(v.N("error"), 2))
	},
	"buffer-capacity": func(v working.Values, r working.Value) (string, string) {
		return "the lab's lime buffer capacity", "mg CaCO₃ per kg and pH unit / 1000"
	},
	"potash-short": func(v working.Values, r working.Value) (string, string) {
		return "potassium sulfate for the potassium that is short",
			sprintf("from %s to %s ppm would take %s; at most %s in a year", num(v.N("k"), 0), num(v.N("critical"), 0), rate(v, "wanted"), rate(v, "cap"))
	},
	"organic-matter": func(v working.Values, r working.Value) (string, string) {
		return "lime per kg of soil and pH unit",
			sprintf("0.555 × %s OM + 0.011 × %s clay", pc(v, "om"), pc(v, "clay"))
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
		return "free lime has to go first",
			sprintf("%s × 10 g/kg × %s kg soil/m² = %s more acid", num(v.N("share"), 1), num(v.N("soil"), 1), rate(v, "acid"))
	},
	"left-alone": func(v working.Values, r working.Value) (string, string) {
		return "leave it alone", sprintf("pH %s against %s to %s; the school you chose does not step in here",
			ph(v, "ph"), PH(quantity.PH(v.N("low"))), PH(quantity.PH(v.N("high"))))
	},
	"as-material": func(v working.Values, r working.Value) (string, string) {
		s := v.N("strength")
		if s < 0 {
			return sprintf("as %s", Material(v.Text("kind"))),
				sprintf("%s / %s: 1 g cancels %s g of lime", num(-v.N("need"), 1), num(-s/100, 3), num(-s/100, 2))
		}
		return sprintf("as %s, %s as strong as pure lime", Material(v.Text("kind")), Percent(quantity.Percent(s))),
			sprintf("%s / %s; strength ± %s", num(v.N("need"), 1), num(s/100, 3), pc(v, "sd"))
	},
	"year-cap": func(v working.Values, r working.Value) (string, string) {
		return sprintf("most in any 365 days, %s", Material(v.Text("kind"))), "table of caps, what went on before counted"
	},
	"supply": func(v working.Values, r working.Value) (string, string) {
		return "what is on the shelf", sprintf("%s over %s", Mass(quantity.Mass(v.N("kg"))), Area(quantity.Area(v.N("area"))))
	},
	"dusting": func(v working.Values, r working.Value) (string, string) {
		return "a light dusting", "never more than 75 g/m², once a year"
	},
	"potassium-untested": func(v working.Values, r working.Value) (string, string) {
		return "most ash with potassium untested",
			sprintf("(%s carried off − %s given) / %s K₂O", rate(v, "removal"), rate(v, "given"), pc(v, "k2o"))
	},
	"potassium-room": func(v working.Values, r working.Value) (string, string) {
		return "most ash before potassium is too much",
			sprintf("from %s to 2 × (75 + 2.5 × CEC %s) = %s, at %s K₂O", num(v.N("k"), 0), num(v.N("cec"), 0), num(v.N("ceiling"), 0), pc(v, "k2o"))
	},
	"potassium-year": func(v working.Values, r working.Value) (string, string) {
		return "most ash in a year, potassium not short",
			sprintf("(2 × %s carried off − %s given) / %s K₂O", rate(v, "removal"), rate(v, "given"), pc(v, "k2o"))
	},
	"on-bed": func(v working.Values, r working.Value) (string, string) {
		how := sprintf("%s × %s = %s", rate(v, "rate"), Area(quantity.Area(v.N("area"))), MassExact(quantity.Mass(r.N)))
		if l := v.Text("limit"); l != "" {
			how += "; " + Limit(l)
		}
		return sprintf("%s on %s", Material(v.Text("kind")), Area(quantity.Area(v.N("area")))), how
	},
	"goes": func(v working.Values, r working.Value) (string, string) {
		return "goes, as few and equal as the caps allow",
			sprintf("%s, at most %s in one go (%s), %s weeks apart", rate(v, "rate"), rate(v, "cap"), Name(v.Text("worked")), num(v.N("weeks"), 0))
	},
	"settles": func(v working.Values, r working.Value) (string, string) {
		return "where it settles", sprintf("from %s with %s of pure lime's worth; nine in ten from %s to %s (reading ± %s, school ± %s)",
			ph(v, "from"), rate(v, "caco3"), ph(v, "p05"), ph(v, "p95"), num(v.N("reading_sd"), 2), pc(v, "school_sd"))
	},
	"potash": func(v working.Values, r working.Value) (string, string) {
		return "potash it brings (K₂O)", sprintf("%s × %s; %s g/m²", MassExact(quantity.Mass(v.N("total"))), pc(v, "share"), num(v.N("rate"), 1))
	},
	"potassium": func(v working.Values, r working.Value) (string, string) {
		how := sprintf("%s × 830 / %s × %s = +%s; too much from %s", num(v.N("k2o"), 1), num(v.N("soil"), 1),
			num(v.N("held"), 3), num(v.N("rise"), 0), num(v.N("ceiling"), 0))
		if b := v.Get("before"); b.Name != "" {
			return sprintf("potassium in the soil, from %s", PPM(quantity.Concentration(b.N))), how
		}
		return "rise of potassium in the soil", how
	},
}

// sources name where a rule comes from.
var sources = map[string]string{
	"soil-survey":  "Ground limestone by texture, soil surveys of the 1950s",
	"sulfur-table": "Printed sulfur table, lb/acre for 7 in to pH 6.5",
	"aitken-1990":  "Aitken, Moody & McKinley 1990, organic carbon = OM/1.72",
	"trust":        "Table of methods and bases",
	"crops":        "Crop library",
	"ash":          "Rules for wood ash",
	"ash-schools":  "Schools of ash strength",
	"act-schools":  "Schools of when to step in",
	"potassium":    "Critical K = 75 + 2.5 × CEC; K₂O × 0.83 × 1000 / soil mass × 0.6/(1 + 0.05 × CEC)",
	"free-lime":    "10 g acid equivalent per kg of soil and per cent of free lime",
	"caps":         "Table of caps and spacing",
	"materials":    "Table of materials",
	"defaults":     "Defaults of the handbook",
	"shelf":        "Your shelf",
	"bed":          "Your bed",
	"doubt":        "Reading, school and strength together",
	"forecast":     "Reading, school and strength together",
	"calendar":     "Windows by soil temperature and season",
	"on-its-way":   "What was put on after the reading, or had not yet acted",
	"smp":          "SMP and Sikora lines, short tons/acre for 8 in; 0.75 of a printed rate is effective",
	"adams-evans":  "Adams–Evans and Moore–Sikora: pH = 7.79 − 5.55 H + 2.27 H²; 0.75 of a printed rate is effective",
	"mehlich":      "Mehlich buffer, short tons/acre for 8 in; 0.75 of a printed rate is effective",
	"lab":          "Your lab",
	"jars":         "Your own jars",
	"layers":       "A layered reading gives a need per layer",
	"water":        "Alkalinity of the water",
	"retest":       "Table of retests",
	"surface":      "What is left on top works in the top 5 cm first",
	"nutrients":    "Table of lock-up by pH",
	"safety":       "Safety",
}
