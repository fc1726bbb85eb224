package dosejson_test

import (
	"bytes"
	"fmt"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/internal/bounded/peak"
	"zephyrfield/internal/exchange/dosejson"
)

// Whatever stands in one line, the lines around it are answered alike.
func TestLinesGoOnAfterAnyLine(t *testing.T) {
	for says, bad := range map[string]string{
		"materials":                  manyMaterials(61),
		"it is longer than 1 MiB":    `{"date":"` + strings.Repeat("9", 3<<20) + `"}`,
		"bed.area_m2":                oneLine(swap(`"area_m2":10`, `"area_m2":1e-320`)),
		"1e-30 is too small":         oneLine(swap(`"area_m2":10`, `"area_m2":1e-30`)),
		"this version knows no such": `{"no":1}`,
		"request":                    "\x00\xff",
	} {
		assert.Contains(t, streamed(t, dosejson.Doses, example, bad), says)
	}
	var out bytes.Buffer
	refused, err := dosejson.Doses.Lines(strings.NewReader(oneLine(example)), &out)
	require.NoError(t, err)
	assert.Zero(t, refused)
	assert.NotEmpty(t, out.String(), "a last line without an end is answered too")
}

func oneLine(request string) string { return strings.ReplaceAll(request, "\n", " ") }

func manyMaterials(n int) string {
	return withMaterials(strings.TrimSuffix(strings.Repeat(`{"kind":"calcitic-lime"},`, n), ","))
}

func withMaterials(list string) string {
	return `{"date":"2026-10-01","place":{"climate":"maritime","hemisphere":"north"},"bed":{"area_m2":10,"texture":"loam"},` +
		`"reading":{"ph":5.5},"crop":"tomato","materials":[` + list + `]}`
}

func TestTinyFiguresAreRefusedByName(t *testing.T) {
	for field, request := range map[string]string{
		"bed.area_m2":           swap(`"area_m2":10`, `"area_m2":1e-320`),
		"reading.ph":            swap(`"ph":5.5`, `"ph":-1E-13`),
		"materials[0].cce_pct":  withMaterials(`{"kind":"calcitic-lime","cce_pct":1e-500}`),
		"materials[1].price_kg": withMaterials(`{"kind":"bone-meal"},{"kind":"lime","price_kg":0.00000000000001}`),
	} {
		var out bytes.Buffer
		require.Error(t, dosejson.Doses.One(strings.NewReader(request), &out))
		assert.Contains(t, out.String(), `"field":"`+field+`"`)
		assert.Contains(t, out.String(), "too small")
	}
	for _, good := range []string{swap(`"area_m2":10`, `"area_m2":100e-1`), swap(`"area_m2":10`, `"area_m2":10.00000000000000000`),
		swap(`"crop":"tomato"`, `"history":[{"date":"2026-09-01","material":"calcitic-lime","g_m2":0.000000000000}],"crop":"tomato"`)} {
		require.NoError(t, dosejson.Doses.One(strings.NewReader(good), io.Discard))
	}
}

func TestLargeRequestsAreBounded(t *testing.T) {
	for name, x := range map[string]struct {
		to      dosejson.Answerer
		request string
	}{
		"sixty materials": {dosejson.Doses, manyMaterials(60)},
		"a long history": {dosejson.Doses, swap(`"crop":"tomato"`, `"history":[`+strings.TrimSuffix(strings.Repeat(
			`{"date":"2026-09-01","material":"calcitic-lime","g_m2":1},`, 15_000), ",")+`],"crop":"tomato"`)},
		"deep lists":       {dosejson.Doses, strings.Repeat("[", 1<<20-1)},
		"tangled beds":     {dosejson.Rations(allocate.UsualSteps), tangledRation(300)},
		"few steps":        {dosejson.Rations(1), tangledRation(300)},
		"no figure at all": {dosejson.Rations(1), `{"e-":` + strings.Repeat("{\"a\":", 150_000)},
	} {
		t.Run(name, func(t *testing.T) {
			require.Less(t, len(x.request), 1<<20)
			var out bytes.Buffer
			most := peak.Of(t, func() { _ = x.to.One(strings.NewReader(x.request), &out) })
			assert.Less(t, most, int64(200*peak.MB))
			assert.NotEmpty(t, out.String())
		})
	}
}

// tangledRation asks for twelve stocks on beds that may be given any of them.
func tangledRation(beds int) string {
	var stock, list []string
	for m := range allocate.MostStocks {
		kind := []string{"wood-ash-hardwood", "calcitic-lime", "dolomitic-lime", "wood-ash-softwood"}[m%4]
		stock = append(stock, fmt.Sprintf(`{"id":"s%d","kind":"%s","cce_pct":%d,"kg":%d,"price_kg":0.%d}`, m, kind, 40+m, 50+7*m, 1+m))
	}
	for i := range beds {
		list = append(list, fmt.Sprintf(`{"id":"b%d","area_m2":%d,"need_caco3_g_m2":%d,"k2o_need_g_m2":%d,"k2o_room_g_m2":40}`, i, 5+i%7,
			100+i%300, i%9))
	}
	return `{"date":"2026-11-24","place":{"climate":"maritime","hemisphere":"north"},"stock":[` + strings.Join(stock, ",") + `],"beds":[` +
		strings.Join(list, ",") + `]}`
}

// FuzzLines holds: whatever stands in a stream, each line that is not blank has one answer or one error that names a
// field, and a good line after it is answered.
func FuzzLines(f *testing.F) {
	f.Add(oneLine(example))
	f.Add("{}\n\n[1e-320]\n" + tangledRation(1))
	f.Add(`{"stock":[{"id":"a","kg":1e-400}],"beds":[{"id":"b","bed":{"area_m2":1E-13}}]}`)
	f.Add(strings.Repeat(`{"e-":`, 30))
	f.Fuzz(func(t *testing.T, text string) {
		want := 1
		for _, line := range strings.Split(text, "\n") {
			if strings.TrimSpace(line) != "" {
				want++
			}
		}
		for name, to := range map[string]dosejson.Answerer{"dose": dosejson.Doses, "ration": dosejson.Rations(1000),
			"forecast": dosejson.Forecasts} {
			var out bytes.Buffer
			if _, err := to.Lines(strings.NewReader(text+"\n"+`{"no":1}`), &out); err != nil {
				t.Fatal(err)
			}
			lines := strings.Split(strings.TrimSuffix(out.String(), "\n"), "\n")
			if len(lines) != want || !strings.Contains(lines[want-1], "no such field") {
				t.Fatalf("%s: %d answers to %d lines", name, len(lines), want)
			}
		}
	})
}
