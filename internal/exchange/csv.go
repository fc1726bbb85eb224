package exchange

import (
	"encoding/csv"
	"io"
	"strconv"
	"strings"

	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/rounds"
)

// WriteBeds writes the beds of a view as CSV: one line per bed, SI units, empty if unknown.
func WriteBeds(w io.Writer, v bedstate.View) error {
	out := newCSV(w)
	rows := [][]string{{"bed", "kind", "area_m2", "texture", "depth_cm", "worked", "crop", "day", "ph_water", "expected", "read_on",
		"method", "stands", "off", "k_ppm", "potassium"}}
	for _, p := range v.Beds {
		b := p.Bed
		row := []string{b.Name, b.Kind, fixed(float64(b.Area()), 2), string(b.Texture), fixed(float64(b.Depth)*100, 1),
			string(b.Worked), p.Crop.ID, v.Today.String(),
			"", "", "", "", string(p.Standing), "", "", ""}
		if p.Reading != nil {
			row[8], row[9], row[10], row[11], row[13] = fixed(float64(p.PH),
				2), strconv.FormatBool(p.Expected), p.Reading.Date.String(), string(p.Reading.Method), fixed(float64(p.Off), 2)
		}
		if p.K.Now != nil && p.K.State != soil.Unknown {
			row[14], row[15] = fixed(float64(*p.K.Now), 1), string(p.K.State)
		}
		rows = append(rows, row)
	}
	return out.WriteAll(rows)
}

// WriteRound writes a round as CSV: one line per bed of a sample, in the order of the route.
func WriteRound(w io.Writer, r rounds.Walk) error {
	out := newCSV(w)
	rows := [][]string{{"place", "sample", "bed", "cores", "taken", "depth_cm", "state", "taken_on", "note", "stops", "corer_mm"}}
	for _, b := range r.Beds {
		s := r.Sample(b.SampleID)
		rows = append(rows, []string{strconv.Itoa(b.Place), s.Code, r.Ground[b.BedID].Name, strconv.Itoa(b.Cores),
			strconv.Itoa(len(r.Taken[b.ID])),
			fixed(float64(s.Depth)*100, 1), s.State, s.Taken.String(), b.Note, strconv.Itoa(b.StopCount()),
			fixed(float64(r.Corer(s))*1000, 1)})
	}
	return out.WriteAll(rows)
}

func fixed(x float64, decimals int) string { return strconv.FormatFloat(x, 'f', decimals, 64) }

// plain escapes a text that a spreadsheet would take for a formula.
func plain(s string) string {
	if s != "" && strings.ContainsRune("=+-@\t\r", rune(s[0])) {
		return "'" + s
	}
	return s
}

// csvWriter writes CSV in which no cell begins a formula, whichever column it stands in and wherever it came from;
// numbers stay.
type csvWriter struct{ *csv.Writer }

func newCSV(w io.Writer) csvWriter { return csvWriter{csv.NewWriter(w)} }

// Write writes one line.
func (w csvWriter) Write(row []string) error {
	out := make([]string, len(row))
	for i, cell := range row {
		if out[i] = cell; cell != "" {
			if _, err := strconv.ParseFloat(cell, 64); err != nil {
				out[i] = plain(cell)
			}
		}
	}
	return w.Writer.Write(out)
}

// WriteAll writes all lines.
func (w csvWriter) WriteAll(rows [][]string) error {
	for _, row := range rows {
		if err := w.Write(row); err != nil {
			return err
		}
	}
	w.Flush()
	return w.Error()
}
