package exchange

import (
	"io"
	"strconv"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// readingHead is the heading of exported readings.
var readingHead = []string{"bed", "sample", "date", "method", "basis", "vinegar", "soda", "buffer_kind", "extractant", "ph",
	"buffer_ph", "k_ppm", "mg_ppm", "ca_ppm", "p_ppm", "om_pct", "cec", "depth_cm", "cores", "note"}

// firstFigure is the first numeric column.
const firstFigure = 9

// ReadingList is the garden's readings with the names that they refer to.
type ReadingList struct {
	Beds     []garden.Bed
	Samples  []garden.Sample
	Readings []garden.Reading
}

// ReadingsOf returns the list, in order of entry.
func ReadingsOf(r garden.Reader) (l ReadingList, err error) {
	if l.Beds, err = garden.All[garden.Bed](r); err != nil {
		return l, err
	}
	if l.Samples, err = garden.All[garden.Sample](r); err != nil {
		return l, err
	}
	err = r.Each("readings", func(rec garden.Record) error { l.Readings = append(l.Readings, *rec.(*garden.Reading)); return nil })
	return l, err
}

// readingCells returns the readings as a table.
func readingCells(a ReadingList) [][]string {
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
		out = append(out, []string{plain(names[r.BedID]), code, r.Date.String(), string(r.Method), string(r.Basis), string(r.Vinegar),
			string(r.Soda), string(r.BufferKind), string(r.Extractant), opt(r.PH, 2), opt(r.BufferPH, 2),
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
func WriteReadings(w io.Writer, a ReadingList) error {
	return newCSV(w).WriteAll(readingCells(a))
}

// WriteReadingsXLSX writes them as a workbook of one sheet.
func WriteReadingsXLSX(w io.Writer, a ReadingList) error {
	return WriteSheet(w, "readings", readingCells(a), func(column int) CellKind {
		switch {
		case readingHead[column] == "date":
			return DayCell
		case column >= firstFigure && column < len(readingHead)-1:
			return FigureCell
		}
		return TextCell
	})
}

// CellKind is the type of a column's cells.
type CellKind int

// Kinds of cell.
const (
	TextCell CellKind = iota
	FigureCell
	DayCell
)

// Bounds of column widths in letters.
const (
	narrowest = 9
	widest    = 42
)

// WriteSheet writes a table with a heading as a workbook of one sheet: strings, numbers and dates,
// no formulas. The heading is frozen, and columns fit their content.
func WriteSheet(w io.Writer, sheet string, rows [][]string, kind func(column int) CellKind) error {
	f := excelize.NewFile()
	defer func() { _ = f.Close() }()
	if err := f.SetSheetName(f.GetSheetName(0), sheet); err != nil {
		return err
	}
	out, err := f.NewStreamWriter(sheet)
	if err != nil {
		return err
	}
	pattern := "yyyy-mm-dd"
	asDay, err := f.NewStyle(&excelize.Style{CustomNumFmt: &pattern})
	if err != nil {
		return err
	}
	bold, err := f.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	if err != nil {
		return err
	}
	for j, wide := range widths(rows) {
		if err := out.SetColWidth(j+1, j+1, float64(wide)); err != nil {
			return err
		}
	}
	if err := out.SetPanes(&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	for i, row := range rows {
		cells := make([]any, len(row))
		for j, s := range row {
			if cells[j] = s; i == 0 {
				cells[j] = excelize.Cell{StyleID: bold, Value: s}
			} else {
				cells[j] = cellOf(s, kind(j), asDay)
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

// cellOf returns a string as a cell of a type, or as a string if it does not parse.
func cellOf(s string, kind CellKind, asDay int) any {
	switch kind {
	case FigureCell:
		if x, err := strconv.ParseFloat(s, 64); err == nil {
			return x
		}
	case DayCell:
		if d, err := quantity.ParseDay(s); err == nil {
			return excelize.Cell{StyleID: asDay, Value: d.Time()}
		}
	}
	return s
}

// widths returns the columns' widths by content.
func widths(rows [][]string) (out []int) {
	for _, row := range rows {
		for j, s := range row {
			if j == len(out) {
				out = append(out, narrowest)
			}
			out[j] = min(max(out[j], utf8.RuneCountInString(s)+2), widest)
		}
	}
	return out
}
