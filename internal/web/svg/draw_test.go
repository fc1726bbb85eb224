package svg_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/svg"
)

var today = quantity.Date(2026, 11, 24)

func ptr[T any](v T) *T { return &v }

func plot(id int64, name string, x, y, w, h float64) bedstate.State {
	return bedstate.State{Bed: garden.Bed{Meta: garden.Meta{ID: id}, Name: name, Kind: garden.KindBed, Shape: garden.ShapeRect, X: x, Y: y,
		W: w, H: h, Texture: "loam", Depth: 0.15},
		Judgement: bed.Judgement{Standing: bed.Untested, Crop: crop.Unnamed}}
}

func ph(p bedstate.State, v quantity.PH, s bed.Standing, off quantity.PH) bedstate.State {
	p.Reading = &garden.Reading{Date: today - 12, Method: soil.Lab, Basis: soil.Water, PH: &v, Cores: 12}
	p.PH, p.Standing, p.Off = v, s, off
	return p
}

func plan(plots ...bedstate.State) svg.Plan {
	return svg.PlanOf(svg.Scene{Beds: plots, Layer: svg.Layers(today)[0], Selected: 1}, 846, 486)
}

func TestPlanIsToScale(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for range 300 {
		var plots []bedstate.State
		for i := range 1 + rng.IntN(30) {
			plots = append(plots, plot(int64(i+1), "Bed", 40*rng.Float64(), 40*rng.Float64(), 0.5+10*rng.Float64(), 0.5+10*rng.Float64()))
		}
		p := plan(plots...)
		k := float64(p.Beds[0].W) / plots[0].Bed.W
		for i, b := range p.Beds {
			bed := plots[i].Bed
			require.InDelta(t, k*bed.W, float64(b.W), 1e-6, "one scale for all")
			require.InDelta(t, k*bed.H, float64(b.H), 1e-6)
			require.InDelta(t, k*(bed.X-plots[0].Bed.X), float64(b.X-p.Beds[0].X), 1e-6)
			require.InDelta(t, k*(bed.Y-plots[0].Bed.Y), float64(b.Y-p.Beds[0].Y), 1e-6)
			require.GreaterOrEqual(t, float64(b.X), 0.0)
			require.LessOrEqual(t, float64(b.X+b.W), float64(p.W)+1e-6)
			require.LessOrEqual(t, float64(b.Y+b.H), float64(p.BarY)+1e-6, "clear of the scale bar")
		}
		var metres float64
		_, err := fmt.Sscanf(p.BarText, "%f m", &metres)
		require.NoError(t, err)
		require.InDelta(t, k*metres, float64(p.BarW), 1e-6, "the scale bar is as long as it says")
	}
}

// told returns the words on a bed at a step.
func told(b svg.PlanBed, step string) (out []string) {
	for _, l := range b.Labels {
		if !slices.Contains(strings.Fields(l.Steps), step) {
			continue
		}
		for _, x := range l.Each {
			out = append(out, x.Text)
		}
	}
	return out
}

func TestBedsHaveText(t *testing.T) {
	p := plan(ph(plot(1, "Ledge", 0, 0, 6, 1.5), 5.7, bed.Sour, 0.5), ph(plot(2, "Quarry end", 0, 2, 6, 2), 7.8, bed.TooSweet, 0.3),
		ph(plot(3, "Strip", 0, 5, 6, 2), 6.6, bed.InRange, 0), plot(4, "New ground", 0, 8, 6, 3))
	assert.Equal(t, []string{"Ledge, pH 5.7, sour by 0.5", "Quarry end, pH 7.8, too sweet by 0.3", "Strip, pH 6.6, in range",
		"New ground, untested"},
		[]string{p.Beds[0].Says, p.Beds[1].Says, p.Beds[2].Says, p.Beds[3].Says})
	assert.Contains(t, told(p.Beds[0], "z4"), "0.5 sour")
	assert.Equal(t, "?", p.Beds[3].Value)
	assert.True(t, p.Beds[0].Selected)
	for _, b := range p.Beds {
		assert.True(t, b.DueX() > b.X && b.DueX() < b.X+b.W, "the stake of what is due stands on its bed")
	}
}

