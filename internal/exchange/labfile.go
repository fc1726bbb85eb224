package exchange

import (
	"bytes"
	"cmp"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/garden"
)

// What a lab's file may be at the most.
const (
	MaxLabFile   = 10 << 20
	maxUnzipped  = 60 << 20
	maxLabRows   = 20000
	maxLabColumn = 60
	maxCell      = 500
)

// ReadCells reads a lab's file as a table of texts: CSV, or the first sheet of
// an XLSX workbook. Formulas are not worked out: a cell is what it shows.
// Errors are garden.Faults at "file".
func ReadCells(name string, data []byte) ([][]string, error) {
	if len(data) > MaxLabFile {
		return nil, fileFault("that is more than %d MB; a lab's report is smaller", MaxLabFile>>20)
	}
	var rows [][]string
	var err error
	if bytes.HasPrefix(data, []byte("PK")) {
		rows, err = readXLSX(data)
	} else {
		rows, err = readCSV(data)
	}
	if err != nil {
		return nil, err
	}
	for len(rows) > 0 && blank(rows[len(rows)-1]) {
		rows = rows[:len(rows)-1]
	}
	switch {
	case len(rows) < 2:
		return nil, fileFault("a line of heads and a line of figures are needed at the least")
	case len(rows) > maxLabRows:
		return nil, fileFault("that is more than %d lines", maxLabRows)
	}
	wide := len(rows[0])
	for i, r := range rows {
		wide = max(wide, len(r))
		for j, c := range r {
			if len(c) > maxCell {
				return nil, fileFault("line %d, column %d holds more than %d letters", i+1, j+1, maxCell)
			}
		}
	}
	if wide > maxLabColumn {
		return nil, fileFault("that is more than %d columns", maxLabColumn)
	}
	for i := range rows {
		for len(rows[i]) < wide {
			rows[i] = append(rows[i], "")
		}
	}
	return rows, nil
}

func fileFault(format string, a ...any) error {
	return garden.Faults{"file": fmt.Sprintf(format, a...)}
}

func blank(row []string) bool { return strings.TrimSpace(strings.Join(row, "")) == "" }

func readXLSX(data []byte) ([][]string, error) {
	f, err := excelize.OpenReader(bytes.NewReader(data), excelize.Options{UnzipSizeLimit: maxUnzipped, UnzipXMLSizeLimit: maxUnzipped})
	if err != nil {
		return nil, fileFault("this workbook cannot be read: %v", err)
	}
	defer func() { _ = f.Close() }()
	sheets := f.GetSheetList()
	if len(sheets) == 0 {
		return nil, fileFault("there is no sheet in it")
	}
	it, err := f.Rows(sheets[0])
	if err != nil {
		return nil, fileFault("its first sheet cannot be read: %v", err)
	}
	defer func() { _ = it.Close() }()
	var out [][]string
	for it.Next() {
		row, err := it.Columns()
		if err != nil {
			return nil, fileFault("line %d cannot be read: %v", len(out)+1, err)
		}
		if len(row) > maxLabColumn {
			return nil, fileFault("that is more than %d columns", maxLabColumn)
		}
		if out = append(out, row); len(out) > maxLabRows+1 {
			break
		}
	}
	return out, nil
}

func readCSV(data []byte) ([][]string, error) {
	data = bytes.TrimPrefix(data, []byte("\ufeff"))
	if !utf8.Valid(data) || bytes.IndexByte(data, 0) >= 0 {
		return nil, fileFault("this is neither a CSV text in UTF-8 nor an XLSX workbook")
	}
	r := csv.NewReader(bytes.NewReader(data))
	r.FieldsPerRecord = -1
	r.Comma = separator(data)
	var out [][]string
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			return nil, fileFault("%v", err)
		}
		if out = append(out, row); len(out) > maxLabRows+1 {
			return out, nil
		}
	}
}

// separator is the one that the first line has most of.
func separator(data []byte) rune {
	line, _, _ := bytes.Cut(data, []byte("\n"))
	best, most := ',', 0
	for _, c := range []rune{',', ';', '\t'} {
		if n := strings.Count(string(line), string(c)); n > most {
			best, most = c, n
		}
	}
	return best
}

