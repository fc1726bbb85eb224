package garden

import (
	"fmt"
	"math"
	"slices"
)

// The kinds of mark.
const (
	MarkPath = "path"
	MarkWall = "wall"
)

// Mark is a path or a wall on the plan: a line with a width.
type Mark struct {
	Meta
	Name  string  `db:"name" json:"name"`
	Kind  string  `db:"kind" json:"kind"`
	Width float64 `db:"width_m" json:"width_m"`
	// Points are in metres from the plan's corner.
	Points Corners `db:"points_m" json:"points_m"`
}

var markTable = Table{Name: "marks", One: "path or wall", New: func() Record { return &Mark{} }, Most: mostBeds}

func (m *Mark) check(f Faults) { f.join(CheckMark(*m).OrNil()) }

// MarkKinds lists the kinds of mark in the order of the form.
var MarkKinds = []string{MarkPath, MarkWall}

// CheckMark validates a mark, by field.
func CheckMark(m Mark) Faults {
	f := Faults{}
	if why := TextFault(m.Name, LongestName, false); why != "" {
		f["name"] = why
	}
	if !slices.Contains(MarkKinds, m.Kind) {
		f["kind"] = "choose what it is"
	}
	LimitWidth.hold(f, "width", m.Width)
	if why := CheckLine(m.Points); why != "" {
		f["corners"] = why
	}
	return f
}

// CheckLine returns the message for an invalid line, or "". Unlike an outline it may cross itself.
func CheckLine(ps []Point) string {
	switch n := len(ps); {
	case n < 2:
		return "a line needs two points or more"
	case n > MostPoints:
		return fmt.Sprintf("a line has at most %d points", MostPoints)
	}
	for i, p := range ps {
		if !LimitPlace.Holds(p.X) || !LimitPlace.Holds(p.Y) {
			return fmt.Sprintf("point %d lies off the plan: a place from 0 to %.0f m is needed", i+1, LimitPlace.High)
		}
		if i > 0 && math.Hypot(p.X-ps[i-1].X, p.Y-ps[i-1].Y) < 1e-6 {
			return fmt.Sprintf("points %d and %d lie on one spot", i, i+1)
		}
	}
	return ""
}

// Called returns a mark's name, else its kind.
func (m Mark) Called() string {
	if m.Name == "" {
		return "a " + m.Kind
	}
	return m.Name
}