func TestLongNamesAreShortened(t *testing.T) {
	p := plan(plot(1, "The bed behind the old potting shed", 0, 0, 5, 1), plot(2, "Far", 30, 20, 1, 1))
	name := told(p.Beds[0], "z4")[0]
	assert.True(t, strings.HasSuffix(name, "…"), name)
	assert.Equal(t, "The bed behind the old potting shed", told(p.Beds[0], "z8")[0], "and read whole where it is zoomed into")
}

func TestNumberOfNameIsKept(t *testing.T) {
	p := plan(plot(1, "Terrace 1", 0, 0, 4, 2), plot(2, "Terrace 2", 0, 4, 4, 2), plot(3, "Far", 30, 20, 1, 1))
	assert.Equal(t, []string{"Terr… 1", "Terr… 2"}, []string{told(p.Beds[0], "z4")[0], told(p.Beds[1], "z4")[0]})
}

func TestRings(t *testing.T) {
	r := plot(1, "Plum row", 0, 0, 5.4, 1.6)
	r.Bed.Shape, r.Bed.Rings = garden.ShapeRings, 3
	b := plan(r, plot(2, "Other", 0, 5, 10, 5)).Beds[0]
	require.Len(t, b.Rings, 3)
	k := float64(b.W) / 5.4
	assert.InDelta(t, 0.8*k, float64(b.Rings[0].R), 1e-6)
	assert.InDelta(t, float64(b.X), float64(b.Rings[0].X-b.Rings[0].R), 1e-6)
	assert.InDelta(t, float64(b.X+b.W), float64(b.Rings[2].X+b.Rings[2].R), 1e-6)
	assert.InDelta(t, float64(b.Rings[1].X-b.Rings[0].X), float64(b.Rings[2].X-b.Rings[1].X), 1e-6)
	assert.InDelta(t, 3*math.Pi/4*1.6*1.6, float64(r.Bed.Area()), 1e-9)
}

func TestLayers(t *testing.T) {
	p := ph(plot(1, "Ledge", 0, 0, 6, 1.5), 5.7, bed.Sour, 0.5)
	p.K = soil.PotassiumNow{Now: ptr(quantity.Concentration(190)), State: soil.Plenty}
	states := map[string]string{}
	for _, l := range svg.Layers(today) {
		b := svg.PlanOf(svg.Scene{Beds: []bedstate.State{p}, Layer: l, Due: map[int64]bool{1: true}}, 846, 486).Beds[0]
		states[l.ID] = b.State
		known := false
		for _, row := range l.Legend {
			known = known || row.State == b.State
		}
		assert.True(t, known, "%s: the legend lacks %q", l.ID, b.State)
		assert.NotEmpty(t, b.Says)
	}
	assert.Equal(t, map[string]string{"ph": "sour", "k": "plenty", "tested": "in-range", "due": "sour"}, states)
	p.Reading.Date = today - 800
	assert.Equal(t, "sour", svg.PlanOf(svg.Scene{Beds: []bedstate.State{p}, Layer: svg.Layers(today)[2]}, 846, 486).Beds[0].State,
		"long ago")
}

func TestRulerLabelsDoNotOverlap(t *testing.T) {
	for v := quantity.PH(3.2); v < 9.8; v += 0.1 {
		for _, w := range []float64{256, 350} {
			r := svg.RuleOf(w, crop.Range{Low: 6.2, High: 6.8}, "dahlia range", "sour", v, 0.3, 6.5, "")
			assert.GreaterOrEqual(t, float64(r.Peg), float64(r.X0)-1e-9)
			assert.LessOrEqual(t, float64(r.Peg), float64(r.X1)+1e-9)
			assert.LessOrEqual(t, float64(r.DoubtX), float64(r.Peg)+1e-9)
			assert.GreaterOrEqual(t, float64(r.DoubtX+r.DoubtW), float64(r.Peg)-1e-9)
			assert.Greater(t, math.Abs(float64(r.RangeMid-r.Peg)), 35.0, "pH %.1f: the band’s name lies on the figure", float64(v))
			assert.Greater(t, float64(r.RangeEnd), float64(r.RangeX))
		}
	}
	none := svg.RuleOf(350, crop.Range{Low: 6, High: 7}, "band", "", 0, 0, 0, "")
	assert.False(t, none.HasPeg || none.HasRing || none.HasWay)
}

