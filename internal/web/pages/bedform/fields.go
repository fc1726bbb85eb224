package bedform

import (
	"errors"
	"slices"
	"strconv"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/onboarding"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/view"
)

// soilFrom reads the soil from the form: the texture as entered, or by jar or feel.
func soilFrom(f form.Form, b *garden.Bed) {
	b.TextureBy = f.Value("texture_by")
	b.Clay, b.CEC = form.Optional[quantity.Percent](f, "clay", 1), form.Optional[quantity.CationExchangeCapacity](f, "cec", 1)
	switch b.TextureBy {
	case garden.ByJar:
		const why = "A height in millimetres is needed, 0 or more."
		b.Jar = garden.Figures{f.Needed("jar_sand", why), f.Needed("jar_silt", why), f.Needed("jar_clay", why)}
		if _, row, clay, ok := (soil.JarTest{Sand: b.Jar[0], Silt: b.Jar[1], Clay: b.Jar[2]}).Class(); ok {
			share := quantity.Percent(quantity.Round(float64(clay), 1))
			b.Texture, b.Clay = row.ID, &share
		}
	case garden.ByFeel:
		if felt, ok := feltIn(f); ok { // unchanged where nothing is tapped
			b.Texture = felt
		}
	}
}

// feltIn returns the texture of the handful that was tapped, and of the pinch if it was rubbed.
func feltIn(f form.Form) (t soil.Texture, ok bool) {
	felt, ok := present.FeelOf(f.Value("feel"))
	felt.Gritty, felt.Smooth = f.Is("feel_rub", rubsGritty), f.Is("feel_rub", rubsSmooth)
	return felt.Class().ID, ok
}

// SoilByFeel sets the texture of a new bed by the handful that was tapped, or tells that it is wanted.
func SoilByFeel(f form.Form, b *garden.Bed) {
	b.TextureBy = garden.ByFeel
	felt, ok := feltIn(f)
	if !ok {
		f.Faults["feel"] = "squeeze a moist handful, and tap what it does"
		return
	}
	b.Texture = felt
}

// Whens are the times of sowing as tiles.
func Whens() (out []view.Choice) {
	for _, w := range onboarding.Whens {
		out = append(out, view.Choice{Value: string(w), Text: text.Sowing(string(w))})
	}
	return out
}

// SownWhen returns the day of sowing that was tapped, or tells that it is wanted.
func SownWhen(f form.Form, g garden.Garden, today quantity.Day) quantity.Day {
	when := onboarding.When(f.Value("when"))
	if !slices.Contains(onboarding.Whens, when) {
		f.Faults["when"] = "tap when it is sown: ash and lime must keep their distance"
		return 0
	}
	return when.Sown(g.Weather(), today)
}

// BedFrom reads the form's bed; an error means only that it cannot be drawn.
func BedFrom(f form.Form, u text.Units) (garden.Bed, error) {
	in := u.Lengths()
	length := func(name, what string) float64 {
		return f.Needed(name, "A "+what+" in "+in.Name+" is needed.") * in.Size
	}
	b := garden.Bed{Name: f.Value("name"), Kind: f.Value("kind"), Shape: garden.ShapeRect, Texture: soil.Texture(f.Value("texture")),
		Worked: soil.Worked(f.Value("worked")), FreeLime: soil.FreeLime(f.Value("free_lime")), Watered: f.Value("watered"),
		Note: f.Value("note"), Part: f.Value("part"),
		W: length("w", "length"), H: length("h", "width"), X: length("x", "place"), Y: length("y", "place")}
	b.Depth = quantity.Depth(f.Needed("depth", "A depth from 2 to 60 cm is needed.") * u.Depths().Size)
	b.OrganicMatter = form.Optional[quantity.Percent](f, "om", 1)
	if stones := form.Optional[quantity.Percent](f, "stones", 1); stones != nil {
		b.Stones = *stones
	}
	if b.FreeLime == "" {
		b.FreeLime = soil.LimeUnknown
	}
	soilFrom(f, &b)
	b.Shape = f.Value("shape")
	if b.Shape == "" {
		b.Shape = garden.ShapeRect
		if b.Kind == garden.KindTree {
			b.Shape = garden.ShapeRings
		}
	}
	b.Turn, _ = f.Number("turn")
	switch b.Shape {
	case garden.ShapeRings:
		b.Rings = f.Whole("rings")
	case garden.ShapeCircle:
		b.H = b.W
		delete(f.Faults, "h")
	case garden.ShapeOutline:
		ps := present.CornersIn(f, "corners", in)
		if why := garden.CheckCorners(ps); why != "" && f.Fault("corners") == "" {
			f.Faults["corners"] = why
		} else if why == "" {
			b.FitFrame(ps)
			for _, n := range []string{"w", "h", "x", "y"} {
				delete(f.Faults, n)
			}
		}
	}
	if f.Fault("corners") != "" {
		return b, errNotDrawn
	}
	if faults := garden.CheckShape(b); len(faults) > 0 {
		return b, errors.Join(errNotDrawn, faults)
	}
	return b, nil
}

// plain formats a figure to a tenth.
func plain(x float64) string { return strconv.FormatFloat(quantity.Round(x, 1), 'f', -1, 64) }

// formOf returns the form of a bed.
func formOf(b garden.Bed, u text.Units) form.Form {
	in := u.Lengths()
	f := form.Form{Faults: garden.Faults{}, Values: map[string]string{"name": b.Name, "kind": b.Kind, "w": form.Figure(b.W, in, 3),
		"h": form.Figure(b.H, in, 3), "x": form.Figure(b.X, in, 3), "y": form.Figure(b.Y, in, 3),
		"rings": strconv.Itoa(max(b.Rings, 1)), "shape": b.Shape, "turn": plain(b.Turn), "texture": string(b.Texture),
		"texture_by": b.TextureBy, "depth": form.Figure(float64(b.Depth), u.Depths(), 1),
		"worked": string(b.Worked), "free_lime": string(b.FreeLime), "watered": b.Watered, "note": b.Note, "part": b.Part,
		"version":  strconv.FormatInt(b.Version, 10),
		"jar_sand": "48", "jar_silt": "48", "jar_clay": "24"}}
	if b.Shape == garden.ShapeOutline {
		f.Values["corners"] = present.CornersText(b.Corners, garden.Point{X: b.X, Y: b.Y}, in)
	}
	if len(b.Jar) == 3 {
		for i, name := range []string{"jar_sand", "jar_silt", "jar_clay"} {
			f.Values[name] = plain(b.Jar[i])
		}
	}
	if b.Stones > 0 {
		f.Values["stones"] = plain(float64(b.Stones))
	}
	for name, x := range map[string]*float64{"om": (*float64)(b.OrganicMatter), "clay": (*float64)(b.Clay), "cec": (*float64)(b.CEC)} {
		if x != nil {
			f.Values[name] = plain(*x)
		}
	}
	return f
}
