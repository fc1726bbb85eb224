package garden_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/internal/garden"
)

func TestAreaOfOutline(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 9))
	for range 2000 {
		w, h, turn := 0.2+50*rng.Float64(), 0.2+50*rng.Float64(), 360*rng.Float64()
		b := garden.Bed{Shape: garden.ShapeRect, X: 9, Y: 4, W: w, H: h, Turn: turn}
		// The outline as it is drawn, turned, holds what was typed.
		o := garden.Bed{Shape: garden.ShapeOutline}
		o.FitFrame(b.Outline())
		require.InEpsilon(t, w*h, float64(o.Area()), 1e-9)
		require.InEpsilon(t, w*h, float64(b.Area()), 1e-12)
		low, high := b.Bounds()
		require.InDelta(t, b.Middle().X, (low.X+high.X)/2, 1e-9, "a turn is about the middle")
		require.InDelta(t, b.Middle().Y, (low.Y+high.Y)/2, 1e-9)
		c := garden.Bed{Shape: garden.ShapeCircle, W: w, H: w}.Circles()[0]
		require.InEpsilon(t, math.Pi*c.Radius*c.Radius, float64(garden.Bed{Shape: garden.ShapeCircle, W: w, H: w}.Area()), 1e-12)
	}
}

func TestRingsAreInFrame(t *testing.T) {
	b := garden.Bed{Shape: garden.ShapeRings, X: 2, Y: 3, W: 5.4, H: 1.6, Rings: 3}
	low, high := b.Bounds()
	assert.InDeltaSlice(t, []float64{2, 3, 7.4, 4.6}, []float64{low.X, low.Y, high.X, high.Y}, 1e-9)
	b.Turn = 90
	low, high = b.Bounds()
	assert.InDelta(t, 1.6, high.X-low.X, 1e-9)
	assert.InDelta(t, 5.4, high.Y-low.Y, 1e-9)
}

func TestOutlines(t *testing.T) {
	square := []garden.Point{{X: 0, Y: 0}, {X: 2, Y: 0}, {X: 2, Y: 2}, {X: 0, Y: 2}}
	assert.Empty(t, garden.CheckCorners(square))
	assert.Empty(t, garden.CheckCorners([]garden.Point{{X: 0, Y: 0}, {X: 4, Y: 0}, {X: 4, Y: 4}, {X: 2, Y: 1}}), "a hollow is no crossing")
	for says, ps := range map[string][]garden.Point{
		"three corners":  square[:2],
		"crosses itself": {square[0], square[2], square[1], square[3]},
		"one spot":       {square[0], square[0], square[1], square[2]},
		"no ground":      {{X: 0, Y: 0}, {X: 1, Y: 1}, {X: 3, Y: 3}},
		"too far":        {square[0], {X: 1e9, Y: 0}, square[2]},
		"at most":        make([]garden.Point, 201),
	} {
		assert.Contains(t, garden.CheckCorners(ps), says)
	}
}

func TestCornersScan(t *testing.T) {
	c := garden.Corners{{X: 0, Y: 0}, {X: 2.5, Y: 0.1234}, {X: 1, Y: 3}}
	var back garden.Corners
	require.NoError(t, back.Scan(c.Text()))
	assert.Equal(t, c, back)
	require.NoError(t, back.Scan(""))
	assert.Empty(t, back)
	assert.Error(t, back.Scan("round"))
}

func TestOverlaps(t *testing.T) {
	rect := func(x, y, w, h, turn float64) garden.Bed {
		return garden.Bed{Shape: garden.ShapeRect, X: x, Y: y, W: w, H: h, Turn: turn}
	}
	circle := func(x, y, w float64) garden.Bed { return garden.Bed{Shape: garden.ShapeCircle, X: x, Y: y, W: w, H: w} }
	for _, c := range []struct {
		name string
		a, b garden.Bed
		want bool
	}{
		{"apart", rect(0, 0, 4, 1, 0), rect(5, 0, 4, 1, 0), false},
		{"edge to edge", rect(0, 0, 4, 1, 0), rect(4, 0, 4, 1, 0), false},
		{"crossing", rect(0, 0, 4, 1, 0), rect(3, 0.5, 4, 1, 0), true},
		{"one inside the other", rect(0, 0, 9, 9, 0), rect(3, 3, 1, 1, 0), true},
		{"frames cross, turned beds do not", rect(0, 0, 6, 1, 45), rect(4, -2.5, 2, 1, 0), false},
		{"a cross", rect(0, 2, 6, 1, 0), rect(0, 2, 6, 1, 90), true},
		{"a circle in the corner of a frame", circle(0, 0, 4), rect(3.5, 3.5, 1, 1, 0), false},
		{"a circle over a bed", circle(0, 0, 4), rect(2, 2, 4, 4, 0), true},
		{"between the rings of a row", garden.Bed{Shape: garden.ShapeRings, X: 0, Y: 0, W: 9, H: 1, Rings: 2}, rect(3, 0, 2, 1, 0), false},
	} {
		assert.Equal(t, c.want, garden.Overlaps(c.a, c.b), c.name)
		assert.Equal(t, c.want, garden.Overlaps(c.b, c.a), c.name)
	}
}

func TestArea(t *testing.T) {
	assert.InDelta(t, 9.6, float64(garden.Bed{Shape: garden.ShapeRect, W: 6.4, H: 1.5}.Area()), 1e-9)
	assert.InDelta(t, 3*math.Pi/4*1.6*1.6, float64(garden.Bed{Shape: garden.ShapeRings, W: 5.4, H: 1.6, Rings: 3}.Area()), 1e-9)
}

func TestNormalsScan(t *testing.T) {
	n := garden.Normals{5, 5.5, -1}
	var back garden.Normals
	require.NoError(t, back.Scan(n.Text()))
	assert.Equal(t, n, back)
	require.NoError(t, back.Scan(""))
	assert.Empty(t, back)
	assert.Error(t, back.Scan(7))
	assert.Error(t, back.Scan("warm"))
}
