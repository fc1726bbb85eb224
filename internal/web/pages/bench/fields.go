package bench

import (
	"fmt"

	"zephyrfield/agronomy/text"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/view"
)

// The ways of reading that a field belongs to.
const (
	ofLabOrKit = "lab kit"
	ofLabMeter = "lab meter"
)

// fields are those of the form, in the garden's units.
func (v *benchView) fields(u text.Units) {
	figure := func(name, label string) form.Row { return form.Row{Name: name, Label: label, Mode: form.Decimal} }
	v.Taken = []form.Row{{Name: "date", Label: "Sampled on", Mode: form.Date},
		{Name: "cores", Label: "Cores in the sample", Mode: form.Numeric}, figure("depth", "Depth, "+u.Depths().Name)}
	v.Bottles = []form.Row{figure("cal_4", "Shows in pH 4"), figure("cal_7", "in pH 7"),
		{Name: "cal_10", Label: "in pH 10", Aside: "if any", Mode: form.Decimal}, {Name: "cal_date", Label: "Checked on", Mode: form.Date}}
	v.Stirred = []form.Row{{Name: "basis", Label: "Stirred", Options: present.BasisOptions(), Way: ofLabMeter}}
	v.Nutrients = []form.Row{{Name: "k", Label: "Potassium, ppm", Aside: "if tested", Mode: form.Decimal, Way: ofLabOrKit},
		{Name: "mg", Label: "Magnesium, ppm", Aside: "if tested", Mode: form.Decimal, Way: ofLabOrKit}}
	v.Rest = []form.Row{{Name: "k_extractant", Label: "The lab’s extraction method", Options: present.ExtractOptions()},
		{Box: "pair", Together: []form.Row{figure("k_from", "The lab’s optimum, from ppm"), figure("k_to", "to ppm")}},
		{Name: "buffer_kind", Label: "Buffer method", Options: append([]view.Option{{Value: "", Text: "None"}}, present.BufferOptions()...)},
		figure("buffer_ph", "Buffer pH"), figure("om", "Organic matter, %"), figure("cec", "Cation exchange capacity, cmol/kg"),
		figure("ca", "Calcium, ppm"), figure("p", "Phosphorus, ppm"),
		figure("lab_rate", "The lab’s own rate of limestone, "+u.Rates().Name), figure("lab_depth", "over a depth of, "+u.Depths().Name),
		figure("lab_cce", "of limestone with a CCE of, %"), figure("lab_target", "to bring it to pH"),
		figure("capacity", "Lime buffer capacity, mg CaCO₃/kg per pH")}
	v.Noted = []form.Row{{Name: "note", Label: "Note", Box: form.Wide, MaxLength: 300}}
}

// lineFields are a pair of fields: lime or depth, and pH.
type lineFields struct {
	N         int
	First, PH view.Field
}

// SeriesFields returns the jars of a series, each with its lime and its pH.
func (v *benchView) SeriesFields() (out []lineFields) {
	for _, j := range jarLines() {
		out = append(out, lineFields{j.N, v.Form.Bare(j.Lime, fmt.Sprintf("Lime in jar %d, g a kg of soil", j.N), "jars"),
			v.Form.Bare(j.PH, fmt.Sprintf("pH of jar %d", j.N), "jars")})
	}
	return out
}

// LayerFields returns the layers of a reading, each with how far down it goes and its pH.
func (v *benchView) LayerFields() (out []lineFields) {
	for _, l := range layerLines() {
		out = append(out, lineFields{l.N, v.Form.Bare(l.To, fmt.Sprintf("Layer %d goes down to, %s", l.N, v.DepthIn()), "layers"),
			v.Form.Bare(l.PH, fmt.Sprintf("pH of layer %d", l.N), "layers")})
	}
	return out
}
