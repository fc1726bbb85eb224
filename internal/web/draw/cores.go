package draw

import (
	"html/template"
	"math"
	"strconv"
	"strings"

	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/web/ink"
)

// CorePicture is a bed with the places of its cores, numbered.
type CorePicture struct {
	ID     int64
	W, H   Px
	Path   string
	Rounds []Ring
	Way    string
	Cores  []CorePlace
}

// CorePlace is where cores are taken; Beside are those that are taken close to the first.
type CorePlace struct {
	N      int
	X, Y   Px
	Taken  bool
	Beside []Near
}

// Near is where a core is taken close to another.
type Near struct{ X, Y Px }

// CoresOf draws a bed for the hand, its long side along the picture: n stops, with so many cores at each.
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
	px := func(p garden.Point) string { x, y := at(p); return x.String() + " " + y.String() }
	line := func(ps []garden.Point) (out string) {
		for i, p := range ps {
			out += map[bool]string{true: "M", false: "L"}[i == 0] + px(p)
		}
		return out
	}
	if o := b.Outline(); len(o) > 0 {
		c.Path = line(o) + "Z"
	}
	for _, x := range b.Circles() {
		mx, my := at(x.Middle)
		c.Rounds = append(c.Rounds, Ring{mx, my, Px(x.Radius * k)})
	}
	places := b.CorePoints(n)
	c.Way = line(places)
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

// besideAt is how far from a stop's first core the others are drawn, mostBeside how many cores of a stop at the most.
const (
	besideAt   = 13.5
	mostBeside = 9
)

// Tray is a cutting tray with a core in it, and where it is cut.
type Tray struct {
	Says   string
	Pieces []TrayPiece
}

// TrayPiece is a piece of the core: what layer it is, and the pail that it goes into.
type TrayPiece struct {
	X, W        Px
	Depth, Pail Text
}

// TrayOf draws a core of layers of a sample, its top to the left.
func TrayOf(code string, layers []sampling.Stretch, u words.Units) *Tray {
	const left, wide = 20, 306
	deep := layers[len(layers)-1].To
	t := &Tray{Says: "A core in the tray, its top to the left, cut into " + words.Count(len(layers), "piece", "pieces")}
	for n, l := range layers {
		p := TrayPiece{X: Px(left + wide*float64(l.From/deep)), W: Px(wide * float64((l.To-l.From)/deep))}
		middle := p.X + p.W/2
		p.Depth = Text{middle, 40, strings.TrimSuffix(u.Depth(l.From), " "+u.Depths().Name) + "–" + u.Depth(l.To)}
		p.Pail = Text{middle, 78, code + "-" + strconv.Itoa(n+1)}
		t.Pieces = append(t.Pieces, p)
	}
	return t
}

// Places writes where the cores are taken.
func (c *CorePicture) Places() template.HTML {
	var k ink.Ink
	for _, r := range c.Rounds {
		k.Put(`<circle class="ground-shape" cx="%" cy="%" r="%"/>`, r.X, r.Y, r.R)
	}
	if c.Path != "" {
		k.Put(`<path class="ground-shape" d="%"/>`, c.Path)
	}
	k.Put(`<path class="way-round" d="%"/>`, c.Way)
	for _, p := range c.Cores {
		taken := ""
		if p.Taken {
			taken = " taken"
		}
		k.Put(`<circle class="core-place%" id="place-%-%" cx="%" cy="%" r="9"/><text x="%" y="%" dy="4.5" text-anchor="middle">%</text>`,
			taken, c.ID, p.N, p.X, p.Y, p.X, p.Y, p.N)
		for _, b := range p.Beside {
			k.Put(`<circle class="core-beside" cx="%" cy="%" r="2.6"/>`, b.X, b.Y)
		}
	}
	return k.HTML()
}
