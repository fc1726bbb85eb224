package draw

import (
	"html/template"

	"zephyrfield/internal/web/ink"
)

// Figure writes a chart with its table.
func (c Chart) Figure() template.HTML {
	var k ink.Ink
	k.Put(`<figure class="chart"><figcaption>%</figcaption><svg viewBox="0 0 % %" role="img" aria-label="%">`, c.Title, c.W, c.H, c.Says)
	anchor := "end"
	if c.Ahead != "" {
		anchor = "start"
	}
	k.Put(`<rect class="band" x="%" y="%" width="%" height="%"/>%<text class="band-name" x="%" y="%" text-anchor="%">%</text>`,
		c.X0, c.BandY, c.BandW, c.BandH, c.Axes(), c.BandText.X, c.BandText.Y, anchor, c.BandText.Text)
	k.Put(`<path class="today" d="M% %v-8"/>%`, c.Today, c.Foot, c.Doubts())
	if c.Past != "" {
		k.Put(`<path class="past" d="%"/>`, c.Past)
	}
	if c.Ahead != "" {
		k.Put(`<path class="expected" d="%"/>`, c.Ahead)
	}
	k.Put(`%</svg>
<details class="as-table"><summary>as a table</summary><div class="scroll" tabindex="0" role="region" aria-label="%, as a table">
  <table><thead><tr><th>Day</th><th>What</th><th>Figure</th></tr></thead><tbody>%</tbody></table></div></details>
</figure>`, c.Drawn(), c.Title, c.Told())
	return k.HTML()
}

// Axes writes the lines of a chart's grid with what they say.
func (c Chart) Axes() template.HTML {
	var k ink.Ink
	for _, t := range c.TicksY {
		k.Put(`<path class="grid" d="M% %H%"/><text class="tick-name" x="28" y="%" dy="4" text-anchor="end">%</text>`,
			c.X0, t.At, c.X1, t.At, t.Label)
	}
	for _, t := range c.TicksX {
		k.Put(`<path class="grid" d="M% %V%"/><text class="tick-name" x="%" y="%" dy="-4" text-anchor="middle">%</text>`,
			t.At, c.Top, c.Foot, t.At, c.H, t.Label)
	}
	return k.HTML()
}

// Doubts writes how far each reading of a chart may be off.
func (c Chart) Doubts() template.HTML {
	var k ink.Ink
	for _, p := range c.Points {
		k.Put(`<path class="doubt %" d="M% %V%"/>`, p.State, p.X, p.Y0, p.Y1)
	}
	return k.HTML()
}

// Drawn writes what was read, seen and put on, each where it stands.
func (c Chart) Drawn() template.HTML {
	var k ink.Ink
	for _, p := range c.Points {
		switch {
		case p.State == "ahead":
			k.Put(`<circle class="ring" cx="%" cy="%" r="4.5"><title>%</title></circle>`, p.X, p.Y, p.Says)
		case p.Expected:
			k.Put(`<circle class="weak %" cx="%" cy="%" r="3"><title>%</title></circle>`, p.State, p.X, p.Y, p.Says)
		default:
			k.Put(`<path class="read %" d="M% %m0 -4.5l4.5 4.5l-4.5 4.5l-4.5 -4.5z"><title>%</title></path>`,
				p.State, p.X, p.Y, p.Says)
		}
	}
	for _, s := range c.Seen {
		k.Put(`<path class="seen-mark" d="M% %m-6 -4c3 -5 9 -5 12 0c-3 5 -9 5 -12 0z"><title>%</title></path>`, s.X, c.Top, s.Says)
	}
	for _, a := range c.Arrows {
		open := ""
		if a.Open {
			open = " open"
		}
		k.Put(`<path class="arrow%" d="M% %m0 -11v11m-3.5 -4l3.5 4l3.5 -4"><title>%</title></path>`, open, a.X, a.Tip, a.Says)
	}
	return k.HTML()
}

// Told writes the lines of a chart's table.
func (c Chart) Told() template.HTML { return told(c.Rows) }

func told(rows []ChartRow) template.HTML {
	var k ink.Ink
	for _, r := range rows {
		k.Put("<tr><td>%</td><td>%</td><td>%</td></tr>\n", r.Day, r.What, r.Value)
	}
	return k.HTML()
}
