package svg

import (
	"html/template"
	"math"
	"strconv"
	"strings"

	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
)

// CorePicture is a bed with the numbered places of its cores.
type CorePicture struct {
	ID     int64
	W, H   Px
	Path   Path
	Rounds []Ring
	Way    Path
	Cores  []CorePlace
}

// CorePlace is a stop; Beside are the cores taken close to the first.
type CorePlace struct {
	N      int
	X, Y   Px
	Taken  bool
	Beside []Near
}

// Near is a core close to another.
type Near struct{ X, Y Px }

// CoresOf draws a bed with its long side across: n stops, with `each` cores at each.
func CoresOf(b garden.Bed, n, each int, taken map[int]bool) *CorePicture {
	low, high := b.Bounds()
	w, h := high.X-low.X, high.Y-low.Y
	upright := h > w
	if upright {
		w, h = h, w
	}
	const width, margin, most = 346, 12, 210
	k := math.Min((width-2*margin)/w, (most-2*margin)/h)
	at := func(p garden.Point) (Px, Px) {
		x, y := p.X-low.X, p.Y-low.Y
		if upright {
			x, y = y, x
		}
		return Px(margin + x*k), Px(margin + y*k)
	}
	c := &CorePicture{ID: b.ID, W: width, H: Px(math.Max(2*margin+h*k, 44))}
	if o := b.Outline(); len(o) > 0 {
		c.Path = through(o, at).closed()
	}
	for _, x := range b.Circles() {
		mx, my := at(x.Middle)
		c.Rounds = append(c.Rounds, Ring{mx, my, Px(x.Radius * k)})
	}
	places := b.CorePoints(n)
	c.Way = through(places, at)
	for i, p := range places {
		x, y := at(p)
		place := CorePlace{N: i + 1, X: x, Y: y, Taken: taken[i+1]}
		for d := 1; d < min(each, mostBeside); d++ {
			sin, cos := math.Sincos(2 * math.Pi * float64(d) / float64(min(each, mostBeside)))
			place.Beside = append(place.Beside, Near{x + Px(besideAt*sin), y - Px(besideAt*cos)})
		}
		c.Cores = append(c.Cores, place)
	}
	return c
}

// besideAt is the distance of a stop's further cores from its first, mostBeside the largest number
// drawn.
const (
	besideAt   = 13.5
	mostBeside = 9
)

// Tray is a cutting tray with a core and its cuts.
type Tray struct {
	Says   string
	Pieces []TrayPiece
}

// TrayPiece is a piece of the core: its layer, and its pail.
type TrayPiece struct {
	X, W        Px
	Depth, Pail Text
}

// TrayOf draws a core with a sample's layers, its top to the left.
func TrayOf(code string, layers []sampling.Stretch, u text.Units) *Tray {
	const left, wide = 20, 306
	deep := layers[len(layers)-1].To
	t := &Tray{Says: "A core in the tray, its top to the left, cut into " + text.Count(len(layers), "piece", "pieces")}
	for n, l := range layers {
		p := TrayPiece{X: Px(left + wide*float64(l.From/deep)), W: Px(wide * float64((l.To-l.From)/deep))}
		middle := p.X + p.W/2
		p.Depth = Text{middle, 40, strings.TrimSuffix(u.Depth(l.From), " "+u.Depths().Name) + "–" + u.Depth(l.To)}
		p.Pail = Text{middle, 78, code + "-" + strconv.Itoa(n+1)}
		t.Pieces = append(t.Pieces, p)
	}
	return t
}

// Places returns the SVG of the places.
func (c *CorePicture) Places() template.HTML {
	var w writer
	for _, r := range c.Rounds {
		w.circle().class("ground-shape").centre(r.X, r.Y, r.R).end()
	}
	if c.Path != "" {
		w.path().class("ground-shape").d(c.Path).end()
	}
	w.path().class("way-round").d(c.Way).end()
	bed := strconv.FormatInt(c.ID, 10)
	for _, p := range c.Cores {
		of, n := "core-place", strconv.Itoa(p.N)
		if p.Taken {
			of += " taken"
		}
		w.circle().class(of).id("place-"+bed+"-"+n).centre(p.X, p.Y, 9).end()
		w.text().at(p.X, p.Y).down(4.5).anchor("middle").says(n).end()
		for _, b := range p.Beside {
			w.circle().class("core-beside").centre(b.X, b.Y, 2.6).end()
		}
	}
	return w.html()
}
