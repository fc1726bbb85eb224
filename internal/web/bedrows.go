package web

import (
	"html/template"
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/plots"
	"zephyrfield/internal/web/ink"
	"zephyrfield/internal/web/ui"
)

// Which shapes of a bed and which ways of knowing its texture a field belongs to, and what a
// script finds it by.
const (
	forSides    ink.Markup = ` data-for="rect rings circle"`
	forTwoSides ink.Markup = ` data-for="rect rings"`
	forTurned   ink.Markup = ` data-for="rect rings outline"`
	forRings    ink.Markup = ` data-for="rings"`
	forOutline  ink.Markup = ` class="wide" data-for="outline"`
	byTold      ink.Markup = ` data-by="told"`
	byToldFelt  ink.Markup = ` data-by="told feel"`
	asShape     ink.Markup = ` data-shape`
	asTexture   ink.Markup = ` data-texture`
	nameAtMost  ink.Markup = ` maxlength="60"`
	fourLines   ink.Markup = ` rows="4"`
	longNote    ink.Markup = ` rows="2" maxlength="1000"`
)

// fields are those of the form, in the garden's units.
func (v *newBedView) fields(u words.Units, all []plots.Plot, lib garden.Library) {
	in := u.Lengths().Name
	figure := func(name, label, aside string, box ink.Markup) ui.Row {
		return ui.Row{Name: name, Label: label, Aside: aside, Mode: ui.Decimal, Box: box}
	}
	chosen := func(name, label string, list []ui.Option) ui.Row {
		return ui.Row{Name: name, Label: label, Options: list}
	}
	shape, texture := chosen("shape", "Shape", shapeOptions()), chosen("texture", "Soil", textureOptions())
	shape.Control, texture.Box = asShape, byTold
	by := chosen("texture_by", "How the texture is known", knownBy)
	by.Control = asTexture
	v.Lies = []ui.Row{{Name: "name", Label: "Name", Box: ui.Wide, Control: nameAtMost}, chosen("kind", "Kind", kindOptions()), shape,
		figure("turn", "Turned clockwise, degrees", "", forTurned),
		{Name: "corners", Label: "Corners, one a line: " + in + " from the west edge and from the north edge", Mode: ui.Lines, Box: forOutline,
			Control: fourLines},
		{Name: "rings", Label: "Rings in the row", Mode: ui.Numeric, Box: forRings},
		figure("w", "Length (or how wide a circle is), "+in, "", forSides), figure("h", "Width (or how wide a ring is), "+in, "", forTwoSides),
		figure("x", "From the west edge, "+in, "", forSides), figure("y", "From the north edge, "+in, "", forSides), by, texture}
	v.Felt = []ui.Row{chosen("feel_ball", "Does it hold a ball when squeezed?", yesNo),
		chosen("feel_ribbon", "Pressed between thumb and finger, how long a ribbon?", ribbonOptions(u.Depths())),
		chosen("feel_gritty", "Does a wet pinch rub gritty?", yesNo), chosen("feel_smooth", "Does it rub smooth as flour?", yesNo)}
	v.Soil = []ui.Row{figure("om", "Organic matter, %", "if known", ""), figure("stones", "Stones, % of the volume", "if many", ""),
		figure("clay", "Clay, %", "if known", byToldFelt), figure("cec", "Cation exchange capacity, cmol/kg", "if a lab told it", ""),
		chosen("worked", "How it is worked", workedOptions()), figure("depth", "Depth, "+u.Depths().Name, "", ""),
		chosen("free_lime", "A drop of vinegar on dry soil", limeOptions()), chosen("watered", "Watered with", waters),
		{Name: "part", Label: "Part of the garden", Aside: "a tunnel, a field", Control: nameAtMost, Suggests: partsOf(all)},
		{Name: "note", Label: "What is known of it from before: ash, lime, manure, fires, fill", Aside: "and anything else", Mode: ui.Lines,
			Box: ui.Wide, Control: longNote}}
	if v.Editing == 0 {
		v.Soil = append(v.Soil, chosen("crop", "Crop, with its band", cropOptions(lib)),
			ui.Row{Name: "sown", Label: "Sown or planted on", Mode: ui.Date})
	}
}

