package form

import (
	"cmp"
	"slices"

	"zephyrfield/internal/web/view"
)

// Row is a field in a form's table.
type Row struct {
	Name, Label string
	// Aside is shown beside the label in grey; AsideWay is the way of reading that it is shown
	// with; Called is the name where no label is visible.
	Aside, AsideWay, Called string
	// Mode is the kind of input: Date, File, Lines, Password, Tick, or the keyboard that a phone
	// shows; "" is text.
	Mode string
	// Options are the choices of a select.
	Options []view.Option
	// Suggests are suggestions for a text field.
	Suggests []string
	// Placeholder is shown while it is empty.
	Placeholder string
	// Figure is set for a field with large digits.
	Figure    bool
	MaxLength int
	// Lines is the height of a field of Lines.
	Lines int
	// Accept is the accepted files, as Sheets; Camera lets a phone take a picture.
	Accept string
	Camera bool
	// Min and Max bound a date.
	Min, Max string
	// Group is the field whose message it shares; "" for its own. Silent is set for a field that
	// never has a message.
	Group  string
	Silent bool
	// ID is the element's id if it differs from its name, for forms repeated on a page.
	ID string
	// Form, Box, For, By, Way and Hook are a view.Field's.
	Form, Box, For, By, Way, Hook string
	// Together are fields shown in one place, instead of a single field.
	Together []Row
}

// The modes: Date is a date input, File a file, Lines a text area, Decimal and Numeric figures;
// Tick is a checkbox with the value Yes.
const (
	Date     = "date"
	File     = "file"
	Lines    = "lines"
	Decimal  = "decimal"
	Numeric  = "numeric"
	Password = "password"
	Tick     = "tick"
)

// Yes is the value of a ticked field.
const Yes = "yes"

// Accepted files, by extension and type.
const (
	CSV      = ".csv,text/csv"
	Sheets   = ".csv,.txt,.tsv,.xlsx,text/csv"
	Archives = ".json,application/json"
	Plans    = ".geojson,.json,application/geo+json"
	Pictures = "image/jpeg,image/png"
)

// Wide makes a field take a form's whole line.
const Wide = "wide"

// Table is the fields of a form.
type Table []Row

// Fields resolves a table by the names of its fields.
func (f Form) Fields(t Table) map[string]view.Field {
	out := make(map[string]view.Field, len(t))
	for i := range t {
		out[t[i].Name] = f.Resolve(t[i])
	}
	return out
}

// Rows resolves a table in its order.
func (f Form) Rows(t []Row) []view.Field {
	out := make([]view.Field, len(t))
	for i := range t {
		out[i] = f.Resolve(t[i])
	}
	return out
}

// Names returns a table's field names, to be read from a request.
func (t Table) Names() (out []string) {
	for _, r := range t {
		out = append(out, r.Name)
	}
	return out
}

// Resolve returns a row's field with value and fault.
func (f Form) Resolve(r Row) view.Field {
	id := cmp.Or(r.ID, r.Name)
	group, faultID := cmp.Or(r.Group, r.Name), cmp.Or(r.Group, id)
	out := view.Field{ID: id, Name: r.Name, Label: r.Label, Aside: r.Aside, AsideWay: r.AsideWay, Called: r.Called,
		Form: r.Form, Value: f.Value(r.Name), Fault: f.Fault(r.Name),
		FaultID: faultID + "-fault", Bad: f.Fault(r.Name) != "" || f.Fault(group) != "", Mode: r.Mode, Suggests: r.Suggests,
		Placeholder: r.Placeholder, Figure: r.Figure, MaxLength: r.MaxLength, Accept: r.Accept, Camera: r.Camera,
		Min: r.Min, Max: r.Max, Box: r.Box, For: r.For, By: r.By, Way: r.Way, Hook: r.Hook}
	if r.Options != nil {
		out.Options = view.Choose(r.Options, out.Value)
	}
	if r.Silent {
		out.FaultID = ""
	}
	switch r.Mode {
	case Lines:
		out.Lines, out.Mode = max(r.Lines, 2), ""
	case Tick:
		out.Tick, out.Ticked, out.Mode, out.Value = true, out.Value == Yes, "", Yes
	case Date, File, Password:
		out.Type, out.Mode = r.Mode, ""
	}
	if r.Together != nil {
		out.Together = f.Rows(r.Together)
	}
	return out
}

// Field resolves a field with its label, mode as in a Row.
func (f Form) Field(name, label, aside, mode string) view.Field {
	return f.Resolve(Row{Name: name, Label: label, Aside: aside, Mode: mode})
}

// Figure resolves a field with large digits.
func (f Form) Figure(name, label, aside, mode string) view.Field {
	return f.Resolve(Row{Name: name, Label: label, Aside: aside, Mode: mode, Figure: true})
}

// Bare resolves a numeric field in a row of fields: its name is read out but not shown, and the row
// shares one message.
func (f Form) Bare(name, called, group string) view.Field {
	return f.Resolve(Row{Name: name, Called: called, Mode: Decimal, Group: group})
}

// Small resolves a numeric field in a row of fields, with its label above and the default in grey;
// the row shares one message.
func (f Form) Small(name, label, usual, group string) view.Field {
	return f.Resolve(Row{Name: name, Label: label, Mode: Decimal, Group: group, Placeholder: usual})
}

// Choose marks a field's value in a list.
func (f Form) Choose(name string, list []view.Option) []view.Option {
	return view.Choose(list, f.Value(name))
}

// Tiles resolves a row of tiles with one chosen; their ids begin with prefix.
func (f Form) Tiles(name, prefix string, list []view.Choice) []view.Choice {
	return tiles(name, prefix, list, func(value string) bool { return f.Is(name, value) })
}

// Ticks resolves a row of tiles with any number chosen; their ids begin with prefix.
func Ticks(name, prefix string, list []view.Choice, taken []string) []view.Choice {
	out := tiles(name, prefix, list, func(value string) bool { return slices.Contains(taken, value) })
	for i := range out {
		out[i].Many = true
	}
	return out
}

func tiles(name, prefix string, list []view.Choice, on func(value string) bool) []view.Choice {
	out := slices.Clone(list)
	for i := range out {
		t := &out[i]
		t.ID, t.Name, t.On = prefix+"-"+t.Value, name, on(t.Value)
	}
	return out
}

// Hidden returns hidden fields.
func (f Form) Hidden(names []string) []view.Hidden {
	out := make([]view.Hidden, len(names))
	for i, n := range names {
		out[i] = view.Hidden{Name: n, Value: f.Value(n)}
	}
	return out
}
