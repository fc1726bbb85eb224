package svg_test

import (
	"encoding/xml"
	"errors"
	"html/template"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/agronomy/crop"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/svg"
)

// mark is an element that was drawn, with what it says.
type mark struct {
	name, says string
	at         map[string]string
}

// marks reads a drawing as SVG; it must be well formed.
func marks(t *testing.T, drawn template.HTML) (out []mark) {
	t.Helper()
	var open []int
	d := xml.NewDecoder(strings.NewReader("<svg>" + string(drawn) + "</svg>"))
	for {
		x, err := d.Token()
		if errors.Is(err, io.EOF) {
			return out
		}
		require.NoError(t, err, "%s", drawn)
		switch x := x.(type) {
		case xml.StartElement:
			m := mark{x.Name.Local, "", map[string]string{}}
			for _, a := range x.Attr {
				require.NotContains(t, m.at, a.Name.Local)
				m.at[a.Name.Local] = a.Value
			}
			open = append(open, len(out))
			out = append(out, m)
		case xml.EndElement:
			open = open[:len(open)-1]
		case xml.CharData:
			out[open[len(open)-1]].says += string(x)
		}
	}
}

func at(s string) quantity.Day {
	d, err := quantity.ParseDay(s)
	if err != nil {
		panic(err)
	}
	return d
}

// of returns the marks of a kind.
func of(all []mark, name, class string) (out []mark) {
	for _, m := range all {
		if m.name == name && (class == "" || strings.HasPrefix(m.at["class"], class)) {
			out = append(out, m)
		}
	}
	return out
}

const nasty = `<b x="1">&'`

func TestBedsAreDrawnInPlace(t *testing.T) {
	ledge, turned, tree := ph(plot(1, "Ledge", 0, 0, 6, 2), 5.7, bed.Sour, 0.5), plot(2, nasty, 0, 4, 6, 2), plot(3, "Plum", 12, 4, 2, 2)
	turned.Bed.Turn = 30
	tree.Bed.Kind, tree.Bed.Shape = garden.KindTree, garden.ShapeCircle
	p := svg.PlanOf(svg.Scene{Beds: []bedstate.State{ledge, turned, tree}, Layer: svg.Layers(today)[0], Selected: 1,
		Due: map[int64]bool{2: true}, Query: "&on=2026-11-24"}, 846, 486)
	all := marks(t, p.Drawn())
	beds := of(all, "a", "plot")
	require.Len(t, beds, 3)
	assert.Equal(t, "plot sour selected", beds[0].at["class"])
	assert.Equal(t, "true", beds[0].at["aria-current"])
	assert.Equal(t, "Ledge, pH 5.7, sour by 0.5", beds[0].at["aria-label"])
	assert.Equal(t, "/?bed=1&on=2026-11-24", beds[0].at["href"])
	assert.Equal(t, beds[0].at["href"], beds[0].at["hx-get"])
	assert.NotContains(t, beds[1].at, "aria-current")
	assert.Equal(t, nasty+", untested, something is due", beds[1].at["aria-label"])
	assert.Len(t, of(all, "path", "due-stake"), 1)
	assert.Len(t, of(all, "rect", "shape"), 1, "upright")
	assert.Len(t, of(all, "path", "shape"), 1, "turned")
	assert.NotEmpty(t, of(all, "circle", "stem"), "a tree has a stem in its ring")
	for _, l := range of(all, "text", "bed-") {
		if l.at["class"] == "bed-value" {
			assert.Equal(t, "end", l.at["text-anchor"], "a value ends at the bed's edge")
		} else {
			assert.NotContains(t, l.at, "text-anchor")
		}
	}
	// Each step at which the plan is shown has labels of its own.
	steps := ""
	for _, g := range of(all, "g", "labs") {
		steps += g.at["class"]
	}
	for _, s := range svg.Steps {
		assert.Contains(t, steps, s.ID)
	}
}

