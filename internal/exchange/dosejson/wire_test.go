package dosejson_test

import (
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"runtime"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"zephyrfield/agronomy/dose"
	"zephyrfield/internal/exchange/dosejson"
)

// example is the request of the contract.
const example = `{"date":"2026-10-01",
 "place":{"climate":"maritime","hemisphere":"north"},
 "bed":{"area_m2":10,"depth_cm":15,"texture":"loam","table":"cool","worked":"dug","use":"bed",
        "organic_matter_pct":3.1,"clay_pct":20,"cec":12,"free_lime":"none"},
 "reading":{"date":"2026-09-20","ph":5.5,"basis":"water","method":"lab","cores":12,"k_ppm":90,"mg_ppm":80},
 "crop":"tomato","target_ph":6.5,
 "school":{"buffering":"table","ash":"equivalence","act":"below-band","pace":"all-at-once"},
 "materials":[{"kind":"calcitic-lime","cce_pct":97,"effective_pct":97},
              {"kind":"wood-ash-hardwood","cce_pct":50,"k2o_pct":5,"condition":"dry","source":"clean","kg":41},
              {"kind":"gypsum"}],
 "sowing":"2027-04-03"}`

func TestDocumentedExample(t *testing.T) {
	a, err := dosejson.AnswerTo([]byte(example))
	require.NoError(t, err)
	assert.Equal(t, "raise", a.Direction)
	assert.InDelta(t, 321.5, a.Need.CaCO3, 1e-9)
	// Two in three of reading (± 0.14) and method (a factor of 1.57) together.
	assert.Equal(t, []float64{199.8, 494.3}, []float64{a.Need.Low, a.Need.High})
	var ash *dosejson.Option
	for i := range a.Options {
		if m := a.Options[i].Materials; len(m) == 1 && m[0].Kind == "wood-ash-hardwood" {
			ash = &a.Options[i]
		}
	}
	require.NotNil(t, ash)
	assert.Equal(t, []dosejson.Part{{Kind: "wood-ash-hardwood", GM2: 500, Total: 5000,
		Measure: "about 1 bucket of 10 litres, loose"}}, ash.Materials)
	// 3.1 % of organic matter makes the soil a little lighter: 1344 kg/m³.
	assert.Equal(t, []float64{250, 71.5, 25, 128.6}, []float64{ash.CaCO3, ash.Shortfall, ash.K2O, *ash.KAfter})
	assert.Equal(t, []float64{5.89, 6.28}, []float64{ash.Applications[0].PHAfter, ash.Applications[1].PHAfter})
	assert.Equal(t, "ash-over-common-advice", ash.Guards[0].ID)
	require.Len(t, a.Refused, 1)
	assert.Equal(t, "no-ph-change", a.Refused[0].Guards[0].ID)
}

// The careful pace is the usual one: what is reported of an option is what has a day, and its rest waits for the test of retest.
func TestRestWaitsForTest(t *testing.T) {
	a, err := dosejson.AnswerTo([]byte(swap(`,"pace":"all-at-once"`, "")))
	require.NoError(t, err)
	for _, o := range a.Options {
		put, rest := 0.0, 0.0
		for _, g := range o.Applications {
			assert.Less(t, g.Date, o.Retest)
			assert.False(t, g.RetestFirst)
			put += g.GM2
		}
		for _, m := range o.Materials {
			put -= m.GM2
		}
		assert.InDelta(t, 0, put, 0.15, "the materials are what has a day")
		require.NotEmpty(t, o.Rest, "this one would overshoot too often at once")
		for _, x := range o.Rest {
			rest += x.GM2 * map[string]float64{"calcitic-lime": 0.97, "wood-ash-hardwood": 0.5}[x.Material]
			assert.InDelta(t, 10*x.GM2, x.Total, 0.6)
		}
		assert.InDelta(t, a.Need.CaCO3, o.CaCO3+rest+o.Shortfall, 0.3)
		assert.LessOrEqual(t, o.Over, 2.5)
	}
	begun, err := dosejson.AnswerTo([]byte(strings.Replace(swap(`"ph":5.5`, `"ph":6.25`), `"target_ph":6.5,`, "", 1)))
	require.NoError(t, err)
	assert.Equal(t, "none", begun.Direction)
	begun, err = dosejson.AnswerTo([]byte(strings.Replace(strings.Replace(swap(`"ph":5.5`, `"ph":6.25`), `"target_ph":6.5,`, "", 1),
		`"use":"bed"`, `"use":"bed","begun":true`, 1)))
	require.NoError(t, err)
	assert.Equal(t, "raise", begun.Direction, "what was begun is finished")
}

