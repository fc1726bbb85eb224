package layout

import (
	"math"
	"slices"

	"zephyrfield/internal/garden"
)

const (
	// longRow is the largest ratio of length to depth of a block.
	longRow = 3
	// planAspect is the width of the drawn plan relative to its height.
	planAspect = 1.8
)

// laidOut returns the rows with places for the beds that have none: the beds of a part of the garden
// in a block, the blocks beside or below each other so that the plan can be drawn as large as
// possible, all of it below what has a place.
func laidOut(rows []New, all []garden.Bed) []New {
	out := slices.Clone(rows)
	ground := box{}
	for _, b := range all {
		if b.Retired == 0 {
			ground.holds(b)
		}
	}
	var parts []string
	blocks := map[string]*block{}
	for i := range out {
		b := &out[i].Bed
		if out[i].Placed {
			ground.holds(*b)
			continue
		}
		if blocks[b.Part] == nil {
			blocks[b.Part] = blockOf(rows, b.Part)
			parts = append(parts, b.Part)
		}
		blocks[b.Part].add(b)
	}
	at := placed(parts, blocks, ground)
	for i := range out {
		if b := &out[i].Bed; !out[i].Placed {
			b.X, b.Y = b.X+at[b.Part].X, b.Y+at[b.Part].Y
		}
	}
	return out
}

// placed returns how far each block is moved, in the order of the parts.
func placed(parts []string, blocks map[string]*block, ground box) map[string]garden.Point {
	x0, top := 1.0, 1.0
	if ground.begun {
		top = ground.high.Y + 2*path
	}
	next, bottom := garden.Point{X: x0, Y: top}, top
	out := map[string]garden.Point{}
	for n, part := range parts {
		k := blocks[part]
		wide, tall := k.high.X-k.low.X, k.high.Y-k.low.Y
		beside, below := ground, ground
		beside.reach(next.X+wide, next.Y+tall)
		below.reach(x0+wide, bottom+2*path+tall)
		if n > 0 && below.size() <= beside.size() {
			next = garden.Point{X: x0, Y: bottom + 2*path}
		}
		out[part] = garden.Point{X: next.X - k.low.X, Y: next.Y - k.low.Y}
		ground.reach(next.X+wide, next.Y+tall)
		bottom = max(bottom, next.Y+tall)
		next.X += wide + 2*path
	}
	return out
}

// box is the smallest upright rectangle around beds.
type box struct {
	begun     bool
	low, high garden.Point
}

func (x *box) holds(b garden.Bed) {
	low, high := b.Bounds()
	if !x.begun {
		x.begun, x.low, x.high = true, low, high
	}
	x.low.X, x.low.Y = min(x.low.X, low.X), min(x.low.Y, low.Y)
	x.reach(high.X, high.Y)
}

// reach extends it to a point south-east of its beginning.
func (x *box) reach(to, down float64) { x.high.X, x.high.Y = max(x.high.X, to), max(x.high.Y, down) }

// size is the width of the plan that it needs, m.
func (x *box) size() float64 { return max(x.high.X-x.low.X, planAspect*(x.high.Y-x.low.Y)) }

// block is the beds of a part, laid out in rows once one row would be too long.
type block struct {
	box

	area, longest float64
	beds          []garden.Bed
}

// blockOf measures the beds of a part that have no place.
func blockOf(rows []New, part string) *block {
	k := &block{}
	for _, x := range rows {
		if x.Placed || x.Bed.Part != part {
			continue
		}
		low, high := x.Bed.Bounds()
		k.area += (high.X - low.X + path) * (high.Y - low.Y + path)
		k.longest = max(k.longest, high.X-low.X, high.Y-low.Y)
	}
	return k
}

// add lays a bed across the one before it.
func (k *block) add(b *garden.Bed) {
	b.X, b.Y = 0, 0
	if n := len(k.beds); n > 0 {
		before := k.beds[n-1]
		b.X, b.Y = before.X, before.Y
		beside(b, before, path, k.beds)
		k.wrap(b)
	}
	k.holds(*b)
	k.beds = append(k.beds, *b)
}

// wrap starts a new row if the bed would extend this one too far: below it, or to the east of beds
// that run east.
func (k *block) wrap(b *garden.Bed) {
	most := max(math.Sqrt(longRow*k.area), k.longest)
	low, high := b.Bounds()
	if north := high.Y-low.Y > high.X-low.X; north && high.X-k.low.X > most {
		b.X, b.Y = b.X+k.low.X-low.X, b.Y+k.high.Y+path-low.Y
	} else if !north && high.Y-k.low.Y > most {
		b.X, b.Y = b.X+k.high.X+path-low.X, b.Y+k.low.Y-low.Y
	}
	for slices.ContainsFunc(k.beds, func(x garden.Bed) bool { return garden.Overlaps(*b, x) }) {
		beside(b, *b, path, k.beds)
	}
}