func TestPlanShowsDraftPlacingAndRoute(t *testing.T) {
	ledge := ph(plot(1, "Ledge", 0, 0, 6, 2), 5.7, bed.Sour, 0.5)
	s := svg.Scene{Beds: []bedstate.State{ledge}, Layer: svg.Layers(today)[0], Selected: -1, DraftWidth: 0.6,
		Marks: []garden.Mark{{Kind: "path", Name: nasty, Width: 0.6, Points: []garden.Point{{X: 0, Y: 3}, {X: 9, Y: 3}}}},
		Draft: []garden.Point{{X: 1, Y: 1}, {X: 4, Y: 1}, {X: 4, Y: 4}}, Placing: &ledge.Bed}
	all := marks(t, svg.PlanOf(s, 846, 486).Drawn())
	assert.NotEmpty(t, of(all, "path", "metre"))
	assert.Len(t, of(all, "path", "mark path"), 1)
	assert.Contains(t, of(all, "title", "")[0].says, nasty)
	assert.Len(t, of(all, "g", "corner"), 3)
	assert.NotContains(t, of(all, "path", "draft")[0].at["d"], "Z", "a line stays open")
	assert.Contains(t, of(all, "path", "draft")[0].at, "stroke-width", "a path is as wide as it lies")
	assert.Len(t, of(all, "g", "grip"), 2, "one to size, one to turn")

	s.Closed = true
	closed := of(marks(t, svg.PlanOf(s, 846, 486).Drawn()), "path", "draft closed")[0].at
	assert.Contains(t, closed["d"], "Z")
	assert.NotContains(t, closed, "stroke-width")

	s = svg.Scene{Beds: []bedstate.State{ledge}, Layer: svg.Layers(today)[0], Letters: map[int64]string{1: "A"},
		Way: []garden.Point{{X: 1, Y: 1}, {X: 2, Y: 1}}, Cores: []garden.Point{{X: 1, Y: 1}, {X: 2, Y: 1}, {X: 3, Y: 1}}}
	all = marks(t, svg.PlanOf(s, 846, 486).Drawn())
	assert.Len(t, of(all, "circle", "core"), 3)
	assert.Len(t, of(all, "path", "letter-pad"), 1)
	assert.Empty(t, of(all, "g", "corner"))
	assert.Empty(t, of(all, "g", "labs"), "a bed of a sample shows its letter only")
}

func TestChartDistinguishesReadings(t *testing.T) {
	reading := func(day string, m soil.Method, x quantity.PH) garden.Reading {
		return garden.Reading{Date: at(day), Method: m, Basis: soil.Water, PH: &x, Cores: 12, Depth: 0.15}
	}
	c := svg.ChartOf(svg.Series{Range: crop.Range{Low: 6.2, High: 6.8}, Today: today, From: at("2024-01-01"), To: at("2027-12-31"),
		Readings: []garden.Reading{reading("2025-03-01", soil.Lab, 5.8), reading("2025-09-01", soil.Probe, 6.4),
			reading("2026-03-01", soil.Lab, 6.0)},
		Expect:       []svg.Expect{{Day: at("2027-03-01"), PH: 6.3, P05: 6.0, P95: 6.6}},
		Observations: []svg.Observation{{Day: at("2026-06-01"), Says: nasty}}},
		420, 220)
	all := marks(t, c.Drawn())
	assert.Len(t, of(all, "path", "read "), 2, "a laboratory's carry the line")
	assert.Len(t, of(all, "circle", "weak "), 1, "a stick-in probe's stands beside it")
	assert.Len(t, of(all, "circle", "ring"), 1, "what is expected is open")
	seen := of(all, "title", "")
	assert.Contains(t, seen[len(seen)-1].says, nasty)
	assert.Len(t, of(all, "path", "doubt"), 4)
	assert.Len(t, c.Rows, 5, "the table tells each of them")
	assert.Len(t, of(all, "path", "grid"), len(c.TicksX)+len(c.TicksY))
	assert.Empty(t, of(all, "path", "past"), "no level is known")
	assert.Len(t, of(all, "path", "expected"), 1)
	assert.Equal(t, "start", of(all, "text", "range-name")[0].at["text-anchor"], "what is to come has the other end")
}

