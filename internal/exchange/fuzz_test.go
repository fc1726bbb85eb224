package exchange_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"math"
	"os"
	"testing"

	"zephyrfield/internal/bedstate"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/layout"
)

// faultless fails on an error that is no sentence of ours.
func faultless(t *testing.T, err error) {
	t.Helper()
	var f garden.Faults
	if err != nil && !errors.As(err, &f) {
		t.Fatalf("not in words: %v", err)
	}
}

// readLab goes all the way that a lab's file goes.
func readLab(t *testing.T, cells [][]string) {
	t.Helper()
	lines, _ := exchange.LabReadings(cells, exchange.GuessLayout(cells), labKnown, labToday)
	for _, l := range lines {
		l.Reading.BedID = max(l.Reading.BedID, 1)
		l.Reading.ID, l.Reading.Version = 1, 1
		if l.Layer == nil {
			faultless(t, garden.CheckRecord(&l.Reading))
		}
		if p := l.Reading.PH; p != nil && math.IsNaN(float64(*p)) {
			t.Fatal("a pH that is no number")
		}
	}
}

func FuzzCSV(f *testing.F) {
	report, err := os.ReadFile("../web/static/lab-report.csv")
	if err != nil {
		f.Fatal(err)
	}
	f.Add(report)
	for _, s := range []string{"Bed,pH\nledge,6.1\n", "Bed;pH;K mg/l\r\nledge;6,1;120,5\r\n", "\ufeffBed\tpH\nledge\t6.1",
		"\xff\xfeB\x00e\x00", "Bed,pH\nKr\xe4uter,1e308\n", "Bed,pH\n\"a\nb\",6",
		"Sample,Date,pH,Buffer pH,CEC\n3A,31/12/2026,NaN,Inf,-0\n", "Bed,Sampled,pH\nledge,2026-02-30,6.1\n\n\n"} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		cells, err := exchange.ReadCells("lab.csv", data)
		faultless(t, err)
		if err == nil {
			readLab(t, cells)
		}
	})
}

// FuzzXLSX builds a workbook from its parts: what is fuzzed is what stands in them.
func FuzzXLSX(f *testing.F) {
	const main = `xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"`
	f.Add([]byte(`<worksheet `+main+`><sheetData><row r="1"><c r="A1" t="s"><v>0</v></c></row></sheetData></worksheet>`),
		[]byte(`<sst `+main+`><si><t>Bed</t></si></sst>`), []byte(`<styleSheet `+main+`/>`))
	f.Add([]byte(`<worksheet `+main+`><sheetData><row r="99999999"><c r="ZZZ1" t="d"><v>1e308</v></c></row></sheetData></worksheet>`),
		[]byte(`<sst `+main+`><si/></sst>`), []byte(``))
	f.Add([]byte(`<worksheet `+main+`><sheetData><row><c r="A1" t="b"><f>1/0</f><v>#DIV/0!</v></c><c t="inlineStr"><is><t>pH</t>`+
		`</is></c></row></sheetData></worksheet>`), []byte(`<`),
		[]byte(`<styleSheet `+main+`><numFmts><numFmt numFmtId="164" formatCode="[h]:mm"/></numFmts><cellXfs><xf numFmtId="164"/>`+
			`</cellXfs></styleSheet>`))
	f.Add([]byte(`<worksheet `+main+`><sheetData><row r="1"><c r="A1" t="s"><v>-1</v></c><c r="B1" s="9"><v>45000.5</v></c>`+
		`</row></sheetData></worksheet>`), []byte(`<sst `+main+`></sst>`), []byte(`<styleSheet/>`))
	f.Fuzz(func(t *testing.T, sheet, texts, styles []byte) {
		var b bytes.Buffer
		z := zip.NewWriter(&b)
		for name, part := range map[string][]byte{
			"[Content_Types].xml": []byte(`<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">` +
				`<Default Extension="xml" ContentType="application/xml"/></Types>`),
			"_rels/.rels": []byte(`<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">` +
				`<Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument"
					Target="xl/workbook.xml"/></Relationships>`),
			"xl/workbook.xml": []byte(`<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"
				xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets>
				<sheet name="Sheet1" sheetId="1" r:id="rId1"/></sheets></workbook>`),
			"xl/_rels/workbook.xml.rels": []byte(`<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">` +
				`<Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet"
					Target="worksheets/sheet1.xml"/></Relationships>`),
			"xl/worksheets/sheet1.xml": sheet, "xl/sharedStrings.xml": texts, "xl/styles.xml": styles,
		} {
			w, err := z.Create(name)
			if err != nil {
				t.Fatal(err)
			}
			_, _ = w.Write(part)
		}
		if err := z.Close(); err != nil {
			t.Fatal(err)
		}
		cells, err := exchange.ReadCells("lab.xlsx", b.Bytes())
		faultless(t, err)
		if err == nil {
			readLab(t, cells)
		}
	})
}

