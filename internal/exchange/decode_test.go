package exchange_test

import (
	"archive/zip"
	"bytes"
	"encoding/binary"
	"fmt"
	"io"
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/bounded/peak"
	"zephyrfield/internal/exchange"
	"zephyrfield/internal/garden"
)

// TestTextEncodings: UTF-8 with and without its mark, UTF-16 both
// ways round, and Latin-1.
func TestTextEncodings(t *testing.T) {
	const text = "Beet,pH\nKräuter am Süd–Hang,6.1\n"
	wide := func(order binary.AppendByteOrder) []byte {
		out := order.AppendUint16(nil, 0xfeff)
		for _, u := range utf16.Encode([]rune(text)) {
			out = order.AppendUint16(out, u)
		}
		return out
	}
	latin := []byte("Beet,pH\nKr\xe4uter am S\xfcd\x96Hang,6.1\n")
	for name, data := range map[string][]byte{"plain": []byte(text), "marked": []byte("\ufeff" + text),
		"small end first": wide(binary.LittleEndian),
		"big end first":   wide(binary.BigEndian), "Latin-1": latin} {
		rows, err := exchange.ReadCells("lab.csv", data)
		require.NoError(t, err, name)
		assert.Equal(t, "Kräuter am Süd–Hang", rows[1][0], name)
	}
	for name, data := range map[string][]byte{"half a letter": wide(binary.LittleEndian)[:len(wide(binary.LittleEndian))-1],
		"signs":   []byte("Bed,pH\n\x81\x02\x8d,1\n"),
		"nothing": []byte("Bed,pH\n\x00,1\n")} {
		_, err := exchange.ReadCells("lab.csv", data)
		require.ErrorContains(t, err, "neither a CSV text", name)
	}
}

func TestFileFaults(t *testing.T) {
	for text, says := range map[string]string{
		"Bed,pH\n\"open,1\n":  "line 2: a quotation mark that is opened",
		"Bed,pH\nx \"y\",1\n": "line 2: a quotation mark stands inside a cell",
	} {
		_, err := exchange.ReadCells("lab.csv", []byte(text))
		require.ErrorContains(t, err, says)
	}
	for plan, says := range map[string]string{
		"{":          "cut off or damaged",
		`{"type":4}`: "“type” cannot be a number",
		`{"type":"FeatureCollection","features":[{"properties":{"name":"A","mark":"path"},
			"geometry":{"type":"LineString","coordinates":"x"}}]}`: "pairs of figures",
		`{"type":"FeatureCollection","features":[` + rect("Ärmel") + "," +
			rect("Beet") + "," + rect("ärmel") + `]}`: "features 1 and 3 are both called “ärmel”",
	} {
		_, _, err := exchange.ReadPlan(strings.NewReader(plan))
		require.ErrorContains(t, err, says)
		assert.NotContains(t, err.Error(), "json")
	}
}

func rect(name string) string {
	return fmt.Sprintf(`{"properties":{"name":%q,"shape":"rect","w_m":4,"h_m":1},"geometry":{}}`, name)
}

// swapped returns a workbook with one of its parts written again, or added.
func swapped(t testing.TB, part string, write func(io.Writer)) []byte {
	t.Helper()
	f := excelize.NewFile()
	require.NoError(t, f.SetCellStr("Sheet1", "A1", "Bed"))
	var plain, out bytes.Buffer
	require.NoError(t, f.Write(&plain))
	in, err := zip.NewReader(bytes.NewReader(plain.Bytes()), int64(plain.Len()))
	require.NoError(t, err)
	z := zip.NewWriter(&out)
	for _, x := range in.File {
		w, err := z.Create(x.Name)
		require.NoError(t, err)
		if x.Name == part {
			write(w)
			part = ""
			continue
		}
		r, err := x.Open()
		require.NoError(t, err)
		_, err = io.Copy(w, r)
		require.NoError(t, err)
	}
	if part != "" {
		w, err := z.Create(part)
		require.NoError(t, err)
		write(w)
	}
	require.NoError(t, z.Close())
	return out.Bytes()
}

// many writes a part that holds something so many times.
func many(head, one string, n int, tail string) func(io.Writer) {
	return func(w io.Writer) {
		_, _ = io.WriteString(w, head)
		const lot = 1000
		for range n / lot {
			_, _ = io.WriteString(w, strings.Repeat(one, lot))
		}
		_, _ = io.WriteString(w, strings.Repeat(one, n%lot)+tail)
	}
}

// sheetML begins an element of a workbook's part.
func sheetML(name string) string {
	return "<" + name + ` xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">`
}

