package svg

import (
	"html/template"
	"strconv"
)

// The labels of a plan are shown at some steps of its scale; Steps and Due say which.

// AllSteps returns the steps at which a plan can be shown, each with its least pixels a unit.
func (Plan) AllSteps() string { return allSteps }

// Step returns the one at which it is drawn.
func (Plan) Step() string { return asDrawn }

// Exact formats a figure in full, for scripts.
func (Plan) Exact(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }

// Drawn returns the plan's SVG. A dozen beds have some seventy labels, one for each zoom step.
func (p Plan) Drawn() template.HTML {
	var w writer
	p.lines(&w)
	p.paths(&w)
	for i := range p.Beds {
		p.Beds[i].write(&w)
	}
	p.round(&w)
	p.held(&w)
	p.corners(&w)
	return w.html()
}

func (b *PlanBed) write(w *writer) {
	of, says := "plot "+b.State, b.Says
	if b.Selected {
		of += " selected"
	}
	if b.Due {
		says += ", something is due"
	}
	w.link().id("bed-" + strconv.FormatInt(b.ID, 10)).class(of).href(b.Href).hxGet(b.Href).label(says)
	if b.Selected {
		w.current()
	}
	b.shape(w)
	for _, l := range b.Labels {
		w.group().class("labs " + l.Steps)
		for _, x := range l.Each {
			x.write(w)
		}
		w.end()
	}
	if b.Due {
		w.group().transform(moved(b.DueX(), b.Y)).path().class("due-stake lab").d("M0 0m-6 -4h12v12l-6 6l-6 -6z").end().end()
	}
	w.end()
}

// shape writes the bed: rings, an outline, or an upright rectangle.
func (b *PlanBed) shape(w *writer) {
	switch {
	case len(b.Rings) > 0:
		w.rect().class("hit").at(b.X, b.Y).size(b.W, b.H).end()
		for _, r := range b.Rings {
			w.circle().class("shape").centre(r.X, r.Y, r.R).end()
			if b.Stems {
				w.circle().class("stem").centre(r.X, r.Y, 3.5).end()
			}
		}
	case b.Path != "":
		w.path().class("shape").d(b.Path).end()
	default:
		w.rect().class("shape").at(b.X, b.Y).size(b.W, b.H).corner(3).end()
	}
}

func (l *Label) write(w *writer) {
	w.group().transform(moved(l.X, l.Y)).group().class("lab")
	if l.Upright {
		w.group().transform(turnedUp)
	}
	at := l.at
	w.path().class("pad").d(moveTo(at.x, at.y).across(at.w).down(at.h).across(-at.w) + "z").end()
	w.text().class(l.Class).at(l.TextX, l.TextY)
	if l.End {
		w.anchor("end")
	}
	w.says(l.Text).end()
	if l.Upright {
		w.end()
	}
	w.end().end()
}

// paths writes paths and walls, with names that fit.
func (p *Plan) paths(w *writer) {
	for _, m := range p.Marks {
		name := m.Name
		if name == "" {
			name = m.Kind
		}
		w.path().class("mark " + m.Kind).d(m.Path).stroke(m.Width).titled(name).end()
		if m.Text != "" {
			w.group().class("labs" + nameSteps).group().transform(moved(m.TextX, m.TextY).turned(m.Turn))
			w.text().class("mark-name lab").at(0, 0).down(4).anchor("middle").says(m.Text).end()
			w.end().end()
		}
	}
}

// lines writes the grid.
func (p *Plan) lines(w *writer) {
	for _, x := range p.Grid {
		w.path().class("metre").d(moveTo(x, 0).downTo(p.BarY)).end()
	}
	for _, y := range p.GridY {
		w.path().class("metre").d(moveTo(0, y).acrossTo(p.W)).end()
	}
}

// round writes a round's route, cores and letters.
func (p *Plan) round(w *writer) {
	if p.Way != "" {
		w.path().class("way-round").d(p.Way).end()
		for _, c := range p.Cores {
			w.circle().class("core").centre(c.X, c.Y, c.R).end()
		}
	}
	for _, l := range p.Letters {
		w.path().class("letter-pad").d(l.Box).end()
		w.text().class("bed-value").at(l.TextX, l.TextY).anchor("middle").says(l.Text).end()
	}
}

// held writes the grips of the bed being placed.
func (p *Plan) held(w *writer) {
	for _, g := range p.Grips {
		if g.Stem != "" {
			w.path().class("grip-stem").d(g.Stem).end()
		}
		w.group().class("grip").id("grip-" + g.Does).does(g.Does).focusable().role("button").label(g.Says)
		w.circle().class("hold").centre(g.X, g.Y, 15).end()
		if g.Does == gripTurn {
			w.circle().class("dot").centre(g.X, g.Y, 6).end()
		} else {
			w.path().class("dot").d(moveTo(g.X, g.Y) + "m-6 -6h12v12h-12z").end()
		}
		w.end()
	}
}

// corners writes the corners of a shape being drawn, with handles.
func (p *Plan) corners(w *writer) {
	if len(p.Handles) == 0 {
		return
	}
	if p.Closed {
		w.path().class("draft closed").d(p.Draft).end()
	} else {
		w.path().class("draft").d(p.Draft).stroke(p.DraftW).end()
	}
	for _, c := range p.Handles {
		w.group().class("corner").id("corner-" + strconv.Itoa(c.N)).number(c.N).focusable().role("button").label(c.Says)
		w.circle().class("hold").centre(c.X, c.Y, 14).end()
		w.circle().class("dot").centre(c.X, c.Y, 6).end()
		w.end()
	}
}
