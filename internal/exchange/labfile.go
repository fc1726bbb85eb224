package exchange

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/readings"
)

// LabField is a possible content of a lab file's column.
type LabField struct {
	ID, Name string
	// Heads are prefixes of its headings, in lower case.
	Heads []string
	put   func(*labRow, string) error
	// units are its possible units; usual is the default when the heading names none, "" if it must
	// be asked.
	units []string
	usual string
	// figure is set for a numeric field.
	figure bool
}

// LabLayout is how a lab's file is read: for each column its field's id, "" to skip it, and its
// unit, "" if it has none or is ambiguous; and choices that the file does not determine.
type LabLayout struct {
	Columns []string `json:"columns"`
	Units   []string `json:"units"`
	Basis   string   `json:"basis"`
	// Dates is the order of dates, Comma the meaning of a comma in figures; "" if ambiguous.
	Dates string `json:"dates"`
	Comma string `json:"comma"`
	// Buffer is the kind of buffer pH; Extractant that of potassium, "" if unknown.
	Buffer     string `json:"buffer,omitempty"`
	Extractant string `json:"extractant,omitempty"`
}

// labRow is a line being read.
type labRow struct {
	bed, sample string
	day         string
	comma       string
	r           garden.Reading
}

func amount[T ~float64](at func(*labRow) **T) func(*labRow, string) error {
	return func(row *labRow, s string) error {
		x, err := labFigure(s, row.comma)
		if err != nil {
			return err
		}
		v := T(x)
		*at(row) = &v
		return nil
	}
}

// oneOf parses a word of a list.
func oneOf[T ~string](what string, known []T, at func(*garden.Reading) *T) func(*labRow, string) error {
	return func(row *labRow, s string) error {
		x := T(strings.ToLower(s))
		if !slices.Contains(known, x) {
			return fmt.Errorf("“%s” is not %s", s, what)
		}
		*at(&row.r) = x
		return nil
	}
}

var (
	methods   = ids(soil.Methods, func(t soil.Trust) soil.Method { return t.Method })
	bases     = ids(soil.Bases, func(b soil.BasisRow) soil.Basis { return b.Basis })
	strengths = []soil.FreeLime{soil.LimeNone, soil.LimeFaint, soil.LimeClear, soil.LimeStrong}
)

func ids[T any, ID ~string](table []T, id func(T) ID) []ID {
	out := make([]ID, len(table))
	for i, x := range table {
		out[i] = id(x)
	}
	return out
}

// nutrients are the units of potassium, magnesium and calcium; phosphorus has no charge.
var nutrients, phosphorus = []string{UnitPPM, UnitMgLitre, UnitPoundAcre, UnitKgHectare, UnitCmol, UnitOfCEC}, []string{UnitPPM,
	UnitMgLitre, UnitPoundAcre, UnitKgHectare}

func textField(id, name string, heads []string, at func(*labRow) *string) LabField {
	return LabField{ID: id, Name: name, Heads: heads, put: func(r *labRow, s string) error { *at(r) = s; return nil }}
}

func word(id, name string, heads []string, put func(*labRow, string) error) LabField {
	return LabField{ID: id, Name: name, Heads: heads, put: put}
}

func figure[T ~float64](id, name string, heads []string, at func(*labRow) **T, usual string, units ...string) LabField {
	return LabField{ID: id, Name: name, Heads: heads, put: amount(at), units: units, usual: usual, figure: true}
}