func TestWorkbooksAreBounded(t *testing.T) {
	const sheet, texts, styles = "xl/worksheets/sheet1.xml", "xl/sharedStrings.xml", "xl/styles.xml"
	cells := func(row, one, tail string, n int) func(io.Writer) {
		return many(sheetML("worksheet")+"<sheetData>"+row, one, n, tail+"</sheetData></worksheet>")
	}
	for name, x := range map[string]struct {
		part string
		of   func(io.Writer)
		says string
	}{
		"nine million styles":          {styles, many(sheetML("styleSheet")+"<cellXfs>", "<xf/>", 9_000_000, ""), "holds more than"},
		"as many styles as are let in": {styles, many(sheetML("styleSheet")+"<cellXfs>", "<xf/>", 19_990, "</cellXfs></styleSheet>"), ""},
		"a theme of elements":          {"xl/theme/theme1.xml", many("<a>", "<b/>", 900_000, "</a>"), "holds more than"},
		"a picture":                    {"xl/media/image1.png", many("", "\x00", 60<<20, ""), "unpacks to more than 40 MB"},
		"a long part":                  {styles, many("", " ", 3<<20, "<a/>"), "holds more than"},
		"styles named otherwise": {styles, many(`<?xml version="1.0" encoding="windows-1252"?><styleSheet>`, "<a/>", 400_000, ""),
			"holds more than"},
		"texts without an end":        {texts, many(sheetML("sst"), "<si><t>a</t></si>", 2_000_000, ""), "holds more than"},
		"as many texts as are let in": {texts, many(sheetML("sst"), "<si/>", 399_990, "</sst>"), ""},
		"one long text":               {texts, many(sheetML("sst")+"<si><t>", "a", 17<<20, "</t></si></sst>"), "holds more than"},
		"one element's attributes":    {styles, many("<styleSheet ", "a='' ", 2<<20, "/>"), "holds more than"},
		"a column far away":           {sheet, cells("<row>", `<c r="XFD1"><v>1</v></c>`, "</row>", 1), "more than 60 columns"},
		"a line of cells":             {sheet, cells("<row>", "<c><v>1</v></c>", "</row>", 61), "more than 60 columns"},
		"coloured cells far away":     {sheet, cells("<row>", `<c r="XFD1" s="0"/>`, "</row>", 1000), ""},
		"lines without an end":        {sheet, cells("", "<row/>", "", 3_000_000), "holds more than"},
		"as many lines as are let in": {sheet, cells("", "<row/>", "", 1_490_000), ""},
		"cells deep in each other":    {sheet, cells("<row>", "<c>", "", 1_000_000), "holds more than"},
		"a sheet of blanks":           {sheet, cells("", " ", "", 25<<20), "holds more than"},
	} {
		t.Run(name, func(t *testing.T) {
			book := swapped(t, x.part, x.of)
			t.Logf("%d kB packed", len(book)>>10)
			var err error
			most := peak.Of(t, func() { _, err = exchange.ReadCells("lab.xlsx", book) })
			require.Error(t, err, "none of them holds a report")
			assert.ErrorContains(t, err, x.says)
			assert.Less(t, most, int64(100*peak.MB))
		})
	}
}

func TestLongLinesAreBounded(t *testing.T) {
	for name, x := range map[string]struct{ one, says string }{
		"one line of commas": {",", "line 1 is longer"},
		"one line of text":   {"a", "line 1 is longer"},
		"a quotation":        {"\"\n\",", "line 1 is longer"},
		"lines of commas":    {strings.Repeat(",", 100_000) + "\n", "more than 60 columns"},
		"empty lines":        {"\n", "line 1 is longer"},
		"full lines":         {strings.Repeat("a,", 59) + "a\n", "more than 20000 lines"},
	} {
		t.Run(name, func(t *testing.T) {
			data := []byte(strings.Repeat(x.one, exchange.MaxLabFile/len(x.one)))
			var err error
			most := peak.Of(t, func() { _, err = exchange.ReadCells("lab.csv", data) })
			require.ErrorContains(t, err, x.says)
			assert.Less(t, most, int64(100*peak.MB))
		})
	}
}

func TestReadingsWorkbookTypes(t *testing.T) {
	ph := quantity.PH(5.83)
	list := exchange.ReadingList{Beds: []garden.Bed{{Meta: garden.Meta{ID: 7}, Name: "Upper ledge with a long name"}},
		Readings: []garden.Reading{{BedID: 7, Date: quantity.Date(2026, 11, 20), Method: "lab", Basis: "water", PH: &ph, Cores: 12,
			Depth: 0.15}}}
	var b bytes.Buffer
	require.NoError(t, exchange.WriteReadingsXLSX(&b, list))
	f, err := excelize.OpenReader(&b)
	require.NoError(t, err)
	defer func() { _ = f.Close() }()
	kind, err := f.GetCellType("readings", "C2")
	require.NoError(t, err)
	assert.NotEqual(t, excelize.CellTypeSharedString, kind)
	shown, err := f.GetCellValue("readings", "C2")
	require.NoError(t, err)
	assert.Equal(t, "2026-11-20", shown)
	day, err := f.GetCellValue("readings", "C2", excelize.Options{RawCellValue: true})
	require.NoError(t, err)
	assert.Equal(t, "46346", day, "a day, as spreadsheets count them")
	panes, err := f.GetPanes("readings")
	require.NoError(t, err)
	assert.True(t, panes.Freeze && panes.YSplit == 1)
	wide, err := f.GetColWidth("readings", "A")
	require.NoError(t, err)
	assert.InDelta(t, 30, wide, 1)
}
