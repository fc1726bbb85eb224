package draw

import (
	"math"

	"zephyrfield/internal/garden"
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

// CorePlace is where a core is taken.
type CorePlace struct {
	N     int
	X, Y  Px
	Taken bool
}

// CoresOf draws a bed for the hand: its long side along the picture.
func CoresOf(b garden.Bed, n int, taken map[int]bool) *CorePicture {
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
		c.Cores = append(c.Cores, CorePlace{i + 1, x, y, taken[i+1]})
	}
	return c
}
