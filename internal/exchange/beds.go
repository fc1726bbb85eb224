package exchange

import (
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/layout"
)

// bedColumn is a column of a table of beds: its heading, and how a cell is parsed.
type bedColumn struct {
	head string
	read func(x *layout.New, cell string) error
}

func length(to func(*garden.Bed) *float64, unit float64) func(*layout.New, string) error {
	return func(x *layout.New, cell string) error {
		m, ok, err := parsed(cell)
		if err != nil || !ok {
			return fmt.Errorf("%q is not a number", cell)
		}
		*to(&x.Bed) = m * unit
		return nil
	}
}

func long(b *garden.Bed) *float64 { return &b.W }
func wide(b *garden.Bed) *float64 { return &b.H }
func west(b *garden.Bed) *float64 { return &b.X }
func top(b *garden.Bed) *float64  { return &b.Y }

func depth(unit quantity.Depth) func(*layout.New, string) error {
	return func(x *layout.New, cell string) error {
		d, ok, err := parsed(cell)
		if err != nil || !ok {
			return fmt.Errorf("%q is not a number", cell)
		}
		x.Bed.Depth = quantity.Depth(d) * unit
		return nil
	}
}

// kebab returns a cell in the form of ids: lower case with hyphens.
func kebab(cell string) string { return strings.Join(strings.Fields(strings.ToLower(cell)), "-") }

// foot is a foot in metres.
const foot = 0.3048

// bedColumns are the columns of a table of beds; name, length and width are required.
var bedColumns = []bedColumn{
	{"name", func(x *layout.New, cell string) error { x.Bed.Name = cell; return nil }},
	{"length_m", length(long, 1)}, {"length_ft", length(long, foot)}, {"width_m", length(wide, 1)}, {"width_ft", length(wide, foot)},
	{"x_m", length(west, 1)}, {"y_m", length(top, 1)},
	{"depth_cm", depth(quantity.Centimetre)}, {"depth_in", depth(quantity.Inch)},
	{"part", func(x *layout.New, cell string) error { x.Bed.Part = cell; return nil }},
	{"kind", func(x *layout.New, cell string) error { x.Bed.Kind = kebab(cell); return nil }},
	{"texture", func(x *layout.New, cell string) error { x.Bed.Texture = soil.Texture(kebab(cell)); return nil }},
	{"worked", func(x *layout.New, cell string) error { x.Bed.Worked = soil.Worked(kebab(cell)); return nil }},
	{"crop", func(x *layout.New, cell string) error { x.Crop = cell; return nil }},
	{"sown", func(x *layout.New, cell string) (err error) { x.Sown, err = quantity.ParseDay(cell); return err }},
	{"note", func(x *layout.New, cell string) error { x.Bed.Note = cell; return nil }},
}

// BedHeads returns the headings of a table of beds.
func BedHeads() (out []string) {
	for _, c := range bedColumns {
		out = append(out, c.head)
	}
	return out
}

// ReadBeds reads a table of beds: CSV, XLSX, or cells pasted from a spreadsheet. Missing values
// take the defaults. Faults name their line.
func ReadBeds(name string, data []byte, usual layout.New) (out []layout.New, err error) {
	rows, err := ReadCells(name, data)
	if err != nil {
		return nil, err
	}
	at := make([]int, len(rows[0]))
	seen := map[string]bool{}
	for i, h := range rows[0] {
		head := strings.ToLower(strings.TrimSpace(h))
		at[i] = slices.IndexFunc(bedColumns, func(c bedColumn) bool { return c.head == head })
		if at[i] < 0 && head != "" {
			return nil, fileFault("a column called %q is not known; there are %s", h, strings.Join(BedHeads(), ", "))
		}
		seen[head] = true
	}
	if !seen["name"] || !seen["length_m"] && !seen["length_ft"] || !seen["width_m"] && !seen["width_ft"] {
		return nil, fileFault("the first line must say what the columns are: name, length_m and width_m are needed")
	}
	for n, row := range rows[1:] {
		if blank(row) {
			continue
		}
		if len(out) == layout.MostAtOnce {
			return nil, fileFault("at most %d beds at once", layout.MostAtOnce)
		}
		x := usual
		x.Line, x.Placed = n+2, seen["x_m"] && seen["y_m"]
		for i, cell := range row {
			cell = strings.TrimPrefix(strings.TrimSpace(cell), "'")
			if i >= len(at) || at[i] < 0 || cell == "" {
				continue
			}
			if err := bedColumns[at[i]].read(&x, cell); err != nil {
				return nil, fileFault("line %d, %s: %v", x.Line, bedColumns[at[i]].head, err)
			}
		}
		out = append(out, x)
	}
	if len(out) == 0 {
		return nil, fileFault("there is no bed in it")
	}
	return out, nil
}
