package svg

import (
	"slices"
	"strings"
	"unicode/utf8"
)

// Step is how large a plan is shown: from so many pixels a unit of the drawing on.
type Step struct {
	ID   string
	From float64
}

// Steps are those that labels are laid out for: the whole plan on a phone, on a desk, and
// zoomed into. A label keeps its size on the screen while its bed grows.
var Steps = []Step{{"z1", 0.4}, {"z2", 0.6}, {"z3", 0.8}, {asDrawn, 0.94}, {"z5", 1.3}, {"z6", 2}, {"z7", 4}, {"z8", 8}}

// asDrawn is the step of about a pixel per unit, shown where nothing zooms.
const asDrawn = "z4"

// Label is a text on a bed: its anchor on the drawing, and in pixels from there its background and
// text. Upright ones read from below.
type Label struct {
	Class        string
	X, Y         Px
	TextX, TextY Px
	Text         string
	End, Upright bool
	at           box
	// over is set where it stands out of its own bed.
	over bool
}

// box is a label's background in pixels from its anchor, before rotation.
type box struct{ x, y, w, h Px }

// Labels are a bed's labels at some steps, ids separated by spaces.
type Labels struct {
	Steps string
	Each  []Label
}

// Approximate letter widths, for backgrounds.
const (
	nameLetter  = 7
	valueLetter = 12.5
	smallLetter = 8.5
	offLetter   = 5.9
)

const (
	// lowBed is the height below which name and value share a line.
	lowBed = 58
	// shortName is the least number of letters that identifies a bed.
	shortName = 5
	// stakeRoom is the width of the stake of what is due.
	stakeRoom = 22
	// slimBed and uprightBed are the least width and length of a bed for text along it.
	slimBed, uprightBed = 12, 44
	// lineBed is the least height for a line of text, nameLine that for one with room around it.
	lineBed, nameLine = 15, 32
	// lowestBed is the least height for a figure that stands out of it.
	lowestBed = 8
)

func label(class string, x, y Px, at box, text string, end bool) Label {
	l := Label{Class: class, X: x, Y: y, Text: text, End: end, at: at}
	l.TextX, l.TextY = at.x+5, at.y+at.h-5
	if end {
		l.TextX = at.x + at.w - 6
	}
	return l
}

// same reports whether two labels are equal.
func (l Label) same(o Label) bool {
	return l.Class == o.Class && l.Text == o.Text && l.Upright == o.Upright && l.over == o.over
}

func wide(text string, letter float64, room Px) Px {
	return Px(float64(utf8.RuneCountInString(text))*letter) + room
}

// mostLabels is the largest number of labels of a bed: name, value, distance from the range.
const mostLabels = 3

// label lays out a bed's labels for every step; equal steps share them.
func (b *PlanBed) label() {
	var room [mostLabels]Label
	for _, s := range Steps {
		each := b.labels(Px(s.From), room[:0])
		// Each step of a tree's labels may give way to others.
		if n := len(b.Labels); n > 0 && !b.Stems && slices.EqualFunc(each, b.Labels[n-1].Each, Label.same) {
			b.Labels[n-1].Steps += " " + s.ID
			continue
		}
		b.Labels = append(b.Labels, Labels{s.ID, slices.Clone(each)})
	}
}

// labels returns the labels that fit a bed at a scale: name top left, value bottom right, distance
// bottom left; on one line on a low bed; along a slim one. What does not fit is dropped: the name
// before its suffix, the distance and the name before the value, and everything that would cover
// another bed.
func (b *PlanBed) labels(k Px, out []Label) []Label {
	w, h := b.W*k, b.H*k
	if len(b.Rings) > 0 && b.Stems {
		return b.round(k, wide(b.Value, valueLetter, 12), out)
	}
	if w < shortName*nameLetter+16 && h >= uprightBed {
		return b.along(w, h, out)
	}
	value := b.value(w, h)
	room := w - 16
	if h < lowBed && value.Text != "" {
		beside, small := room-value.at.w, b.small(w, h)
		if h < nameLine || fit(b.Name, lettersIn(beside)) == "" && fit(b.Name, lettersIn(room-small.at.w)) != "" {
			value, beside = small, room-small.at.w
		}
		if b.Value == unread && fit(b.Name, lettersIn(beside)) == "" {
			value, beside = Label{}, room // its dashed edge says the same
		}
		room = beside
	}
	if name := fit(b.Name, lettersIn(room)); name != "" && h >= lineBed {
		at := box{6, 6, wide(name, nameLetter, 10), 19}
		if h < nameLine {
			at.y, at.h = (h-15)/2, 15
		}
		out = append(out, label("bed-name", b.X, b.Y, at, name, false))
	}
	if value.Text != "" {
		out = append(out, value)
	}
	if b.Off != "" && b.fits(b.Off, k) {
		out = append(out, label("bed-off", b.X, b.Y+b.H, box{6, -26, wide(b.Off, offLetter, 10), 19}, b.Off, false))
	}
	return out
}

// unread is the figure of a bed without a reading.
const unread = "?"