func TestMiniOrder(t *testing.T) {
	m := svg.MiniOf(crop.Range{Low: 6.2, High: 6.8}, 6.5, 6.0, 7.0, 5.5, 7.5)
	for _, pair := range [][2]svg.Px{{m.X05, m.X25}, {m.X25, m.At}, {m.At, m.X75}, {m.X75, m.X95}} {
		assert.Less(t, float64(pair[0]), float64(pair[1]))
	}
	assert.Equal(t, "settles at 6.5, usually from 6.0 to 7.0", m.Says)
}

func TestPotassiumRule(t *testing.T) {
	s := soil.PotassiumScale{Critical: 105, EnoughTo: 165, Ceiling: 210}
	r := svg.KRuleOf(s, ptr(quantity.Concentration(82)), "")
	require.Len(t, r.Ranges, 4)
	for i := 1; i < len(r.Ranges); i++ {
		assert.InDelta(t, float64(r.Ranges[i-1].X+r.Ranges[i-1].W), float64(r.Ranges[i].X), 1e-9, "no gap between the bands")
	}
	assert.Less(t, float64(r.Peg), float64(r.Ranges[1].X), "short stands in the first")
	far := svg.KRuleOf(s, ptr(quantity.Concentration(900)), "")
	assert.LessOrEqual(t, float64(far.Peg), float64(far.W))
	assert.False(t, svg.KRuleOf(s, nil, "").HasPeg)
}

func reading(d quantity.Day, m soil.Method, v quantity.PH) garden.Reading {
	return garden.Reading{Date: d, Method: m, Basis: soil.Water, PH: &v, Cores: 12}
}

func series() svg.Series {
	return svg.Series{Range: crop.Range{Low: 6.2, High: 6.8}, Label: "dahlia range", Today: today, From: today - 1000, To: today + 400,
		Readings: []garden.Reading{reading(today-900, soil.Lab, 6.3), reading(today-700, soil.Kit, 6.5),
			reading(today-500, soil.Meter, 6.0), reading(today-10, soil.Lab, 5.7), reading(today+5, soil.Lab, 6.0)},
		Put: []garden.Application{{Date: today - 800, What: material.HardwoodAsh, Total: 600, Rate: 60},
			{Date: today + 9, What: material.HardwoodAsh, Total: 600}},
		Applications: []garden.Task{{Due: today + 30, What: material.CalciticLime, Total: 2200, Rate: 230}},
		Expect:       []svg.Expect{{Day: today + 200, PH: 6.4, P05: 6.0, P95: 6.8}}}
}

func TestChartShowsOnlyPast(t *testing.T) {
	c := svg.ChartOf(series(), 350, 118)
	assert.Len(t, c.Points, 5, "four readings so far and what is expected")
	assert.Empty(t, c.Past, "readings alone are no line")
	require.Len(t, c.Arrows, 2)
	assert.False(t, c.Arrows[0].Open)
	assert.True(t, c.Arrows[1].Open)
	assert.Contains(t, c.Arrows[0].Says, "600 g of hardwood ash")
	for i := 1; i < len(c.Rows); i++ {
		assert.LessOrEqual(t, c.Rows[i-1].On, c.Rows[i].On, "the table is in the order of days")
	}
	assert.Len(t, c.Rows, len(c.Points)+len(c.Arrows), "every mark also stands in the table")
	for _, p := range c.Points {
		assert.True(t, p.X >= c.X0 && p.X <= c.X1 && p.Y >= c.Top && p.Y <= c.Foot, "%+v lies outside", p)
		assert.LessOrEqual(t, float64(p.Y1), float64(p.Y), "doubt upwards")
		assert.GreaterOrEqual(t, float64(p.Y0), float64(p.Y), "doubt downwards")
	}
}

func TestChartIsMonotonic(t *testing.T) {
	c := svg.ChartOf(series(), 600, 200)
	assert.Less(t, float64(c.Points[0].Y), float64(c.Points[3].Y), "6.3 above 5.7")
	assert.Less(t, float64(c.Points[0].X), float64(c.Points[3].X))
	assert.Equal(t, "in-range", c.Points[0].State)
	assert.Equal(t, "sour", c.Points[3].State)
}

