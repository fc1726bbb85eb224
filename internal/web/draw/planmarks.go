package draw

import (
	"html/template"
	"strconv"

	"zephyrfield/internal/web/ink"
)

// hatches fill what is told by more than its colour.
const hatches ink.Markup = `<defs>
<pattern id="hatch" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
  <rect class="hatch-ground" width="7" height="7"/><rect class="hatch-line" width="2" height="7"/></pattern>
<pattern id="dots" width="8" height="8" patternUnits="userSpaceOnUse"><rect class="dots-ground" width="8" height="8"/>
  <circle class="dots-dot" cx="4" cy="4" r="1.5"/></pattern>
</defs>`

// Drawn writes the plan.
func (p Plan) Drawn() template.HTML {
	var k ink.Ink
	k.Put(`<div class="plan-scroll"><svg class="plan" viewBox="0 0 % %" data-w="%" data-h="%" data-step="%" data-steps="%"`+
		` data-scale="%" data-left="%" data-top="%" data-margin-x="%" data-margin-y="%" data-mid-x="%" data-mid-y="%"`,
		p.W, p.H, p.W, p.H, asDrawn, allSteps, exact(p.Scale), exact(p.Left), exact(p.Top), p.MarginX, p.MarginY, exact(p.MidX), exact(p.MidY))
	k.Put(` role="group" aria-label="Plan of the beds, north up" hx-target="#main" hx-select="#main" hx-swap="outerHTML" hx-push-url="true">`)
	k.Put(hatches)
	k.Put(`<g class="pane">`)
	p.lines(&k)
	p.paths(&k)
	// There are some seventy labels on the plan of a dozen beds, one for each step at which it
	// is shown.
	for i := range p.Beds {
		p.Beds[i].write(&k)
	}
	p.round(&k)
	p.held(&k)
	p.corners(&k)
	p.compass(&k)
	k.Put(`</g>
</svg></div>`)
	return k.HTML()
}

// exact is a figure that a script goes on with.
func exact(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }

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

// paths writes the paths and walls of a plan, with the names that have room.
func (p *Plan) paths(k *ink.Ink) {
	for _, m := range p.Marks {
		name := m.Name
		if name == "" {
			name = m.Kind
		}
		k.Put(`<path class="mark %" d="%" stroke-width="%"><title>%</title></path>`, m.Kind, m.Path, m.Width, name)
		if m.Text != "" {
			k.Put(`<g class="labs%"><g transform="translate(% %) rotate(%)"><text class="mark-name lab" y="0" dy="4"`+
				` text-anchor="middle">%</text></g></g>`, readFrom, m.TextX, m.TextY, m.Turn, m.Text)
		}
	}
}

// lines writes the grid.
func (p *Plan) lines(k *ink.Ink) {
	for _, x := range p.Grid {
		k.Put(`<path class="metre" d="M% 0V%"/>`, x, p.BarY)
	}
	for _, y := range p.GridY {
		k.Put(`<path class="metre" d="M0 %H%"/>`, y, p.W)
	}
}

// round writes the way through a round, its cores and its letters.
func (p *Plan) round(k *ink.Ink) {
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
}

// held writes the grips of the bed that is placed.
func (p *Plan) held(k *ink.Ink) {
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
}

// compass writes the scale bar and where north is.
func (p *Plan) compass(k *ink.Ink) {
	k.Put(`<g class="bar"><path d="M% %h%m0 -5v10M% %m0 -3v6M% %m0 -5v10"/><g transform="translate(% %)">`+
		`<text class="lab" dy="4">%</text></g></g>`, p.BarX, p.BarY, p.BarW, p.BarMid, p.BarY, p.BarX, p.BarY, p.BarTextX, p.BarY, p.BarText)
	k.Put(`<g class="north"><path d="M% %m0 10v-26m-5 7l5 -7l5 7"/><g transform="translate(% %)">`+
		`<text class="lab" y="11" dy="12" text-anchor="middle">N</text></g></g>`, p.NorthX, p.NorthY, p.NorthX, p.NorthY)
}

// corners writes what is being drawn by its corners, each to be taken hold of.
func (p *Plan) corners(k *ink.Ink) {
	if len(p.Handles) == 0 {
		return
	}
	if p.Closed {
		k.Put(`<path class="draft closed" d="%"/>`, p.Draft)
	} else {
		k.Put(`<path class="draft" d="%" stroke-width="%"/>`, p.Draft, p.DraftW)
	}
	for _, c := range p.Handles {
		k.Put(`<g class="corner" id="corner-%" data-n="%" tabindex="0" role="button" aria-label="%"><circle class="hold" cx="%" cy="%" r="14"/>`+
			`<circle class="dot" cx="%" cy="%" r="6"/></g>`, c.N, c.N, c.Says, c.X, c.Y, c.X, c.Y)
	}
}