// LabField is what a column of a lab's file may hold.
type LabField struct {
	ID, Name string
	// Heads are beginnings of a column's head that stand for it, in small letters.
	Heads []string
	put   func(*labRow, string) error
}

// LabLayout is how a lab's file is read: for each column the id of its field,
// "" for one that is left out, and the choices that the file does not tell.
type LabLayout struct {
	Columns []string `json:"columns"`
	Basis   string   `json:"basis"`
	KUnit   string   `json:"k_unit"`
	Dates   string   `json:"dates"`
	// Buffer is the kind of the buffer pH; Extractant what potassium was drawn
	// out with, "" when that is not known.
	Buffer     string `json:"buffer,omitempty"`
	Extractant string `json:"extractant,omitempty"`
}

// Units of potassium, magnesium, calcium and phosphorus, and orders of days.
const (
	UnitPPM       = "ppm"
	UnitPoundAcre = "lb-acre"
	UnitKgHectare = "kg-ha"
	DatesISO      = "ymd"
	DatesDMY      = "dmy"
	DatesMDY      = "mdy"
)

// labRow is a line being read.
type labRow struct {
	bed, sample string
	day         string
	r           garden.Reading
}

func amount[T ~float64](at func(*labRow) **T) func(*labRow, string) error {
	return func(row *labRow, s string) error {
		x, err := strconv.ParseFloat(strings.ReplaceAll(s, ",", "."), 64)
		if err != nil || math.IsNaN(x) || math.IsInf(x, 0) {
			return fmt.Errorf("“%s” is not a number", s)
		}
		v := T(x)
		*at(row) = &v
		return nil
	}
}

// oneOf reads a word that must be one of the known ones.
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

func ppm(at func(*garden.Reading) **quantity.Concentration) func(*labRow, string) error {
	return amount(func(row *labRow) **quantity.Concentration { return at(&row.r) })
}

// LabFields are what columns may hold, in the order in which they are offered.
var LabFields = []LabField{
	{"bed", "Bed", []string{"bed", "plot", "field", "name"}, func(r *labRow, s string) error { r.bed = s; return nil }},
	{"sample", "Sample’s code", []string{"sample", "code", "label", "lab no", "id"}, func(r *labRow, s string) error { r.sample = s; return nil }},
	{"date", "Sampled on", []string{"date", "sampled", "day"}, func(r *labRow, s string) error { r.day = s; return nil }},
	{"ph", "pH", []string{"ph", "soil ph", "reaction"}, amount(func(r *labRow) **quantity.PH { return &r.r.PH })},
	{"buffer_ph", "Buffer pH", []string{"buffer", "smp", "bph"}, amount(func(r *labRow) **quantity.PH { return &r.r.BufferPH })},
	{"k", "Potassium", []string{"k", "potassium"}, ppm(func(r *garden.Reading) **quantity.Concentration { return &r.Potassium })},
	{"mg", "Magnesium", []string{"mg", "magnesium"}, ppm(func(r *garden.Reading) **quantity.Concentration { return &r.Magnesium })},
	{"ca", "Calcium", []string{"ca", "calcium"}, ppm(func(r *garden.Reading) **quantity.Concentration { return &r.Calcium })},
	{"p", "Phosphorus", []string{"p", "phosphorus"}, ppm(func(r *garden.Reading) **quantity.Concentration { return &r.Phosphorus })},
	{"om", "Organic matter, %", []string{"om", "organic"}, amount(func(r *labRow) **quantity.Percent { return &r.r.OrganicMatter })},
	{"cec", "CEC, cmol/kg", []string{"cec", "cation"}, amount(func(r *labRow) **quantity.ChargeCapacity { return &r.r.CEC })},
	{"depth", "Depth, cm", []string{"depth"}, func(row *labRow, s string) error {
		x, err := strconv.ParseFloat(strings.ReplaceAll(s, ",", "."), 64)
		if err != nil {
			return fmt.Errorf("“%s” is not a number", s)
		}
		row.r.Depth = quantity.Depth(x) * quantity.Centimetre
		return nil
	}},
	{"cores", "Cores", []string{"cores", "number of cores"}, func(row *labRow, s string) error {
		n, err := strconv.Atoi(s)
		if err != nil {
			return fmt.Errorf("“%s” is not a whole number", s)
		}
		row.r.Cores = n
		return nil
	}},
	{"note", "Note", []string{"note", "remark", "comment"}, func(row *labRow, s string) error { row.r.Note = s; return nil }},
	{"method", "Read by", []string{"method", "read by"}, oneOf("a way of reading", methods, func(r *garden.Reading) *soil.Method { return &r.Method })},
	{"basis", "Stirred in", []string{"basis", "stirred"}, oneOf("a basis", bases, func(r *garden.Reading) *soil.Basis { return &r.Basis })},
	{"buffer_kind", "Buffer method", []string{"buffer kind", "buffer method"}, oneOf("a buffer method", soil.BufferKinds, func(r *garden.Reading) *soil.BufferKind { return &r.BufferKind })},
	{"extractant", "K drawn out with", []string{"extractant", "extraction"}, oneOf("an extractant", soil.Extractants, func(r *garden.Reading) *soil.Extractant { return &r.Extractant })},
	{"vinegar", "Vinegar jar", []string{"vinegar"}, oneOf("a strength of fizz", strengths, func(r *garden.Reading) *soil.FreeLime { return &r.Vinegar })},
	{"soda", "Soda jar", []string{"soda"}, oneOf("a strength of fizz", strengths, func(r *garden.Reading) *soil.FreeLime { return &r.Soda })},
}