// lettersIn returns how many letters of a name fit in so many pixels.
func lettersIn(room Px) int { return int(float64(room) / nameLetter) }

// value returns the label of a bed's figure, large where there is room for it; without text where
// there is none at all.
func (b *PlanBed) value(w, h Px) Label {
	at := box{-6 - wide(b.Value, valueLetter, 12), -31, wide(b.Value, valueLetter, 12), 25}
	if b.Value == "" || w < at.w+12 || h < nameLine {
		return b.small(w, h)
	}
	return label("bed-value", b.X+b.W, b.Y+b.H, at, b.Value, true)
}

// small returns the label of a bed's figure in small letters, in the middle of a low bed's height.
func (b *PlanBed) small(w, h Px) Label {
	at := box{-2 - wide(b.Value, smallLetter, 8), -h/2 - 8, wide(b.Value, smallLetter, 8), 16}
	if b.Value == "" || w < at.w+4 || h < lowestBed {
		return Label{}
	}
	over := h < at.h
	if over {
		at.y, at.h = -h/2-6.5, 13 // it stands out above and below, into the paths
	}
	if aside := at.x - stakeRoom; b.Due && w+aside > 0 {
		at.x = aside // beside the stake of what is due
	}
	l := label("bed-value small", b.X+b.W, b.Y+b.H, at, b.Value, true)
	l.TextX, l.TextY, l.over = at.x+at.w-4, at.y+at.h-3.5, over
	if over {
		l.TextY = at.y + at.h - 2.5
	}
	return l
}

// round returns a tree's labels: below and above its ring, if there is room between trees.
func (b *PlanBed) round(k, valueW Px, out []Label) []Label {
	if k < 1 && wide(b.Name, nameLetter, 10) > b.W*k+20 {
		return nil
	}
	mid, nameW := b.X+b.W/2, wide(b.Name, nameLetter, 10)
	out = append(out, label("bed-name", mid, b.Y+b.H, box{-nameW / 2, 6, nameW, 19}, b.Name, false))
	if b.Value != "" {
		out = append(out, label("bed-value", mid, b.Y, box{-valueW / 2, -28, valueW, 25}, b.Value, true))
	}
	return out
}

// ground returns a label's background on the drawing at a scale.
func (l *Label) ground(k Px) (x0, y0, x1, y1 Px) {
	at := l.at
	if l.Upright { // upright: along is up
		at = box{at.y, -at.x - at.w, at.h, at.w}
	}
	x0, y0 = l.X+at.x/k, l.Y+at.y/k
	return x0, y0, x0 + at.w/k, y0 + at.h/k
}

// giveWay drops labels beside a bed, or standing out of it, that would cover another.
func (p *Plan) giveWay() {
	for i := range p.Beds {
		b := &p.Beds[i]
		beside := len(b.Rings) > 0 && b.Stems
		for n := range b.Labels {
			ls := &b.Labels[n]
			first := slices.IndexFunc(Steps, func(s Step) bool { return s.ID == strings.Fields(ls.Steps)[0] })
			ls.Each = slices.DeleteFunc(ls.Each, func(l Label) bool { return (beside || l.over) && p.covers(&l, Px(Steps[first].From), i) })
		}
	}
}

// covers reports whether a label covers a bed other than its own.
func (p *Plan) covers(l *Label, k Px, own int) bool {
	x0, y0, x1, y1 := l.ground(k)
	for i := range p.Beds {
		b := &p.Beds[i]
		if i != own && x0 < b.X+b.W && b.X < x1 && y0 < b.Y+b.H && b.Y < y1 {
			return true
		}
	}
	return false
}

// along returns labels that run along a slim bed: its name from its foot, its value at its head.
func (b *PlanBed) along(w, h Px, out []Label) []Label {
	if w < slimBed || h < uprightBed {
		return nil
	}
	high, class := min(w-1, 18), "bed-name"
	if w < 16 {
		class = "bed-name small" // the smallest legible size
	}
	mid, room := b.X+b.W/2, h-12
	valueW := wide(b.Value, smallLetter, 8)
	if b.Value != "" && room-valueW >= 2*nameLetter {
		room -= valueW + 4
		v := label("bed-value small", mid, b.Y, box{-4 - valueW, -high / 2, valueW, high}, b.Value, true)
		v.Upright, v.TextY = true, 4.5
		out = append(out, v)
	}
	if name := fit(b.Name, int(float64(room)/nameLetter)); name != "" {
		n := label(class, mid, b.Y+b.H, box{4, -high / 2, wide(name, nameLetter, 8), high}, name, false)
		n.Upright, n.TextY = true, 4.5
		out = append(out, n)
	}
	return out
}

// fits reports whether words fit beside the value at a scale.
func (b *PlanBed) fits(words string, k Px) bool {
	return wide(words, offLetter, 10)+wide(b.Value, valueLetter, 12)+16 < b.W*k && b.H*k > 45
}

// DueX returns the place of the stake for due tasks.
func (b PlanBed) DueX() Px { return b.X + b.W - min(16, b.W/2) }
