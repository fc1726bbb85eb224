package present

import (
	"strconv"
	"strings"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/view"
)

// PlantingTable returns the fields of a coming planting.
func PlantingTable(crops []view.Option) form.Table {
	return form.Table{{Name: "crop", Label: "Crop", Options: append([]view.Option{{Text: "Choose a crop"}}, crops...)},
		{Name: "sown", Label: "Sown or planted on", Mode: form.Date},
		{Name: "planted_out", Label: "Young plants, put out", Mode: form.Tick},
		{Name: "together", Label: "Together with what grows there; otherwise that is cleared by then", Mode: form.Tick}}
}

// AmountTable returns the fields of an applied amount with its measures; the planned amount is a
// placeholder. Forms of several beds can be on one page, so ids include the id.
func AmountTable(id int64, label, planned string, in []view.Option) form.Table {
	return form.Table{{Name: "amount", ID: IDOn("amount", id), Label: label, Mode: form.Decimal, Placeholder: planned},
		{Name: "measure", ID: IDOn("measure", id), Label: "in", Options: in}}
}

// IDOn returns the id of a field that is repeated on a page.
func IDOn(name string, id int64) string { return name + "-" + strconv.FormatInt(id, 10) }

// TextureOptions returns the soil textures as options.
func TextureOptions() (out []view.Option) {
	for _, t := range soil.Textures {
		out = append(out, view.Option{Value: string(t.ID), Text: text.Capital(text.Name(t.ID))})
	}
	return out
}

// WorkedOptions returns the ways of working soil as options.
func WorkedOptions() (out []view.Option) {
	for _, w := range soil.WaysWorked {
		out = append(out, view.Option{Value: string(w), Text: text.Capital(text.Name(w))})
	}
	return out
}

// LimeOptions returns the classes of free lime as options.
func LimeOptions() (out []view.Option) {
	for _, l := range []soil.FreeLime{soil.LimeUnknown, soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong} {
		out = append(out, view.Option{Value: string(l), Text: text.Capital(limeNames[l])})
	}
	return out
}

// limeNames describe the result of vinegar on dry soil.
var limeNames = map[soil.FreeLime]string{soil.LimeUnknown: "not tried", soil.LimeNone: "nothing", soil.LimeFaint: "faint fizz",
	soil.LimeClear: "clear fizz", soil.LimeStrong: "strong fizz"}

// BasisOptions returns the pH bases as options.
func BasisOptions() (out []view.Option) {
	for _, b := range soil.Bases {
		out = append(out, view.Option{Value: string(b.Basis), Text: text.Capital(text.Name(b.Basis))})
	}
	return out
}

// BufferOptions returns the labs' buffers as options.
func BufferOptions() (out []view.Option) {
	for _, k := range soil.BufferKinds {
		out = append(out, view.Option{Value: string(k), Text: text.Name(k)})
	}
	return out
}

// ExtractOptions returns the labs' extractants as options.
func ExtractOptions() []view.Option {
	out := []view.Option{{Value: "", Text: "Not said"}}
	for _, e := range soil.Extractants {
		out = append(out, view.Option{Value: string(e), Text: text.Capital(text.Name(e))})
	}
	return out
}

// Brings are the nutrients that an application supplies, in order of display.
var Brings = []struct {
	name string
	Of   func(ledger.Brought) quantity.Rate
}{
	{"lime value", func(b ledger.Brought) quantity.Rate { return b.CaCO3 }},
	{"N", func(b ledger.Brought) quantity.Rate { return b.N }},
	{"P₂O₅", func(b ledger.Brought) quantity.Rate { return b.P2O5 }},
	{"K₂O", func(b ledger.Brought) quantity.Rate { return b.K2O }},
	{"Mg", func(b ledger.Brought) quantity.Rate { return b.Magnesium }},
}

// LeastShown is the least amount shown, g/m².
const LeastShown = 0.05

// MaterialOptions returns the applicable materials as options.
func MaterialOptions() (out []view.Option) {
	for _, m := range material.Table {
		out = append(out, view.Option{Value: string(m.Kind), Text: text.Capital(m.Name)})
	}
	return out
}

// BroughtWords returns what applications supply, in words.
func BroughtWords(all ledger.Brought, u text.Units) string {
	var says []string
	for _, b := range Brings {
		if r := b.Of(all); max(r, -r) >= LeastShown {
			says = append(says, b.name+" "+u.Rate(r))
		}
	}
	return strings.Join(says, " · ")
}
