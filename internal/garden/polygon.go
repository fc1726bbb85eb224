package garden

import "github.com/peterstace/simplefeatures/geom"

// LineOf returns a line through points.
func LineOf(ps ...Point) geom.LineString {
	flat := make([]float64, 0, 2*len(ps)+2)
	for _, p := range ps {
		flat = append(flat, p.X, p.Y)
	}
	return geom.NewLineString(geom.NewSequence(flat, geom.DimXY))
}

// PolygonOf returns the polygon of corners, unchecked; CheckCorners validates them.
func PolygonOf(ps []Point) geom.Polygon {
	if len(ps) == 0 {
		return geom.Polygon{}
	}
	return geom.NewPolygon([]geom.LineString{LineOf(append(ps[:len(ps):len(ps)], ps[0])...)})
}

// PointsOf returns a line's points; a ring's first is repeated as its last.
func PointsOf(l geom.LineString) []Point {
	seq := l.Coordinates()
	out := make([]Point, seq.Length())
	for i := range out {
		xy := seq.GetXY(i)
		out[i] = Point{xy.X, xy.Y}
	}
	return out
}
