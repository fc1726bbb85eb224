package present

import (
	"fmt"
	"strconv"
	"strings"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/form"
)

// CornersIn parses an outline: one corner per line, distances from the west and north edges.
func CornersIn(f form.Form, name string, in text.Scale) (out []garden.Point) {
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

// CornersText formats points for CornersIn, each shifted by `at`.
func CornersText(ps []garden.Point, at garden.Point, in text.Scale) string {
	lines := make([]string, len(ps))
	for i, p := range ps {
		lines[i] = form.Figure(at.X+p.X, in, 3) + " " + form.Figure(at.Y+p.Y, in, 3)
	}
	return strings.Join(lines, "\n")
}

// FiguresText formats figures separated by spaces, for a drawing's data.
func FiguresText[T ~float64](xs []T) string {
	parts := make([]string, len(xs))
	for i, x := range xs {
		parts[i] = strconv.FormatFloat(float64(x), 'f', -1, 64)
	}
	return strings.Join(parts, " ")
}
