package form

import (
	"cmp"
	"slices"

	"zephyrfield/internal/web/view"
)

// Row is a field in the table of a form.
type Row struct {
	Name, Label string
	// Aside stands beside the label in grey, AsideWay is the way of reading that it is shown with;
	// Called is what it is called where no label is seen.
	Aside, AsideWay, Called string
	// Mode is how it is given: Date, File, Lines, Password, Tick, or the keyboard that a phone
	// shows; "" is the usual one.
	Mode string
	// Options are what it is chosen from, where it is chosen.
	Options []view.Option
	// Suggests are offered where it is typed.
	Suggests []string
	// Placeholder stands in it while it is empty.
	Placeholder string
	// Figure is set where it has the large letters of a figure that is read off.
	Figure    bool
	MaxLength int
	// Lines is how many lines of text there is room for, in a field of Lines.
	Lines int
	// Accept is what a field of File takes, as Sheets; Camera lets a phone take a picture for it.
	Accept string
	Camera bool
	// Min and Max bound a day.
	Min, Max string
	// Group is the field whose sentence it shares; "" where it has one of its own. Silent is set where
	// nothing can be wrong with it that would be said.
	Group  string
	Silent bool
	// ID is the field's in the page where it is not its name: of a form that stands there several times.
	ID string
	// Form, Box, For, By, Way and Hook are a view.Field's.
	Form, Box, For, By, Way, Hook string
	// Together are fields that stand in one place, in the place of a field.
	Together []Row
}

// Date is typed as a day, File is chosen, Lines are text of several lines, Decimal and Numeric
// figures; Tick is ticked and says Yes.
const (
	Date     = "date"
	File     = "file"
	Lines    = "lines"
	Decimal  = "decimal"
	Numeric  = "numeric"
	Password = "password"
	Tick     = "tick"
)

// Yes is what a field says that is ticked.
const Yes = "yes"

// Sheets, CSV, Archives, Plans and Pictures are what a file is offered as, by ending and by type.
const (
	CSV      = ".csv,text/csv"
	Sheets   = ".csv,.txt,.tsv,.xlsx,text/csv"
	Archives = ".json,application/json"
	Plans    = ".geojson,.json,application/geo+json"
	Pictures = "image/jpeg,image/png"
)

// Wide lets a field take the whole line of its form.
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

// Names returns the fields of a table, to be read from a request.
func (t Table) Names() (out []string) {
	for _, r := range t {
		out = append(out, r.Name)
	}
	return out
}

// Resolve says of a field what stands in it and what is wrong with it.
func (f Form) Resolve(r Row) view.Field {
	id := cmp.Or(r.ID, r.Name)
	group, told := cmp.Or(r.Group, r.Name), cmp.Or(r.Group, id)
	out := view.Field{ID: id, Name: r.Name, Label: r.Label, Aside: r.Aside, AsideWay: r.AsideWay, Called: r.Called,
		Form: r.Form, Value: f.Value(r.Name), Fault: f.Fault(r.Name),
		FaultID: told + "-fault", Bad: f.Fault(r.Name) != "" || f.Fault(group) != "", Mode: r.Mode, Suggests: r.Suggests,
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

// Figure resolves one with the large letters of a figure that is read off.
func (f Form) Figure(name, label, aside, mode string) view.Field {
	return f.Resolve(Row{Name: name, Label: label, Aside: aside, Mode: mode, Figure: true})
}

// Bare resolves a field of figures that stands in a row with others: what it is called is heard,
// not seen, and the row has one sentence for what is wrong.
func (f Form) Bare(name, called, group string) view.Field {
	return f.Resolve(Row{Name: name, Called: called, Mode: Decimal, Group: group})
}

// Small resolves a field of figures that stands in a row with others, with its label above it and
// what is usual in grey; the row has one sentence for what is wrong.
func (f Form) Small(name, label, usual, group string) view.Field {
	return f.Resolve(Row{Name: name, Label: label, Mode: Decimal, Group: group, Placeholder: usual})
}

// Choose marks what stands in a field among a list.
func (f Form) Choose(name string, list []view.Option) []view.Option {
	return view.Choose(list, f.Value(name))
}

// Tiles resolves a row of tiles of which one is taken; their ids begin with prefix.
func (f Form) Tiles(name, prefix string, list []view.Choice) []view.Choice {
	return tiles(name, prefix, list, func(value string) bool { return f.Is(name, value) })
}

// Ticks resolves a row of tiles of which any number is taken; their ids begin with prefix.
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

// Hidden carries fields along that are not shown.
func (f Form) Hidden(names []string) []view.Hidden {
	out := make([]view.Hidden, len(names))
	for i, n := range names {
		out[i] = view.Hidden{Name: n, Value: f.Value(n)}
	}
	return out
}
