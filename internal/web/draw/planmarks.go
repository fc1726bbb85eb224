package draw

import (
	"html/template"

	"zephyrfield/internal/web/ink"
)

// plotLetters is about how many letters a bed takes.
const plotLetters = 2200

// Plots writes the beds of a plan with their labels: there are some seventy labels on the
// plan of a dozen beds, one for each step at which it is shown.
func (p Plan) Plots() template.HTML {
	var k ink.Ink
	k.Grow(len(p.Beds) * plotLetters)
	for i := range p.Beds {
		p.Beds[i].write(&k)
	}
	return k.HTML()
}

func (b *PlanBed) write(k *ink.Ink) {
	k.Put(`<a id="bed-%" class="plot %`, b.ID, b.State)
	if b.Selected {
		k.Put(` selected" aria-current="true`)
	}
	k.Put(`" href="%" hx-get="%" aria-label="%`, b.Href, b.Href, b.Says)
	if b.Due {
		k.Put(`, something is due`)
	}
	k.Put(`">`)
	b.shape(k)
	for _, l := range b.Labels {
		k.Put(`<g class="labs %">`, l.Steps)
		for _, x := range l.Each {
			x.write(k)
		}
		k.Put(`</g>`)
	}
	if b.Due {
		k.Put(`<g transform="translate(% %)"><path class="due-stake lab" d="M0 0m-6 -4h12v12l-6 6l-6 -6z"/></g>`, b.DueX(), b.Y)
	}
	k.Put("</a>\n")
}

// shape writes the bed itself: rings, an outline, or an upright rectangle.
func (b *PlanBed) shape(k *ink.Ink) {
	switch {
	case len(b.Rings) > 0:
		k.Put(`<rect class="hit" x="%" y="%" width="%" height="%"/>`, b.X, b.Y, b.W, b.H)
		for _, r := range b.Rings {
			k.Put(`<circle class="shape" cx="%" cy="%" r="%"/>`, r.X, r.Y, r.R)
			if b.Stems {
				k.Put(`<circle class="stem" cx="%" cy="%" r="3.5"/>`, r.X, r.Y)
			}
		}
	case b.Path != "":
		k.Put(`<path class="shape" d="%"/>`, b.Path)
	default:
		k.Put(`<rect class="shape" x="%" y="%" width="%" height="%" rx="3"/>`, b.X, b.Y, b.W, b.H)
	}
}

func (l *Label) write(k *ink.Ink) {
	k.Put(`<g transform="translate(% %)"><g class="lab">`, l.X, l.Y)
	if l.Upright {
		k.Put(`<g transform="rotate(-90)">`)
	}
	at := l.at
	k.Put(`<path class="pad" d="M% %h%v%h-%z"/><text class="%" x="%" y="%"`, at.x, at.y, at.w, at.h, at.w, l.Class, l.TextX, l.TextY)
	if l.End {
		k.Put(` text-anchor="end"`)
	}
	k.Put(`>%</text>`, l.Text)
	if l.Upright {
		k.Put(`</g>`)
	}
	k.Put(`</g></g>`)
}

// Paths writes the paths and walls of a plan, with the names that have room.
func (p Plan) Paths() template.HTML {
	var k ink.Ink
	for _, m := range p.Marks {
		name := m.Name
		if name == "" {
			name = m.Kind
		}
		k.Put(`<path class="mark %" d="%" stroke-width="%"><title>%</title></path>`, m.Kind, m.Path, m.Width, name)
		if m.Text != "" {
			k.Put(`<g class="labs%"><g transform="translate(% %) rotate(%)"><text class="mark-name lab" y="0" dy="4"`+
				` text-anchor="middle">%</text></g></g>`, p.ReadFrom(), m.TextX, m.TextY, m.Turn, m.Text)
		}
	}
	return k.HTML()
}

// Lines writes the grid.
func (p Plan) Lines() template.HTML {
	var k ink.Ink
	for _, x := range p.Grid {
		k.Put(`<path class="metre" d="M% 0V%"/>`, x, p.BarY)
	}
	for _, y := range p.GridY {
		k.Put(`<path class="metre" d="M0 %H%"/>`, y, p.W)
	}
	return k.HTML()
}

// Round writes the way through a round, its cores and its letters.
func (p Plan) Round() template.HTML {
	var k ink.Ink
	if p.Way != "" {
		k.Put(`<path class="way-round" d="%"/>`, p.Way)
		for _, c := range p.Cores {
			k.Put(`<circle class="core" cx="%" cy="%" r="%"/>`, c.X, c.Y, c.R)
		}
	}
	for _, l := range p.Letters {
		k.Put(`<path class="letter-pad" d="%"/><text class="bed-value" x="%" y="%" text-anchor="middle">%</text>`,
			l.Box, l.TextX, l.TextY, l.Text)
	}
	return k.HTML()
}

// Held writes the grips of the bed that is placed.
func (p Plan) Held() template.HTML {
	var k ink.Ink
	for _, g := range p.Grips {
		if g.Stem != "" {
			k.Put(`<path class="grip-stem" d="%"/>`, g.Stem)
		}
		k.Put(`<g class="grip" id="grip-%" data-does="%" tabindex="0" role="button" aria-label="%"><circle class="hold" cx="%" cy="%" r="15"/>`,
			g.Does, g.Does, g.Says, g.X, g.Y)
		if g.Does == gripTurn {
			k.Put(`<circle class="dot" cx="%" cy="%" r="6"/></g>`, g.X, g.Y)
		} else {
			k.Put(`<path class="dot" d="M% %m-6 -6h12v12h-12z"/></g>`, g.X, g.Y)
		}
	}
	return k.HTML()
}

// Compass writes the scale bar and where north is.
func (p Plan) Compass() template.HTML {
	var k ink.Ink
	k.Put(`<g class="bar"><path d="M% %h%m0 -5v10M% %m0 -3v6M% %m0 -5v10"/><text x="%" y="%" dy="4">%</text></g>`,
		p.BarX, p.BarY, p.BarW, p.BarMid, p.BarY, p.BarX, p.BarY, p.BarTextX, p.BarY, p.BarText)
	k.Put(`<g class="north"><path d="M% %m0 10v-26m-5 7l5 -7l5 7"/><text x="%" y="%" dy="23" text-anchor="middle">N</text></g>`,
		p.NorthX, p.NorthY, p.NorthX, p.NorthY)
	return k.HTML()
}
