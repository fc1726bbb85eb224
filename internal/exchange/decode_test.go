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

// swapped returns a workbook with one of its parts written again.
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
			continue
		}
		r, err := x.Open()
		require.NoError(t, err)
		_, err = io.Copy(w, r)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return out.Bytes()
}

func TestLargeWorkbookIsRefused(t *testing.T) {
	const head = `<sst xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">`
	many := swapped(t, "xl/sharedStrings.xml", func(w io.Writer) {
		_, _ = io.WriteString(w, head)
		for range 2 {
			_, _ = io.WriteString(w, strings.Repeat("<si><t>a</t></si>", 50_001))
		}
	})
	_, err := exchange.ReadCells("lab.xlsx", many)
	require.ErrorContains(t, err, "more texts than")
	long := swapped(t, "xl/sharedStrings.xml", func(w io.Writer) {
		_, _ = io.WriteString(w, head+"<si><t>"+strings.Repeat("a", 17<<20)+"</t></si></sst>")
	})
	_, err = exchange.ReadCells("lab.xlsx", long)
	require.ErrorContains(t, err, "more texts than")
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