// Each line is answered as it comes: the one who asks need not close the stream first.
func TestLinesAreAnsweredAtOnce(t *testing.T) {
	line := strings.ReplaceAll(example, "\n", " ") + "\n"
	for name, to := range map[string]dosejson.Answerer{"dose": dosejson.Doses, "ration": dosejson.Rations(0), "forecast": dosejson.Forecasts} {
		ask, asked := io.Pipe()
		answers, answer := io.Pipe()
		done := make(chan error, 1)
		go func() {
			_, err := to.Lines(ask, answer)
			done <- errors.Join(err, answer.Close())
		}()
		in := bufio.NewReader(answers)
		for range 3 {
			_, err := io.WriteString(asked, line)
			require.NoError(t, err)
			got, err := in.ReadString('\n')
			require.NoError(t, err, name)
			assert.NotEmpty(t, got)
		}
		require.NoError(t, asked.Close())
		require.NoError(t, <-done)
	}
}

// swap changes one piece of the example.
func swap(from, to string) string {
	if !strings.Contains(example, from) {
		panic(from)
	}
	return strings.Replace(example, from, to, 1)
}

// refused is what is answered with the name of a field; an empty one is a request that is good.
var refused = map[string]string{
	"":             "request",
	"[]":           "request",
	example + "{}": "request",
	swap(`"date":"2026-10-01"`, `"date":"2026-02-30"`):                                               "date",
	swap(`"date":"2026-10-01",`, ``):                                                                 `date`,
	swap(`"area_m2":10`, `"area_m2":0`):                                                              "bed.area_m2",
	swap(`"area_m2":10`, `"area_m2":-4`):                                                             "bed.area_m2",
	swap(`"area_m2":10`, `"area_m2":"ten"`):                                                          "bed.area_m2",
	swap(`"area_m2":10,`, ``):                                                                        "bed.area_m2",
	swap(`"texture":"loam"`, `"texture":"mud"`):                                                      "bed.texture",
	swap(`"texture":"loam",`, ``):                                                                    "bed.texture",
	swap(`"ph":5.5`, `"ph":2.9`):                                                                     "reading.ph",
	swap(`"ph":5.5`, `"ph":10.1`):                                                                    "reading.ph",
	swap(`"ph":5.5,`, ``):                                                                            "reading.ph",
	swap(`"date":"2026-09-20"`, `"date":"2026-10-02"`):                                               "reading.date",
	swap(`"method":"lab"`, `"method":"guess"`):                                                       "reading.method",
	swap(`"method":"lab"`, `"method":"fizz"`):                                                        "reading.ph",
	swap(`"cores":12`, `"cores":1.5`):                                                                "reading.cores",
	swap(`"cores":12`, `"moods":[]`):                                                                 "moods",
	swap(`"cores":12`, `"layers":[{"from_cm":5,"to_cm":2,"ph":6}]`):                                  "reading.layers[0]",
	swap(`"cores":12`, `"buffer":{"kind":"mud","ph":6}`):                                             "reading.buffer.kind",
	swap(`"texture":"loam"`, `"texture":"loam","texture_feel":{"ball":true}`):                        "bed.texture",
	swap(`"texture":"loam"`, `"texture_jar":{"sand_mm":-1}`):                                         "bed.texture_jar",
	swap(`"buffering":"table"`, `"buffering":"learned"`):                                             "",
	swap(`{"kind":"gypsum"}`, `{"kind":"urea","fineness_pct":[0,0,0,100]}`):                          "materials[2].fineness_pct",
	swap(`"cce_pct":97,"effective_pct":97`, `"fineness_pct":[1,2]`):                                  "materials[0].fineness_pct",
	swap(`"crop":"tomato"`, `"crop":"tomato","crops":["triffid"]`):                                   "crops[0]",
	swap(`"climate":"maritime"`, `"soil_temp_c":[1,2,3]`):                                            "place.soil_temp_c",
	swap(`"climate":"maritime"`, `"soil_measured":[{"date":"2026-02-30","soil_c":5}]`):               "place.soil_measured[0].date",
	swap(`"climate":"maritime"`, `"soil_measured":[{"date":"2026-02-20","soil_c":61}]`):              "place.soil_measured[0].soil_c",
	swap(`"crop":"tomato","target_ph":6.5`, `"sowing":"2027-04-03"`):                                 "crop",
	swap(`"crop":"tomato"`, `"crop":"triffid"`):                                                      "crop",
	swap(`"crop":"tomato"`, `"crop":"a","own_crops":[{"low_ph":6,"high_ph":7}]`):                     "own_crops[0].id",
	swap(`"crop":"tomato"`, `"crop":"a","own_crops":[{"id":"a","high_ph":7}]`):                       "own_crops[0].low_ph",
	swap(`"crop":"tomato"`, `"crop":"a","own_crops":[{"id":"a","low_ph":6,"high_ph":6}]`):            "own_crops[0].high_ph",
	swap(`"crop":"tomato"`, `"crop":"a","own_crops":[{"id":"a","low_ph":6,"high_ph":7,"aim_ph":8}]`): "own_crops[0].aim_ph",
	swap(`"crop":"tomato"`, `"crop":"a","own_crops":[{"id":"a","low_ph":6,"high_ph":7,
		"k2o_removal_g_m2":-1}]`): "own_crops[0].k2o_removal_g_m2",
	swap(`"crop":"tomato"`, `"crop":"a","own_crops":[{"id":"a","low_ph":6,"high_ph":7,"flags":["blue"]}]`):    "own_crops[0].flags",
	swap(`"buffering":"table"`, `"buffering":"smp"`):                                                          "reading.buffer",
	swap(`"organic_matter_pct":3.1,`, ``) + "":                                                                "",
	swap(`"kind":"gypsum"`, `"kind":"pixie-dust"`):                                                            "materials[2].kind",
	swap(`{"kind":"gypsum"}`, `{"kind":"gypsum","k2o_pct":4}`):                                                "materials[2].k2o_pct",
	swap(`"climate":"maritime"`, `"climate":"lunar"`):                                                         "place.climate",
	swap(`"worked":"dug"`, `"worked":"ploughed"`):                                                             "bed.worked",
	swap(`"sowing":"2027-04-03"`, `"sowing":"spring"`):                                                        "sowing",
	swap(`"sowing":"2027-04-03"`, `"history":[{"date":"2026-01-01","material":"urea"}]`):                      "history[0].g_m2",
	swap(`"sowing":"2027-04-03"`, `"history":[{"date":"2026-01-01","material":"urea","g_m2":5,"cce_pct":4}]`): "history[0].cce_pct",
	swap(`"sowing":"2027-04-03"`, `"planted":"soon"`):                                                         "planted",
	swap(`"sowing":"2027-04-03"`, `"grown":[{"crop":"triffid","from":"2026-01-01"}]`):                         "grown[0].crop",
	swap(`"sowing":"2027-04-03"`, `"grown":[{"crop":"pea"}]`):                                                 "grown[0].from",
	swap(`"target_ph":6.5`, `"target_ph":7.9`):                                                                "target_ph",
	swap(`"cec":12`, `"stones_pct":90`):                                                                       "bed.stones_pct",
	swap(`"crop":"tomato"`, `"crop":"tomato","k_carried":{"k_ppm":-1}`):                                       "k_carried.k_ppm",
	swap(`"crop":"tomato"`, `"crop":"tomato","k_carried":{"k_ppm":90,"leached_ppm":20001}`):                   "k_carried.leached_ppm",
	swap(`"k_ppm":90`, `"k_date":"2026-01-01"`):                                                               "reading.k_ppm",
	swap(`"act":"below-band"`, `"fizz":"dust"`):                                                               "school.fizz",
	swap(`"act":"below-band"`, `"tomato_ash":"maybe"`):                                                        "school.tomato_ash",
	swap(`"act":"below-band"`, `"water":"wine"`):                                                              "school.water",
	swap(`"pace":"all-at-once"`, `"pace":"slow"`):                                                             "school.pace",
	swap(`"crop":"tomato"`, `"crop":"tomato","half_first":true`):                                              "half_first",
	swap(`"act":"below-band"`, `"retest":"never"`):                                                            "school.retest",
	swap(`{"kind":"gypsum"}`, `{"kind":"gypsum","crushed_by_hand":true}`):                                     "materials[2].crushed_by_hand",
}

