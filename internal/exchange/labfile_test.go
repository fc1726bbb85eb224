package exchange_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sampling"
	"zephyrfield/agronomy/soil"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
)

var (
	labToday = quantity.Date(2026, 11, 24)
	labBeds  = map[string]garden.Bed{"ledge": {Meta: garden.Meta{ID: 7}, Texture: soil.Loam, Depth: 0.15},
		"=sum(a1)": {Meta: garden.Meta{ID: 8}, Texture: soil.Loam, Depth: 0.15}}
	labKnown = exchange.LabKnown{Beds: labBeds, Codes: labCodes, Sampled: map[string]garden.Bed{"3A": labBeds["ledge"]}}
	labCodes = map[string][]sampling.Stretch{"3A": nil, "4B": {{From: 0, To: 0.05}, {From: 0.05, To: 0.10}}}
)

func cells(t *testing.T, text string) [][]string {
	t.Helper()
	out, err := exchange.ReadCells("lab.csv", []byte(text))
	require.NoError(t, err)
	return out
}

func fault(t *testing.T, name string, data []byte) string {
	t.Helper()
	_, err := exchange.ReadCells(name, data)
	var f garden.Faults
	require.ErrorAs(t, err, &f)
	return f["file"]
}

func TestGuessColumns(t *testing.T) {
	for head, want := range map[string][]string{
		"Bed,Sampled,pH (water),Buffer pH SMP,K,Mg,Ca,P,OM %,CEC,Remarks": {"bed", "date", "ph", "buffer_ph", "k", "mg", "ca", "p",
			"om", "cec", "note"},
		"bed,sample,date,method,basis,buffer_kind,ph,buffer_ph,k_ppm,depth_cm": {"bed", "sample", "date", "method", "basis",
			"buffer_kind", "ph", "buffer_ph", "k", "depth"},
		"Lab No,pH,Potassium (ppm),Magnesium (ppm),Organic matter,Comments":   {"sample", "ph", "k", "mg", "om", "note"},
		"pH,pH again,Phosphorus,Pore space":                                   {"ph", "", "p", ""},
		"Sample ID;Soil pH;Number of cores;Sampled on;Cation exchange cap.;x": {"sample", "ph", "cores", "date", "cec", ""},
	} {
		table := cells(t, head+"\n"+strings.Repeat("1,", 3)+"1")
		assert.Equal(t, want, exchange.GuessLayout(table).Columns, head)
	}
}

func TestLabReadings(t *testing.T) {
	for name, text := range map[string]string{
		"commas":     "Bed,Date,pH,K ppm\nLedge,2026-11-20,5.8,120\n",
		"semicolons": "Bed;Date;pH;K (mg/kg)\nLedge;2026-11-20;5,8;120\n",
		"tabs":       "\ufeffBed\tDate\tpH\tk_ppm\r\nLEDGE\t2026-11-20\t5.8\t120\r\n\r\n",
	} {
		table := cells(t, text)
		lines, bad := exchange.LabReadings(table, exchange.GuessLayout(table), labKnown, labToday)
		require.Empty(t, bad, name)
		require.Len(t, lines, 1, name)
		r := lines[0].Reading
		assert.Equal(t, int64(7), r.BedID, name)
		assert.InDelta(t, 5.8, float64(*r.PH), 1e-9, name)
		assert.InDelta(t, 120, float64(*r.Potassium), 1e-9, name)
		assert.Equal(t, "2026-11-20", r.Date.String(), name)
	}
}

func TestLabUnitsBasesAndDays(t *testing.T) {
	table := cells(t, "Sample,Date,pH,K ppm\n3a,20/11/2026,5.2,202.5\nLedge,20/11/2026,5.2,202.5\n")
	l := exchange.GuessLayout(table)
	l.Columns[0] = "bed"
	l.Dates, l.Basis, l.Units[3] = exchange.DatesDMY, "cacl2", exchange.UnitPoundAcre
	_, bad := exchange.LabReadings(table, l, labKnown, labToday)
	require.Len(t, bad, 1, "3a is no bed")
	assert.Equal(t, [2]int{2, 1}, [2]int{bad[0].Line, bad[0].Column})
	table = table[:1:1]
	table = append(table, []string{"Ledge", "20/11/2026", "5.2", "202.5"})
	lines, bad := exchange.LabReadings(table, l, labKnown, labToday)
	require.Empty(t, bad)
	assert.InDelta(t, 101.25, float64(*lines[0].Reading.Potassium), 1e-9, "lb/acre ÷ 2")
	assert.InDelta(t, 5.8, float64(lines[0].Reading.Soil().Water()), 1e-9)
	l.Units[3] = exchange.UnitKgHectare
	lines, _ = exchange.LabReadings(table, l, labKnown, labToday)
	assert.InDelta(t, 100, float64(*lines[0].Reading.Potassium), 1e-9, "kg/ha ÷ (202.5/100)")
}