// LabFields are all fields, in the order in which they are offered.
var LabFields = []LabField{
	textField("bed", "Bed", []string{"bed", "plot", "field", "name"}, func(r *labRow) *string { return &r.bed }),
	textField("sample", "Sample’s code", []string{"sample", "code", "label", "lab no", "id"}, func(r *labRow) *string { return &r.sample }),
	textField("date", "Sampled on", []string{"date", "sampled", "day"}, func(r *labRow) *string { return &r.day }),
	figure("ph", "pH", []string{"ph", "soil ph", "reaction"}, func(r *labRow) **quantity.PH { return &r.r.PH }, ""),
	figure("buffer_ph", "Buffer pH", []string{"buffer", "smp", "bph"}, func(r *labRow) **quantity.PH { return &r.r.BufferPH }, ""),
	figure("k", "Potassium", []string{"k", "potassium"}, func(r *labRow) **quantity.Concentration { return &r.r.Potassium }, "",
		nutrients...),
	figure("mg", "Magnesium", []string{"mg", "magnesium"}, func(r *labRow) **quantity.Concentration { return &r.r.Magnesium }, "",
		nutrients...),
	figure("ca", "Calcium", []string{"ca", "calcium"}, func(r *labRow) **quantity.Concentration { return &r.r.Calcium }, "", nutrients...),
	figure("p", "Phosphorus", []string{"p", "phosphorus"}, func(r *labRow) **quantity.Concentration { return &r.r.Phosphorus }, "",
		phosphorus...),
	figure("om", "Organic matter", []string{"om", "organic"}, func(r *labRow) **quantity.Percent { return &r.r.OrganicMatter },
		UnitPercent, UnitPercent, UnitGramKilo),
	figure("cec", "CEC", []string{"cec", "cation"}, func(r *labRow) **quantity.CationExchangeCapacity { return &r.r.CEC }, UnitCmol,
		UnitCmol),
	{ID: "depth", Name: "Depth", Heads: []string{"depth"}, figure: true, units: []string{UnitCm, UnitInch, UnitMm}, usual: UnitCm,
		put: func(row *labRow, s string) error {
			x, err := labFigure(s, row.comma)
			row.r.Depth = quantity.Depth(x) * quantity.Centimetre
			return err
		}},
	word("cores", "Cores", []string{"cores", "number of cores"}, func(row *labRow, s string) error {
		n, err := strconv.Atoi(s)
		if err != nil {
			return fmt.Errorf("“%s” is not a whole number", s)
		}
		row.r.Cores = n
		return nil
	}),
	textField("note", "Note", []string{"note", "remark", "comment"}, func(r *labRow) *string { return &r.r.Note }),
	word("method", "Read by", []string{"method", "read by"},
		oneOf("a way of reading", methods, func(r *garden.Reading) *soil.Method { return &r.Method })),
	word("basis", "Stirred in", []string{"basis", "stirred"},
		oneOf("a basis", bases, func(r *garden.Reading) *soil.Basis { return &r.Basis })),
	word("buffer_kind", "Buffer method", []string{"buffer kind", "buffer method"},
		oneOf("a buffer method", soil.BufferKinds, func(r *garden.Reading) *soil.BufferKind { return &r.BufferKind })),
	word("extractant", "Extraction method", []string{"extractant", "extraction"},
		oneOf("an extractant", soil.Extractants, func(r *garden.Reading) *soil.Extractant { return &r.Extractant })),
	word("vinegar", "Vinegar jar", []string{"vinegar"},
		oneOf("a strength of fizz", strengths, func(r *garden.Reading) *soil.FreeLime { return &r.Vinegar })),
	word("soda", "Soda jar", []string{"soda"}, oneOf("a strength of fizz", strengths,
		func(r *garden.Reading) *soil.FreeLime { return &r.Soda })),
}

// FindLabField returns a field by its id.
func FindLabField(id string) (LabField, bool) {
	for _, f := range LabFields {
		if f.ID == id {
			return f, true
		}
	}
	return LabField{}, false
}

// LabProblem is a problem of a cell: line and column from 1; column 0 is the whole line.
type LabProblem struct {
	Line, Column int
	Says         string
}

// LabKnown is what the garden has: beds by lower-case name, and sample codes with their layers and
// first bed.
type LabKnown struct {
	Beds    map[string]garden.Bed
	Codes   map[string][]sampling.Stretch
	Sampled map[string]garden.Bed
}