func TestRefusalsNameField(t *testing.T) {
	for request, field := range refused {
		_, err := dosejson.AnswerTo([]byte(request))
		if field == "" {
			assert.NoError(t, err)
			continue
		}
		var in *dose.InputError
		if assert.ErrorAs(t, err, &in, request) {
			assert.Equal(t, field, in.Field, in.Why)
		}
	}
	_, err := dosejson.AnswerTo([]byte(strings.Replace(swap(`"organic_matter_pct":3.1,`, ``), `"buffering":"table"`,
		`"buffering":"organic-matter"`, 1)))
	var in *dose.InputError
	require.ErrorAs(t, err, &in)
	assert.Equal(t, "bed.organic_matter_pct", in.Field, "a school whose data are missing")
}

func TestDefaultsMatchGuide(t *testing.T) {
	short, err := dosejson.AnswerTo([]byte(`{"date":"2026-10-01","bed":{"area_m2":10,"texture":"loam"},"reading":{"ph":5.5},"crop":"tomato"}`))
	require.NoError(t, err)
	long, err := dosejson.AnswerTo([]byte(`{"date":"2026-10-01","place":{"climate":"maritime","hemisphere":"north"},
		"bed":{"area_m2":10,"texture":"loam","depth_cm":15,"table":"cool","worked":"dug","use":"bed","free_lime":"unknown"},
		"reading":{"date":"2026-10-01","ph":5.5,"basis":"water","method":"lab","cores":10},"crop":"tomato",
		"school":{"buffering":"table","ash":"equivalence","act":"below-band"}}`))
	require.NoError(t, err)
	said := short.Need.Working[0]
	assert.Equal(t, "assumed", said.ID)
	for _, x := range []string{"texture table cool", "worked dug in", "depth 15 cm", "read by lab", "cores 10", "read in water",
		"lime need by Texture", "CEC 12"} {
		assert.Contains(t, said.How, x)
	}
	short.Need.Working, long.Need.Working = short.Need.Working[1:], long.Need.Working[1:]
	assert.Equal(t, long, short)
}

