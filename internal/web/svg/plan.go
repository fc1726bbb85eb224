package svg

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode/utf8"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/garden"
)

// Plan is the beds drawn to scale, north up.
type Plan struct {
	W, H  Px
	Beds  []PlanBed
	Marks []PlanMark
	Grid  []Px // vertical lines
	GridY []Px // horizontal lines
	// Bar is the scale bar.
	BarX, BarY, BarW, BarMid Px
	BarTextX                 Px
	BarText                  string
	NorthX, NorthY           Px
	// Scale is drawing units per unit of length of the form; Left and Top are the origin in those
	// units, at MarginX and MarginY.
	Scale            float64
	Left, Top        float64
	MarginX, MarginY Px
	// Draft is the shape being drawn; Handles are its corners.
	Draft   Path
	Closed  bool
	DraftW  Px
	Handles []Handle
	// Way is the route of a round, Cores its cores, Letters its samples.
	Way     Path
	Cores   []Ring
	Letters []Pad
	// Grips resize and rotate the bed being placed; its centre is at MidX and MidY, in the form's
	// units.
	Grips      []Grip
	MidX, MidY float64
}

// Handle is a draggable corner.
type Handle struct {
	N    int
	X, Y Px
	Says string
}

// Grip is a draggable point of the bed being placed; Stem is a line to it from the bed.
type Grip struct {
	Does, Says string
	X, Y       Px
	Stem       Path
}

// PlanMark is a path or a wall: a line with a width.
type PlanMark struct {
	Kind, Name string
	Path       Path
	Width      Px
	// TextX and TextY are the middle of its longest segment, for its name if it fits.
	TextX, TextY Px
	Turn         Px
	Text         string
}

// allSteps are the zoom steps, each with its least pixels per unit; readFrom those at which a
// path's name is shown.
var allSteps, nameSteps = stepLists()

// leastRead is the scale in pixels per unit from which a path's name is shown.
const leastRead = 0.9

func stepLists() (all, read string) {
	for _, s := range Steps {
		all += fmt.Sprintf("%s:%g ", s.ID, s.From)
		if s.From >= leastRead {
			read += " " + s.ID
		}
	}
	return all, read
}

// Scene is a plan's data.
type Scene struct {
	Beds     []bedstate.State
	Marks    []garden.Mark
	Layer    Layer
	Due      map[int64]bool
	Selected int64
	Units    text.Units
	// Query is appended to the beds' addresses.
	Query string
	// Way is a route past beds, Cores places of cores, m.
	Way, Cores []garden.Point
	// Letters are the beds' samples; a bed with one shows it and its cores only.
	Letters map[int64]string
	// Draft is an outline or a line being drawn, Closed for an outline; DraftWidth is a line's
	// width in metres. Drawing leaves room around.
	Drawing bool
	// Placing is the bed being placed, with grips, or nil.
	Placing    *garden.Bed
	Draft      []garden.Point
	Closed     bool
	DraftWidth float64
}

// PlanBed is one bed on the plan.
type PlanBed struct {
	ID   int64
	Name string
	// State is the verdict's class; Off the words beside the colour.
	State, Off string
	Value      string
	Selected   bool
	Due        bool
	X, Y, W, H Px
	Rings      []Ring
	// Stems marks trees in their rings; Path is used for shapes other than upright rectangles and
	// circles.
	Stems bool
	Path  Path
	// Labels are its labels by zoom step.
	Labels []Labels
	Says   string
	// Href is the bed's link.
	Href string
}

// Ring is a tree ring.
type Ring struct{ X, Y, R Px }

// Pad is a label on a light background, whose path is Box.
type Pad struct {
	X, Y, W, H   Px
	TextX, TextY Px
	Text         string
	Box          Path
}

func pad(x, y, w, h, textX, textY Px, label string) Pad {
	return Pad{x, y, w, h, textX, textY, label, moveTo(x, y).across(w).down(h).across(-w) + "z"}
}

// drawingRoom is the room around the garden while drawing, m.
const drawingRoom = 2

