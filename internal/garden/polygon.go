package garden

import "github.com/peterstace/simplefeatures/geom"

// LineOf returns a line from point to point.
func LineOf(ps ...Point) geom.LineString {
	flat := make([]float64, 0, 2*len(ps)+2)
	for _, p := range ps {
		flat = append(flat, p.X, p.Y)
	}
	return geom.NewLineString(geom.NewSequence(flat, geom.DimXY))
}

// PolygonOf returns the ground within corners. Whether they can be those of a polygon, CheckCorners
// says.
func PolygonOf(ps []Point) geom.Polygon {
	if len(ps) == 0 {
		return geom.Polygon{}
	}
	return geom.NewPolygon([]geom.LineString{LineOf(append(ps[:len(ps):len(ps)], ps[0])...)})
}

// PointsOf returns the points of a line; a ring's first comes again as its last.
func PointsOf(l geom.LineString) []Point {
	seq := l.Coordinates()
	out := make([]Point, seq.Length())
	for i := range out {
		xy := seq.GetXY(i)
		out[i] = Point{xy.X, xy.Y}
	}
	return out
}