// JarHeights writes the heights of the jar's layers, which share a sentence.
func (v *newBedView) JarHeights() template.HTML {
	var k ink.Ink
	for _, l := range []struct{ name, label string }{{"jar_clay", "Clay, on top"}, {"jar_silt", "Silt"}, {"jar_sand", "Sand, at the foot"}} {
		k.Put(`<div><label for="%">%</label><input id="%" name="%" inputmode="decimal" autocomplete="off" %></div>`, l.name, l.label, l.name,
			l.name, template.HTML(v.Form.HeldIn(l.name, "jar")))
	}
	return k.HTML()
}

// partsOf are the parts of the garden that beds lie in; never nil, so that they are offered.
func partsOf(all []plots.Plot) []string {
	out := []string{}
	for i := range all {
		if n := all[i].Bed.Part; n != "" && !slices.Contains(out, n) {
			out = append(out, n)
		}
	}
	return out
}

var (
	knownBy = []ui.Option{{Value: "", Text: "I know it"}, {Value: garden.ByJar, Text: "By jar test"}, {Value: garden.ByFeel, Text: "By feel"}}
	yesNo   = []ui.Option{{Value: "", Text: "Not asked yet"}, {Value: "no", Text: "No"}, {Value: "yes", Text: "Yes"}}
	waters  = []ui.Option{{Value: "", Text: "Rain, or soft water"}, {Value: garden.Tap, Text: "The tap"}}
)

func shapeOptions() (out []ui.Option) {
	for _, x := range garden.Shapes {
		out = append(out, ui.Option{Value: x, Text: shapeNames[x]})
	}
	return out
}

func kindOptions() (out []ui.Option) {
	for _, k := range garden.Kinds {
		out = append(out, ui.Option{Value: k, Text: words.Capital(words.Name(k))})
	}
	return out
}

func textureOptions() (out []ui.Option) {
	for _, t := range soil.Textures {
		out = append(out, ui.Option{Value: string(t.ID), Text: words.Capital(words.Name(t.ID))})
	}
	return out
}

func workedOptions() (out []ui.Option) {
	for _, w := range soil.WaysWorked {
		out = append(out, ui.Option{Value: string(w), Text: words.Capital(words.Name(w))})
	}
	return out
}

func limeOptions() (out []ui.Option) {
	for _, l := range []soil.FreeLime{soil.LimeUnknown, soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong} {
		out = append(out, ui.Option{Value: string(l), Text: words.Capital(limeNames[l])})
	}
	return out
}

func ribbonOptions(in words.Scale) (out []ui.Option) {
	for _, r := range ribbons {
		text := r.text
		if r.cm > 0 {
			text += " " + ui.Figure(r.cm/100, in, 1) + " " + in.Name
		}
		out = append(out, ui.Option{Value: r.id, Text: text})
	}
	return out
}

// ribbons are the answers to how long a ribbon the soil presses out to; long
// is a length that stands for each.
var ribbons = []struct {
	id, text string
	cm       float64
	long     quantity.Depth
}{
	{"none", "None at all", 0, 0}, {"short", "It breaks before", 2.5, 0.01}, {"middling", "It breaks before", 5, 0.03}, {"long",
		"Longer than", 5, 0.06},
}

// shapeNames are the shapes in the form.
var shapeNames = map[string]string{garden.ShapeRect: "Rectangle", garden.ShapeCircle: "Circle",
	garden.ShapeRings: "Tree rings in a row", garden.ShapeOutline: "Freehand, by its corners"}

// limeNames say what a drop of vinegar on dry soil did.
var limeNames = map[soil.FreeLime]string{soil.LimeUnknown: "not tried", soil.LimeNone: "nothing", soil.LimeFaint: "faint fizz",
	soil.LimeClear: "clear fizz", soil.LimeStrong: "strong fizz"}