// PlanOf draws a scene in w × h units; the garden is fitted to it with a margin.
func PlanOf(s Scene, w, h float64) Plan {
	const margin, top, foot = 26, 10, 36
	p := Plan{W: Px(w), H: Px(h), MarginX: margin, MarginY: top, Closed: s.Closed}
	x0, y0, x1, y1 := s.extent()
	k := math.Min((w-2*margin)/(x1-x0), (h-margin-foot-10)/(y1-y0))
	// The scale of a small garden is bounded.
	k = math.Min(k, 90)
	in := s.Units.Lengths()
	p.Scale, p.Left, p.Top = k*in.Size, x0/in.Size, y0/in.Size
	px := func(m float64) Px { return Px(margin + (m-x0)*k) }
	py := func(m float64) Px { return Px(top + (m-y0)*k) }
	step := barStep(k*in.Size) * in.Size
	p.Grid, p.GridY = gridLines(x0, x1, step, px), gridLines(y0, y1, step, py)
	for _, m := range s.Marks {
		p.Marks = append(p.Marks, planMark(m, px, py, k))
	}
	p.Beds = make([]PlanBed, len(s.Beds))
	for i := range s.Beds {
		plot, b := &s.Beds[i], &p.Beds[i]
		b.lay(plot, s.Layer, px, py, k, s.Due[plot.Bed.ID], plot.Bed.ID == s.Selected)
		b.Href = "/?bed=" + strconv.FormatInt(plot.Bed.ID, 10) + s.Query
		if l := s.Letters[plot.Bed.ID]; l != "" {
			b.Labels, b.Value = nil, ""
			b.Says = plot.Bed.Name + ", sample " + l
			at, wide := plot.Bed.Middle(), Px(float64(len(l))*valueLetter+12)
			x, y := px(at.X), py(at.Y)
			p.Letters = append(p.Letters, pad(x-wide/2, y-13, wide, 26, x, y+7, l))
		}
	}
	p.giveWay()
	for i, at := range s.Draft {
		p.Handles = append(p.Handles, Handle{N: i, X: px(at.X), Y: py(at.Y),
			Says: "Corner " + strconv.Itoa(i+1) + ", " + s.Units.Length(at.X) + " from the west, " + s.Units.Length(at.Y) +
				" from the north"})
	}
	p.Way = path(s.Way, px, py, false)
	for _, at := range s.Cores {
		p.Cores = append(p.Cores, Ring{px(at.X), py(at.Y), 2.6})
	}
	if s.Placing != nil {
		p.grips(*s.Placing, in, px, py)
	}
	p.Draft, p.DraftW = path(s.Draft, px, py, s.Closed && len(s.Draft) > 2), Px(math.Max(2, s.DraftWidth*k))
	p.BarX, p.BarY, p.BarW = margin, Px(h-16), Px(step*k)
	p.BarMid = p.BarX + p.BarW/2
	p.BarTextX = p.BarX + p.BarW + 8
	p.BarText = s.Units.Length(step)
	p.NorthX, p.NorthY = Px(w-24), Px(h-26)
	return p
}

// gridLines returns lines at round distances.
func gridLines(from, to, step float64, at func(float64) Px) (out []Px) {
	for _, m := range stepsFrom(math.Ceil(from/step)*step, to+0.01, step) {
		out = append(out, at(m))
	}
	return out
}

// gripTurn is the grip that rotates a bed.
const gripTurn = "turn"

// gripStem is the distance of the rotating grip, drawing units.
const gripStem = 22

func (p *Plan) grips(b garden.Bed, in text.Scale, px, py func(float64) Px) {
	mid := b.Middle()
	p.MidX, p.MidY = mid.X/in.Size, mid.Y/in.Size
	if b.Shape != garden.ShapeOutline {
		at := b.Frame(1, 1)
		p.Grips = append(p.Grips, Grip{Does: "size", Says: "Size of the bed", X: px(at.X), Y: py(at.Y)})
	}
	if b.Shape == garden.ShapeCircle {
		return
	}
	foot, away := b.Frame(0.5, 0), math.Max(b.H/2, 1e-6)
	x, y := px(foot.X), py(foot.Y)
	out := Px(gripStem / away)
	g := Grip{Does: gripTurn, Says: "Turn of the bed", X: x + Px(foot.X-mid.X)*out, Y: y + Px(foot.Y-mid.Y)*out}
	g.Stem = moveTo(x, y).lineTo(g.X, g.Y)
	p.Grips = append(p.Grips, g)
}

// path returns a line through points; px and py convert coordinates.
func path(ps []garden.Point, px, py func(float64) Px, closed bool) Path {
	p := through(ps, func(at garden.Point) (x, y Px) { return px(at.X), py(at.Y) })
	if closed {
		p = p.closed()
	}
	return p
}

