package shed

import (
	"slices"

	"zephyrfield/internal/web/form"
)

// table returns the text fields of a bin or bag, and of its movements.
func (v *batchView) table() form.Table {
	in, price, aside := v.WeightIn(), "Price of a bag, or a "+v.WeightIn(), "else the usual of its kind"
	if v.Currency != "" {
		price += ", " + v.Currency
	}
	if v.Ash {
		aside = "else the usual of its fire"
	}
	t := form.Table{{Name: "name", Label: "Name", Aside: aside},
		{Name: "on_hand", Label: "How much there is, " + in, Aside: "now", Mode: form.Decimal},
		{Name: "scoop", Label: "What one weighs, " + v.MassIn, Aside: "once, on a kitchen scale", Mode: form.Decimal},
		{Name: "scoop_name", Label: "of what", Options: v.Scoops}, {Name: "note", Label: "Note"},
		{Name: "moved", Label: "How much, " + in, Mode: form.Decimal}, {Name: "moved_on", Label: "On", Mode: form.Date},
		{Name: "moved_note", Label: "Note"}}
	if v.Ash {
		return append(t, form.Row{Name: "embers", Label: "Burnt less than a week ago, or still glowing", Mode: form.Tick},
			form.Row{Name: "wet", Label: "It was rained on", Mode: form.Tick},
			form.Row{Name: "walnut", Label: "Black walnut was burnt", Mode: form.Tick},
			form.Row{Name: "vinegar", Label: "Vinegar for 10 g, mL a run", Aside: "118 122 120"},
			form.Row{Name: "vinegar_pct", Label: "Its strength, %", Aside: "5 or 9; 5 is usual", Mode: form.Decimal},
			form.Row{Name: "cce", Label: "By a lab: CCE, %", Mode: form.Decimal}, form.Row{Name: "k2o", Label: "By a lab: K₂O, %",
				Mode: form.Decimal},
			form.Row{Name: "kind", Label: "What was burnt, mostly", Options: v.Kinds},
			form.Row{Name: "charcoal", Label: "Charcoal not sifted out, %", Aside: "0 when sifted", Mode: form.Decimal},
			form.Row{Name: "burnt", Label: "Burnt on", Aside: "cold a week later", Mode: form.Date},
			form.Row{Name: "woods", Label: "Woods", Aside: "split oak, beech"},
			form.Row{Name: "keeping", Label: "Kept in", Aside: "lidded, dry, on stone"})
	}
	return append(t, form.Row{Name: "kind", Label: "What it is", Options: v.Kinds},
		form.Row{Name: "bag", Label: "A bag holds, " + in, Aside: "where it is sold so", Mode: form.Decimal},
		form.Row{Name: "price", Label: price, Mode: form.Decimal},
		form.Row{Name: "cce", Label: "CCE, %", Aside: "calcium carbonate equivalent", Mode: form.Decimal},
		form.Row{Name: "effective", Label: "or one effective figure, %", Mode: form.Decimal},
		form.Row{Name: "grade", Label: "How fine", Options: v.Grades}, form.Row{Name: "moisture", Label: "Moisture, %", Mode: form.Decimal},
		form.Row{Name: "crushed", Label: "Shells crushed by hand", Mode: form.Tick},
		form.Row{Name: "passes_1", Label: "Passes 2.36 mm, %", Aside: "where the label tells", Mode: form.Decimal},
		form.Row{Name: "passes_2", Label: "Passes 0.85 mm, %", Mode: form.Decimal},
		form.Row{Name: "passes_3", Label: "Passes 0.25 mm, %", Mode: form.Decimal})
}

// Open reports whether a folded part has a fault.
func (v batchView) Open(part string) bool {
	return slices.ContainsFunc(foldedFields[part], func(name string) bool { return v.Form.Fault(name) != "" })
}

// Known tells by which of its fields a folded part is known.
func (v batchView) Known(part string) string {
	for _, x := range knownBy {
		if v.Form.Value(x.field) != "" && slices.Contains(foldedFields[part], x.field) {
			return x.says
		}
	}
	return "not filled in"
}

// knownBy are the fields that tell most, the surest first.
var knownBy = []struct{ field, says string }{
	{"vinegar", "by vinegar"}, {"cce", "by its figures"}, {"k2o", "by its figures"}, {"grade", "by its figures"},
	{"effective", "by its figures"}, {"charcoal", "by its charcoal"}, {"burnt", "noted"}, {"woods", "noted"}, {"keeping", "noted"},
	{"note", "noted"}, {"moisture", "noted"}, {"crushed", "noted"},
}

// foldedFields are the fields of the folded parts.
var foldedFields = map[string][]string{"strength": {"vinegar", "vinegar_pct", "cce", "k2o", "charcoal"},
	"fire": {"burnt", "woods", "keeping", "note"}, "label": {"cce", "effective", "grade", "moisture", "passes_1", "passes_2", "passes_3",
		"crushed", "note"}}
