package svg

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/bed"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

func bedAt(id int64, name string, x, y, w, h float64) bedstate.State {
	var p bedstate.State
	p.Bed = garden.Bed{Meta: garden.Meta{ID: id}, Name: name, Shape: garden.ShapeRect, X: x, Y: y, W: w, H: h}
	p.Standing, p.PH, p.Off, p.Reading = bed.Sour, 5.9, 0.3, &garden.Reading{}
	return p
}

// onItsBed checks that no label of a plan reaches beyond its own bed, or over another, at any step, and gives the names that can
// be read whole.
func onItsBed(t *testing.T, p Plan) map[string]bool {
	t.Helper()
	whole := map[string]bool{}
	for i, b := range p.Beds {
		for _, s := range Steps {
			for _, ls := range b.Labels {
				if !strings.Contains(" "+ls.Steps+" ", " "+s.ID+" ") {
					continue
				}
				for _, l := range ls.Each {
					if l.over { // a low bed's figure may stand in its paths
						require.False(t, p.covers(&l, Px(s.From), i), "%s %q at %s", b.Name, l.Text, s.ID)
						continue
					}
					x0, y0, x1, y1 := l.ground(Px(s.From))
					require.GreaterOrEqual(t, x0, b.X-0.01, "%s %q at %s", b.Name, l.Text, s.ID)
					require.GreaterOrEqual(t, y0, b.Y-0.01, "%s %q at %s", b.Name, l.Text, s.ID)
					require.LessOrEqual(t, x1, b.X+b.W+0.01, "%s %q at %s", b.Name, l.Text, s.ID)
					require.LessOrEqual(t, y1, b.Y+b.H+0.01, "%s %q at %s", b.Name, l.Text, s.ID)
					whole[l.Text] = true
				}
			}
		}
	}
	return whole
}

// Thirty long beds side by side: no label covers another bed, and each name can be read, on a desk at once and on a phone
// where it is zoomed into.
func TestLongBedsAreReadable(t *testing.T) {
	var ps []bedstate.State
	for n := range 30 {
		ps = append(ps, bedAt(int64(n+1), fmt.Sprintf("East field %d", n+1), 1+float64(n), 1, 0.75, 15))
	}
	p := PlanOf(Scene{Beds: ps, Layer: Layers(20000)[0], Selected: -1}, 846, 516)
	whole := onItsBed(t, p)
	for _, b := range p.Beds {
		assert.True(t, whole[b.Name], b.Name)
		for _, ls := range b.Labels {
			if strings.Contains(ls.Steps, asDrawn) {
				require.Len(t, ls.Each, 2, "name and reading stand on the whole plan")
			}
		}
	}
}

// Low beds with paths between them show their figure at every step at which it is legible.
func TestLowBedsShowTheirFigure(t *testing.T) {
	var ps []bedstate.State
	for n := range 12 {
		ps = append(ps, bedAt(int64(n+1), fmt.Sprintf("East %d", n+1), 1, 1+1.25*float64(n), 15, 0.75))
	}
	p := PlanOf(Scene{Beds: ps, Layer: Layers(20000)[0], Selected: -1}, 846, 516)
	onItsBed(t, p)
	seen := 0
	for _, b := range p.Beds {
		for _, s := range Steps {
			if b.H*Px(s.From) < lowestBed {
				continue
			}
			seen++
			at := slices.IndexFunc(b.Labels, func(ls Labels) bool { return strings.Contains(" "+ls.Steps+" ", " "+s.ID+" ") })
			require.True(t, slices.ContainsFunc(b.Labels[at].Each, func(l Label) bool { return l.Text == b.Value }), "%s at %s", b.Name, s.ID)
		}
	}
	assert.Greater(t, seen, 2*len(p.Beds), "more than one step is tried")
}

// Gardens drawn by chance: labels stay on their beds, whatever their size.
func TestLabelsStayOnBeds(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 11))
	for range 200 {
		var ps []bedstate.State
		for n := range 1 + r.IntN(40) {
			ps = append(ps, bedAt(int64(n+1), strings.Repeat("Bed ", 1+r.IntN(6))+fmt.Sprint(n), r.Float64()*40, r.Float64()*25,
				0.2+r.Float64()*r.Float64()*20, 0.2+r.Float64()*r.Float64()*15))
		}
		onItsBed(t, PlanOf(Scene{Beds: ps, Layer: Layers(20000)[r.IntN(3)], Selected: -1}, 846, 516))
	}
}

// The name and the figure of a row of trees stand beside it: they give way where they would cover a bed.
func TestTreeLabelsGiveWay(t *testing.T) {
	row := bedAt(1, "Plum row", 2, 2, 5.4, 1.6)
	row.Bed.Kind, row.Bed.Shape, row.Bed.Rings = garden.KindTree, garden.ShapeRings, 3
	free := PlanOf(Scene{Beds: []bedstate.State{row, bedAt(2, "Far", 30, 20, 3, 3)}, Layer: Layers(20000)[0], Selected: -1}, 846, 516)
	tight := PlanOf(Scene{Beds: []bedstate.State{row, bedAt(2, "Far", 30, 20, 3, 3), bedAt(3, "Heap", 4, 3.9, 2, 2)}, Layer: Layers(20000)[0],
		Selected: -1}, 846, 516)
	words := func(p Plan) (out []string) {
		for _, ls := range p.Beds[0].Labels {
			for _, l := range ls.Each {
				if strings.Contains(ls.Steps, asDrawn) {
					out = append(out, l.Text)
				}
			}
		}
		return out
	}
	assert.Contains(t, words(free), "Plum row")
	assert.NotContains(t, words(tight), "Plum row", "the heap would be covered")
	zoomed := ""
	for _, ls := range tight.Beds[0].Labels {
		for _, l := range ls.Each {
			if l.Text == "Plum row" {
				zoomed += ls.Steps + " "
			}
		}
	}
	assert.Contains(t, zoomed, "z8", "zoomed into there is room again")
	for _, p := range []Plan{free, tight} {
		for _, ls := range p.Beds[0].Labels {
			for _, step := range Steps {
				for _, l := range ls.Each {
					if strings.Contains(ls.Steps, step.ID) {
						assert.False(t, p.covers(&l, Px(step.From), 0))
					}
				}
			}
		}
	}
}

// A low bed on a phone: its number is there, its name only where enough of it can be read.
func TestNumberComesBeforeName(t *testing.T) {
	low := PlanOf(Scene{Beds: []bedstate.State{bedAt(1, "Middle ledge", 0, 0, 4.8, 1.5), bedAt(2, "Far", 18, 9, 4, 4)},
		Layer: Layers(20000)[0], Selected: -1}, 846, 516)
	onItsBed(t, low)
	for _, b := range low.Beds {
		for _, ls := range b.Labels {
			said := []string{}
			for _, l := range ls.Each {
				said = append(said, l.Text)
			}
			assert.Contains(t, said, "5.9", "%s at %s", b.Name, ls.Steps)
			for _, s := range said {
				assert.GreaterOrEqual(t, len([]rune(strings.TrimSuffix(s, "…"))), 3, s)
			}
		}
	}
}