func TestSingleReadingHasNoLine(t *testing.T) {
	c := svg.ChartOf(svg.Series{Range: crop.Range{Low: 6.2, High: 6.8}, Label: nasty, Today: today,
		From: at("2024-01-01"), To: at("2027-12-31"),
		Readings: []garden.Reading{read("2025-03-01", 5.8)}}, 420, 220)
	all := marks(t, c.Drawn())
	assert.Empty(t, of(all, "path", "past"))
	assert.Empty(t, of(all, "path", "expected"))
	assert.Equal(t, "end", of(all, "text", "range-name")[0].at["text-anchor"], "the band is named where nothing is to come")
	assert.Equal(t, nasty, of(all, "text", "range-name")[0].says)
}

func TestSingleTaskStakeIsDraggable(t *testing.T) {
	r := svg.Ribbon{Stakes: []svg.Stake{{X: 100, Y: 85, Text: nasty, Class: "stake-go", Says: "one",
		Href: "/tasks/7/move", Task: 7, Day: 40},
		{X: 200, Y: 76, Class: "stake-done", Says: "many", Href: "/sheet", Small: true}}, HasToday: true, Today: 120}
	all := marks(t, r.Marked())
	stakes := of(all, "a", "stake")
	require.Len(t, stakes, 2)
	assert.Equal(t, "7", stakes[0].at["data-task"])
	assert.Equal(t, "40", stakes[0].at["data-at"])
	assert.NotContains(t, stakes[1].at, "data-task")
	texts := of(all, "text", "")
	require.Len(t, texts, 1, "a small one has no room for words")
	assert.Equal(t, nasty, texts[0].says)
	assert.Len(t, of(all, "path", "today-mark"), 1)
	r.HasToday = false
	assert.Empty(t, of(marks(t, r.Marked()), "path", "today-mark"))
}

// The range's name lies on no reading, wherever the first or the last of them stands in it.
func TestRangeNameAvoidsReadings(t *testing.T) {
	const letter, high = 6.4, 12
	for _, ahead := range []bool{false, true} {
		for _, ph := range []quantity.PH{5.6, 6.3, 6.5, 6.7} {
			s := svg.Series{Range: crop.Range{Low: 6.2, High: 6.8}, Label: "dahlia range", Today: at("2026-12-20"), From: at("2024-01-01"),
				To: at("2026-12-31"), Readings: []garden.Reading{read("2024-01-10", ph), read("2026-12-10", ph)}}
			if ahead {
				s.To, s.Expect = at("2027-12-31"), []svg.Expect{{Day: at("2027-03-01"), PH: 6.5, P05: 6.2, P95: 6.8}}
			}
			c := svg.ChartOf(s, 760, 260)
			wide := svg.Px(float64(len(s.Label)) * letter)
			from := c.RangeText.X
			if !ahead {
				from -= wide
			}
			for _, p := range c.Points {
				beside := p.X+4 <= from || p.X-4 >= from+wide
				above := min(p.Y0, p.Y1) >= c.RangeText.Y || max(p.Y0, p.Y1) <= c.RangeText.Y-high
				assert.True(t, beside || above, "%v %v: %v on %v", ahead, ph, c.RangeText, p)
			}
			assert.True(t, c.RangeText.Y > c.RangeY && c.RangeText.Y < c.RangeY+c.RangeH, "it stays in its range")
		}
	}
}

func read(day string, x quantity.PH) garden.Reading {
	return garden.Reading{Date: at(day), Method: soil.Lab, Basis: soil.Water, PH: &x, Cores: 12, Depth: 0.15}
}