func TestDefaultsFollowPlaceAndUse(t *testing.T) {
	said := func(place, bed string) string {
		a, err := dosejson.AnswerTo([]byte(`{"date":"2026-10-01","place":` + place + `,"bed":{"area_m2":10,"texture":"loam"` + bed +
			`},"reading":{"ph":5.5},"crop":"lawn"}`))
		require.NoError(t, err)
		return a.Need.Working[0].How
	}
	assert.Contains(t, said(`{"climate":"subtropical"}`, ""), "texture table warm")
	assert.Contains(t, said(`{"climate":"warm-temperate"}`, ""), "texture table warm")
	assert.Contains(t, said(`{"climate":"prairie"}`, ""), "texture table cool")
	assert.Contains(t, said(`{}`, `,"use":"lawn"`), "worked left on top, no-dig")
	assert.Contains(t, said(`{}`, `,"use":"tree"`), "worked left on top, around plants")
	assert.NotContains(t, said(`{"climate":"subtropical"}`, `,"table":"cool"`), "texture table", "the gardener may choose")
}

func TestLayersHaveReadingBasis(t *testing.T) {
	need := func(reading string) float64 {
		a, err := dosejson.AnswerTo([]byte(swap(`"ph":5.5,"basis":"water"`, reading)))
		require.NoError(t, err)
		return a.Need.CaCO3
	}
	water := need(`"ph":5.5,"basis":"water","layers":[{"from_cm":0,"to_cm":5,"ph":5.8},{"from_cm":5,"to_cm":15,"ph":5.2}]`)
	assert.InDelta(t, water, need(`"ph":4.9,"basis":"cacl2","layers":[{"from_cm":0,"to_cm":5,"ph":5.2},
		{"from_cm":5,"to_cm":15,"ph":4.6}]`), 0.11)
}

