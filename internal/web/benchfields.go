package web

import (
	"fmt"
	"html/template"

	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/web/ink"
	"zephyrfield/internal/web/ui"
)

// Which ways of reading a field belongs to.
const (
	ofLab       ink.Markup = ` data-way="lab"`
	ofLabOrKit  ink.Markup = ` data-way="lab kit"`
	ofLabMeter  ink.Markup = ` data-way="lab meter"`
	noteAtMost  ink.Markup = ` maxlength="300"`
	besideOther ink.Markup = ` class="pair"`
)

// fields are those of the form, in the garden's units.
func (v *benchView) fields(u words.Units) {
	figure := func(name, label string) ui.Row { return ui.Row{Name: name, Label: label, Mode: ui.Decimal} }
	v.Taken = []ui.Row{{Name: "date", Label: "Sampled on", Mode: ui.Date},
		{Name: "cores", Label: "Cores in the sample", Mode: ui.Numeric}, figure("depth", "Depth, "+u.Depths().Name)}
	v.Bottles = []ui.Row{figure("cal_4", "Shows in pH 4"), figure("cal_7", "in pH 7"),
		{Name: "cal_10", Label: "in pH 10", Aside: "if any", Mode: ui.Decimal}, {Name: "cal_date", Label: "Held on", Mode: ui.Date}}
	v.Stirred = []ui.Row{{Name: "basis", Label: "Stirred", Options: basisOptions(), Box: ofLabMeter}}
	v.Nutrients = []ui.Row{{Name: "k", Label: "Potassium, ppm", Aside: "if tested", Mode: ui.Decimal, Box: ofLabOrKit},
		{Name: "mg", Label: "Magnesium, ppm", Aside: "if tested", Mode: ui.Decimal, Box: ofLabOrKit}}
	v.Rest = []ui.Row{{Name: "k_extractant", Label: "Potassium drawn out with", Options: extractOptions()},
		{Box: besideOther, Together: []ui.Row{figure("k_from", "The lab’s optimum, from ppm"), figure("k_to", "to ppm")}},
		{Name: "buffer_kind", Label: "Buffer method", Options: append([]ui.Option{{Value: "", Text: "None"}}, bufferOptions()...)},
		figure("buffer_ph", "Buffer pH"), figure("om", "Organic matter, %"), figure("cec", "Cation exchange capacity, cmol/kg"),
		figure("ca", "Calcium, ppm"), figure("p", "Phosphorus, ppm"),
		figure("lab_rate", "The lab’s own rate of limestone, "+u.Rates().Name), figure("lab_depth", "over a depth of, "+u.Depths().Name),
		figure("lab_cce", "of limestone with a CCE of, %"), figure("lab_target", "to bring it to pH"),
		figure("capacity", "Lime buffer capacity, mg CaCO₃/kg per pH")}
	v.Noted = []ui.Row{{Name: "note", Label: "Note", Box: ui.Wide, Control: noteAtMost}}
}

func basisOptions() (out []ui.Option) {
	for _, b := range soil.Bases {
		out = append(out, ui.Option{Value: string(b.Basis), Text: words.Capital(words.Name(b.Basis))})
	}
	return out
}

func bufferOptions() (out []ui.Option) {
	for _, k := range soil.BufferKinds {
		out = append(out, ui.Option{Value: string(k), Text: words.Name(k)})
	}
	return out
}

func extractOptions() []ui.Option {
	out := []ui.Option{{Value: "", Text: "Not said"}}
	for _, e := range soil.Extractants {
		out = append(out, ui.Option{Value: string(e), Text: words.Capital(words.Name(e))})
	}
	return out
}

// ChipRow writes the chips of a kit and the gaps between them.
func (v *benchView) ChipRow() template.HTML {
	var k ink.Ink
	for _, c := range v.Chips {
		k.Put(`<span`)
		if c.Between {
			k.Put(` class="between"`)
		}
		k.Put(`><input type="radio" name="chip" id="chip-%" value="%"`, c.Value, c.Value)
		if v.Form.Is("chip", c.Value) {
			k.Put(` checked`)
		}
		k.Put(`><label for="chip-%">%</label></span>`, c.Value, c.Text)
	}
	return k.HTML()
}

