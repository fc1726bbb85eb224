package exchange

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"

	"github.com/peterstace/simplefeatures/geom"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// The plan as GeoJSON. Its coordinates are metres from the plan's corner, east and north, so that
// what lies south is negative; docs/plan.md describes the properties.

type collection struct {
	Type     string    `json:"type"`
	Units    string    `json:"zephyrfield_units"`
	Features []feature `json:"features"`
}

type feature struct {
	Type       string          `json:"type"`
	Properties properties      `json:"properties"`
	Geometry   json.RawMessage `json:"geometry"`
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
	// Mark is path or wall: a line of Width.
	Mark  string  `json:"mark,omitempty"`
	Width float64 `json:"width_m,omitempty"`
	Area  float64 `json:"area_m2,omitempty"`
	// What a bed is judged for and by, for other programs.
	Crop   string       `json:"crop,omitempty"`
	PH     *float64     `json:"ph_water,omitempty"`
	ReadOn string       `json:"read_on,omitempty"`
	Stands bed.Standing `json:"stands,omitempty"`
}

// decimals is the number of decimals of a metre.
const decimals = 4

func mm(x float64) float64 { return quantity.Round(x, decimals) }

// roundCorners is the number of corners of a circle drawn for other programs.
const roundCorners = 32

// onMap converts points of the plan to the file's, and back: north is up.
func onMap(ps []garden.Point) []garden.Point {
	out := make([]garden.Point, len(ps))
	for i, p := range ps {
		out[i] = garden.Point{X: mm(p.X), Y: mm(-p.Y)}
	}
	return out
}

// drawn returns a bed's geometry, a circle with roundCorners.
func drawn(b garden.Bed) geom.Geometry {
	circles := b.Circles()
	if len(circles) == 0 {
		return garden.PolygonOf(onMap(b.Outline())).AsGeometry()
	}
	all := make([]geom.Polygon, len(circles))
	for i, c := range circles {
		ps := make([]garden.Point, roundCorners)
		for k := range ps {
			sin, cos := math.Sincos(2 * math.Pi * float64(k) / roundCorners)
			ps[k] = garden.Point{X: c.Middle.X + c.Radius*cos, Y: c.Middle.Y + c.Radius*sin}
		}
		all[i] = garden.PolygonOf(onMap(ps))
	}
	if len(all) == 1 {
		return all[0].AsGeometry()
	}
	return geom.NewMultiPolygon(all).AsGeometry()
}

// WritePlan writes beds with what they read, paths and walls as a FeatureCollection.
func WritePlan(w io.Writer, beds []bedstate.State, marks []garden.Mark) error {
	out := collection{Type: "FeatureCollection", Units: "metres east and north of the plan’s corner", Features: []feature{}}
	for i := range beds {
		p, b := &beds[i], &beds[i].Bed
		f := feature{Type: "Feature", Properties: properties{Name: b.Name, Kind: b.Kind, Shape: b.Shape, X: mm(b.X), Y: mm(b.Y),
			W: mm(b.W), H: mm(b.H),
			Turn: b.Turn, Rings: b.Rings, Area: quantity.Round(float64(b.Area()), 3),
			Crop: p.Crop.ID, Stands: p.Standing}}
		if p.Reading != nil {
			ph := quantity.Round(float64(p.PH), 2)
			f.Properties.PH, f.Properties.ReadOn = &ph, p.Reading.Date.String()
		}
		raw, err := json.Marshal(drawn(*b))
		if err != nil {
			return err
		}
		f.Geometry = raw
		out.Features = append(out.Features, f)
	}
	for _, m := range marks {
		raw, err := json.Marshal(garden.LineOf(onMap(m.Points)...))
		if err != nil {
			return err
		}
		out.Features = append(out.Features, feature{Type: "Feature", Properties: properties{Name: m.Name, Mark: m.Kind, Width: mm(m.Width)},
			Geometry: raw})
	}
	e := json.NewEncoder(w)
	e.SetIndent("", " ")
	return e.Encode(out)
}

// ReadPlan reads beds and marks from a FeatureCollection: beds by our properties if they have them,
// else by their polygon; lines are marks. Only name, kind and shape are set. Errors are
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

// groundOf reads a feature's geometry of the wanted kind; the garden's checks decide whether it
// suits a bed.
func groundOf(f feature, wanted string, kind geom.GeometryType, bad string) (geom.Geometry, error) {
	var is struct{ Type string }
	if err := json.Unmarshal(f.Geometry, &is); err != nil || is.Type != kind.String() {
		return geom.Geometry{}, fmt.Errorf("%s is needed, this is a %q", wanted, is.Type)
	}
	g, err := geom.UnmarshalGeoJSON(f.Geometry, geom.NoValidate{})
	if err != nil {
		return g, errors.New(bad)
	}
	return g.Force2D(), nil
}

// markOf reads a path or a wall.
func markOf(f feature) (garden.Mark, error) {
	m := garden.Mark{Name: f.Properties.Name, Kind: f.Properties.Mark, Width: f.Properties.Width}
	g, err := groundOf(f, "a LineString", geom.TypeLineString, "its points are not pairs of figures")
	if err != nil {
		return m, err
	}
	line := garden.PointsOf(g.MustAsLineString())
	if len(line) > garden.MostPoints {
		return m, fmt.Errorf("a line has at most %d points", garden.MostPoints)
	}
	m.Points = onMap(line)
	return m, nil
}

// mostFeatures is the largest number of features of a plan.
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
	g, err := groundOf(f, "a Polygon", geom.TypePolygon, "its corners are not pairs of figures")
	if err != nil {
		return b, err
	}
	rings := g.MustAsPolygon().DumpRings()
	if len(rings) != 1 || rings[0].Coordinates().Length() < 4 {
		return b, errors.New("one closed ring without holes is needed")
	}
	corners := garden.PointsOf(rings[0])
	if len(corners) > garden.MostPoints+1 {
		return b, fmt.Errorf("an outline has at most %d corners", garden.MostPoints)
	}
	ps := onMap(corners[:len(corners)-1])
	if why := garden.CheckCorners(ps); why != "" {
		return b, errors.New(why)
	}
	// Drawn shapes are already rotated.
	b.Shape, b.Turn, b.Rings = garden.ShapeOutline, 0, 0
	b.FitFrame(ps)
	return b, nil
}
