package exchange

import (
	"encoding/csv"
	"io"
	"strconv"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// readingHead is the head of readings that go out.
var readingHead = []string{"bed", "sample", "date", "method", "basis", "vinegar", "soda", "buffer_kind", "extractant", "ph",
	"buffer_ph", "k_ppm", "mg_ppm", "ca_ppm", "p_ppm", "om_pct", "cec", "depth_cm", "cores", "note"}

// firstFigure is the first column of the head that holds figures.
const firstFigure = 9

// ReadingList is the readings of a garden with what their lines name.
type ReadingList struct {
	Beds     []garden.Bed
	Samples  []garden.Sample
	Readings []garden.Reading
}

// ReadingsOf reads the list, in the order in which they came.
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
	return csv.NewWriter(w).WriteAll(readingCells(a))
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

// CellKind is what the cells of a column hold.
type CellKind int

// Kinds of cell.
const (
	TextCell CellKind = iota
	FigureCell
	DayCell
)

// How wide a column may be, in letters.
const (
	narrowest = 9
	widest    = 42
)

// WriteSheet writes a table with a line of heads as a workbook of one sheet: texts
// as texts, figures as figures, days as days, no formulas. The heads stay in sight,
// and each column is as wide as what stands in it.
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

// cellOf returns a text as the cell of its kind; what is not of the kind stays a text.
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

// widths returns how wide the columns are to be, by what stands in them.
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