func labField(id string) (LabField, bool) {
	for _, f := range LabFields {
		if f.ID == id {
			return f, true
		}
	}
	return LabField{}, false
}

// GuessLayout matches columns by their heads: a head that is a field's own name
// before one whose first word is, and that before one that only begins so. Each
// field is given once.
func GuessLayout(head []string) LabLayout {
	l := LabLayout{Columns: make([]string, len(head)), Basis: string(soil.Water), KUnit: UnitPPM, Dates: DatesISO, Buffer: string(soil.SMP)}
	taken := map[string]bool{}
	for closeness := range 3 {
		for i, h := range head {
			h = strings.ToLower(strings.ReplaceAll(strings.TrimSpace(h), "_", " "))
			word, _, _ := strings.Cut(strings.NewReplacer("_", " ", ",", " ", "(", " ").Replace(h), " ")
			for _, f := range LabFields {
				if l.Columns[i] != "" || taken[f.ID] || h == "" {
					continue
				}
				for _, own := range f.Heads {
					if h == own || closeness > 0 && word == own || closeness > 1 && strings.HasPrefix(h, own) && len(own) > 2 {
						l.Columns[i], taken[f.ID] = f.ID, true
						break
					}
				}
			}
		}
	}
	return l
}

// LabProblem is what is wrong with a cell: its line and column from 1; column 0
// is the whole line.
type LabProblem struct {
	Line, Column int
	Says         string
}

// LabReadings reads the lines under the head. beds are the garden's, by their
// names in small letters; codes are its samples'. Problems name their cells;
// with any, nothing is to be taken.
func LabReadings(cells [][]string, l LabLayout, beds map[string]garden.Bed, codes map[string][]sampling.Stretch, today quantity.Day) (out []garden.LabLine, bad []LabProblem) {
	column := map[string]int{}
	for i, id := range l.Columns {
		if id == "" {
			continue
		}
		if _, twice := column[id]; twice {
			f, _ := labField(id)
			return nil, []LabProblem{{1, i + 1, f.Name + " is given by two columns"}}
		}
		column[id] = i + 1
	}
	if column["ph"] == 0 {
		return nil, []LabProblem{{1, 0, "no column holds the pH"}}
	}
	if column["bed"] == 0 && column["sample"] == 0 {
		return nil, []LabProblem{{1, 0, "no column tells the bed or the sample"}}
	}
	for n, cellsOf := range cells[1:] {
		line := n + 2
		if blank(cellsOf) {
			continue
		}
		row := labRow{r: garden.Reading{Method: soil.Lab, Basis: soil.Basis(l.Basis), Cores: 10}}
		fine := true
		for i, id := range l.Columns {
			f, ok := labField(id)
			s := ""
			if i < len(cellsOf) {
				s = strings.TrimSpace(cellsOf[i])
			}
			if !ok || s == "" {
				continue
			}
			if err := f.put(&row, s); err != nil {
				bad, fine = append(bad, LabProblem{line, i + 1, err.Error()}), false
			}
		}
		if !fine {
			continue
		}
		x, p := row.finish(l, column, beds, codes, today)
		if p.Says != "" {
			p.Line = line
			bad = append(bad, p)
			continue
		}
		x.Line = line
		out = append(out, x)
	}
	return joinLayers(out, bad)
}