func TestLabProblemsNameCells(t *testing.T) {
	text := "Bed,Date,pH,K ppm,Cores\nLedge,2026-11-20,5.8,1,9\n"
	for line, want := range map[string]string{
		"Short bed,2026-11-20,5.8,1,9": "1 no bed is called “Short bed”: choose it",
		"Ledge,20.11.2026,5.8,1,9":     "2 “20.11.2026” is not a day in the order that was chosen",
		"Ledge,2027-11-20,5.8,1,9":     "2 that day is still to come; a reading is dated when the sample was taken",
		"Ledge,2026-11-20,58,1,9":      "3 a pH from 3 to 10 is needed",
		"Ledge,2026-11-20,,1,9":        "3 a pH is needed, from 3 to 10",
		"Ledge,2026-11-20,NaN,1,9":     "3 “NaN” is not a number: type one, or clear it to leave it out",
		"Ledge,2026-11-20,5.8,-1,9":    "4 a figure from 0 to 20000 is needed",
		"Ledge,2026-11-20,5.8,1,x":     "5 “x” is not a whole number",
		",2026-11-20,5.8,1,9":          "0 neither a bed nor a sample is named",
	} {
		table := cells(t, text+line+"\n")
		lines, bad := exchange.LabReadings(table, exchange.GuessLayout(table), labKnown, labToday)
		require.Len(t, bad, 1, line)
		assert.Len(t, lines, 1)
		assert.Equal(t, 3, bad[0].Line)
		assert.Equal(t, want, fmt.Sprint(bad[0].Column, " ", bad[0].Says))
	}
	table := cells(t, "Bed,Date\nLedge,2026-11-20\n")
	_, bad := exchange.LabReadings(table, exchange.GuessLayout(table), labKnown, labToday)
	assert.Equal(t, "no column holds the pH", bad[0].Says)
}

func workbook(t *testing.T, fill func(*excelize.File)) []byte {
	t.Helper()
	f := excelize.NewFile()
	for i, h := range []string{"Bed", "Date", "pH"} {
		require.NoError(t, f.SetCellValue("Sheet1", string(rune('A'+i))+"1", h))
	}
	fill(f)
	var b bytes.Buffer
	require.NoError(t, f.Write(&b))
	return b.Bytes()
}

func TestWorkbookFormulasAreNotEvaluated(t *testing.T) {
	data := workbook(t, func(f *excelize.File) {
		require.NoError(t, f.SetCellValue("Sheet1", "A2", "Ledge"))
		require.NoError(t, f.SetCellValue("Sheet1", "B2", "2026-11-20"))
		require.NoError(t, f.SetCellValue("Sheet1", "C2", 5.8))
		require.NoError(t, f.SetCellFormula("Sheet1", "C3", "1+5"))
		require.NoError(t, f.SetCellValue("Sheet1", "A3", "Ledge"))
		require.NoError(t, f.SetCellValue("Sheet1", "A4", "=SUM(A1)"))
		require.NoError(t, f.SetCellValue("Sheet1", "C4", 6))
	})
	table, err := exchange.ReadCells("lab.xlsx", data)
	require.NoError(t, err)
	lines, bad := exchange.LabReadings(table, exchange.GuessLayout(table), labKnown, labToday)
	require.Len(t, bad, 1, "a formula holds no figure")
	assert.Equal(t, 3, bad[0].Line)
	require.Len(t, lines, 2)
	assert.Equal(t, int64(8), lines[1].Reading.BedID, "a text that looks like a formula is a text")
	var out bytes.Buffer
	named := []garden.Bed{{Meta: garden.Meta{ID: 8}, Name: "=SUM(A1)"}}
	require.NoError(t, exchange.WriteReadings(&out, exchange.ReadingList{Beds: named, Readings: []garden.Reading{lines[1].Reading}}))
	assert.Contains(t, out.String(), "'=SUM(A1)", "neutral on its way out")
}

