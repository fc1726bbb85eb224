package exchange

import (
	"fmt"
	"slices"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/soil"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/layout"
)

// bedColumn is a column of a table of beds: its heading, the labels that it has elsewhere, and how a
// cell is parsed.
type bedColumn struct {
	head string
	also []string
	read func(x *layout.New, cell string) error
}

// named returns the id whose name a cell holds, else the cell in the form of ids.
func named[T ~string](ids []T, cell string) T {
	for _, id := range ids {
		if strings.EqualFold(text.Name(id), cell) || strings.EqualFold(text.Short(id), cell) {
			return id
		}
	}
	return T(kebab(cell))
}

func length(to func(*garden.Bed) *float64, unit float64) func(*layout.New, string) error {
	return func(x *layout.New, cell string) error {
		m, ok, err := parsed(cell)
		if err != nil || !ok {
			return fmt.Errorf("“%s” is not a number", cell)
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
			return fmt.Errorf("“%s” is not a number", cell)
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
	{"name", []string{"bed", "its name"}, func(x *layout.New, cell string) error { x.Bed.Name = cell; return nil }},
	{"length_m", []string{"length", "length, m", "length (m)"}, length(long, 1)}, {"length_ft", []string{"length, ft", "length (ft)"},
		length(long, foot)},
	{"width_m", []string{"width", "width, m", "width (m)"}, length(wide, 1)}, {"width_ft", []string{"width, ft", "width (ft)"},
		length(wide, foot)},
	{"x_m", nil, length(west, 1)}, {"y_m", nil, length(top, 1)},
	{"depth_cm", []string{"depth", "depth, cm", "depth (cm)"}, depth(quantity.Centimetre)},
	{"depth_in", []string{"depth, in", "depth (in)"}, depth(quantity.Inch)},
	{"part", []string{"part of the garden"}, func(x *layout.New, cell string) error { x.Bed.Part = cell; return nil }},
	{"kind", nil, func(x *layout.New, cell string) error { x.Bed.Kind = kebab(cell); return nil }},
	{"texture", []string{"soil"}, func(x *layout.New, cell string) error {
		x.Bed.Texture = named(textures(), cell)
		return nil
	}},
	{"worked", []string{"how it is worked"}, func(x *layout.New, cell string) error {
		x.Bed.Worked = named([]soil.Worked{soil.Dug, soil.DugAmong, soil.Surface, soil.Established}, cell)
		return nil
	}},
	{"crop", []string{"next crop", "crops"}, func(x *layout.New, cell string) error { x.Crop = cell; return nil }},
	{sownHead, []string{"sown or planted on", "planted", "sowing"}, nil},
	{"note", []string{"notes"}, func(x *layout.New, cell string) error { x.Bed.Note = cell; return nil }},
}

// sownHead is the column of days, which are read in the order that all of them have.
const sownHead = "sown"

func textures() (out []soil.Texture) {
	for _, t := range soil.Textures {
		out = append(out, t.ID)
	}
	return out
}

// columnOf returns the column of a heading; -1 for none.
func columnOf(head string) int {
	head = strings.ToLower(strings.TrimSpace(head))
	return slices.IndexFunc(bedColumns, func(c bedColumn) bool { return c.head == head || slices.Contains(c.also, head) })
}

// BedHeads returns the headings of a table of beds.
func BedHeads() (out []string) {
	for _, c := range bedColumns {
		out = append(out, c.head)
	}
	return out
}

// ReadBeds reads a table of beds: CSV, XLSX, or cells pasted from a spreadsheet. Missing values
// take the defaults. All that is wrong is told at once, by line and column.
func ReadBeds(name string, data []byte, usual layout.New) (out []layout.New, err error) {
	rows, err := ReadCells(name, data)
	if err != nil {
		return nil, err
	}
	at, seen, err := bedHead(rows[0])
	if err != nil {
		return nil, err
	}
	order, wrong := guessDates(sownDays(rows[1:], at)), []string{}
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
			if err := readCell(&x, bedColumns[at[i]], cell, order); err != nil {
				wrong = append(wrong, fmt.Sprintf("line %d, %s: %v", x.Line, bedColumns[at[i]].head, err))
			}
		}
		out = append(out, x)
	}
	if len(wrong) > 0 {
		return nil, garden.Faults{"file": text.Several(wrong)}
	}
	if len(out) == 0 {
		return nil, fileFault("there is no bed in it")
	}
	return out, nil
}

// bedHead matches the columns by their headings.
func bedHead(heads []string) (at []int, seen map[string]bool, err error) {
	at, seen = make([]int, len(heads)), map[string]bool{}
	for i, h := range heads {
		at[i] = columnOf(h)
		if at[i] < 0 && strings.TrimSpace(h) != "" {
			return nil, nil, fileFault("a column called %q is not known; there are %s", h, strings.Join(BedHeads(), ", "))
		}
		if at[i] >= 0 {
			seen[bedColumns[at[i]].head] = true
		}
	}
	if !seen["name"] || !seen["length_m"] && !seen["length_ft"] || !seen["width_m"] && !seen["width_ft"] {
		return nil, nil, fileFault("the first line must say what the columns are: name, length_m and width_m are needed")
	}
	return at, seen, nil
}

// sownDays returns the days of a table as they are written.
func sownDays(rows [][]string, at []int) (out []string) {
	for _, row := range rows {
		for i, cell := range row {
			if i < len(at) && at[i] >= 0 && bedColumns[at[i]].head == sownHead {
				out = append(out, strings.TrimPrefix(strings.TrimSpace(cell), "'"))
			}
		}
	}
	return out
}

// readCell reads a cell of a column; order is that of the table's days, "" where several are possible.
func readCell(x *layout.New, c bedColumn, cell, order string) (err error) {
	if c.head != sownHead {
		return c.read(x, cell)
	}
	if day, ok := dayIn(cell, order); ok {
		x.Sown = day
		return nil
	}
	if x.Sown, err = labDay(cell, "", 0); err != nil {
		return fmt.Errorf("“%s” is not a clear day: write it as 2027-05-04", cell)
	}
	return nil
}