func TestFizzGivesNoRate(t *testing.T) {
	a, err := dosejson.AnswerTo([]byte(swap(`"ph":5.5,"basis":"water","method":"lab"`,
		`"method":"fizz","fizz":{"vinegar":"none","soda":"clear"}`)))
	require.NoError(t, err)
	assert.Equal(t, "refused", a.Direction)
	assert.Empty(t, a.Options)
	assert.Equal(t, "fizz-only", a.Guards[0].ID)
}

func TestRequestRoundTrip(t *testing.T) {
	full := swap(`"sowing"`, `"history":[{"date":"2026-03-02","material":"wood-ash-hardwood","g_m2":100}],"crops":["carrot","black-salsify"],
		"own_crops":[{"id":"black-salsify","low_ph":5.9,"high_ph":7.1,"aim_ph":6.6,"k2o_removal_g_m2":9,"flags":["ash-welcome","tender-seed"]},
			{"id":"carrot","low_ph":5.5,"high_ph":7}],
		"readings":[{"date":"2026-09-21","ph":5.4,"method":"kit","cores":4},{"method":"fizz","fizz":{"vinegar":"none","soda":"clear"}}],"sowing"`)
	for from, to := range map[string]string{
		`"mg_ppm":80`: `"mg_ppm":80,"k_extractant":"olsen","k_range":{"from_ppm":80,"to_ppm":140},"buffer":{"kind":"sikora","ph":6.6},
			"lab_rate":{"g_m2":300,"depth_cm":20,"cce_pct":90,"target_ph":6.5},
			"jars":[{"caco3_g_kg":0,"ph":5.4}],"layers":[{"from_cm":0,"to_cm":5,"ph":5.2}]`,
		`{"kind":"gypsum"}`: `{"kind":"leaf-ash","vinegar_ml":90,"vinegar_pct":9,"burnt":"2026-02-01",
			"black_walnut":true,"charcoal_pct":5,"moisture_pct":3,"price_kg":0.2},
			{"kind":"pelleted-lime","fineness_pct":[0,10,30,60]}`,
		`"free_lime":"none"`: `"free_lime":"none","state":"snow","water_alkalinity_mg_l":140`,
		`"crop":"tomato"`:    `"crop":"tomato","k_carried":{"k_ppm":88.5,"given_k2o_g_m2":2,"carried_off_k2o_g_m2":3,"leached_ppm":0.5}`,
		`"hemisphere":"north"`: `"hemisphere":"north","soil_temp_c":[1,2,3,4,5,6,7,8,9,10,11,12],
			"soil_measured":[{"date":"2026-09-30","soil_c":11.5}]`,
	} {
		require.Contains(t, full, from)
		full = strings.Replace(full, from, to, 1)
	}
	r, err := dosejson.Decode([]byte(full))
	require.NoError(t, err)
	q, err := r.Dose()
	require.NoError(t, err)
	raw, err := json.Marshal(dosejson.FromDose(q, "maritime", "north"))
	require.NoError(t, err)
	back, err := dosejson.Decode(raw)
	require.NoError(t, err)
	again, err := back.Dose()
	require.NoError(t, err)
	again.Climate.ID = q.Climate.ID
	assert.Equal(t, q, again)
}

func TestAnswersAreDeterministic(t *testing.T) {
	var first []byte
	for range 200 {
		a, err := dosejson.AnswerTo([]byte(example))
		require.NoError(t, err)
		raw, err := json.Marshal(a)
		require.NoError(t, err)
		if first == nil {
			first = raw
		}
		require.Equal(t, string(first), string(raw))
	}
}

func TestLinesStream(t *testing.T) {
	assert.JSONEq(t, `{"field":"no","error":"this version knows no such field"}`, streamed(t, dosejson.Doses, example, `{"no":1}`))
}

// streamed sends a request, a bad one and the request again, a line each, and gives what
// was said of the bad one: the others are answered alike.
func streamed(t *testing.T, to dosejson.Answerer, request, bad string) string {
	t.Helper()
	one := strings.ReplaceAll(request, "\n", " ")
	var out bytes.Buffer
	refused, err := to.Lines(strings.NewReader(one+"\n\n"+bad+"\n"+one+"\n"), &out)
	require.NoError(t, err)
	assert.Equal(t, 1, refused)
	lines := strings.Split(strings.TrimSpace(out.String()), "\n")
	require.Len(t, lines, 3)
	assert.Equal(t, lines[0], lines[2])
	return lines[1]
}

