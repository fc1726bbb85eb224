package exchange

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// The plan as GeoJSON. Its coordinates are metres from the plan's corner, east
// and north, so what lies south is below 0; docs/plan.md tells the properties.

type collection struct {
	Type     string    `json:"type"`
	Units    string    `json:"zephyrfield_units"`
	Features []feature `json:"features"`
}

type feature struct {
	Type       string     `json:"type"`
	Properties properties `json:"properties"`
	Geometry   geometry   `json:"geometry"`
}

type geometry struct {
	Type        string          `json:"type"`
	Coordinates json.RawMessage `json:"coordinates"`
}

type properties struct {
	Name  string  `json:"name"`
	Kind  string  `json:"kind,omitempty"`
	Shape string  `json:"shape,omitempty"`
	X     float64 `json:"x_m"`
	Y     float64 `json:"y_m"`
	W     float64 `json:"w_m,omitempty"`
	H     float64 `json:"h_m,omitempty"`
	Turn  float64 `json:"turn_deg,omitempty"`
	Rings int     `json:"rings,omitempty"`
	// Mark is path or wall: then it is a line of this width.
	Mark  string  `json:"mark,omitempty"`
	Width float64 `json:"width_m,omitempty"`
	Area  float64 `json:"area_m2,omitempty"`
}

// decimals of a metre are kept: a tenth of a millimetre.
const decimals = 4

func mm(x float64) float64 { return quantity.Round(x, decimals) }

// roundCorners is how many corners a circle is drawn with for other programs.
const roundCorners = 32

type ring [][2]float64

func ringOf(ps []garden.Point) ring {
	out := make(ring, 0, len(ps)+1)
	for _, p := range append(append([]garden.Point(nil), ps...), ps[0]) {
		out = append(out, [2]float64{mm(p.X), mm(-p.Y)})
	}
	return out
}

func circleRing(c garden.Circle) ring {
	ps := make([]garden.Point, roundCorners)
	for i := range ps {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / roundCorners)
		ps[i] = garden.Point{X: c.Middle.X + c.Radius*cos, Y: c.Middle.Y + c.Radius*sin}
	}
	return ringOf(ps)
}

// WritePlan writes beds, paths and walls as a FeatureCollection.
func WritePlan(w io.Writer, beds []garden.Bed, marks []garden.Mark) error {
	out := collection{Type: "FeatureCollection", Units: "metres east and north of the plan's corner", Features: []feature{}}
	for _, b := range beds {
		f := feature{Type: "Feature", Properties: properties{Name: b.Name, Kind: b.Kind, Shape: b.Shape, X: mm(b.X), Y: mm(b.Y),
			W: mm(b.W), H: mm(b.H),
			Turn: b.Turn, Rings: b.Rings, Area: quantity.Round(float64(b.Area()), 3)}}
		var coordinates any
		circles := b.Circles()
		switch len(circles) {
		case 0:
			f.Geometry.Type, coordinates = "Polygon", []ring{ringOf(b.Outline())}
		case 1:
			f.Geometry.Type, coordinates = "Polygon", []ring{circleRing(circles[0])}
		default:
			all := make([][]ring, len(circles))
			for i, c := range circles {
				all[i] = []ring{circleRing(c)}
			}
			f.Geometry.Type, coordinates = "MultiPolygon", all
		}
		raw, err := json.Marshal(coordinates)
		if err != nil {
			return err
		}
		f.Geometry.Coordinates = raw
		out.Features = append(out.Features, f)
	}
	for _, m := range marks {
		line := make(ring, len(m.Points))
		for i, p := range m.Points {
			line[i] = [2]float64{mm(p.X), mm(-p.Y)}
		}
		raw, err := json.Marshal(line)
		if err != nil {
			return err
		}
		out.Features = append(out.Features, feature{Type: "Feature", Properties: properties{Name: m.Name, Mark: m.Kind, Width: mm(m.Width)},
			Geometry: geometry{Type: "LineString", Coordinates: raw}})
	}
	e := json.NewEncoder(w)
	e.SetIndent("", " ")
	return e.Encode(out)
}

