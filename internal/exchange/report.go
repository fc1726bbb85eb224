package exchange

import (
	"io"
	"slices"
	"strconv"

	"zephyrfield/agronomy/ledger"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/outlook"
)

// reportHead are the columns of a season's report, SI units: a line is a reading, an application, a
// tested promise, a crop, or a task.
var reportHead = []string{"season", "bed", "area_m2", "line", "date", "until", "material", "batch", "crop", "method", "told", "amount_kg",
	"rate_g_m2", "caco3_g_m2", "n_g_m2", "p2o5_g_m2", "k2o_g_m2", "mg_g_m2", "ph", "ph_sd", "k_ppm", "mg_ppm", "depth_cm", "cores",
	"promised_ph", "note"}

// reportLine is a line by column; missing columns are empty.
type reportLine map[string]string

// ReportCells returns a report as a table.
func ReportCells(p *outlook.Report) [][]string {
	out := [][]string{reportHead}
	for i := range p.Beds {
		b := &p.Beds[i]
		for _, l := range reportLines(p, b) {
			l["season"], l["bed"], l["area_m2"] = p.Season, plain(b.Record.Bed.Name), fixed(float64(b.Record.Bed.Area()), 2)
			row := make([]string, len(reportHead))
			for n, h := range reportHead {
				row[n] = l[h]
			}
			out = append(out, row)
		}
	}
	return out
}

func reportLines(p *outlook.Report, b *outlook.BedReport) (out []reportLine) {
	for i := range b.Crops {
		x := &b.Crops[i]
		out = append(out, reportLine{"line": "crop", "date": b.Record.State.PlantingDay(*x).String(), "until": x.Cleared.String(),
			"crop": plain(b.Record.Library.Name(x.Crop))})
	}
	for i := range b.Readings {
		r := &b.Readings[i]
		l := reportLine{"line": "reading", "date": r.Date.String(), "method": string(r.Method), "k_ppm": opt(r.Potassium, 1),
			"mg_ppm": opt(r.Magnesium, 1), "depth_cm": fixed(float64(r.Depth)*100, 1), "cores": strconv.Itoa(r.Cores), "note": plain(r.Note)}
		if r.PH != nil {
			l["ph"], l["ph_sd"] = fixed(float64(r.Soil().Water()), 2), fixed(r.Soil().SD(), 2)
		}
		out = append(out, l)
	}
	for i := range b.Put {
		x := &b.Put[i]
		kg := x.Total
		l := reportLine{"line": "put on", "date": x.Date.String(), "material": string(x.What), "told": plain(x.Told), "amount_kg": kilos(&kg),
			"rate_g_m2": gramsM2(x.Rate), "note": plain(x.Note)}
		if x.Batch != nil {
			l["batch"] = plain(x.Batch.Name)
		}
		l.brought(&x.Brought)
		out = append(out, l)
	}
	if len(b.Put) > 0 {
		l := reportLine{"line": "put on in all"}
		l.brought(&b.Sum)
		out = append(out, l)
	}
	for _, k := range b.Checks {
		out = append(out, reportLine{"line": "promise", "date": k.Date.String(), "ph": fixed(float64(k.Measured), 2),
			"promised_ph": fixed(float64(k.Promised), 2), "note": plain(text.Check(k, b.Record.Lesson.Method))})
	}
	for i := range b.Next {
		t := &b.Next[i]
		l := reportLine{"line": "to do", "date": t.Due.String(), "note": plain(t.Kind)}
		if t.Kind == garden.TaskApplication {
			kg := t.Total
			l["material"], l["amount_kg"], l["rate_g_m2"] = string(t.What), kilos(&kg), gramsM2(t.Rate)
		}
		out = append(out, l)
	}
	return out
}

func (l reportLine) brought(b *ledger.Brought) {
	l["caco3_g_m2"], l["n_g_m2"], l["p2o5_g_m2"], l["k2o_g_m2"], l["mg_g_m2"] = gramsM2(b.CaCO3), gramsM2(b.N), gramsM2(b.P2O5),
		gramsM2(b.K2O), gramsM2(b.Magnesium)
}

// WriteReport writes a report as CSV.
func WriteReport(w io.Writer, p *outlook.Report) error {
	return newCSV(w).WriteAll(ReportCells(p))
}

// reportTexts are the non-numeric columns.
var reportTexts = []string{"season", "bed", "line", "material", "batch", "crop", "method", "told", "note"}

// WriteReportXLSX writes a report as a workbook of one sheet.
func WriteReportXLSX(w io.Writer, p *outlook.Report) error {
	return WriteSheet(w, "season", ReportCells(p), func(column int) CellKind {
		switch h := reportHead[column]; {
		case h == "date" || h == "until":
			return DayCell
		case slices.Contains(reportTexts, h):
			return TextCell
		}
		return FigureCell
	})
}
