package web

import (
	"errors"
	"fmt"
	"strconv"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
)

// soilFrom reads what the form says of the soil: the texture as told, or as
// the jar or the hand found it.
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
		if f.Value("feel_ball") == "" {
			return // as it was found before
		}
		feel := soil.Feel{Ball: f.Is("feel_ball", "yes"), Gritty: f.Is("feel_gritty", "yes"), Smooth: f.Is("feel_smooth", "yes")}
		for _, r := range ribbons {
			if f.Is("feel_ribbon", r.id) {
				feel.Ribbon = r.long
			}
		}
		b.Texture = feel.Class().ID
	}
}

// bedFrom reads the form's bed; the error tells only whether it can be drawn.
func bedFrom(f form.Form, u words.Units) (garden.Bed, error) {
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
		ps := cornersIn(f, "corners", in)
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

// cornersIn reads a freehand line: a corner a line, lengths from the west and
// from the north edge.
func cornersIn(f form.Form, name string, in words.Scale) (out []garden.Point) {
	for i, line := range strings.Split(f.Values[name], "\n") {
		fields := strings.FieldsFunc(strings.TrimSpace(line), func(r rune) bool { return r == ' ' || r == ';' || r == '\t' })
		if len(fields) == 0 {
			continue
		}
		if len(out) == garden.MostPoints {
			f.Faults[name] = fmt.Sprintf("a line has at most %d points", garden.MostPoints)
			return nil
		}
		var p garden.Point
		var err1, err2 error
		if len(fields) == 2 {
			p.X, err1 = strconv.ParseFloat(strings.ReplaceAll(fields[0], ",", "."), 64)
			p.Y, err2 = strconv.ParseFloat(strings.ReplaceAll(fields[1], ",", "."), 64)
		}
		if len(fields) != 2 || err1 != nil || err2 != nil {
			f.Faults[name] = fmt.Sprintf("line %d: two figures are needed, %s from the west and from the north", i+1, in.Name)
			return nil
		}
		p.X, p.Y = p.X*in.Size, p.Y*in.Size
		if !garden.LimitPlace.Holds(p.X) || !garden.LimitPlace.Holds(p.Y) {
			f.Faults[name] = fmt.Sprintf("line %d lies off the plan: a garden is at most %.0f m across", i+1, garden.LimitPlace.High)
			return nil
		}
		out = append(out, p)
	}
	return out
}

// cornersText writes points as corners reads them, each moved by at.
func cornersText(ps []garden.Point, at garden.Point, in words.Scale) string {
	lines := make([]string, len(ps))
	for i, p := range ps {
		lines[i] = form.Figure(at.X+p.X, in, 3) + " " + form.Figure(at.Y+p.Y, in, 3)
	}
	return strings.Join(lines, "\n")
}

// plain writes a figure to a tenth.
func plain(x float64) string { return strconv.FormatFloat(quantity.Round(x, 1), 'f', -1, 64) }

// formOf fills the form with a bed.
func formOf(b garden.Bed, u words.Units) form.Form {
	in := u.Lengths()
	f := form.Form{Faults: garden.Faults{}, Values: map[string]string{"name": b.Name, "kind": b.Kind, "w": form.Figure(b.W, in, 3),
		"h": form.Figure(b.H, in, 3), "x": form.Figure(b.X, in, 3), "y": form.Figure(b.Y, in, 3),
		"rings": strconv.Itoa(max(b.Rings, 1)), "shape": b.Shape, "turn": plain(b.Turn), "texture": string(b.Texture),
		"texture_by": b.TextureBy, "depth": form.Figure(float64(b.Depth), u.Depths(), 1),
		"worked": string(b.Worked), "free_lime": string(b.FreeLime), "watered": b.Watered, "note": b.Note, "part": b.Part,
		"version":  strconv.FormatInt(b.Version, 10),
		"jar_sand": "48", "jar_silt": "48", "jar_clay": "24"}}
	if b.Shape == garden.ShapeOutline {
		f.Values["corners"] = cornersText(b.Corners, garden.Point{X: b.X, Y: b.Y}, in)
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