// LastRows writes the last readings.
func (v *benchView) LastRows() template.HTML {
	var k ink.Ink
	for i := range v.Last {
		r := &v.Last[i]
		k.Put(`<tr><td>%</td><td>%</td><td class="num">%`, r.Date, r.Bed, r.PH)
		if r.AsRead != "" {
			k.Put(` <span class="as-read">%</span>`, r.AsRead)
		}
		k.Put(`</td><td>%</td><td class="num">%</td><td class="num">%</td></tr>`+"\n", r.Method, r.Doubt, r.K)
	}
	return k.HTML()
}

// JarRows writes the two jars, each with how strongly it may fizz.
func (v *benchView) JarRows() template.HTML {
	var k ink.Ink
	for i := range v.Jars {
		j := &v.Jars[i]
		k.Put(`<li><div class="row"><b>%</b><span class="buttons timer"><output class="wait" role="timer"></output>`+
			`<button type="button" class="quiet" data-wait="60" hidden>Watch 1 min</button></span></div>`+
			`<fieldset aria-describedby="%-fault"><legend class="sr">% It fizzed:</legend><div class="fizzes">`, j.Do, j.Field, j.Do)
		v.fizzes(&k, j)
		k.Put(`</div><p class="fault" id="%-fault">%</p></fieldset></li>`+"\n", j.Field, v.Form.Fault(j.Field))
	}
	return k.HTML()
}

// fizzes writes how strongly a jar may fizz, each with its picture.
func (v *benchView) fizzes(k *ink.Ink, j *fizzJar) {
	for i := range j.Strengths {
		x := &j.Strengths[i]
		k.Put(`<span><input type="radio" name="%" id="%-%" value="%"`, j.Field, j.Field, x.Value, x.Value)
		if v.Form.Is(j.Field, x.Value) {
			k.Put(` checked`)
		}
		k.Put(`><label for="%-%">%<b>%</b> <span>%</span></label></span>`, j.Field, x.Value, x.Picture.Drawn(), x.Text, x.Says)
	}
}

// SeriesRows writes the jars of a series, each with its lime and its pH.
func (v *benchView) SeriesRows() template.HTML {
	var k ink.Ink
	for _, j := range jarLines() {
		k.Put(`<div class="jar-line"><b>%</b>%<span>g/kg, pH</span>%</div>`, j.N,
			v.Form.Bare(j.Lime, fmt.Sprintf("Lime in jar %d, g a kg of soil", j.N), "jars"),
			v.Form.Bare(j.PH, fmt.Sprintf("pH of jar %d", j.N), "jars"))
	}
	return k.HTML()
}

// LayerLines writes the layers of a reading, each with how far down it goes and its pH.
func (v *benchView) LayerLines() template.HTML {
	in := v.DepthIn()
	var k ink.Ink
	for _, l := range layerLines() {
		k.Put(`<div class="jar-line"><b>%</b><span>to</span>%<span>%, pH</span>%</div>`, l.N,
			v.Form.Bare(l.To, fmt.Sprintf("Layer %d goes down to, %s", l.N, in), "layers"), in,
			v.Form.Bare(l.PH, fmt.Sprintf("pH of layer %d", l.N), "layers"))
	}
	return k.HTML()
}

// WayRow writes the ways of reading.
func (v *benchView) WayRow() template.HTML {
	var k ink.Ink
	for _, w := range v.Ways {
		k.Put(`<input type="radio" name="method" id="way-%" value="%"`, w.Value, w.Value)
		if v.Form.Is("method", w.Value) {
			k.Put(` checked`)
		}
		if v.Form.Fault("method") != "" {
			k.Put(` aria-describedby="method-fault"`)
		}
		k.Put(`><label for="way-%">%</label>`, w.Value, w.Text)
	}
	return k.HTML()
}