// joinLayers makes one reading of the lines of one sample's layers.
func joinLayers(lines []garden.LabLine, bad []LabProblem) ([]garden.LabLine, []LabProblem) {
	type key struct {
		code   string
		day    quantity.Day
		method soil.Method
		basis  soil.Basis
	}
	at := map[key][]garden.LabLine{}
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
		slices.SortStableFunc(parts, func(a, b garden.LabLine) int { return cmp.Compare(a.Layer.From, b.Layer.From) })
		rs, layers := make([]garden.Reading, len(parts)), make([]sampling.Stretch, len(parts))
		for i, p := range parts {
			rs[i], layers[i] = p.Reading, *p.Layer
			if i > 0 && layers[i] == layers[i-1] {
				bad = append(bad, LabProblem{p.Line, 0, "this layer of " + l.Code + " is given twice"})
			}
		}
		joined, err := garden.JoinLayers(rs, layers)
		if err != nil {
			bad = append(bad, LabProblem{l.Line, 0, err.Error()})
			continue
		}
		out = append(out, garden.LabLine{Line: l.Line, Code: l.Code, Reading: joined})
	}
	slices.SortStableFunc(out, func(a, b garden.LabLine) int { return cmp.Compare(a.Line, b.Line) })
	return out, bad
}

func (row *labRow) finish(l LabLayout, column map[string]int, beds map[string]garden.Bed, codes map[string][]sampling.Stretch, today quantity.Day) (x garden.LabLine, p LabProblem) {
	r := &row.r
	day, err := labDay(row.day, l.Dates, today)
	if err != nil {
		return x, LabProblem{0, column["date"], err.Error()}
	}
	r.Date = day
	code := strings.ToUpper(row.sample)
	sample, layer, coded := garden.FindCode(codes, code)
	b, known := beds[strings.ToLower(row.bed)]
	switch {
	case coded:
		x.Code, x.Layer = sample, layer
	case known:
		r.BedID = b.ID
	case row.bed != "":
		return x, LabProblem{0, column["bed"], "no bed is called “" + row.bed + "”"}
	case code != "":
		return x, LabProblem{0, column["sample"], "no sample has the code “" + row.sample + "”"}
	default:
		return x, LabProblem{0, 0, "neither a bed nor a sample is named"}
	}
	if r.Depth == 0 {
		if r.Depth = b.Depth; r.Depth == 0 {
			r.Depth = 0.15
		}
	}
	if r.BufferPH != nil && r.BufferKind == "" {
		r.BufferKind = soil.BufferKind(l.Buffer)
	}
	if r.Potassium != nil && r.Extractant == "" {
		r.Extractant = soil.Extractant(l.Extractant)
	}
	for _, c := range []**quantity.Concentration{&r.Potassium, &r.Magnesium, &r.Calcium, &r.Phosphorus} {
		if *c != nil {
			v := perKilo(**c, l.KUnit, b, r.Depth)
			*c = &v
		}
	}
	if err := garden.CheckReading(*r, today); err != nil {
		var f garden.Faults
		if errors.As(err, &f) {
			for field, says := range f {
				return x, LabProblem{0, column[labColumn(field)], says}
			}
		}
		return x, LabProblem{0, 0, err.Error()}
	}
	x.Reading = *r
	return x, p
}

// labColumn is the column that a fault of a reading stands at.
func labColumn(field string) string {
	return strings.TrimSuffix(strings.TrimSuffix(field, "_ppm"), "_kind")
}

// perKilo turns a lab's unit into mg/kg: lb/acre ÷ 2, kg/ha ÷ (soil mass a m² ÷
// 100).
func perKilo(c quantity.Concentration, unit string, b garden.Bed, depth quantity.Depth) quantity.Concentration {
	switch unit {
	case UnitPoundAcre:
		return c / 2
	case UnitKgHectare:
		t, ok := soil.FindTexture(b.Texture)
		if !ok {
			t, _ = soil.FindTexture(soil.Loam)
		}
		return c / quantity.Concentration(quantity.SoilMass(t.BulkDensity, depth)/100)
	}
	return c
}

