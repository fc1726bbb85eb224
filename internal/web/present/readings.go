package present

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

// ReadingRow is a reading as a row of a table.
type ReadingRow struct {
	ID, Version                                  int64
	Date, Bed, PH, Method, Doubt, Cores, K, Note string
	// Struck is when and why it was struck out, Sample its mixed sample.
	Struck, Sample, Key string
	// AsRead is the figure in a basis other than water, Layers those from the top down.
	AsRead, Layers string
}

// layersText returns the layers' pH on the water basis, from the top down.
func layersText(r garden.Reading) string {
	var out []string
	x := r.Soil()
	row, _ := soil.FindBasis(x.Basis)
	for _, l := range x.Layers {
		out = append(out, text.PH(l.PH+row.Shift))
	}
	return strings.Join(out, " / ")
}

// ReadingOf returns a row for a reading of a bed.
func ReadingOf(r garden.Reading, bed string) ReadingRow {
	row := ReadingRow{ID: r.ID, Version: r.Version, Key: form.NewKey(), Date: text.DayYear(r.Date), Bed: bed, Method: text.Short(r.Method),
		Cores: strconv.Itoa(r.Cores), Note: r.Note}
	if r.PH != nil {
		row.PH = text.PH2(r.Soil().Water())
		row.Doubt = "± " + text.PH2(quantity.PH(r.Soil().SD()))
		if r.Basis != soil.Water {
			row.AsRead = "(" + text.PH2(*r.PH) + " " + text.Name(r.Basis) + ")"
		}
	} else {
		reaction, _ := r.Soil().Fizz.Judge()
		row.PH = map[soil.Reaction]string{soil.Acid: "acid", soil.NearNeutral: "near neutral", soil.Alkaline: "alkaline"}[reaction]
	}
	if len(r.Layers) > 0 {
		row.Layers = layersText(r)
	}
	if r.Struck != 0 {
		row.Struck = strings.TrimSpace("Deleted " + text.DayYear(r.Struck) + ". " + r.StruckWhy)
	}
	if r.Potassium != nil {
		row.K = text.PPM(*r.Potassium)
	}
	return row
}

// strengths describe the strengths of fizz.
var strengths = []struct {
	is   soil.FreeLime
	says string
}{{soil.LimeNone, "nothing moves"}, {soil.LimeFaint, "heard, hardly seen"}, {soil.LimeClear, "bubbles to see"}, {soil.LimeStrong,
	"foams up"}}

// FizzJar is one of the two jars of the fizz test.
type FizzJar struct {
	Field, Do string
	// Strengths are its possible results, each with a drawing.
	Strengths []view.Choice
}

// FizzJars returns the two jars with their results; tile marks the chosen one, nil for display
// only.
func FizzJars(tile func(name, prefix string, list []view.Choice) []view.Choice) (out []FizzJar) {
	for _, j := range []FizzJar{{Field: "vinegar", Do: "Pour vinegar into the first."},
		{Field: "soda", Do: "Shake baking soda into the second."}} {
		for _, x := range strengths {
			j.Strengths = append(j.Strengths, view.Choice{Value: string(x.is), Text: text.Capital(text.Name(x.is)), Why: x.says,
				Drawn: view.DrawnJar, Picture: svg.FizzJarOf(x.is)})
		}
		if tile != nil {
			j.Strengths = tile(j.Field, j.Field, j.Strengths)
		}
		out = append(out, j)
	}
	return out
}

// Feel is the behaviour of a squeezed handful, with the answers that it stands for.
type Feel struct {
	ID, Says string
	Is       soil.Feel
}

// Feels are the behaviours to choose from.
var Feels = []Feel{
	{"crumbs", "falls apart", soil.Feel{}},
	{"crumbles", "holds, then crumbles", soil.Feel{Ball: true, Ribbon: 0.01}},
	{"worm", "rolls into a worm", soil.Feel{Ball: true, Ribbon: 0.03}},
	{"shines", "shines and sticks", soil.Feel{Ball: true, Ribbon: 0.06}},
}

// Handfuls returns the behaviours as tiles with their pictures.
func Handfuls() (out []view.Choice) {
	for _, x := range Feels {
		out = append(out, view.Choice{Value: x.ID, Text: x.Says, Drawn: view.DrawnHandful, Picture: x.ID})
	}
	return out
}

// FeelOf returns the answers that a tile stands for.
func FeelOf(id string) (f soil.Feel, ok bool) {
	at := slices.IndexFunc(Feels, func(x Feel) bool { return x.ID == id })
	if at < 0 {
		return f, false
	}
	return Feels[at].Is, true
}

// LastRead returns a bed's last reading, its method and day in words.
func LastRead(p *bedstate.State) string {
	if p.Reading == nil {
		return "no reading"
	}
	by := " by "
	if n := near(p); n != "" {
		by = " with " + n + ", the last by "
	}
	return "pH " + text.PH(p.PH) + by + text.Short(p.Reading.Method) + ", " + text.DayYear(p.Reading.Date)
}

// near returns how many readings are combined with a bed's last; "" for none.
func near(p *bedstate.State) string {
	if p.Joined.N <= 1 {
		return ""
	}
	return text.Count(p.Joined.N-1, "more near it", "more near it")
}

// Stretches formats depth ranges in the garden's units.
func Stretches(ls []sampling.Stretch, u text.Units) string {
	out := make([]string, len(ls))
	for i, l := range ls {
		from := strings.TrimSuffix(u.Depth(l.From), " "+u.Depths().Name)
		out[i] = from + " to " + u.Depth(l.To)
	}
	return text.List(out)
}

// ChipColour returns the id of the colour that a kit shows at a pH: the nearest half, from 4 to 8.
func ChipColour(ph float64) string {
	return strconv.Itoa(int(math.Round(min(max(ph, 4), 8)*2)) * 5)
}