// FuzzArchive holds: no panic, every refusal in words, and every record that is
// handed on passes the garden's own check.
func FuzzArchive(f *testing.F) {
	const head = `{"format":"zephyrfield-archive","edition":2,"garden":[{"id":1,"version":1,"name":"A","climate":"maritime",
		"hemisphere":"north","soil_table":"cool","buffering":"table","ash_school":"equivalence","act_school":"below-band"}],`
	f.Add([]byte(head + `"beds":[{"id":1,"version":1,"name":"A","kind":"bed","shape":"rect","w_m":4,"h_m":1,"texture":"loam",
		"depth_m":0.15,"worked":"dug","free_lime":"unknown"}]}`))
	f.Add([]byte(head + `"beds":[{"id":1,"version":1,"name":"B","kind":"bed","shape":"outline","w_m":4,"h_m":1,
		"corners_m":[[0,0],[1e308,2],[3,1]],"texture":"loam","depth_m":0.15,"worked":"dug","free_lime":"unknown"}]}`))
	f.Add([]byte(head + `"readings":[{"id":1,"version":1,"bed_id":1,"date":"2026-01-01","method":"lab","basis":"water","ph":6.1,
		"cores":6,"depth_m":0.15,"layers":[[0,0.05]],"jars":[[]]}]}`))
	f.Add([]byte(head + `"journal":[{"id":1,"version":1,"at":"2026-01-01T00:00:00Z","who":"a","what":"b","changes":[{"table":"beds",
		"id":1,"before":null,"after":{"id":"x"}}]}]}`))
	f.Add([]byte(head + `"plans":[{"id":1,"version":1,"bed_id":1,"reading_id":1,"made":"2026-01-01","target_ph":6.5,
		"request":{"date":"2026-10-01"}}]}`))
	f.Add([]byte(`{"format":"zephyrfield-archive"`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		faultless(t, exchange.ReadArchive(bytes.NewReader(raw), func(rec garden.Record) error {
			if err := garden.CheckRecord(rec); err != nil {
				t.Fatalf("handed on: %v", err)
			}
			if _, err := json.Marshal(rec); err != nil {
				t.Fatalf("cannot be written again: %v", err)
			}
			return nil
		}))
	})
}

// FuzzPlan holds: no panic, every refusal in words, and what is read can be written
// and read again.
func FuzzPlan(f *testing.F) {
	f.Add([]byte(`{"type":"FeatureCollection","features":[` + rect("A") + `]}`))
	f.Add([]byte(`{"type":"FeatureCollection","features":[{"properties":{"name":"B","kind":"lawn"},"geometry":{"type":"Polygon",
		"coordinates":[[[0,0],[4,0],[4,-2],[0,0]]]}}]}`))
	f.Add([]byte(`{"type":"FeatureCollection","features":[{"properties":{"name":"C","mark":"path","width_m":1},
		"geometry":{"type":"LineString","coordinates":[[0,0],[1e308,-1e308]]}}]}`))
	f.Add([]byte(`{"type":"FeatureCollection","features":[{"properties":{"name":"D","shape":"rings","rings":2000000000,"w_m":4,
		"h_m":1},"geometry":null}]}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		beds, marks, err := exchange.ReadPlan(bytes.NewReader(raw))
		faultless(t, err)
		if err != nil {
			return
		}
		var kept []bedstate.State
		for _, b := range beds {
			if len(garden.CheckShape(b)) == 0 {
				kept = append(kept, bedstate.State{Bed: b})
			}
		}
		for i, m := range marks {
			if garden.CheckLine(m.Points) != "" {
				marks[i].Points = []garden.Point{{X: 0, Y: 0}, {X: 1, Y: 1}}
			}
			marks[i].Width = 1
			_ = m
		}
		if err := exchange.WritePlan(io.Discard, kept, marks); err != nil {
			t.Fatal(err)
		}
	})
}

// FuzzTables holds: no panic, and a table of beds, of a shelf or of a log is read or refused in words.
func FuzzTables(f *testing.F) {
	for _, s := range []string{"name,length_m,width_m\nledge,4,1.2\n", "name,kind,left_kg\noven ash,wood-ash-hardwood,12\n",
		"date,bed,material,amount_kg,note\n2026-11-24,ledge,wood-ash-hardwood,1.5,=1+1\n", "name,length_m,width_m\n\"\n\",1e308,-1\n",
		"date,bed,material,amount_kg\n0000-00-00,,,NaN\n"} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		_, err := exchange.ReadBeds("beds.csv", data, layout.New{})
		faultless(t, err)
		_, err = exchange.ReadInventory("shelf.csv", data)
		faultless(t, err)
		_, err = exchange.ReadLog("log.csv", data)
		faultless(t, err)
	})
}
