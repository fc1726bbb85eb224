package bedform

import (
	"slices"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/view"
)

// The shapes and texture sources that a field belongs to, and its role for a script.
const (
	forSides    = "rect rings circle"
	forTwoSides = "rect rings"
	forTurned   = "rect rings outline"
	forRings    = "rings"
	forOutline  = "outline"
	byTold      = "told"
	byToldFelt  = "told feel"
)

// fields returns the form's fields, in the garden's units.
func (v *newBedView) fields(u text.Units, all []bedstate.State, lib garden.Library) {
	in := u.Lengths().Name
	figure := func(name, label, aside string) form.Row {
		return form.Row{Name: name, Label: label, Aside: aside, Mode: form.Decimal}
	}
	sized := func(name, label, shapes string) form.Row {
		return form.Row{Name: name, Label: label, Mode: form.Decimal, For: shapes}
	}
	chosen := func(name, label string, list []view.Option) form.Row {
		return form.Row{Name: name, Label: label, Options: list}
	}
	shape, texture := chosen("shape", "Shape", shapeOptions()), chosen("texture", "Soil", present.TextureOptions())
	shape.Hook, texture.By = view.HookShape, byTold
	by := chosen("texture_by", "How the texture is known", knownBy)
	by.Hook = view.HookTexture
	clay := figure("clay", "Clay, %", "if known")
	clay.By = byToldFelt
	v.Lies = []form.Row{{Name: "name", Label: "Name", Box: form.Wide, MaxLength: 60}, chosen("kind", "Kind", kindOptions()), shape,
		sized("turn", "Turned clockwise, degrees", forTurned),
		{Name: "corners", Label: "Corners, one a line: " + in + " from the west edge and from the north edge", Mode: form.Lines,
			Box: form.Wide, For: forOutline,
			Lines: 4},
		{Name: "rings", Label: "Rings in the row", Mode: form.Numeric, For: forRings},
		sized("w", "Length (or how wide a circle is), "+in, forSides), sized("h", "Width (or how wide a ring is), "+in, forTwoSides),
		sized("x", "From the west edge, "+in, forSides), sized("y", "From the north edge, "+in, forSides), by, texture}
	v.Felt = []form.Row{chosen("feel_ball", "Does it hold a ball when squeezed?", yesNo),
		chosen("feel_ribbon", "Pressed between thumb and finger, how long a ribbon?", ribbonOptions(u.Depths())),
		chosen("feel_gritty", "Does a wet pinch rub gritty?", yesNo), chosen("feel_smooth", "Does it rub smooth as flour?", yesNo)}
	v.Soil = []form.Row{figure("om", "Organic matter, %", "if known"), figure("stones", "Stones, % of the volume", "if many"),
		clay, figure("cec", "Cation exchange capacity, cmol/kg", "if a lab told it"),
		chosen("worked", "How it is worked", present.WorkedOptions()), figure("depth", "Depth, "+u.Depths().Name, ""),
		chosen("free_lime", "A drop of vinegar on dry soil", present.LimeOptions()), chosen("watered", "Watered with", waters),
		{Name: "part", Label: "Part of the garden", Aside: "a tunnel, a field", MaxLength: 60, Suggests: partsOf(all)},
		{Name: "note", Label: "What is known of it from before: ash, lime, manure, fires, fill", Aside: "and anything else",
			Mode: form.Lines,
			Box:  form.Wide, Lines: 2, MaxLength: 1000}}
	if v.Editing == 0 {
		v.Soil = append(v.Soil, chosen("crop", "Crop, with its range", present.CropOptions(lib)),
			form.Row{Name: "sown", Label: "Sown or planted on", Mode: form.Date})
	}
}

// JarHeights returns the heights of the jar's layers, which share a message.
func (v *newBedView) JarHeights() []view.Field {
	return v.Form.Rows([]form.Row{{Name: "jar_clay", Label: "Clay, on top", Mode: form.Decimal, Group: "jar"},
		{Name: "jar_silt", Label: "Silt", Mode: form.Decimal, Group: "jar"},
		{Name: "jar_sand", Label: "Sand, at the foot", Mode: form.Decimal, Group: "jar"}})
}

// partsOf returns the names of the garden's parts; never nil, so that they are suggested.
func partsOf(all []bedstate.State) []string {
	out := []string{}
	for i := range all {
		if n := all[i].Bed.Part; n != "" && !slices.Contains(out, n) {
			out = append(out, n)
		}
	}
	return out
}

var (
	knownBy = []view.Option{{Value: "", Text: "I know it"}, {Value: garden.ByJar, Text: "By jar test"}, {Value: garden.ByFeel,
		Text: "By feel"}}
	yesNo  = []view.Option{{Value: "", Text: "Not asked yet"}, {Value: "no", Text: "No"}, {Value: "yes", Text: "Yes"}}
	waters = []view.Option{{Value: "", Text: "Rain, or soft water"}, {Value: garden.Tap, Text: "The tap"}}
)

func shapeOptions() (out []view.Option) {
	for _, x := range garden.Shapes {
		out = append(out, view.Option{Value: x, Text: shapeNames[x]})
	}
	return out
}

func kindOptions() (out []view.Option) {
	for _, k := range garden.Kinds {
		out = append(out, view.Option{Value: k, Text: text.Capital(text.Name(k))})
	}
	return out
}

func ribbonOptions(in text.Scale) (out []view.Option) {
	for _, r := range ribbons {
		words := r.text
		if r.cm > 0 {
			words += " " + form.Figure(r.cm/100, in, 1) + " " + in.Name
		}
		out = append(out, view.Option{Value: r.id, Text: words})
	}
	return out
}

// ribbons are the ranges of ribbon length; long is a length that represents each.
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