// A chart that is low has fewer lines, so that their figures do not lie on each other.
func TestAxisLabelsHaveRoom(t *testing.T) {
	for _, wide := range []quantity.PH{1, 2, 3, 4.5} {
		for _, h := range []float64{74, 86, 118, 200} {
			s := series()
			s.Range = crop.Range{Low: 7 - wide, High: 7}
			ticks := svg.ChartOf(s, 350, h).TicksY
			assert.GreaterOrEqual(t, len(ticks), 1, "%v %v", wide, h)
			for i := 1; i < len(ticks); i++ {
				assert.GreaterOrEqual(t, float64(ticks[i-1].At-ticks[i].At), 13.0, "%v %v", wide, h)
			}
		}
	}
	half := svg.ChartOf(series(), 600, 200).TicksY
	assert.Equal(t, "5.5", half[0].Label, "where there is room, each half")
	assert.Equal(t, "6.0", half[1].Label)
}

func TestEmptyChart(t *testing.T) {
	c := svg.ChartOf(svg.Series{Range: crop.Range{Low: 6, High: 7}, Today: today, From: today - 100, To: today + 100}, 350, 118)
	assert.Empty(t, c.Points)
	assert.Empty(t, c.Past)
	assert.NotEmpty(t, c.TicksY)
	for _, x := range []svg.Px{c.RangeY, c.RangeH, c.Today} {
		assert.False(t, math.IsNaN(float64(x)))
	}
}

func TestDots(t *testing.T) {
	bed := garden.Bed{Shape: garden.ShapeRect, W: 6.4, H: 1.5}
	for n := 1; n <= 60; n++ {
		d := svg.DotsOf(bed, n)
		require.NotNil(t, d)
		assert.Len(t, d.Dots, n, "a dot for each scoop")
		for _, x := range d.Dots {
			assert.True(t, x.X > d.BedX && x.X < d.BedX+d.BedW && x.Y > d.BedY && x.Y < d.BedY+d.BedH)
		}
	}
	assert.Nil(t, svg.DotsOf(bed, 0))
	assert.Nil(t, svg.DotsOf(bed, 61), "too many to draw")
	assert.Nil(t, svg.DotsOf(garden.Bed{Shape: garden.ShapeRings, W: 5, H: 1}, 5))
}

func ExamplePx_String() {
	fmt.Println(svg.Px(12.345), svg.Px(7))
	// Output: 12.3 7
}

func TestJarSeries(t *testing.T) {
	jars := []soil.Jar{{Lime: 0, PH: 5.0}, {Lime: 1, PH: 5.7}, {Lime: 2, PH: 6.0}, {Lime: 3, PH: 6.5}}
	fit, err := soil.FitJars(jars)
	require.NoError(t, err)
	s := svg.JarSeriesOf(jars, fit)
	require.Len(t, s.Points, 4)
	for i, p := range s.Points {
		assert.True(t, p.X >= s.X0 && p.X <= s.X1 && p.Y >= s.Top && p.Y <= s.Foot, "in the frame")
		if i > 0 {
			assert.Greater(t, p.X, s.Points[i-1].X)
			assert.Less(t, p.Y, s.Points[i-1].Y, "higher for a higher pH")
		}
	}
	// 3 g/kg from 5.0 to 6.5; the line goes through each jar.
	assert.Equal(t, "From jar to jar this soil takes about 2 g of lime a kg for one pH", s.Title)
	assert.Equal(t, "5.70", s.Points[1].OnLine)
	assert.Equal(t, s.Points[1].Y, s.Points[1].LineY)
	assert.Equal(t, 3, strings.Count(string(s.Line), "L"))
	// One that falls below the one before counts with it, at their means.
	jars[2].PH = 5.6
	fit, err = soil.FitJars(jars)
	require.NoError(t, err)
	s = svg.JarSeriesOf(jars, fit)
	assert.Equal(t, 2, strings.Count(string(s.Line), "L"))
	assert.Contains(t, s.Says, "1 jar did not read above")
}

func TestFizzJarBubbles(t *testing.T) {
	last := -1
	for _, strength := range []soil.FreeLime{soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong} {
		j := svg.FizzJarOf(strength)
		assert.Greater(t, len(j.Bubbles), last)
		last = len(j.Bubbles)
		for _, b := range j.Bubbles {
			assert.True(t, b.X-b.R > 10 && b.X+b.R < 46 && b.Y-b.R > 5 && b.Y+b.R < 56, "inside the glass: %+v", b)
		}
	}
}