func planMark(m garden.Mark, px, py func(float64) Px, k float64) PlanMark {
	out := PlanMark{Kind: m.Kind, Name: m.Name, Path: path(m.Points, px, py, false), Width: Px(math.Max(2, m.Width*k))}
	longest := 0.0
	for i := 1; i < len(m.Points); i++ {
		a, b := m.Points[i-1], m.Points[i]
		long := math.Hypot(b.X-a.X, b.Y-a.Y)
		if long <= longest {
			continue
		}
		longest = long
		out.TextX, out.TextY = px((a.X+b.X)/2), py((a.Y+b.Y)/2)
		// Names read from the left or from below, never upside down.
		turn := math.Atan2(b.Y-a.Y, b.X-a.X) * 180 / math.Pi
		if turn > 90 {
			turn -= 180
		} else if turn <= -90 {
			turn += 180
		}
		out.Turn = Px(turn)
	}
	if longest*k > float64(len([]rune(m.Name)))*nameLetter+16 && m.Width*k >= 13 {
		out.Text = m.Name
	}
	return out
}

// barStep returns a round length of about a hundred units.
func barStep(k float64) float64 {
	for _, m := range []float64{1, 2, 3, 5, 10, 20, 50, 100, 200, 500} {
		if m*k >= 70 {
			return m
		}
	}
	return 1000
}

func (s Scene) extent() (x0, y0, x1, y1 float64) {
	x0, y0 = math.Inf(1), math.Inf(1)
	grow := func(low, high garden.Point) {
		x0, y0 = math.Min(x0, low.X), math.Min(y0, low.Y)
		x1, y1 = math.Max(x1, high.X), math.Max(y1, high.Y)
	}
	for i := range s.Beds {
		grow(s.Beds[i].Bed.Bounds())
	}
	for _, m := range s.Marks {
		for _, p := range m.Points {
			grow(p, p)
		}
	}
	if s.Drawing && x1 > 0 {
		x0, y0 = math.Max(0, x0-drawingRoom), math.Max(0, y0-drawingRoom)
		x1, y1 = x1+drawingRoom, y1+drawingRoom
	}
	for _, p := range s.Draft {
		grow(p, p)
	}
	if x1-x0 < 1 || y1-y0 < 1 {
		grow(garden.Point{}, garden.Point{X: 10, Y: 6})
	}
	return x0, y0, x1, y1
}

// lay draws a bed: px and py convert coordinates, k is units per metre.
func (out *PlanBed) lay(p *bedstate.State, layer Layer, px, py func(float64) Px, k float64, due, selected bool) {
	b := &p.Bed
	low, high := b.Bounds()
	*out = PlanBed{ID: b.ID, Name: b.Name, State: string(p.Standing), Selected: selected, Due: due, Stems: b.Kind == garden.KindTree,
		X: px(low.X), Y: py(low.Y), W: Px((high.X - low.X) * k), H: Px((high.Y - low.Y) * k), Value: unread}
	if b.Kind == garden.KindHeap {
		out.State, out.Value, out.Says = "heap", "", b.Name
	} else {
		layer.look(p, due, out)
		if p.Conflict {
			out.Off = "crops clash"
			if !out.fits(out.Off, 1) {
				out.Off, out.Value = "clash", "" // shown instead of the figure
			}
			out.Says += "; " + p.First.Name + " and " + p.Second.Name + " need different soil"
			if named := p.First.Name + " ≠ " + p.Second.Name; out.fits(named, 1) {
				out.Off = named
			}
		}
	}
	for _, c := range b.Circles() {
		out.Rings = append(out.Rings, Ring{px(c.Middle.X), py(c.Middle.Y), Px(c.Radius * k)})
	}
	if b.Turn != 0 || b.Shape == garden.ShapeOutline {
		if o := b.Outline(); len(o) > 0 {
			out.Path = path(o, px, py, true)
		}
	}
	out.label()
}

// fit shortens a name to so many letters; a number at its end is kept, which tells Terrace 1 from
// Terrace 2.
func fit(name string, letters int) string {
	if utf8.RuneCountInString(name) <= letters {
		return name
	}
	r := []rune(name)
	end := ""
	if i := strings.LastIndexByte(name, ' '); i > 0 && len(name)-i <= 4 && strings.ContainsAny(name[i:], "0123456789") &&
		letters >= len(name)-i+3 {
		end = name[i:]
	}
	// The ellipsis is as wide as two letters.
	keep := letters - 2 - len([]rune(end))
	if keep+len([]rune(end)) < shortName {
		return "" // what would be left tells no bed from another
	}
	return strings.TrimRight(string(r[:keep]), " ") + "…" + end
}

// recent is the age up to which a test is recent, and old that from which it is old.
const (
	recent quantity.Day = 365
	old    quantity.Day = 730
)

// supplyStates are the classes of the potassium ranges.
var supplyStates = map[soil.Supply]string{soil.Short: "sour", soil.Enough: "in-range", soil.Plenty: "plenty", soil.TooMuch: "too-sweet",
	soil.Unknown: "untested"}
