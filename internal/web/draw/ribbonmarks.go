package draw

import (
	"html/template"

	"zephyrfield/internal/web/ink"
)

// Stretches writes the months of the ribbon, and the rows of when each material may go on.
func (r Ribbon) Stretches() template.HTML {
	var k ink.Ink
	for _, m := range r.Months {
		january := ""
		if m.Major {
			january = " january"
		}
		k.Put(`<path class="month" d="M% 30V%"/><text class="month-name%" x="%" y="24" dx="5">%</text>`,
			m.At, r.MonthFoot, january, m.At, m.Label)
	}
	for _, row := range r.Rows {
		if !r.Slim {
			k.Put(`<text class="row-name" x="24" y="%" dy="4">%</text>`, row.Y, row.Name)
		}
		for _, b := range row.Bars {
			best := ""
			if b.Best {
				best = " best"
			}
			k.Put(`<rect class="%%" x="%" y="%" width="%" height="%" rx="2"><title>%</title></rect>`,
				row.Class, best, b.X, b.Y, b.W, r.BarH, b.Says)
		}
	}
	return k.HTML()
}

// Tasks writes the usual frosts, the stakes of the tasks and the mark of today.
func (r Ribbon) Tasks() template.HTML {
	var k ink.Ink
	for _, f := range r.Frosts {
		k.Put(`<path class="frost" d="M% 30m-4 -1h8m-6 -4l4 8m0 -8l-4 8"><title>%</title></path>`, f.X, f.Says)
	}
	for i := range r.Stakes {
		r.Stakes[i].write(&k)
	}
	if r.HasToday {
		k.Put(`<path class="today-mark" d="M% 28v6"/>`, r.Today)
	}
	return k.HTML()
}

func (s *Stake) write(k *ink.Ink) {
	k.Put(`<a class="stake %" href="%"`, s.Class, s.Href)
	if s.Task != 0 {
		k.Put(` data-task="%" data-at="%"`, s.Task, s.Day)
	}
	shape := "m-4.5 0h9v9l-4.5 6l-4.5 -6z"
	if s.Small {
		shape = "m-2.5 0h5v5h-5z"
	}
	k.Put(` aria-label="%"><title>%</title><path d="M% %%"/>`, s.Says, s.Says, s.X, s.Y, shape)
	if s.Text != "" {
		k.Put(`<text x="%" y="%" dx="8" dy="10">%</text>`, s.X, s.Y, s.Text)
	}
	k.Put("</a>\n")
}

// Told writes the lines of the ribbon's table.
func (r Ribbon) Told() template.HTML {
	var k ink.Ink
	for _, l := range r.Lines {
		k.Put("<tr><td>%</td><td>%</td></tr>\n", l.When, l.What)
	}
	return k.HTML()
}