func TestSampleLetters(t *testing.T) {
	plots := []bedstate.State{{Bed: garden.Bed{Meta: garden.Meta{ID: 3}, Name: "Bean row", Shape: garden.ShapeRect, W: 4, H: 1.2}}}
	p := svg.PlanOf(svg.Scene{Beds: plots, Layer: svg.Layers(20000)[0], Letters: map[int64]string{3: "B"}}, 600, 400)
	require.Len(t, p.Letters, 1)
	assert.Equal(t, "B", p.Letters[0].Text)
	assert.Empty(t, p.Beds[0].Labels)
	assert.Equal(t, "Bean row, sample B", p.Beds[0].Says)
	assert.Empty(t, svg.PlanOf(svg.Scene{Beds: plots, Layer: svg.Layers(20000)[0]}, 600, 400).Letters)
}

// TestDrawingIsBounded: whatever a scene holds, its grid and its axes end.
func TestDrawingIsBounded(t *testing.T) {
	for _, far := range []float64{1e6, 1e16, 1e300, math.Inf(1), math.NaN()} {
		p := svg.PlanOf(svg.Scene{Marks: []garden.Mark{{Points: garden.Corners{{X: 0, Y: 0}, {X: far, Y: far}}, Width: 1}}}, 600, 400)
		assert.LessOrEqual(t, len(p.Grid)+len(p.GridY), 400, "%v", far)
	}
	jars := []soil.Jar{{Lime: 0, PH: 6}, {Lime: 1, PH: 6.5}, {Lime: 2, PH: 7}, {Lime: 3, PH: 7.5}}
	fit, err := soil.FitJars(jars)
	require.NoError(t, err)
	jars[3].PH = 1e9
	s := svg.JarSeriesOf(jars, fit)
	assert.LessOrEqual(t, len(s.TicksY), 200)
}

// Ten tasks in one week: no label lies on another, and each task is told by a label or counted by one.

// A chart opens shortly before its first record, never on empty years; a long record is cut where it was asked for.
func TestChartStartsNearFirstRecord(t *testing.T) {
	ph := quantity.PH(5.5)
	read := func(ago quantity.Day) garden.Reading {
		return garden.Reading{Date: today - ago, PH: &ph, Method: soil.Lab, Basis: soil.Water, Cores: 12}
	}
	series := svg.Series{Range: crop.Range{Low: 6, High: 7}, Readings: []garden.Reading{read(0)}, Today: today, From: today - 1200,
		To: today + 500}
	c := svg.ChartOf(series, 600, 200)
	require.Len(t, c.Points, 1)
	share := float64((c.Points[0].X - c.X0) / (c.X1 - c.X0))
	assert.InDelta(t, 90.0/590, share, 0.01)
	series.Readings = []garden.Reading{read(2000), read(1000), read(0)}
	c = svg.ChartOf(series, 600, 200)
	require.Len(t, c.Points, 2)
	assert.InDelta(t, 90.0/(1090+500), float64((c.Points[0].X-c.X0)/(c.X1-c.X0)), 0.01)
	series.Readings = []garden.Reading{read(1190), read(0)}
	c = svg.ChartOf(series, 600, 200)
	assert.InDelta(t, 10.0/1700, float64((c.Points[0].X-c.X0)/(c.X1-c.X0)), 0.01, "no further back than was asked for")
}

// What is drawn with a standing has a colour for each: a class that the sheets do not know is
// drawn as if the bed were in its range.
func TestVerdictClasses(t *testing.T) {
	var css strings.Builder
	sheets, err := filepath.Glob("../assets/*.css")
	require.NoError(t, err)
	for _, f := range sheets {
		b, err := os.ReadFile(f)
		require.NoError(t, err)
		css.Write(b)
	}
	for _, place := range []string{".plot", ".peg", ".chart .read", ".chart .weak", ".chart .doubt", "svg.season .point", ".glimpses ",
		".flow .peg", ".profile .layer"} {
		for _, st := range []bed.Standing{bed.Sour, bed.TooSweet} {
			assert.Contains(t, css.String(), place+"."+string(st), "%s", st)
		}
	}
}