func TestOneWritesError(t *testing.T) {
	var out bytes.Buffer
	err := dosejson.Doses.One(strings.NewReader(`{"date":"2026-10-01"}`), &out)
	require.Error(t, err)
	assert.JSONEq(t, `{"field":"bed","error":"a bed is needed"}`, out.String())
	assert.Error(t, dosejson.Doses.One(strings.NewReader(strings.Repeat(" ", 1<<20+2)), io.Discard))
}

// FuzzRequest holds: no panic, nothing but finite numbers out, every refusal
// names its field.
func FuzzRequest(f *testing.F) {
	f.Add([]byte(example))
	f.Add([]byte(swap(`"ph":5.5`, `"ph":7.9`)))
	f.Add([]byte(swap(`"mg_ppm":80`, `"mg_ppm":80,"buffer":{"kind":"smp","ph":6.4},
		"layers":[{"from_cm":0,"to_cm":5,"ph":5}],"lab_rate":{"g_m2":300,"depth_cm":20,"cce_pct":90,"target_ph":6.5}`)))
	f.Add([]byte(swap(`"buffering":"table"`, `"buffering":"measured"`)))
	f.Add([]byte(swap(`"crop":"tomato"`, `"crops":["carrot"],"readings":[{"ph":5.6,"method":"kit"}],"crop":"tomato"`)))
	f.Add([]byte(swap(`{"kind":"gypsum"}`, `{"kind":"potassium-sulfate"},
		{"kind":"calcitic-lime","fineness_pct":[10,20,30,40],"moisture_pct":5,"price_kg":0.4}`)))
	f.Add([]byte(swap(`"worked":"dug"`, `"worked":"surface"`)))
	f.Add([]byte(`{"date":"2026-10-01","bed":{"area_m2":1e-300,"texture":"muck"},"reading":{"ph":9.9},"target_ph":3}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		a, err := dosejson.AnswerTo(raw)
		if err != nil {
			var in *dose.InputError
			if !errors.As(err, &in) || in.Field == "" || in.Why == "" {
				t.Fatalf("a refusal without a field: %v", err)
			}
			return
		}
		// JSON holds no NaN and no Inf: marshalling fails on them.
		if _, err := json.Marshal(a); err != nil {
			t.Fatal(err)
		}
		for _, o := range a.Options {
			if math.Abs(o.Materials[0].GM2) > 1000 {
				t.Fatalf("%v g/m² of %s", o.Materials[0].GM2, o.Materials[0].Kind)
			}
		}
	})
}

func ExampleAnswerTo() {
	a, err := dosejson.AnswerTo([]byte(`{"date":"2026-10-01","bed":{"area_m2":10,"texture":"loam"},"reading":{"ph":5.5},"target_ph":6.5}`))
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(a.Direction, a.Need.CaCO3)
	// Output: raise 321.5
}

func BenchmarkAnswer(b *testing.B) {
	raw := []byte(example)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := dosejson.AnswerTo(raw); err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkLinesHeap streams 100,000 requests and reports the heap after the
// last against that after the first thousand.
func BenchmarkLinesHeap(b *testing.B) {
	line := strings.ReplaceAll(example, "\n", " ") + "\n"
	for b.Loop() {
		in := &repeated{line: []byte(line), left: 100_000}
		w := &heapAt{at: 1000}
		if _, err := dosejson.Doses.Lines(in, w); err != nil {
			b.Fatal(err)
		}
		b.ReportMetric(float64(heap())/float64(w.first), "heap-ratio")
	}
}

type repeated struct {
	line []byte
	left int
	rest []byte
}

func (r *repeated) Read(p []byte) (int, error) {
	if len(r.rest) == 0 {
		if r.left == 0 {
			return 0, io.EOF
		}
		r.left--
		r.rest = r.line
	}
	n := copy(p, r.rest)
	r.rest = r.rest[n:]
	return n, nil
}

type heapAt struct {
	lines, at int
	first     uint64
}

func (h *heapAt) Write(p []byte) (int, error) {
	h.lines += bytes.Count(p, []byte("\n"))
	if h.first == 0 && h.lines >= h.at {
		h.first = heap()
	}
	return len(p), nil
}

func heap() uint64 {
	runtime.GC()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return m.HeapAlloc
}