// ReadPlan reads beds and marks from a FeatureCollection: beds by their
// properties where they have a shape of ours, else as the polygon that is
// drawn; marks are the lines. Only name, kind and shape are set. Errors are
// garden.Faults at "plan", naming the feature.
func ReadPlan(r io.Reader) (beds []garden.Bed, marks []garden.Mark, err error) {
	var in collection
	if err := json.NewDecoder(r).Decode(&in); err != nil {
		return nil, nil, planFault("this is not GeoJSON: %s", inWords(err))
	}
	if in.Type != "FeatureCollection" {
		return nil, nil, planFault("a FeatureCollection is needed, this is a %q", in.Type)
	}
	if len(in.Features) > mostFeatures {
		return nil, nil, planFault("there is more than %d in it", mostFeatures)
	}
	named := map[string]int{}
	for i, f := range in.Features {
		if f.Properties.Mark != "" {
			m, err := markOf(f)
			if err != nil {
				return nil, nil, planFault("feature %d (%s): %v", i+1, f.Properties.Name, err)
			}
			marks = append(marks, m)
			continue
		}
		b, err := bedOf(f)
		if err != nil {
			return nil, nil, planFault("feature %d (%s): %v", i+1, f.Properties.Name, err)
		}
		key := garden.Fold(b.Name)
		if first, twin := named[key]; twin {
			return nil, nil, planFault("features %d and %d are both called “%s”; a bed has a name of its own", first, i+1, b.Name)
		}
		named[key] = i + 1
		beds = append(beds, b)
	}
	if len(beds)+len(marks) == 0 {
		return nil, nil, planFault("there is nothing in it")
	}
	return beds, marks, nil
}

// markOf reads a path or a wall.
func markOf(f feature) (garden.Mark, error) {
	m := garden.Mark{Name: f.Properties.Name, Kind: f.Properties.Mark, Width: f.Properties.Width}
	if f.Geometry.Type != "LineString" {
		return m, fmt.Errorf("a LineString is needed, this is a %q", f.Geometry.Type)
	}
	var line ring
	if err := json.Unmarshal(f.Geometry.Coordinates, &line); err != nil {
		return m, errors.New("its points are not pairs of figures")
	}
	if len(line) > garden.MostPoints {
		return m, fmt.Errorf("a line has at most %d points", garden.MostPoints)
	}
	for _, p := range line {
		m.Points = append(m.Points, garden.Point{X: p[0], Y: -p[1]})
	}
	return m, nil
}

// mostFeatures is how many beds, paths and walls a plan may hold.
const mostFeatures = 10_000

func planFault(format string, a ...any) error {
	return garden.Faults{"plan": fmt.Sprintf(format, a...)}
}

func bedOf(f feature) (garden.Bed, error) {
	p := f.Properties
	b := garden.Bed{Name: p.Name, Kind: p.Kind, Shape: p.Shape, X: p.X, Y: p.Y, W: p.W, H: p.H, Turn: p.Turn, Rings: p.Rings}
	if b.Name == "" {
		return b, errors.New("it has no name")
	}
	if b.Kind == "" {
		b.Kind = garden.KindBed
	}
	switch b.Shape {
	case garden.ShapeRect, garden.ShapeCircle, garden.ShapeRings:
		return b, nil
	}
	if f.Geometry.Type != "Polygon" {
		return b, fmt.Errorf("a Polygon is needed, this is a %q", f.Geometry.Type)
	}
	var rings []ring
	if err := json.Unmarshal(f.Geometry.Coordinates, &rings); err != nil {
		return b, errors.New("its corners are not pairs of figures")
	}
	if len(rings) != 1 || len(rings[0]) < 4 {
		return b, errors.New("one closed ring without holes is needed")
	}
	if len(rings[0]) > garden.MostPoints+1 {
		return b, fmt.Errorf("an outline has at most %d corners", garden.MostPoints)
	}
	ps := make([]garden.Point, len(rings[0])-1)
	for i := range ps {
		ps[i] = garden.Point{X: rings[0][i][0], Y: -rings[0][i][1]}
	}
	if why := garden.CheckCorners(ps); why != "" {
		return b, errors.New(why)
	}
	// What is drawn stands turned already.
	b.Shape, b.Turn, b.Rings = garden.ShapeOutline, 0, 0
	b.FitFrame(ps)
	return b, nil
}