// labDay reads a day in the lab's order; none is today.
func labDay(s, order string, today quantity.Day) (quantity.Day, error) {
	if s == "" {
		return today, nil
	}
	forms := map[string][]string{DatesISO: {"2006-01-02", "2006/01/02", "2006-01-02 15:04:05"}, DatesDMY: {"2/1/2006", "2.1.2006", "2-1-2006", "2/1/06"}, DatesMDY: {"1/2/2006", "1-2-2006", "01-02-06", "1/2/06"}}[order]
	for _, f := range forms {
		if t, err := time.Parse(f, s); err == nil {
			return quantity.DayOf(t), nil
		}
	}
	return 0, fmt.Errorf("“%s” is not a day in the order that was chosen", s)
}

// readingHead is the head of readings that go out.
var readingHead = []string{"bed", "sample", "date", "method", "basis", "vinegar", "soda", "buffer_kind", "extractant", "ph", "buffer_ph", "k_ppm", "mg_ppm", "ca_ppm", "p_ppm", "om_pct", "cec", "depth_cm", "cores", "note"}

// firstFigure is the first column of the head that holds figures.
const firstFigure = 9

// readingCells are the readings of a garden as a table, oldest first.
func readingCells(a garden.Archive) [][]string {
	names := map[int64]string{}
	for _, b := range a.Beds {
		names[b.ID] = b.Name
	}
	codes := map[int64]string{}
	for _, s := range a.Samples {
		codes[s.ID] = s.Code
	}
	out := [][]string{readingHead}
	for _, r := range a.Readings {
		if !r.Stands() {
			continue
		}
		code := ""
		if r.SampleID != nil {
			code = codes[*r.SampleID]
		}
		out = append(out, []string{plain(names[r.BedID]), code, r.Date.String(), string(r.Method), string(r.Basis), string(r.Vinegar), string(r.Soda), string(r.BufferKind), string(r.Extractant), opt(r.PH, 2), opt(r.BufferPH, 2),
			opt(r.Potassium, 1), opt(r.Magnesium, 1), opt(r.Calcium, 1), opt(r.Phosphorus, 1), opt(r.OrganicMatter, 2), opt(r.CEC, 1),
			fixed(float64(r.Depth)*100, 1), strconv.Itoa(r.Cores), plain(r.Note)})
	}
	return out
}

func opt[T ~float64](x *T, decimals int) string {
	if x == nil {
		return ""
	}
	return fixed(float64(*x), decimals)
}

// WriteReadings writes the readings of a garden as CSV.
func WriteReadings(w io.Writer, a garden.Archive) error {
	return csv.NewWriter(w).WriteAll(readingCells(a))
}

// WriteReadingsXLSX writes them as a workbook of one sheet.
func WriteReadingsXLSX(w io.Writer, a garden.Archive) error {
	return WriteSheet(w, "readings", readingCells(a), func(column int) bool { return column >= firstFigure && column < len(readingHead)-1 })
}

// WriteSheet writes a table with a line of heads as a workbook of one sheet:
// texts as texts, what the figures columns hold as figures, no formulas.
func WriteSheet(w io.Writer, sheet string, rows [][]string, figures func(column int) bool) error {
	f := excelize.NewFile()
	defer func() { _ = f.Close() }()
	if err := f.SetSheetName(f.GetSheetName(0), sheet); err != nil {
		return err
	}
	out, err := f.NewStreamWriter(sheet)
	if err != nil {
		return err
	}
	for i, row := range rows {
		cells := make([]any, len(row))
		for j, s := range row {
			cells[j] = s
			if x, err := strconv.ParseFloat(s, 64); err == nil && i > 0 && figures(j) {
				cells[j] = x
			}
		}
		at, err := excelize.CoordinatesToCellName(1, i+1)
		if err != nil {
			return err
		}
		if err := out.SetRow(at, cells); err != nil {
			return err
		}
	}
	if err := out.Flush(); err != nil {
		return err
	}
	return f.Write(w)
}
