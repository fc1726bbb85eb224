package bedform

import (
	"slices"

	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/view"
)

// The shapes and texture sources that a field belongs to, and its role for a script.
const (
	forTurned  = "rect rings outline"
	forSides   = "rect rings circle"
	forRings   = "rings"
	forOutline = "outline"
	byTold     = "told"
	byToldFelt = "told feel"
	byFelt     = "feel"
)

// fields returns the form's fields, in the garden's units: those asked of every bed, then the
// folded ones with what holds unless they are changed.
func (v *newBedView) fields(g garden.Garden, all []bedstate.State, lib garden.Library) {
	u := g.Units()
	f := v.Form
	v.Name = f.Resolve(form.Row{Name: "name", Label: "Name", Box: "phone:col-span-full", MaxLength: 60})
	v.sides(u)
	by := form.Row{Name: "texture_by", Label: "Soil", Box: form.Wide, Hook: view.HookTexture, Options: knownBy}
	v.By = f.Resolve(by)
	v.Texture = f.Resolve(form.Row{Name: "texture", Label: "It is", By: byTold, Box: form.Wide, Options: present.TextureOptions()})
	v.Feels = f.Tiles("feel", "feel", present.Handfuls())
	v.Folds = []fold{v.shapeFold(u), v.soilFold(u), v.noteFold(all)}
	if v.Editing == 0 {
		v.Crop = f.Resolve(form.Row{Name: "crop", Label: "Next crop, with its range", Box: form.Wide,
			Options: append([]view.Option{{Text: "Choose"}}, present.CropOptions(lib)...)})
		own := []form.Row{{Name: "own_name", Label: "Your crop", Box: form.Wide, MaxLength: 60},
			{Name: "own_low", Label: "Range from pH", Mode: form.Decimal}, {Name: "own_high", Label: "to pH", Mode: form.Decimal}}
		v.Own = v.fold("own", "A crop that is not in the list", "", own)
		v.Whens = f.Tiles("when", "when", Whens())
		v.Sown = v.fold("day", "On a day that is known", "", []form.Row{{Name: "sown", Label: "Sown or planted on", Mode: form.Date}})
	}
}

// fold is a folded part of the form; Says tells what holds in it, under an id of its own since it
// follows what is typed.
type fold struct {
	ID, Title, Says string
	Fields          []view.Field
	// Open is set where something in it is wrong.
	Open bool
}

func (v *newBedView) fold(id, title, says string, rows []form.Row) fold {
	return fold{ID: id, Title: title, Says: says, Fields: v.Form.Rows(rows),
		Open: slices.ContainsFunc(rows, func(r form.Row) bool { return v.Form.Fault(r.Name) != "" })}
}

// side is the name of the sides of a shape; Off is set while another shape is chosen.
type side struct {
	For, Says string
	Off       bool
}

// sides returns the bed's two sides, named as its shape wants.
func (v *newBedView) sides(u text.Units) {
	in := u.Lengths().Name
	for _, x := range []side{{For: garden.ShapeRect, Says: "Length and width, " + in},
		{For: garden.ShapeCircle, Says: "How wide the circle is, " + in},
		{For: garden.ShapeRings, Says: "Length of the row and width of a ring, " + in}} {
		x.Off = !v.Form.Is("shape", x.For)
		v.Sides = append(v.Sides, x)
	}
	v.Long, v.Wide = v.Form.Bare("w", "Length, "+in, "w"), v.Form.Bare("h", "Width, "+in, "w")
}

func chosen(name, label string, list []view.Option) form.Row {
	return form.Row{Name: name, Label: label, Options: list}
}

// shapeFold returns the fields of shape and place.
func (v *newBedView) shapeFold(u text.Units) fold {
	in := u.Lengths().Name
	sized := func(name, label, shapes string) form.Row {
		return form.Row{Name: name, Label: label, Mode: form.Decimal, For: shapes}
	}
	shape := chosen("shape", "Shape", shapeOptions())
	shape.Hook = view.HookShape
	rows := []form.Row{chosen("kind", "Kind", kindOptions()), shape,
		{Name: "corners", Label: "Corners, one a line: " + in + " from the west edge and from the north edge", Mode: form.Lines,
			Box: form.Wide, For: forOutline, Lines: 4},
		{Name: "rings", Label: "Rings in the row", Mode: form.Numeric, For: forRings}, sized("turn", "Turned clockwise, degrees", forTurned),
		sized("x", "From the west edge, "+in, forSides), sized("y", "From the north edge, "+in, forSides)}
	says := text.Lower(shapeNames[v.Form.Value("shape")])
	if kind := v.Form.Value("kind"); kind != garden.KindBed {
		says = text.Name(kind) + ", " + says
	}
	return v.fold("shape", "Shape and place", says, rows)
}

// soilFold returns the fields that sharpen what is known of the soil.
func (v *newBedView) soilFold(u text.Units) fold {
	figure := func(name, label, aside string) form.Row {
		return form.Row{Name: name, Label: label, Aside: aside, Mode: form.Decimal}
	}
	clay, rub := figure("clay", "Clay, %", "if known"), chosen("feel_rub", "A wet pinch, rubbed", rubs)
	clay.By, rub.By = byToldFelt, byFelt
	rows := []form.Row{figure("depth", "Depth, "+u.Depths().Name, ""), chosen("worked", "How it is worked", present.WorkedOptions()),
		chosen("watered", "Watered with", waters), chosen("free_lime", "A drop of vinegar on dry soil", present.LimeOptions()), rub,
		figure("om", "Organic matter, %", "if known"), figure("stones", "Stones, % of the volume", "if many"), clay,
		figure("cec", "Cation exchange capacity, cmol/kg", "if a lab told it")}
	says := v.Form.Value("depth") + " " + u.Depths().Name + ", " + text.Short(soil.Worked(v.Form.Value("worked")))
	return v.fold("soil", "More on the soil", says, rows)
}

// noteFold returns the bed's part of the garden and its history.
func (v *newBedView) noteFold(all []bedstate.State) fold {
	says := v.Form.Value("part")
	if says == "" && v.Form.Value("note") == "" {
		says = "none"
	}
	return v.fold("notes", "Part of the garden, and its past", says,
		[]form.Row{{Name: "part", Label: "Part of the garden", Aside: "a tunnel, a field", MaxLength: 60, Suggests: partsOf(all)},
			{Name: "note", Label: "What is known of it from before: ash, lime, manure, fires, fill", Aside: "and anything else",
				Mode: form.Lines, Box: form.Wide, Lines: 2, MaxLength: 1000}})
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
	knownBy = []view.Option{{Value: garden.ByFeel, Text: "By squeezing a moist handful"}, {Value: "", Text: "I know it"},
		{Value: garden.ByJar, Text: "By a jar test"}}
	// rubs are what a wet pinch shows beside the squeeze.
	rubs = []view.Option{{Value: "", Text: "Not tried, or neither"}, {Value: rubsGritty, Text: "Gritty"},
		{Value: rubsSmooth, Text: "Smooth as flour"}}
	waters = []view.Option{{Value: "", Text: "Rain, or soft water"}, {Value: garden.Tap, Text: "The tap"}}
)

const (
	rubsGritty = "gritty"
	rubsSmooth = "smooth"
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

// shapeNames are the shapes in the form.
var shapeNames = map[string]string{garden.ShapeRect: "Rectangle", garden.ShapeCircle: "Circle",
	garden.ShapeRings: "Tree rings in a row", garden.ShapeOutline: "Freehand, by its corners"}
