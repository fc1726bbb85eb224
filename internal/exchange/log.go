package exchange

import (
	"io"
	"slices"
	"strings"

	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/applications"
)

// logHeads are the log's columns, SI units.
var logHeads = []string{"date", "bed", "material", "amount_kg", "rate_g_m2", "told", "caco3_g_m2", "n_g_m2", "p2o5_g_m2", "k2o_g_m2",
	"mg_g_m2", "note"}

// logNeeded are the columns required for import.
var logNeeded = []string{"date", "bed", "material", "amount_kg"}

// WriteLog writes applications as CSV.
func WriteLog(w io.Writer, entries []applications.Entry) error {
	out := newCSV(w)
	if err := out.Write(logHeads); err != nil {
		return err
	}
	for i := range entries {
		e := &entries[i]
		b := &e.Brought
		kg := e.Total
		row := []string{e.Date.String(), e.Bed.Name, string(e.What), kilos(&kg), gramsM2(e.Rate), e.Told, gramsM2(b.CaCO3),
			gramsM2(b.N), gramsM2(b.P2O5), gramsM2(b.K2O), gramsM2(b.Magnesium), e.Note}
		if err := out.Write(row); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

func gramsM2(r quantity.Rate) string { return some(quantity.Round(float64(r), 3)) }

// ReadLog reads a table of applications, CSV or XLSX, one entry per line. Faults name their line.
func ReadLog(name string, data []byte) (out []applications.Incoming, err error) {
	rows, err := ReadCells(name, data)
	if err != nil {
		return nil, err
	}
	heads := make([]string, len(rows[0]))
	for i, h := range rows[0] {
		heads[i] = strings.ToLower(strings.TrimSpace(h))
	}
	at := map[string]int{}
	for _, h := range append(slices.Clone(logNeeded), "note", "told") {
		at[h] = slices.Index(heads, h)
	}
	for _, h := range logNeeded {
		if at[h] < 0 {
			return nil, fileFault("a column called %s is needed", h)
		}
	}
	for n, row := range rows[1:] {
		if blank(row) {
			continue
		}
		cell := func(head string) string {
			if i := at[head]; i >= 0 && i < len(row) {
				return strings.TrimPrefix(strings.TrimSpace(row[i]), "'")
			}
			return ""
		}
		x := applications.Incoming{Line: n + 2, Bed: cell("bed")}
		x.Is.What, x.Is.Note, x.Is.Told = material.Kind(cell("material")), cell("note"), cell("told")
		if x.Is.Date, err = quantity.ParseDay(cell("date")); err != nil {
			return nil, fileFault("line %d, date: %v", x.Line, err)
		}
		kg, ok, err := parsed(cell("amount_kg"))
		if err != nil || !ok {
			return nil, fileFault("line %d, amount_kg: %q is not a number", x.Line, cell("amount_kg"))
		}
		x.Is.Total = quantity.Mass(kg) * quantity.Kilogram
		out = append(out, x)
	}
	return out, nil
}
