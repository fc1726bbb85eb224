package exchange_test

import (
	"bytes"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/rounds"
)

func TestPlanRoundTrip(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 12))
	near := func(a, b float64) bool { return math.Abs(a-b) < 0.001 }
	for range 500 {
		b := garden.Bed{Name: "Bed", Kind: garden.Kinds[rng.IntN(5)], Shape: garden.Shapes[rng.IntN(4)], X: 40 * rng.Float64(),
			Y: 40 * rng.Float64(),
			W: 0.5 + 9*rng.Float64(), H: 0.5 + 9*rng.Float64()}
		switch b.Shape {
		case garden.ShapeCircle:
			b.H = b.W
		case garden.ShapeRings:
			b.Rings, b.Turn = 1+rng.IntN(6), float64(rng.IntN(180))
		case garden.ShapeRect:
			b.Turn = float64(rng.IntN(360))
		case garden.ShapeOutline:
			// Corners in the order of their angle do not cross.
			n := 3 + rng.IntN(9)
			var ps []garden.Point
			for i := range n {
				sin, cos := math.Sincos(2 * math.Pi * (float64(i) + 0.8*rng.Float64()) / float64(n))
				r := 1 + 3*rng.Float64()
				ps = append(ps, garden.Point{X: 20 + r*cos, Y: 20 + r*sin})
			}
			b.FitFrame(ps)
		}
		m := garden.Mark{Kind: garden.MarkKinds[rng.IntN(2)], Name: []string{"", "Cart path"}[rng.IntN(2)], Width: 0.1 + rng.Float64()}
		for range 2 + rng.IntN(6) {
			m.Points = append(m.Points, garden.Point{X: 40 * rng.Float64(), Y: 40 * rng.Float64()})
		}
		var out bytes.Buffer
		require.NoError(t, exchange.WritePlan(&out, []bedstate.State{{Bed: b}}, []garden.Mark{m}))
		back, lines, err := exchange.ReadPlan(&out)
		require.NoError(t, err)
		require.Len(t, lines, 1)
		require.Equal(t, []any{m.Kind, m.Name, len(m.Points)}, []any{lines[0].Kind, lines[0].Name, len(lines[0].Points)})
		require.True(t, near(m.Width, lines[0].Width))
		for i, p := range m.Points {
			require.True(t, near(p.X, lines[0].Points[i].X) && near(p.Y, lines[0].Points[i].Y))
		}
		require.Len(t, back, 1)
		c := back[0]
		require.Equal(t, []any{b.Name, b.Kind, b.Shape, b.Rings}, []any{c.Name, c.Kind, c.Shape, c.Rings})
		require.True(t, near(b.X, c.X) && near(b.Y, c.Y) && near(b.W, c.W) && near(b.H, c.H) && near(b.Turn, c.Turn), "%+v\n%+v", b, c)
		require.InDelta(t, float64(b.Area()), float64(c.Area()), 0.02)
		for i, p := range b.Outline() {
			require.True(t, near(p.X, c.Outline()[i].X) && near(p.Y, c.Outline()[i].Y))
		}
	}
}

func TestInvalidPlanNamesFeature(t *testing.T) {
	polygon := func(ring string) string {
		return `{"type":"FeatureCollection","features":[{"type":"Feature","properties":{"name":"Bow tie"},
			"geometry":{"type":"Polygon","coordinates":[` + ring + `]}}]}`
	}
	for text, says := range map[string]string{
		`nonsense`:           "not GeoJSON",
		`{"type":"Feature"}`: "a FeatureCollection is needed",
		`{"type":"FeatureCollection","features":[]}`: "nothing in it",
		polygon(`[[0,0],[2,-2],[2,0],[0,-2],[0,0]]`): "feature 1 (Bow tie): the outline crosses " +
			"itself",
		polygon(`[[0,0],[1,0],[2,0],[0,0]]`):                                              "holds no ground",
		polygon(`[[0,0],[1,0],[0,0]]`):                                                    "one closed ring",
		polygon(`[[0,0],[2,0],[2,-2],[0,0]],[[0,0]]`):                                     "without holes",
		polygon(`[[0,0],[0,0],[2,-2],[3,0],[0,0]]`):                                       "lie on one spot",
		strings.Replace(polygon(`[[0,0],[2,0]]`), `"name"`, `"mark":"path","name"`, 1):    "a LineString is needed",
		strings.Replace(polygon(`[]`), "Bow tie", "", 1):                                  "no name",
		strings.Replace(polygon(`[[0,0],[2,0],[2,-2],[0,0]]`), `"Polygon"`, `"Point"`, 1): "a Polygon is needed",
	} {
		_, _, err := exchange.ReadPlan(strings.NewReader(text))
		var f garden.Faults
		require.ErrorAs(t, err, &f, text)
		assert.Contains(t, f["plan"], says)
	}
}

func TestFormulasAreEscaped(t *testing.T) {
	var out bytes.Buffer
	require.NoError(t, exchange.WriteBeds(&out, bedstate.View{Beds: []bedstate.State{{Bed: garden.Bed{Name: `=HYPERLINK("x")`,
		Shape: garden.ShapeRect, W: 1, H: 1}}}}))
	assert.Contains(t, out.String(), `"'=HYPERLINK(""x"")"`)
	// In any column, whatever wrote it there; figures stay.
	out.Reset()
	require.NoError(t, exchange.WriteRound(&out, rounds.Walk{Beds: []garden.SampleBed{{SampleID: 1, BedID: 1, Note: "-2.5"}},
		Samples: []garden.Sample{{Meta: garden.Meta{ID: 1}, Code: "@SUM(1)", State: "+open"}}}))
	assert.Contains(t, out.String(), ",'@SUM(1),")
	assert.Contains(t, out.String(), ",'+open,")
	assert.Contains(t, out.String(), ",-2.5,")
}