func TestRefusedFiles(t *testing.T) {
	assert.Contains(t, fault(t, "big.csv", make([]byte, 50<<20)), "more than 10 MB")
	assert.Contains(t, fault(t, "x.csv", []byte("\x00\x01bad")), "neither a CSV text")
	assert.Contains(t, fault(t, "x.csv", []byte("Bed,pH")), "at the least")
	assert.Contains(t, fault(t, "x.csv", []byte("Bed,pH\n\"open,1")), "line")
	assert.Contains(t, fault(t, "x.csv", []byte("Bed,pH\n"+strings.Repeat("a,1\n", 20001))), "more than 20000 lines")
	assert.Contains(t, fault(t, "x.csv", []byte("Bed"+strings.Repeat(",x", 70)+"\n1\n")), "more than 60 columns")
	assert.Contains(t, fault(t, "x.csv", []byte("Bed,pH\n"+strings.Repeat("a", 600)+",1\n")), "line 2, column 1")
	assert.Contains(t, fault(t, "x.xlsx", []byte("PK\x03\x04rubbish")), "cannot be read")

	// A zip bomb: 64 MB of nothing in a sheet, packed into 64 kB.
	var bomb bytes.Buffer
	z := zip.NewWriter(&bomb)
	real, err := zip.NewReader(bytes.NewReader(workbook(t, func(*excelize.File) {})), int64(len(workbook(t, func(*excelize.File) {}))))
	require.NoError(t, err)
	for _, f := range real.File {
		w, err := z.Create(f.Name)
		require.NoError(t, err)
		if f.Name == "xl/worksheets/sheet1.xml" {
			_, _ = w.Write([]byte(`<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>`))
			blanks := bytes.Repeat([]byte(" "), 1<<20)
			for range 64 {
				_, _ = w.Write(blanks)
			}
			continue
		}
		r, err := f.Open()
		require.NoError(t, err)
		var b bytes.Buffer
		_, err = b.ReadFrom(r)
		require.NoError(t, err)
		_, _ = w.Write(b.Bytes())
	}
	require.NoError(t, z.Close())
	require.Less(t, bomb.Len(), 1<<20)
	assert.Contains(t, fault(t, "bomb.xlsx", bomb.Bytes()), "cannot be read")
}

func TestReadingsRoundTrip(t *testing.T) {
	ph, k, buffer := quantity.PH(5.83), quantity.Concentration(121.5), quantity.PH(6.4)
	a := exchange.ReadingList{Beds: []garden.Bed{{Meta: garden.Meta{ID: 7}, Name: "Ledge"}},
		Readings: []garden.Reading{{BedID: 7, Date: labToday - 4, Method: soil.Lab, Basis: soil.Water, PH: &ph, Potassium: &k,
			Cores: 12, Depth: 0.15, Note: "dry, sandy"}, {BedID: 7, Struck: labToday},
			{BedID: 7, Date: labToday - 9, Method: soil.Kit, Basis: soil.CaCl2, PH: &ph, Cores: 6, Depth: 0.10},
			{BedID: 7, Date: labToday - 8, Method: soil.Lab, Basis: soil.Water, PH: &ph, BufferKind: soil.Mehlich, BufferPH: &buffer,
				Potassium: &k, Extractant: soil.Olsen, Cores: 6, Depth: 0.10},
			{BedID: 7, Date: labToday - 7, Method: soil.Fizz, Basis: soil.Water, Vinegar: soil.LimeNone, Soda: soil.LimeClear, Cores: 3,
				Depth: 0.15}}}
	want := append(a.Readings[:1:1], a.Readings[2:]...)
	for name, write := range map[string]func(*bytes.Buffer) error{
		"csv":  func(b *bytes.Buffer) error { return exchange.WriteReadings(b, a) },
		"xlsx": func(b *bytes.Buffer) error { return exchange.WriteReadingsXLSX(b, a) },
	} {
		var b bytes.Buffer
		require.NoError(t, write(&b))
		table, err := exchange.ReadCells("out."+name, b.Bytes())
		require.NoError(t, err, name)
		lines, bad := exchange.LabReadings(table, exchange.GuessLayout(table), labKnown, labToday)
		require.Empty(t, bad, name)
		require.Len(t, lines, len(want), "one was struck out")
		for i := range want {
			assert.Equal(t, want[i], lines[i].Reading, name)
		}
	}
}

func TestLabLayersAreCombined(t *testing.T) {
	table := cells(t, "Sample,Date,pH,K ppm\n4B-2,2026-11-20,5.6,80\n3A,2026-11-20,6.1,90\n4B-1,2026-11-20,6.8,140\n")
	lines, bad := exchange.LabReadings(table, exchange.GuessLayout(table), labKnown, labToday)
	require.Empty(t, bad)
	require.Len(t, lines, 2)
	assert.Equal(t, "4B", lines[0].Code)
	r := lines[0].Reading
	assert.Equal(t, garden.Rows{{0, 0.05, 6.8}, {0.05, 0.10, 5.6}}, r.Layers)
	assert.InDelta(t, 6.2, float64(*r.PH), 1e-9, "their mean by thickness")
	assert.InDelta(t, 140, float64(*r.Potassium), 1e-9, "what else was found is the top’s")
	assert.Equal(t, "3A", lines[1].Code)
	for text, says := range map[string]string{
		"4B-3,2026-11-20,5.6,80\n":                       "no sample has the code",
		"3A-1,2026-11-20,5.6,80\n":                       "no sample has the code",
		"4B-1,2026-11-20,5.6,80\n4B-1,2026-11-20,5.5,\n": "is given twice",
	} {
		table := cells(t, "Sample,Date,pH,K ppm\n"+text)
		_, bad := exchange.LabReadings(table, exchange.GuessLayout(table), labKnown, labToday)
		require.NotEmpty(t, bad, text)
		assert.Contains(t, bad[0].Says, says)
	}
}
