package svg

import "html/template"

// The shapes of a chart's marks, relative to the point.
const (
	todayTick Path = "v-8"
	diamond   Path = "m0 -4.5l4.5 4.5l-4.5 4.5l-4.5 -4.5z"
	eye       Path = "m-6 -4c3 -5 9 -5 12 0c-3 5 -9 5 -12 0z"
	downArrow Path = "m0 -11v11m-3.5 -4l3.5 4l3.5 -4"
)

// Drawn returns the chart's SVG: range, grid, error bars, line, readings, observations and
// applications.
func (c Chart) Drawn() template.HTML {
	var w writer
	w.rect().class("range").at(c.X0, c.RangeY).size(c.RangeW, c.RangeH).end()
	c.axes(&w)
	side := "end"
	if c.Ahead != "" {
		side = "start"
	}
	w.text().class("range-name").at(c.RangeText.X, c.RangeText.Y).anchor(side).says(c.RangeText.Text).end()
	w.path().class("today").d(moveTo(c.Today, c.Foot) + todayTick).end()
	for _, p := range c.Points {
		w.path().class("doubt " + p.State).d(moveTo(p.X, p.Y0).downTo(p.Y1)).end()
	}
	if c.Past != "" {
		w.path().class("past").d(c.Past).end()
	}
	if c.Ahead != "" {
		w.path().class("expected").d(c.Ahead).end()
	}
	c.readings(&w)
	for _, s := range c.Seen {
		w.path().class("seen-mark").d(moveTo(s.X, c.Top) + eye).titled(s.Says).end()
	}
	for _, a := range c.Arrows {
		of := "arrow"
		if a.Open {
			of += " open"
		}
		w.path().class(of).d(moveTo(a.X, a.Tip) + downArrow).titled(a.Says).end()
	}
	return w.html()
}

// axes writes the grid with its labels.
func (c *Chart) axes(w *writer) {
	for _, t := range c.TicksY {
		w.path().class("grid").d(moveTo(c.X0, t.At).acrossTo(c.X1)).end()
		w.text().class("tick-name").at(28, t.At).down(4).anchor("end").says(t.Label).end()
	}
	for _, t := range c.TicksX {
		w.path().class("grid").d(moveTo(t.At, c.Top).downTo(c.Foot)).end()
		w.text().class("tick-name").at(t.At, c.H).down(-4).anchor("middle").says(t.Label).end()
	}
}

// readings writes the readings by weight.
func (c *Chart) readings(w *writer) {
	for _, p := range c.Points {
		switch {
		case p.State == "ahead":
			w.circle().class("ring").centre(p.X, p.Y, 4.5)
		case p.Expected:
			w.circle().class("weak "+p.State).centre(p.X, p.Y, 3)
		default:
			w.path().class("read " + p.State).d(moveTo(p.X, p.Y) + diamond)
		}
		w.titled(p.Says).end()
	}
}
