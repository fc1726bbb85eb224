package svg

import "html/template"

// Stretches returns the SVG of the months and of the windows.
func (r Ribbon) Stretches() template.HTML {
	var w writer
	for _, m := range r.Months {
		of := "month-name"
		if m.Major {
			of += " january"
		}
		w.path().class("month").d(moveTo(m.At, 30).downTo(r.MonthFoot)).end()
		w.text().class(of).at(m.At, 24).right(5).says(m.Label).end()
	}
	for _, row := range r.Rows {
		w.text().class("row-name").at(r.NameX, row.Y).down(4).says(row.Name).end()
		for _, b := range row.Bars {
			of := row.Class
			if b.Best {
				of += " best"
			}
			w.rect().class(of).at(b.X, b.Y).size(b.W, r.BarH).corner(2).titled(b.Says).end()
		}
	}
	return w.html()
}

// The shapes of the ribbon's marks, relative to the point.
const (
	frostStar  Path = "m-4 -1h8m-6 -4l4 8m0 -8l-4 8"
	todayMark  Path = "v6"
	labelStake Path = "m-4.5 0h9v9l-4.5 6l-4.5 -6z"
	smallStake Path = "m-2.5 0h5v5h-5z"
)

// Marked returns the SVG of the frosts, the stakes and the mark of today.
func (r Ribbon) Marked() template.HTML {
	var w writer
	for _, f := range r.Frosts {
		w.path().class("frost").d(moveTo(f.X, 30) + frostStar).titled(f.Says).end()
	}
	for i := range r.Stakes {
		r.Stakes[i].write(&w)
	}
	if r.HasToday {
		w.path().class("today-mark").d(moveTo(r.Today, 28) + todayMark).end()
	}
	return w.html()
}

func (s *Stake) write(w *writer) {
	w.link().class("stake " + s.Class).href(s.Href).label(s.Says)
	if s.Task != 0 {
		w.task(s.Task).day(s.Day)
	}
	shape := labelStake
	if s.Small {
		shape = smallStake
	}
	w.titled(s.Says)
	w.path().d(moveTo(s.X, s.Y) + shape).end()
	if s.Text != "" {
		w.text().at(s.X, s.Y).right(8).down(10).says(s.Text).end()
	}
	w.end()
}