// LabReadings parses the lines under the heading. Problems name their cells; with any, nothing may
// be imported.
func LabReadings(cells [][]string, l LabLayout, known LabKnown, today quantity.Day) (out []readings.LabLine, bad []LabProblem) {
	head := HeadLine(cells)
	column := map[string]int{}
	for i, id := range l.Columns {
		if id == "" {
			continue
		}
		if _, twice := column[id]; twice {
			f, _ := FindLabField(id)
			return nil, []LabProblem{{head + 1, i + 1, f.Name + " is given by two columns"}}
		}
		column[id] = i + 1
	}
	if column["ph"] == 0 {
		return nil, []LabProblem{{head + 1, 0, "no column holds the pH"}}
	}
	if column["bed"] == 0 && column["sample"] == 0 {
		return nil, []LabProblem{{head + 1, 0, "no column tells the bed or the sample"}}
	}
	for i, id := range l.Columns {
		if f, ok := FindLabField(id); ok && len(f.units) > 0 && l.unit(i) == "" {
			return nil, []LabProblem{{head + 1, i + 1, "in what unit is it? Choose it under the head"}}
		}
	}
	for n, cellsOf := range cells[head+1:] {
		line := n + head + 2
		if blank(cellsOf) {
			continue
		}
		row := labRow{comma: l.Comma, r: garden.Reading{Method: soil.Lab, Basis: soil.Basis(l.Basis), Cores: 10}}
		fine := map[int]bool{} // the columns that could not be read
		for i, id := range l.Columns {
			f, ok := FindLabField(id)
			s := ""
			if i < len(cellsOf) {
				s = strings.TrimSpace(cellsOf[i])
			}
			if !ok || s == "" {
				continue
			}
			if err := f.put(&row, s); err != nil {
				bad, fine[i+1] = append(bad, LabProblem{line, i + 1, err.Error()}), false
			}
		}
		// What else is wrong with the line is told at once, but not what a bad cell leads to.
		x, more := row.finish(l, column, known, today)
		for _, p := range more {
			if ok, read := fine[p.Column]; !read || ok {
				p.Line = line
				bad = append(bad, p)
			}
		}
		if len(fine) > 0 || len(more) > 0 {
			continue
		}
		x.Line = line
		out = append(out, x)
	}
	return joinLayers(out, bad)
}

// joinLayers combines the lines of one sample's layers.
func joinLayers(lines []readings.LabLine, bad []LabProblem) ([]readings.LabLine, []LabProblem) {
	type key struct {
		code   string
		day    quantity.Day
		method soil.Method
		basis  soil.Basis
	}
	at := map[key][]readings.LabLine{}
	out := lines[:0:0]
	for _, l := range lines {
		if l.Layer == nil {
			out = append(out, l)
			continue
		}
		k := key{l.Code, l.Reading.Date, l.Reading.Method, l.Reading.Basis}
		at[k] = append(at[k], l)
	}
	for _, l := range lines {
		k := key{l.Code, l.Reading.Date, l.Reading.Method, l.Reading.Basis}
		parts := at[k]
		if l.Layer == nil || len(parts) == 0 || parts[0].Line != l.Line {
			continue
		}
		delete(at, k)
		slices.SortStableFunc(parts, func(a, b readings.LabLine) int { return cmp.Compare(a.Layer.From, b.Layer.From) })
		rs, layers := make([]garden.Reading, len(parts)), make([]sampling.Stretch, len(parts))
		for i, p := range parts {
			rs[i], layers[i] = p.Reading, *p.Layer
			if i > 0 && layers[i] == layers[i-1] {
				bad = append(bad, LabProblem{p.Line, 0, "this layer of " + l.Code + " is given twice"})
			}
		}
		joined, err := readings.JoinLayers(rs, layers)
		if err != nil {
			bad = append(bad, LabProblem{l.Line, 0, err.Error()})
			continue
		}
		out = append(out, readings.LabLine{Line: l.Line, Code: l.Code, Reading: joined})
	}
	slices.SortStableFunc(out, func(a, b readings.LabLine) int { return cmp.Compare(a.Line, b.Line) })
	return out, bad
}

// finish completes a line: its day, its bed or sample, its units. It returns all problems.
func (row *labRow) finish(l LabLayout, column map[string]int, in LabKnown, today quantity.Day) (x readings.LabLine, bad []LabProblem) {
	r := &row.r
	add := func(field, says string) { bad = append(bad, LabProblem{0, column[field], says}) }
	day, err := labDay(row.day, l.Dates, today)
	if err != nil {
		add("date", err.Error())
	}
	r.Date = day
	code := strings.ToUpper(row.sample)
	sample, layer, coded := readings.FindCode(in.Codes, code)
	b, known := in.Beds[garden.Fold(row.bed)]
	switch {
	case coded:
		x.Code, x.Layer, b = sample, layer, in.Sampled[sample]
	case known:
		r.BedID = b.ID
	case row.bed != "":
		add("bed", "no bed is called “"+row.bed+"”: choose it")
	case code != "":
		add("sample", "no sample has the code “"+row.sample+"”")
	default:
		add("", "neither a bed nor a sample is named")
	}
	if p := row.inUnits(l, column, b); p.Says != "" {
		bad = append(bad, p)
	}
	if len(bad) > 0 {
		return x, bad
	}
	if r.BufferPH != nil && r.BufferKind == "" {
		r.BufferKind = soil.BufferKind(l.Buffer)
	}
	if r.Potassium != nil && r.Extractant == "" {
		r.Extractant = soil.Extractant(l.Extractant)
	}
	if err := garden.CheckReading(*r, today); err != nil {
		var f garden.Faults
		if !errors.As(err, &f) {
			add("", err.Error())
		}
		for _, field := range slices.Sorted(maps.Keys(f)) {
			add(labColumn(field), f[field])
		}
		return x, bad
	}
	x.Reading = *r
	return x, nil
}

// inUnits converts a line's figures to the garden's units, using its bed's soil.
func (row *labRow) inUnits(l LabLayout, column map[string]int, b garden.Bed) (p LabProblem) {
	r := &row.r
	switch l.unit(column["depth"] - 1) {
	case UnitInch:
		r.Depth *= 2.54
	case UnitMm:
		r.Depth /= 10
	}
	if r.OrganicMatter != nil && l.unit(column["om"]-1) == UnitGramKilo {
		share := *r.OrganicMatter / 10
		r.OrganicMatter = &share
	}
	if r.Depth == 0 {
		if r.Depth = b.Depth; r.Depth == 0 {
			r.Depth = 0.15
		}
	}
	for field, c := range map[string]**quantity.Concentration{"k": &r.Potassium, "mg": &r.Magnesium, "ca": &r.Calcium, "p": &r.Phosphorus} {
		if *c == nil {
			continue
		}
		v, err := row.perKilo(**c, field, l.unit(column[field]-1), b)
		if err != nil {
			return LabProblem{0, column[field], err.Error()}
		}
		*c = &v
	}
	return p
}

// labFieldOf maps a reading's fields to columns.
var labFieldOf = garden.Fields{"k_ppm": "k", "mg_ppm": "mg", "buffer": "buffer_ph", "buffer.kind": "buffer_kind", "k_range": "k"}

// labColumn returns the column of a reading's fault.
func labColumn(path string) string {
	return strings.TrimSuffix(strings.TrimSuffix(labFieldOf.Of(path), "_ppm"), "_kind")
}

// unit returns a column's unit; "" for none.
func (l LabLayout) unit(i int) string {
	if i < 0 || i >= len(l.Units) {
		return ""
	}
	return l.Units[i]
}
